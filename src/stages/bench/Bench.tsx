'use client';
import { useMemo, useRef, useState } from 'react';
import { Tab, TabList, TabPanel, Tabs } from 'react-aria-components';
import styled from 'styled-components';
import { useRegisterActions, type Action } from '@/desk/actions';
import { DesignBoundary } from '@/desk/DesignBoundary';
import { useDeskState } from '@/desk/DeskContext';
import { Button } from '@/ui/Button';
import { Quiet, tabsLook } from '@/ui/sheets';
import { AngleTable } from '@/stages/bench/drivers/AngleTable';
import { DepthSheet } from '@/stages/bench/drivers/DepthSheet';
import { DriverCards } from '@/stages/bench/drivers/DriverCards';
import { IntakeCard } from '@/stages/bench/intake/IntakeCard';
import { LibrarySheet } from '@/stages/bench/drivers/LibrarySheet';
import { focusTab } from '@/ui/focusTab';
import { LessonBar } from '@/stages/bench/lessons/LessonBar';
import { lessons, type Lesson } from '@/stages/bench/lessons/lessons';
import { useSearchParams } from 'next/navigation';
import { MeasureSheet } from '@/stages/bench/measuring/MeasureSheet';
import { MeasurementList } from '@/stages/bench/measurement/MeasurementList';
import { MeasurementSheet } from '@/stages/bench/measurement/MeasurementSheet';
import { PaperSheet } from '@/stages/bench/drivers/PaperSheet';
import { ParameterSheet } from '@/stages/bench/drivers/ParameterSheet';
import { SpreadSheet } from '@/stages/bench/drivers/SpreadSheet';
import { useDriverEdits } from '@/stages/bench/measurement/useDriverEdits';
import { useIntake } from '@/stages/bench/intake/useIntake';

/** What lies on the right of the bench. */
const tables = [
  { id: 'measure', name: 'Measure' },
  { id: 'measurement', name: 'Measurement' },
  { id: 'angles', name: 'Angles' },
  { id: 'depth', name: 'Depth' },
  { id: 'parameters', name: 'Parameters' },
  { id: 'samples', name: 'Samples' },
  { id: 'library', name: 'Library' },
  { id: 'paper', name: 'Driver sheet' },
] as const;
type TableId = (typeof tables)[number]['id'];

/** What the drivers really do: read files, look at them, condition them, give them to drivers. */
export function Bench() {
  const measurements = useDeskState((state) => state.design.measurements);
  const [chosenId, setChosenId] = useState<string | null>(null);
  const asked = useSearchParams().get('lesson');
  const [lesson, setLesson] = useState<Lesson | null>(
    () => lessons.find(({ id }) => id === asked) ?? null,
  );
  const [table, setTable] = useState<TableId>(lesson ? 'measure' : 'measurement');
  const chooser = useRef<HTMLInputElement>(null);
  const { addDriver } = useDriverEdits();
  const show = useMemo(
    () => (id: string) => {
      setChosenId(id);
      setTable('measurement');
    },
    [],
  );
  const read = useMemo(() => ({ onRead: ({ id }: { id: string }) => setChosenId(id) }), []);
  const intake = useIntake(read.onRead);
  const chosen = measurements.find(({ id }) => id === chosenId) ?? measurements.at(0);

  const actions = useMemo<Action[]>(
    () => [
      {
        id: 'choose-files',
        group: 'Bench',
        name: 'Choose measurement files',
        keys: ['F'],
        run: () => chooser.current?.click(),
      },
      {
        id: 'add-driver',
        group: 'Bench',
        name: 'Add a driver',
        keys: ['D'],
        run: () => addDriver(),
      },
      ...tables.map(({ id, name }, i) => ({
        id: `bench-${id}`,
        group: 'Bench',
        name: `Lay out: ${name.toLowerCase()}`,
        keys: [`Alt+${i + 1}`],
        run: () => {
          setTable(id);
          focusTab(id);
        },
      })),
    ],
    [addDriver],
  );
  useRegisterActions(actions);

  return (
    <Layout>
      <Column aria-label="Drivers">
        <Title>
          <h2>Drivers</h2>
          <Button onPress={() => addDriver()}>
            Add a driver <kbd>D</kbd>
          </Button>
        </Title>
        <DriverCards onShow={show} />
      </Column>
      <Column aria-label="Measurements">
        <IntakeCard intake={intake} chooser={chooser} onRead={show} />
        <MeasurementList chosenId={chosen?.id ?? null} onChoose={show} />
      </Column>
      <Tables selectedKey={table} onSelectionChange={(key) => setTable(key as TableId)}>
        <TabList aria-label="Bench">
          {tables.map(({ id, name }) => (
            <Tab key={id} id={id}>
              {name}
            </Tab>
          ))}
        </TabList>
        {lesson && <LessonBar lesson={lesson} onShow={setTable} onLeave={() => setLesson(null)} />}
        <TabPanel id="measurement" aria-label="What was read">
          {chosen ? (
            <DesignBoundary name="The measurement">
              <MeasurementSheet key={chosen.id} measurement={chosen} />
            </DesignBoundary>
          ) : (
            <Quiet>
              What is read from a file shows here: its curve, the head of its table, what it was
              taken for and why, and what looks odd. Without a measuring rig, begin with a lesson on
              the practice rig: Measure.
            </Quiet>
          )}
        </TabPanel>
        <TabPanel id="angles">
          <DesignBoundary name="The table of angles">
            <AngleTable onShow={show} />
          </DesignBoundary>
        </TabPanel>
        <TabPanel id="depth">
          <DesignBoundary name="The depth">
            <DepthSheet />
          </DesignBoundary>
        </TabPanel>
        <TabPanel id="parameters">
          <DesignBoundary name="The parameters">
            <ParameterSheet />
          </DesignBoundary>
        </TabPanel>
        <TabPanel id="samples">
          <DesignBoundary name="The comparison of samples">
            <SpreadSheet onShow={show} />
          </DesignBoundary>
        </TabPanel>
        <TabPanel id="library">
          <DesignBoundary name="The library">
            <LibrarySheet />
          </DesignBoundary>
        </TabPanel>
        <TabPanel id="paper">
          <DesignBoundary name="The driver sheet">
            <PaperSheet />
          </DesignBoundary>
        </TabPanel>
        <TabPanel id="measure">
          <DesignBoundary name="Measuring">
            <MeasureSheet intake={intake} onLesson={setLesson} />
          </DesignBoundary>
        </TabPanel>
      </Tables>
    </Layout>
  );
}

const Layout = styled.div`
  display: grid;
  grid-template-columns: minmax(16rem, 0.85fr) minmax(13.5rem, 0.65fr) minmax(27rem, 1.7fr);
  height: 100%;
`;

const Column = styled.section`
  padding: 0.8rem 0.9rem;
  overflow: auto;
  position: relative;
  min-width: 0;
  display: grid;
  align-content: start;
  gap: 0.7rem;
  & + & {
    border-left: 1px solid ${({ theme }) => theme.colour.rule};
  }
`;

const Title = styled.div`
  display: flex;
  justify-content: space-between;
  align-items: center;
`;

const Tables = styled(Tabs)`
  border-left: 1px solid ${({ theme }) => theme.colour.rule};
  ${tabsLook}
`;
