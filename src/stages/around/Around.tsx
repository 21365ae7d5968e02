'use client';
import Link from 'next/link';
import { useMemo, useState } from 'react';
import { Tab, TabList, TabPanel } from 'react-aria-components';
import styled from 'styled-components';
import { EmptyStage, SideTabs, Spacer } from '@/ui/stageLook';
import type { AroundFinding } from '@/core/around/findings';
import { planes, type AroundView, type AroundWish, type OrbitMap } from '@/core/around/orbits';
import { earsAboveAxisMm } from '@/core/document/seats';
import type { Design } from '@/core/document/schema';
import { nearestIndex } from '@/core/grid/nearest';
import { DesignBoundary } from '@/desk/DesignBoundary';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { shownOf } from '@/desk/deskState';
import { Choice } from '@/ui/fields/Choice';
import { QuantityBlank } from '@/ui/fields/Blank';
import { Note, Quiet } from '@/ui/sheets';
import { SideSplit } from '@/ui/SideSplit';
import { AroundCharts, type CurveSet } from './AroundCharts';
import { ExportAround } from './ExportAround';
import { BalloonView } from './maps/BalloonView';
import { OrbitMapView, type AroundCursor } from './maps/OrbitMapView';
import { PolarPlot } from './maps/PolarPlot';
import { FindingsPane } from './pane/FindingsPane';
import { JointPane } from './pane/JointPane';
import { RoomPane } from './pane/RoomPane';
import { TradeSlider } from './pane/TradeSlider';
import { sides, useAroundActions, type SideId } from './useAroundActions';
import { useAroundClient, useAroundStudy, useAroundView } from './useAroundWork';
import { useTradeOff } from './useTradeOff';

type Against = '0' | '10' | '20' | '30' | 'none';
const againstOptions = [
  { id: '0', text: 'against the axis' },
  { id: '10', text: 'against 10°' },
  { id: '20', text: 'against 20°' },
  { id: '30', text: 'against 30°' },
  { id: 'none', text: 'levels as they are' },
] as const;
const spanOptions = [
  { id: '180', text: 'all around' },
  { id: '90', text: 'front half' },
] as const;
const relativeScale = { lowestDb: -30, highestDb: 6 };
const mapHeightPx = 168;

/** What the listener and the room receive. */
export function Around() {
  const client = useAroundClient();
  const design = useDeskState((state) => shownOf(state).design);
  const [stepDeg, setStep] = useState<5 | 10>(10);
  const [distanceMm, setDistance] = useState<number | null>(null);
  const withinDb = useDeskState(
    (state) =>
      shownOf(state).judged.find(({ promise }) => promise.kind === 'on-axis')?.promise.atMost ??
      null,
  );
  const wish = useMemo(
    (): AroundWish => ({ stepDeg, withinDb, ...(distanceMm !== null && { distanceMm }) }),
    [stepDeg, withinDb, distanceMm],
  );
  const shown = useAroundView(client, wish);
  const study = useAroundStudy(client, shown);
  const { view, trouble } = shown;
  if (!view)
    return (
      <EmptyStage>
        {trouble !== null ? (
          <Note $kind="alarm">{trouble}</Note>
        ) : shown.design ? (
          <Unknown design={shown.design} />
        ) : (
          <Quiet role="status">Working out what is sent in every direction …</Quiet>
        )}
      </EmptyStage>
    );
  return (
    <Drawn
      {...{ design, view, client, study, stepDeg, trouble }}
      distanceMm={distanceMm ?? design.listeningDistanceMm}
      onStep={setStep}
      onDistance={setDistance}
    />
  );
}

/** Why nothing can be shown, and what would mend it. */
function Unknown({ design }: { readonly design: Design }) {
  const { projectId } = useDesk();
  const unmodelled = design.drivers.filter(
    ({ mounting, sheet }) => mounting.panelId === null || sheet.sdCm2 === null,
  );
  const bare = unmodelled.filter(({ offAxisIds }) => offAxisIds.length === 0);
  const partly = unmodelled.filter(({ offAxisIds }) => offAxisIds.length > 0);
  return (
    <>
      <p>
        {design.drivers.length === 0
          ? 'There are no drivers yet.'
          : bare.length > 0
            ? `It is not known what ${listed(bare.map(({ name }) => name))} ${bare.length === 1 ? 'does' : 'do'} off the axis.`
            : partly.length > 0
              ? `${listed(partly.map(({ name }) => name))} ${partly.length === 1 ? 'was' : 'were'} not measured all the way round, and what is beyond can’t be modelled without ${partly.length === 1 ? 'its' : 'their'} Sd and a place on a front.`
              : 'There is nothing to show yet: a way needs a driver with response and impedance.'}
      </p>
      <p>
        Measure drivers off their axes on the <Link href={`/p/${projectId}/bench`}>Bench</Link>, or
        place them on the <Link href={`/p/${projectId}/baffle`}>Baffle</Link> and give their Sd:
        then it is modelled.
      </p>
    </>
  );
}

/** “Woofer, Midrange and Tweeter”. */
const listed = (names: readonly string[]) =>
  names.length < 2 ? names.join('') : `${names.slice(0, -1).join(', ')} and ${names.at(-1)}`;

interface DrawnProps {
  readonly design: Design;
  readonly view: AroundView;
  readonly client: ReturnType<typeof useAroundClient>;
  readonly study: ReturnType<typeof useAroundStudy>;
  readonly stepDeg: 5 | 10;
  readonly distanceMm: number;
  readonly trouble: string | null;
  readonly onStep: (stepDeg: 5 | 10) => void;
  readonly onDistance: (mm: number | null) => void;
}

function Drawn({
  design,
  view,
  client,
  study,
  stepDeg,
  distanceMm,
  trouble,
  onStep,
  onDistance,
}: DrawnProps) {
  const [side, setSide] = useState<SideId>('findings');
  const [against, setAgainst] = useState<Against>('0');
  const [span, setSpan] = useState<'180' | '90'>('180');
  const [set, setSet] = useState<CurveSet>('means');
  const [cursor, setCursor] = useState<AroundCursor | null>(null);
  const [chosen, setChosen] = useState<AroundFinding | null>(null);
  const trade = useTradeOff(true);
  const isRelative = against !== 'none';
  useAroundActions({
    setSide,
    isRelative,
    onRelative: (on) => setAgainst(on ? '0' : 'none'),
  });
  const { frequencyHz, orbits, curves } = view;
  const finding = study.findings?.includes(chosen!) ? chosen : (study.findings?.at(0) ?? null);
  const at = nearestIndex(frequencyHz, cursor?.hz ?? finding?.anomaly.atHz ?? 1000);
  const top = Math.ceil(Math.max(...curves.onAxis.filter(Number.isFinite)) / 3) * 3;
  const scale = isRelative ? relativeScale : { lowestDb: top - 36, highestDb: top };
  const readAt = (hz: number | null) =>
    setCursor(hz === null ? null : { plane: 'horizontal', degrees: 0, ...cursor, hz });
  const ears = (Math.atan2(earsAboveAxisMm(design), design.listeningDistanceMm) * 180) / Math.PI;
  const spread = design.brief.spreadDeg;
  const marks = {
    horizontal:
      spread === null
        ? []
        : [
            { degrees: spread, label: 'seats' },
            { degrees: -spread, label: '' },
          ],
    vertical: Math.abs(ears) < 0.1 ? [] : [{ degrees: ears, label: 'ears' }],
  };
  return (
    <SideSplit name="around" sideLabel="the pane beside the maps">
      <Table aria-label="Around the speaker">
        <Bar>
          <h2>Around</h2>
          <Choice<Against>
            label="Levels of the maps"
            hideLabel
            options={againstOptions}
            value={against}
            onChange={setAgainst}
          />
          <Choice<'180' | '90'>
            label="Angles of the maps"
            hideLabel
            options={spanOptions}
            value={span}
            onChange={setSpan}
          />
          <Choice<'5' | '10'>
            label="Steps of the orbits"
            hideLabel
            options={[
              { id: '10', text: 'every 10°' },
              { id: '5', text: 'every 5°' },
            ]}
            value={stepDeg === 5 ? '5' : '10'}
            onChange={(step) => onStep(step === '5' ? 5 : 10)}
          />
          <span>
            at{' '}
            <QuantityBlank
              label="Distance of the orbits"
              dimension="distance"
              stepBy={100}
              min={400}
              max={100_000}
              value={distanceMm}
              onChange={onDistance}
            />
          </span>
          <Spacer />
          <Quiet>{sourceWords(orbits.horizontal, orbits.vertical)}</Quiet>
          <ExportAround {...{ design, view, client, stepDeg, distanceMm }} />
        </Bar>
        {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
        <Views>
          <DesignBoundary name="The maps">
            <div>
              {planes.map((plane) => (
                <OrbitMapView
                  key={plane}
                  title={plane === 'horizontal' ? 'Horizontal' : 'Vertical'}
                  orbit={orbits[plane]}
                  referenceDeg={isRelative ? Number(against) : null}
                  mostDeg={Number(span)}
                  marks={marks[plane]}
                  box={
                    finding?.anomaly.plane === plane
                      ? { ...finding.anomaly, degrees: finding.anomaly.degrees }
                      : null
                  }
                  heightPx={mapHeightPx}
                  onCursor={setCursor}
                  {...{ frequencyHz, scale, cursor }}
                />
              ))}
            </div>
          </DesignBoundary>
          <Beside>
            <PolarPlot {...{ view, at, cursor }} />
            <TradeSlider trade={trade} />
          </Beside>
        </Views>
        <DesignBoundary name="The curves around">
          <AroundCharts
            view={view}
            set={set}
            onSet={setSet}
            cursorHz={cursor?.hz ?? null}
            onCursor={readAt}
          />
        </DesignBoundary>
      </Table>
      <SideTabs selectedKey={side} onSelectionChange={(key) => setSide(key as SideId)}>
        <TabList aria-label="Beside the maps">
          {sides.map(({ id, name }) => (
            <Tab key={id} id={id}>
              {name}
            </Tab>
          ))}
        </TabList>
        <TabPanel id="findings">
          <FindingsPane {...{ design, view, study }} chosen={finding} onChoose={setChosen} />
        </TabPanel>
        <TabPanel id="room">
          <RoomPane {...{ design, view }} />
        </TabPanel>
        <TabPanel id="joint">
          <JointPane design={design} />
        </TabPanel>
        <TabPanel id="balloon">
          <BalloonView view={view} at={at} />
        </TabPanel>
      </SideTabs>
    </SideSplit>
  );
}

/** “measured to 180°”, “vertical modelled beyond 40° (hatched)”. */
function sourceWords(...orbits: readonly OrbitMap[]): string {
  const words = orbits.map(({ plane, degrees, sources }) => {
    const modelled = degrees.filter((_, a) => sources[a] === 'modelled').map(Math.abs);
    if (modelled.length === 0) return null;
    const from = Math.min(...modelled);
    return `${plane} modelled${from <= 10 ? '' : ` from ${from}°`}`;
  });
  const told = words.filter((word) => word !== null);
  return told.length === 0 ? 'measured all around' : `${told.join(', ')} (hatched)`;
}

const Table = styled.section`
  display: grid;
  grid-template-rows: auto auto 1fr;
  align-content: start;
  background: ${({ theme }) => theme.colour.sheet};
  overflow: auto;
`;

const Bar = styled.div`
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 0.5rem 0.7rem;
  padding: 0.35rem 1rem;
  font-size: 0.8125rem;
  border-bottom: 1px solid ${({ theme }) => theme.colour.grid};
`;

const Views = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) 238px;
  gap: 0.6rem;
  padding: 0.3rem 0.7rem;
`;

const Beside = styled.div`
  display: grid;
  align-content: start;
  gap: 0.6rem;
`;
