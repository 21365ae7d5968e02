'use client';
import styled from 'styled-components';
import { boundsOf, type MountingKind, type Panel } from '@/core/document/baffleSchema';
import type { Driver } from '@/core/document/schema';
import { placeHeldFor } from '@/core/editing/switches';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Quiet, Sentence } from '@/ui/sheets';
import type { BaffleEdits } from '@/stages/baffle/useBaffleEdits';
import { MeasuredOnSentence } from './MeasuredOnSentence';

const kinds: readonly { readonly id: MountingKind; readonly text: string }[] = [
  { id: 'flush', text: 'flush' },
  { id: 'proud', text: 'proud' },
  { id: 'recessed', text: 'recessed' },
  { id: 'waveguide', text: 'on a waveguide' },
  { id: 'behind', text: 'from behind' },
];

/** The figure a way of mounting starts with: what is known of the frame or of the front. */
function startsAtMm(kind: MountingKind, { byMm, flangeMm }: Driver['mounting'], panel: Panel) {
  if (kind === 'behind') return panel.thicknessMm;
  return kind === 'proud' && byMm === 0 ? (flangeMm ?? byMm) : byMm;
}

/** What the figure beside each way of mounting says. */
const figureOf: Readonly<Record<MountingKind, string | null>> = {
  flush: null,
  proud: 'height of the frame over the front',
  recessed: 'depth of the frame below the front',
  waveguide: 'depth of the waveguide',
  behind: 'thickness of the front before it',
};

interface DriverPaneProps {
  readonly driver: Driver;
  readonly panel: Panel;
  readonly panels: readonly Panel[];
  readonly edits: BaffleEdits;
}

/** The chosen driver: where it is, how it is mounted, what its response holds already. */
export function DriverPane({ driver, panel, panels, edits }: DriverPaneProps) {
  const desk = useDesk();
  const { id, name, position, mounting, sheet } = driver;
  const bounds = boundsOf(panel.corners);
  const length = (
    label: string,
    value: number | null,
    onChange: (mm: number) => void,
    limits: { readonly min: number; readonly max: number },
    placeholder = '…',
  ) => (
    <QuantityBlank
      label={`${label} of ${name}`}
      dimension="millimetre"
      stepBy={1}
      value={value === null ? null : Number(value.toFixed(2))}
      placeholder={placeholder}
      {...limits}
      onChange={(mm) => mm !== null && onChange(mm)}
    />
  );
  const angle = (
    label: string,
    value: number,
    most: number,
    aimed: (degrees: number) => Partial<Driver['aim']>,
  ) => (
    <QuantityBlank
      label={`${label} of ${name}`}
      dimension="degree"
      stepBy={5}
      min={-most}
      max={most}
      value={value}
      onChange={(degrees) =>
        degrees !== null && edits.aim(driver, aimed(degrees), `aim ${id} ${label}`)
      }
    />
  );
  const place = { min: -10_000, max: 10_000 };
  const figure = figureOf[mounting.kind];
  const heldFor = useDeskState(({ design }) => placeHeldFor(design, id));
  return (
    <Layout aria-label={name}>
      <h3>{name}</h3>
      <Sentence>
        Its middle is{' '}
        {length(
          'distance from the left edge',
          position.xMm - bounds.leftMm,
          (mm) => edits.moveDriver(driver, { xMm: Number((bounds.leftMm + mm).toFixed(2)) }),
          place,
        )}{' '}
        from the left and{' '}
        {length(
          'distance from the top edge',
          bounds.topMm - position.yMm,
          (mm) => edits.moveDriver(driver, { yMm: Number((bounds.topMm - mm).toFixed(2)) }),
          place,
        )}{' '}
        from the top of the front, its acoustic centre{' '}
        {length(
          'depth of the acoustic centre',
          -position.zMm,
          (mm) => edits.moveDriver(driver, { zMm: -mm }),
          place,
        )}{' '}
        behind the plane of the front. It points{' '}
        {angle('direction to the right', driver.aim.yawDeg, 180, (yawDeg) => ({ yawDeg }))} to the
        right and {angle('direction up', driver.aim.pitchDeg, 90, (pitchDeg) => ({ pitchDeg }))} up
        from the axis; 180° is the rear.
      </Sentence>
      {heldFor !== null && <Quiet>{heldFor}</Quiet>}
      <Sentence>
        Mounted{' '}
        <ChoiceBlank
          label={`Mounting of ${name}`}
          isAlwaysSaid
          options={kinds}
          value={mounting.kind}
          onChange={(kind) =>
            kind !== null &&
            edits.mount(driver, {
              kind,
              byMm: startsAtMm(kind, mounting, panel),
            })
          }
        />
        {figure !== null && (
          <>
            {' '}
            by{' '}
            {length(
              figure,
              mounting.byMm,
              (byMm) => edits.mount(driver, { byMm }, `mounted by ${id}`),
              { min: 0, max: 300 },
            )}
          </>
        )}
        {mounting.kind === 'waveguide' && (
          <>
            , its mouth{' '}
            {length(
              'mouth of the waveguide',
              mounting.mouthMm,
              (mouthMm) => edits.mount(driver, { mouthMm }, `mouth ${id}`),
              { min: 1, max: 1000 },
            )}
          </>
        )}
        {panels.length > 1 && (
          <>
            {' '}
            on{' '}
            <ChoiceBlank
              label={`Panel of ${name}`}
              isAlwaysSaid
              options={panels.map((one) => ({ id: one.id, text: one.name }))}
              value={panel.id}
              onChange={(panelId) => panelId !== null && edits.mount(driver, { panelId })}
            />
          </>
        )}
        . Its frame is{' '}
        {length(
          'diameter of the frame',
          mounting.frameMm,
          (frameMm) => edits.mount(driver, { frameMm }, `frame ${id}`),
          { min: 1, max: 1000 },
        )}{' '}
        across and{' '}
        {length(
          'thickness of the frame',
          mounting.flangeMm,
          (flangeMm) => edits.mount(driver, { flangeMm }, `flange ${id}`),
          { min: 0.1, max: 100 },
        )}{' '}
        thick, its hole{' '}
        {length(
          'hole for the driver',
          mounting.cutoutMm,
          (cutoutMm) => edits.mount(driver, { cutoutMm }, `cutout ${id}`),
          { min: 1, max: 1000 },
        )}
        , its cone area{' '}
        <QuantityBlank
          label={`Cone area of ${name}`}
          dimension="squareCentimetre"
          stepBy={1}
          min={0.1}
          max={10_000}
          value={sheet.sdCm2}
          onChange={(sdCm2) =>
            desk.change({ type: 'setDriverSheet', id, set: { sdCm2 } }, `cone area of ${name}`)
          }
        />
        , and it reaches{' '}
        {length(
          'depth behind the front',
          mounting.builtDepthMm,
          (builtDepthMm) => edits.mount(driver, { builtDepthMm }, `built depth ${id}`),
          { min: 1, max: 1000 },
        )}{' '}
        behind the front.
      </Sentence>
      <MeasuredOnSentence driver={driver} panel={panel} />
    </Layout>
  );
}

const Layout = styled.section`
  display: grid;
  gap: 0.6rem;
`;
