'use client';
import { Trash2 } from 'lucide-react';
import styled from 'styled-components';
import { airOf } from '@/core/cabinet/enclosureOf';
import { fillWords } from '@/core/told/boxes';
import { withNetLitres } from '@/core/cabinet/netVolume';
import { insideOf } from '@/core/cabinet/shell';
import { boardsKg } from '@/core/cabinet/panels';
import { withKind } from '@/core/cabinet/withKind';
import { materialTable } from '@/core/cabinet/materials';
import {
  boxKinds,
  materials,
  type Box,
  type BoxKind,
  type MaterialId,
} from '@/core/document/boxSchema';
import { fills } from '@/core/box/fill';
import type { Design } from '@/core/document/schema';
import type { BoxView } from '@/core/lows/view';
import type { Dimension } from '@/core/units/quantity';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { Button } from '@/ui/Button';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { NameField } from '@/ui/fields/NameField';
import { Tick } from '@/ui/fields/Tick';
import { PaneSection } from '@/ui/stageLook';
import { Choices, Note, Quiet, Sentence } from '@/ui/sheets';
import type { BoxEdits } from '@/stages/box/useBoxEdits';
import { MeasuredInSentence } from './MeasuredInSentence';
import { PortSentence } from './PortSentence';
import { LineSentence, PassiveSentence } from './OpeningSentences';

interface BoxPaneProps {
  readonly design: Design;
  readonly box: Box;
  readonly view: BoxView | null;
  readonly edits: BoxEdits;
  readonly onGone: () => void;
}

const kindText: Readonly<Record<BoxKind, string>> = {
  sealed: 'A sealed box',
  vented: 'A vented box',
  'passive-radiator': 'A box with a passive radiator',
  'open-baffle': 'An open baffle',
  line: 'A transmission line',
};

/** All numbers of a box, as sentences. */
export function BoxPane({ design, box, view, edits, onGone }: BoxPaneProps) {
  const { shell, kind } = box;
  const blank = (
    label: string,
    value: number | null,
    onChange: (value: number) => void,
    { dimension = 'millimetre', min = 1, max = 3000, stepBy = 1 }: Blanks = {},
  ) => (
    <QuantityBlank
      {...{ label, dimension, min, max, stepBy }}
      value={value === null ? null : Number(value.toFixed(2))}
      onChange={(next) => next !== null && onChange(next)}
    />
  );
  const hasInside = kind !== 'open-baffle';
  const isClosed = hasInside && kind !== 'line';
  const setLitres = (litres: number) => {
    const sized = withNetLitres(edits.now(box), litres, design);
    if (sized) edits.set(box, sized, 'net volume', 'net volume');
  };
  const hosts = design.boxes.filter(
    ({ id, insideId }) =>
      id !== box.id && insideId === null && !design.boxes.some((one) => one.insideId === box.id),
  );
  return (
    <PaneSection aria-label={box.name}>
      <h3>
        <NameField
          label="Name of the box"
          value={box.name}
          onCommit={(name) => edits.set(box, { name }, 'name of the box')}
        />
      </h3>
      <Sentence>
        <ChoiceBlank
          label="Kind of box"
          isAlwaysSaid
          options={boxKinds.map((id) => ({ id, text: kindText[id] }))}
          value={kind}
          onChange={(next) =>
            next !== null && edits.set(box, withKind(box, next, design), 'kind of box')
          }
        />
        {' for '}
        <Drivers design={design} box={box} edits={edits} />
      </Sentence>
      {hasInside && (
        <Sentence>
          {blank('Width of the box', shell.widthMm, (widthMm) =>
            edits.shell(box, { widthMm }, 'width of the box', 'box width'),
          )}{' '}
          wide,{' '}
          {blank('Height of the box', shell.heightMm, (heightMm) =>
            edits.shell(box, { heightMm }, 'height of the box', 'box height'),
          )}{' '}
          high,{' '}
          {blank('Depth of the box', shell.depthMm, (depthMm) =>
            edits.shell(box, { depthMm }, 'depth of the box', 'box depth'),
          )}{' '}
          deep outside, of{' '}
          <ChoiceBlank
            label="Material"
            isAlwaysSaid
            options={materials.map((id) => ({ id, text: materialTable[id].name }))}
            value={shell.material}
            onChange={(material: MaterialId | null) =>
              material !== null && edits.shell(box, { material }, 'material')
            }
          />
          , walls{' '}
          {blank(
            'Thickness of the walls',
            shell.wallMm,
            (wallMm) => edits.shell(box, { wallMm }, 'thickness of the walls', 'walls'),
            { max: 200 },
          )}
          , front{' '}
          {blank(
            'Thickness of the front',
            shell.frontMm,
            (frontMm) => edits.shell(box, { frontMm }, 'thickness of the front', 'front'),
            { max: 200 },
          )}
          .
        </Sentence>
      )}
      {isClosed && (
        <Sentence>
          Net volume{' '}
          {blank('Net volume', view ? Number(view.volume.netLitres.toFixed(1)) : null, setLitres, {
            dimension: 'litre',
            min: 0.1,
            max: 2000,
            stepBy: 1,
          })}{' '}
          (the depth follows),{' '}
          <ChoiceBlank
            label="Fill"
            isAlwaysSaid
            options={fills.map((id) => ({ id, text: fillWords[id] }))}
            value={box.fill}
            onChange={(fill) => fill !== null && edits.set(box, { fill }, 'fill')}
          />
          . Leakage QL{' '}
          <QuantityBlank
            label="Leakage QL"
            dimension="number"
            min={0.5}
            max={1000}
            stepBy={1}
            value={box.ql}
            placeholder="none"
            onChange={(ql) => edits.set(box, { ql }, 'leakage', 'leakage')}
          />
          .
        </Sentence>
      )}
      {view?.closed && (
        <Quiet role="status" aria-label="Resonance of the box">
          fc {formatQuantity(Number(view.closed.fcHz.toPrecision(3)), 'hertz')}
          {view.closed.qtc === null
            ? '; behind this network, which is no resistance there, it has no one Qtc.'
            : `, Qtc ${formatFixed(view.closed.qtc, 2)}, with leaks, fill and what is before the driver in it.`}
        </Quiet>
      )}
      {kind === 'open-baffle' && (
        <Sentence>
          The way from the rear is{' '}
          {blank('Path from the rear', box.pathMm, (pathMm) =>
            edits.set(box, { pathMm }, 'path from the rear', 'path'),
          )}{' '}
          longer: about 0.44 of the width of a low wide panel, half of that of a tall one, wings
          added.
        </Sentence>
      )}
      {kind === 'vented' && <PortSentence {...{ design, box, view, edits }} />}
      {kind === 'passive-radiator' && <PassiveSentence {...{ box, view, edits }} />}
      {kind === 'line' && <LineSentence {...{ box, edits }} air={airOf(design)} />}
      {hasInside && (
        <details>
          <summary>
            Where the volume goes ({formatFixed(view?.volume.grossLitres ?? 0, 1)} l inside)
          </summary>
          <ul>
            {view?.volume.taken.map(({ what, litres }) => (
              <li key={what}>
                {what}: {formatFixed(litres, 2)} l
              </li>
            ))}
          </ul>
          <Sentence>
            Network, boards and fill take{' '}
            {blank(
              'Room for network and boards',
              shell.takenLitres,
              (takenLitres) => edits.shell(box, { takenLitres }, 'room taken', 'room taken'),
              { dimension: 'litre', min: 0, max: 1000, stepBy: 0.1 },
            )}
            . Boards weigh {formatFixed(boardsKg(box), 1)} kg.
          </Sentence>
          {hosts.length > 0 && (
            <Sentence>
              It is{' '}
              <ChoiceBlank
                label="Inside"
                isAlwaysSaid
                options={[
                  { id: 'nowhere', text: 'free-standing' },
                  ...hosts.map(({ id, name }) => ({ id, text: `inside ${name}` })),
                ]}
                value={box.insideId ?? 'nowhere'}
                onChange={(id) =>
                  edits.set(box, { insideId: id === 'nowhere' ? null : id }, 'what it is inside')
                }
              />
              .
            </Sentence>
          )}
        </details>
      )}
      {hasInside && <Braces box={box} edits={edits} blank={blank} />}
      <MeasuredInSentence {...{ design, box, edits }} />
      {!box.isUsed && <Note $kind="plain">A candidate: the design does not use it.</Note>}
      <Choices>
        {box.isUsed ? (
          <Button onPress={() => edits.set(box, { isUsed: false }, `stop using ${box.name}`)}>
            Stop using it
          </Button>
        ) : (
          <Button onPress={() => edits.set(box, { isUsed: true }, `use ${box.name}`)}>
            Use it <kbd>U</kbd>
          </Button>
        )}
        <Button
          onPress={() => {
            onGone();
            edits.remove(box);
          }}
        >
          Remove
        </Button>
      </Choices>
    </PaneSection>
  );
}

export interface Blanks {
  readonly dimension?: Dimension;
  readonly min?: number;
  readonly max?: number;
  readonly stepBy?: number;
}

/** Drivers in the box, each to be ticked. */
function Drivers({ design, box, edits }: Pick<BoxPaneProps, 'design' | 'box' | 'edits'>) {
  return (
    <Ticks role="group" aria-label="Drivers in this box">
      {design.drivers.map(({ id, name }) => (
        <Tick
          key={id}
          isSelected={box.driverIds.includes(id)}
          onChange={(isIn) =>
            edits.set(
              box,
              {
                driverIds: isIn
                  ? [...box.driverIds, id]
                  : box.driverIds.filter((other) => other !== id),
              },
              `drivers of ${box.name}`,
            )
          }
        >
          {name}
        </Tick>
      ))}
    </Ticks>
  );
}

interface BracesProps extends Pick<BoxPaneProps, 'box' | 'edits'> {
  readonly blank: (
    label: string,
    value: number | null,
    onChange: (value: number) => void,
    limits?: Blanks,
  ) => React.ReactNode;
}

function Braces({ box, edits, blank }: BracesProps) {
  const { shell } = box;
  const inside = insideOf(shell);
  const set = (braces: Box['shell']['braces'], label: string, key?: string) =>
    edits.shell(box, { braces }, label, key);
  return (
    <details open={shell.braces.length > 0}>
      <summary>Braces ({shell.braces.length})</summary>
      {shell.braces.map((brace, b) => {
        const change = (next: Partial<typeof brace>) =>
          set(shell.braces.with(b, { ...brace, ...next }), 'brace', `brace ${b}`);
        return (
          <Sentence key={b}>
            Brace {b + 1} across the{' '}
            <ChoiceBlank
              label={`Brace ${b + 1} lies across`}
              isAlwaysSaid
              options={(['height', 'depth', 'width'] as const).map((id) => ({ id, text: id }))}
              value={brace.across}
              onChange={(across) => across !== null && change({ across })}
            />{' '}
            at {blank(`Brace ${b + 1}, place`, brace.atMm, (atMm) => change({ atMm }), { min: 0 })},{' '}
            {blank(
              `Brace ${b + 1}, thickness`,
              brace.thicknessMm,
              (thicknessMm) => change({ thicknessMm }),
              { max: 100 },
            )}{' '}
            thick,{' '}
            {blank(
              `Brace ${b + 1}, percent open`,
              100 * brace.openShare,
              (percent) => change({ openShare: percent / 100 }),
              { dimension: 'number', min: 0, max: 95, stepBy: 5 },
            )}{' '}
            % open{' '}
            <IconButton
              aria-label={`Remove brace ${b + 1}`}
              onPress={() => set(shell.braces.toSpliced(b, 1), 'remove a brace')}
            >
              <Trash2 size={12} aria-hidden />
            </IconButton>
          </Sentence>
        );
      })}
      <Button
        isDisabled={shell.braces.length >= 12}
        onPress={() =>
          set(
            [
              ...shell.braces,
              {
                across: 'height',
                atMm: Math.round(inside.heightMm * 0.43),
                thicknessMm: shell.wallMm,
                openShare: 0.6,
              },
            ],
            'add a brace',
          )
        }
      >
        Add a brace
      </Button>
      <Quiet as="p">
        Off the middle, so that both halves resonate apart; open enough for the air to pass.
      </Quiet>
    </details>
  );
}

const Ticks = styled.span`
  display: inline-flex;
  flex-wrap: wrap;
  gap: 0.2rem 0.8rem;
  vertical-align: middle;
`;

const IconButton = styled(Button)`
  padding: 0.1rem 0.3rem;
`;
