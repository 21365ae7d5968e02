'use client';
import { useMemo, useState } from 'react';
import { Tab, TabList, TabPanel } from 'react-aria-components';
import styled from 'styled-components';
import { DrawingBoard, SideTabs, Spacer, StageBar } from '@/ui/stageLook';
import type { Panel } from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import { crossoverReports } from '@/core/insight/crossoverReports';
import { setBackPanel } from '@/core/layout/reshape';
import type { ViewRequest } from '@/core/layout/view';
import { seatWindow } from '@/core/layout/waySpacing';
import { placedDriver } from '@/core/prediction/onBaffle';
import { DesignBoundary } from '@/desk/DesignBoundary';
import { useDeskState } from '@/desk/DeskContext';
import { shownOf } from '@/desk/deskState';
import { Button } from '@/ui/Button';
import { newId } from '@/ui/newId';
import { Note, Quiet } from '@/ui/sheets';
import { SideSplit } from '@/ui/SideSplit';
import { curveStyle } from '@/ui/theme';
import { BaffleCharts } from './BaffleCharts';
import { angleSets, directionsIn, type AngleSet, type Plane } from './directions';
import { FrontView } from './drawing/FrontView';
import { SideView } from './drawing/SideView';
import { ExportDrawing } from './ExportDrawing';
import { NoBaffle } from './NoBaffle';
import { DriverPane } from './pane/DriverPane';
import { FindingNotes } from './pane/FindingNotes';
import { FrontPane } from './pane/FrontPane';
import { PlacePane } from './pane/PlacePane';
import { SpacingPane } from './pane/SpacingPane';
import { sides, useBaffleActions, type SideId } from './useBaffleActions';
import { useBaffleEdits } from './useBaffleEdits';
import { useBaffleClient, useBaffleView, useLayoutStudy } from './useBaffleWork';
import { useChosen } from './useChosen';
import { useCompared } from './useCompared';
import { usePlaceSearch } from './usePlaceSearch';

/** Where the drivers go: the front and its side to scale, and what edges and spacing do. */
export function Baffle() {
  const hasPanels = useDeskState((state) => shownOf(state).design.panels.length > 0);
  return hasPanels ? <Drawn /> : <NoBaffle />;
}

const colourIn =
  ({ ways, drivers }: Design) =>
  (driver: Driver): string => {
    const way = ways.findIndex(({ ends }) => ends.some(({ driverId }) => driverId === driver.id));
    return curveStyle(way >= 0 ? way : drivers.indexOf(driver)).colour;
  };

function Drawn() {
  const design = useDeskState((state) => shownOf(state).design);
  const prediction = useDeskState((state) => shownOf(state).prediction);
  const [panelId, setPanelId] = useState<string | null>(null);
  const panel = design.panels.find(({ id }) => id === panelId) ?? design.panels[0];
  const { shown, choose, driver } = useChosen(design, panel);
  const [side, setSide] = useState<SideId>('chosen');
  const [plane, setPlane] = useState<Plane>('horizontal');
  const [angles, setAngles] = useState<AngleSet>(angleSets[0]);
  const [cursorHz, setCursorHz] = useState<number | null>(null);
  const [mapOf, setMapOf] = useState<string | null>(null);
  const edits = useBaffleEdits();
  const client = useBaffleClient();
  const compared = useCompared();
  const search = usePlaceSearch();
  const { study, isCurrent, trouble: studyTrouble } = useLayoutStudy(client);
  const driverId = driver?.id ?? null;
  const bumpHz = study?.bumps.find((bump) => bump.driverId === driverId)?.bump.atHz ?? null;
  const atHz = cursorHz ?? bumpHz;
  const request = useMemo<ViewRequest | null>(
    () => (driverId === null ? null : { driverId, directions: directionsIn(plane, angles), atHz }),
    [driverId, plane, angles, atHz],
  );
  const { view, trouble } = useBaffleView(client, design, request);
  const { view: other } = useBaffleView(client, compared.design, request);
  const reports = useMemo(() => (prediction ? crossoverReports(prediction) : []), [prediction]);
  const colourOf = colourIn(design);
  const doubtful = useMemo(
    () =>
      new Set([
        ...(study?.findings.flatMap(({ about, severity }) =>
          about !== null && severity === 'stops' ? [about] : [],
        ) ?? []),
        ...(study?.bumps.map((bump) => bump.driverId) ?? []),
      ]),
    [study],
  );
  const window = useMemo(() => seatWindow(design, reports), [design, reports]);
  useBaffleActions({ panel, chosen: shown, choose, compared, setSide });
  return (
    <SideSplit name="baffle" sideLabel="the pane beside the drawing">
      <DrawingBoard aria-label="Drawing of the baffle">
        <StageBar>
          <h2>Front</h2>
          <Quiet>to scale; drag, or arrow keys</Quiet>
          <PanelChoice design={design} panel={panel} onPanel={setPanelId} edits={edits} />
          <Spacer />
          {compared.design ? (
            <>
              <Quiet>dashed: {compared.name}</Quiet>
              {compared.isOwn && (
                <Button onPress={compared.swap}>
                  Exchange <kbd>X</kbd>
                </Button>
              )}
            </>
          ) : null}
          <Button onPress={compared.isOwn ? compared.forget : compared.keep}>
            {compared.isOwn ? 'Forget B' : 'Keep as B'} <kbd>B</kbd>
          </Button>
          <ExportDrawing design={design} panel={panel} client={client} />
        </StageBar>
        <Views>
          <DesignBoundary name="The front">
            <FrontView
              {...{ design, panel, edits, colourOf, doubtful }}
              chosen={shown}
              onChoose={choose}
              acting={view?.driverId === driverId ? view.acting : []}
              map={search.found?.maps.find((map) => map.driverId === mapOf) ?? null}
            />
          </DesignBoundary>
          <DesignBoundary name="The side">
            <SideView
              {...{ design, panel, edits, colourOf, window }}
              chosen={shown}
              onChoose={choose}
            />
          </DesignBoundary>
        </Views>
        {(trouble ?? studyTrouble) !== null && <Note $kind="alarm">{trouble ?? studyTrouble}</Note>}
        <DesignBoundary name="The curves of the baffle">
          {driver ? (
            <BaffleCharts
              {...{ driver, view, plane, angles, cursorHz }}
              isOnFront={placedDriver(design, driver) !== null}
              other={compared.design && other?.driverId === driver.id ? other : null}
              otherName={compared.name}
              colour={colourOf(driver)}
              onCursor={setCursorHz}
              onPlane={setPlane}
              onAngles={setAngles}
            />
          ) : (
            <Quiet>No driver is on this panel.</Quiet>
          )}
        </DesignBoundary>
      </DrawingBoard>
      <SideTabs
        data-drawing-pane
        selectedKey={side}
        onSelectionChange={(key) => setSide(key as SideId)}
      >
        <TabList aria-label="Beside the drawing">
          {sides.map(({ id, name }) => (
            <Tab key={id} id={id}>
              {name}
            </Tab>
          ))}
        </TabList>
        <TabPanel id="chosen">
          {shown.kind === 'driver' && driver ? (
            <DriverPane {...{ driver, panel, edits }} panels={design.panels} />
          ) : shown.kind === 'seat' ? (
            <SpacingPane design={design} reports={reports} />
          ) : (
            <FrontPane
              key={panel.id}
              {...{ panel, edits }}
              isFirst={panel === design.panels[0]}
              chosen={shown}
              onChoose={choose}
            />
          )}
          <Elsewhere design={design} panel={panel} edits={edits} />
          <FindingNotes {...{ design, study, isCurrent }} chosen={shown} />
          <Quiet>
            Accuracy of the model against boundary elements, at worst: sharp edges 0.5 dB in front
            (mean 0.2), 1.3 dB at the side near by, 0.8 dB behind; rounded or chamfered ones 0.7 dB
            in front, 2 dB behind; proud frames 0.7 dB. Recesses, waveguides and wings are
            estimated; low down an open panel counts as thin.
          </Quiet>
        </TabPanel>
        <TabPanel id="places" data-entries>
          <PlacePane {...{ design, panel, search, mapOf }} onMap={setMapOf} />
        </TabPanel>
        <TabPanel id="spacing">
          <SpacingPane design={design} reports={reports} />
        </TabPanel>
      </SideTabs>
    </SideSplit>
  );
}

interface PanelChoiceProps {
  readonly design: Design;
  readonly panel: Panel;
  readonly onPanel: (id: string) => void;
  readonly edits: ReturnType<typeof useBaffleEdits>;
}

/** Which of several panels is drawn, and one more that is set back. */
function PanelChoice({ design, panel, onPanel, edits }: PanelChoiceProps) {
  const add = () => {
    const next = setBackPanel(design.panels[0], newId('panel'));
    edits.addPanel(next, 'add a panel that is set back');
    onPanel(next.id);
  };
  return (
    <>
      {design.panels.length > 1 &&
        design.panels.map((one) => (
          <Button
            key={one.id}
            aria-pressed={one === panel}
            onPress={() => onPanel(one.id)}
            style={one === panel ? { borderColor: 'var(--accent)', fontWeight: 600 } : undefined}
          >
            {one.name}
          </Button>
        ))}
      {design.panels.length < 8 && <Button onPress={add}>Add a set-back panel</Button>}
    </>
  );
}

/** Drivers that are on no panel at all. */
function Elsewhere({ design, panel, edits }: Pick<PanelChoiceProps, 'design' | 'panel' | 'edits'>) {
  const loose = design.drivers.filter(({ mounting }) => mounting.panelId === null);
  return loose.map((driver) => (
    <Note key={driver.id} $kind="doubt">
      {driver.name} is on no panel.{' '}
      <Button onPress={() => edits.mount(driver, { panelId: panel.id })}>
        Mount it on {panel.name}
      </Button>
    </Note>
  ));
}

const Views = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1.1fr);
  min-height: 0;
  > * + * {
    border-left: 1px solid ${({ theme }) => theme.colour.grid};
  }
`;
