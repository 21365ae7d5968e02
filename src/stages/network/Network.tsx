'use client';
import Link from 'next/link';
import { useMemo, useState } from 'react';
import { Tab, TabList, TabPanel } from 'react-aria-components';
import styled from 'styled-components';
import { SideTabs } from '@/ui/stageLook';
import { useRegisterActions, type Action } from '@/desk/actions';
import { DesignBoundary } from '@/desk/DesignBoundary';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { Button, PrimaryButton } from '@/ui/Button';
import { focusTab } from '@/ui/focusTab';
import { Quiet } from '@/ui/sheets';
import { SideSplit } from '@/ui/SideSplit';
import { FitSheet } from '@/stages/network/fit/FitSheet';
import { Inspector } from '@/stages/network/inspector/Inspector';
import { ReadNetlist } from '@/stages/network/rails/ReadNetlist';
import { RailDrawing } from '@/stages/network/rails/RailDrawing';
import { ExportRails } from '@/stages/network/rails/ExportRails';
import { SearchSheet } from '@/stages/network/search/SearchSheet';
import { SlopesSheet } from '@/stages/network/slopes/SlopesSheet';
import { useNetworkActions } from '@/stages/network/edits/useNetworkActions';
import { useNetworkEdits } from '@/stages/network/edits/useNetworkEdits';

/** What lies beside the rails. */
const sides = [
  { id: 'part', name: 'Selected' },
  { id: 'fit', name: 'Fit' },
  { id: 'search', name: 'Search' },
  { id: 'slopes', name: 'Slopes' },
] as const;
type SideId = (typeof sides)[number]['id'];

/** Which parts make it fair: the rails, and what is known about the chosen part. */
export function Network() {
  useNetworkActions();
  const [side, setSide] = useState<SideId>('part');
  const [isReading, setIsReading] = useState(false);
  const actions = useMemo<Action[]>(
    () => [
      ...sides.map(({ id, name }, i) => ({
        id: `side-${id}`,
        group: 'Network',
        name: `Lay out: ${name.toLowerCase()}`,
        keys: [`Alt+${i + 1}`],
        run: () => {
          setSide(id);
          focusTab(id);
        },
      })),
      {
        id: 'read-netlist',
        group: 'Network',
        name: 'Read a network from a SPICE netlist',
        keys: ['Ctrl+Alt+R'],
        run: () => setIsReading(true),
      },
    ],
    [],
  );
  useRegisterActions(actions);
  const hasWays = useDeskState((state) => state.design.ways.length > 0);
  return (
    <SideSplit name="network" sideLabel="the pane beside the rails">
      <RailsPane aria-label="Rails">
        <Bar onRead={() => setIsReading(true)} />
        {hasWays ? <RailDrawing /> : <NoWays />}
        <ReadNetlist isOpen={isReading} onOpenChange={setIsReading} />
      </RailsPane>
      <SideTabs selectedKey={side} onSelectionChange={(key) => setSide(key as SideId)}>
        <TabList aria-label="Beside the rails">
          {sides.map(({ id, name }) => (
            <Tab key={id} id={id}>
              {name}
            </Tab>
          ))}
        </TabList>
        <TabPanel id="part">
          <DesignBoundary name="What is known of the selected part">
            <Inspector />
          </DesignBoundary>
        </TabPanel>
        <TabPanel id="fit" data-entries>
          <DesignBoundary name="The fit">
            <FitSheet />
          </DesignBoundary>
        </TabPanel>
        <TabPanel id="search" data-entries>
          <DesignBoundary name="The search">
            <SearchSheet />
          </DesignBoundary>
        </TabPanel>
        <TabPanel id="slopes" data-entries>
          <DesignBoundary name="The slopes">
            <SlopesSheet />
          </DesignBoundary>
        </TabPanel>
      </SideTabs>
    </SideSplit>
  );
}

function Bar({ onRead }: { readonly onRead: () => void }) {
  const edits = useNetworkEdits();
  return (
    <Head>
      <h2>Rails</h2>
      <Quiet>series on the line, shunt below it</Quiet>
      <Button onPress={onRead}>Read a netlist</Button>
      <ExportRails />
      <Button onPress={() => edits.addWay()}>
        Add a way <kbd>W</kbd>
      </Button>
    </Head>
  );
}

/** With drivers at hand one press gives each its rail; without them the bench comes first. */
function NoWays() {
  const desk = useDesk();
  const edits = useNetworkEdits();
  const drivers = useDeskState((state) => state.design.drivers);
  return (
    <Empty>
      <p>
        A way is a rail from the amplifier to a driver. Parts start from it in series or hang from
        it in shunt.
      </p>
      {drivers.length > 0 ? (
        <PrimaryButton onPress={() => edits.addWays(drivers)}>
          Give each driver its way
        </PrimaryButton>
      ) : (
        <p>
          There is no driver yet:{' '}
          <Link href={`/p/${desk.projectId}/bench`}>read measurements on the Bench</Link> first.
        </p>
      )}
    </Empty>
  );
}

const RailsPane = styled.section`
  display: grid;
  grid-template-rows: auto minmax(0, 1fr);
`;

const Head = styled.div`
  display: flex;
  align-items: center;
  gap: 1rem;
  padding: 0.35rem 1rem;
  background: ${({ theme }) => theme.colour.sheet};
  border-bottom: 1px solid ${({ theme }) => theme.colour.grid};
  > span {
    flex: 1;
  }
`;

const Empty = styled.div`
  display: grid;
  align-content: center;
  justify-items: center;
  gap: 0.9rem;
  padding: 2rem;
  background: ${({ theme }) => theme.colour.sheet};
`;
