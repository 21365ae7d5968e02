'use client';
import { driversInBox } from '@/core/cabinet/driversInBox';
import { useCallback, useMemo, useState } from 'react';
import { Tab, TabList, TabPanel } from 'react-aria-components';
import styled from 'styled-components';
import { DrawingBoard, SideTabs, Spacer, StageBar } from '@/ui/stageLook';
import { mostBoxes, type Box } from '@/core/document/boxSchema';
import { firstBox } from '@/core/lows/candidates';
import { formatFixed } from '@/core/units/quantity';
import { DesignBoundary } from '@/desk/DesignBoundary';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { shownOf } from '@/desk/deskState';
import { Button } from '@/ui/Button';
import { newId } from '@/ui/newId';
import { Note, Quiet } from '@/ui/sheets';
import { SideSplit } from '@/ui/SideSplit';
import { BoxCharts, type QuantityShown } from './BoxCharts';
import { CandidateTable } from './CandidateTable';
import { NoBox } from './NoBox';
import { BoardsPane } from './pane/BoardsPane';
import { BoxPane } from './pane/BoxPane';
import { BuiltPane } from './pane/BuiltPane';
import { FindPane } from './pane/FindPane';
import { FindingNotes } from './pane/FindingNotes';
import { SectionView, type Taken } from './section/SectionView';
import { sides, useBoxActions, type SideId } from './useBoxActions';
import { useBoxEdits } from './useBoxEdits';
import { useBoxClient, useBoxesLookedAt, type Family } from './useBoxWork';
import type { BoxesLookedAt } from '@/workers/boxClient';

/** Which enclosure gives the bass: a section to scale, candidates side by side, and their curves. */
export function BoxStage() {
  const hasBoxes = useDeskState((state) => shownOf(state).design.boxes.length > 0);
  return hasBoxes ? <Drawn /> : <NoBox />;
}

function Drawn() {
  const desk = useDesk();
  const design = useDeskState((state) => shownOf(state).design);
  const [boxId, setBoxId] = useState<string | null>(null);
  const drawn =
    design.boxes.find(({ id }) => id === boxId) ??
    design.boxes.find(({ isUsed }) => isUsed) ??
    design.boxes[0];
  const [side, setSide] = useState<SideId>('box');
  const [chosen, setChosen] = useState<Taken | null>(null);
  const [cursorHz, setCursorHz] = useState<number | null>(null);
  const [quantity, setQuantity] = useState<QuantityShown>('excursion');
  const [family, setFamily] = useState<Family | null>(null);
  const edits = useBoxEdits();
  const client = useBoxClient();
  // Candidates for the same drivers are compared; the one that is drawn comes first.
  const rivals = useMemo(
    () =>
      design.boxes.filter(
        (box) => box.id === drawn.id || box.driverIds.some((id) => drawn.driverIds.includes(id)),
      ),
    [design.boxes, drawn],
  );
  const asked = useMemo(
    () => [drawn, ...(family?.boxes ?? rivals.filter((box) => box !== drawn))],
    [drawn, rivals, family],
  );
  const { looked, of, trouble } = useBoxesLookedAt(client, design, asked);
  const views = useMemo(
    () => new Map(looked?.views.map((view) => [view.boxId, view]) ?? []),
    [looked],
  );
  const draw = useCallback((box: Box) => {
    setFamily(null);
    setBoxId(box.id);
  }, []);
  const use = useCallback(
    (box: Box) => edits.set(box, { isUsed: true }, `use ${box.name}`),
    [edits],
  );
  const copy = useCallback(() => {
    const id = newId('box');
    const { name } = firstBox(desk.store.getState().design, id);
    edits.set({ ...drawn, id, name, isUsed: false }, {}, `copy ${drawn.name}`);
    setBoxId(id);
    setFamily(null);
  }, [desk, drawn, edits]);
  const { brief } = design;
  const isFull = design.boxes.length >= mostBoxes;
  useBoxActions({ boxes: rivals, drawn, isFull, onDraw: draw, onUse: use, onCopy: copy, setSide });
  const isCurrent = of === design;
  const view = views.get(drawn.id) ?? null;
  const names = looked?.views.map(({ name }, k) =>
    k > 0 && family ? (family.names[k - 1] ?? name) : name,
  );
  const add = () => {
    const id = newId('box');
    const own = driversInBox(drawn, design.drivers);
    desk.change({ type: 'setBox', box: firstBox(design, id, own) }, 'add a box');
    setBoxId(id);
    setFamily(null);
  };
  return (
    <SideSplit name="box" sideLabel="the pane beside the section">
      <DrawingBoard aria-label="Section of the box and its curves">
        <StageBar>
          <h2>{drawn.name}</h2>
          <Quiet>section to scale; drag, or arrow keys</Quiet>
          <Spacer />
          {design.boxes.some(({ id }) => !rivals.some((rival) => rival.id === id)) &&
            design.boxes
              .filter(({ id }) => !rivals.some((rival) => rival.id === id))
              .map((box) => (
                <Button key={box.id} onPress={() => draw(box)}>
                  {box.name}
                </Button>
              ))}
          {family && <Button onPress={() => setFamily(null)}>Back to the boxes</Button>}
          <Button isDisabled={isFull} onPress={copy}>
            Copy <kbd>C</kbd>
          </Button>
          <Button isDisabled={isFull} onPress={add}>
            Add a box
          </Button>
        </StageBar>
        <Views>
          <DesignBoundary name="The section">
            <SectionView
              {...{ design, edits, chosen }}
              box={drawn}
              onChoose={(taken) => {
                setChosen(taken);
                setSide('box');
              }}
            />
          </DesignBoundary>
          <Beside>
            <CandidateTable
              {...{ views, drawn }}
              currency={brief.currency}
              boxes={[drawn, ...rivals.filter((box) => box !== drawn)]}
              f3Hz={brief.reach3Hz}
              f10Hz={brief.reach10Hz}
              wantedDb={looked?.wantedDb ?? null}
              onDraw={draw}
              onUse={use}
            />
            <Basis>
              {view?.isInDesign
                ? 'F3 and F10 on the axis of the design, as promised.'
                : 'F3 and F10 of the box alone in half space, against 150–300 Hz: the design has no sum yet.'}{' '}
              {looked?.timesProgramme === null
                ? 'For excursion and air speed the brief lacks loudness and seats, or the amplifier’s power.'
                : 'Cone and port: peaks under programme, as the brief asks.'}{' '}
              Clean: least level from F3 to an octave above, 1 m, within Xmax, port, power and
              amplifier{seatText(looked)}.{' '}
              {design.surroundings.boundaries.length > 0
                ? 'Dashed: with the boundaries that Around has.'
                : 'Free field: surroundings are entered on Around, under Seats.'}
            </Basis>
          </Beside>
        </Views>
        {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
        <DesignBoundary name="The curves of the box">
          <BoxCharts
            {...{ looked, cursorHz }}
            names={names ?? []}
            onCursor={setCursorHz}
            shown={quantity}
            onShown={setQuantity}
          />
        </DesignBoundary>
      </DrawingBoard>
      <SideTabs
        data-drawing-pane
        selectedKey={side}
        onSelectionChange={(key) => setSide(key as SideId)}
      >
        <TabList aria-label="Beside the section">
          {sides.map(({ id, name }) => (
            <Tab key={id} id={id}>
              {name}
            </Tab>
          ))}
        </TabList>
        <TabPanel id="box" data-entries>
          <BoxPane {...{ design, edits, view }} box={drawn} onGone={() => setBoxId(null)} />
          <FindingNotes findings={looked?.findings ?? null} isCurrent={isCurrent} />
        </TabPanel>
        <TabPanel id="find" data-entries>
          <FindPane
            {...{ design, looked, view }}
            box={drawn}
            onFamily={setFamily}
            onDrawn={(id) => {
              setFamily(null);
              setBoxId(id);
            }}
          />
        </TabPanel>
        <TabPanel id="built" data-entries>
          <BuiltPane {...{ design, client, edits }} box={drawn} />
        </TabPanel>
        <TabPanel id="boards" data-entries>
          <BoardsPane {...{ design, edits }} box={drawn} />
        </TabPanel>
      </SideTabs>
    </SideSplit>
  );
}

/** What a level at 1 m is at the farthest seat, and what is asked for. */
function seatText(looked: BoxesLookedAt | null): string {
  const { toSeatDb = null, wantedDb = null } = looked ?? {};
  if (toSeatDb === null) return '';
  const atSeat = `; at the farthest seat ${formatFixed(Math.abs(toSeatDb), 1)} dB ${toSeatDb < 0 ? 'less' : 'more'}`;
  return wantedDb === null
    ? atSeat
    : `${atSeat}; the brief asks for a sine of ${formatFixed(wantedDb, 0)} at 1 m`;
}

const Views = styled.div`
  display: grid;
  grid-template-columns: minmax(220px, 0.62fr) minmax(0, 1fr);
  min-height: 0;
  > * + * {
    border-left: 1px solid ${({ theme }) => theme.colour.grid};
  }
`;

const Beside = styled.div`
  display: grid;
  align-content: start;
  min-width: 0;
  overflow: auto;
`;

const Basis = styled(Quiet)`
  padding: 0 0.8rem 0.4rem;
`;
