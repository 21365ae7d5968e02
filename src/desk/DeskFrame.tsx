'use client';
import { Redo2, Undo2 } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useCallback, useMemo, useState, type ReactNode } from 'react';
import styled from 'styled-components';
import { mainLine } from '@/core/document/schema';
import { Button } from '@/ui/Button';
import { Mark } from '@/ui/Mark';
import { NameField } from '@/ui/fields/NameField';
import { Quiet } from '@/ui/sheets';
import { useIsInBrowser } from '@/ui/useIsInBrowser';
import { useActionKeys, useRegisterActions, type Action } from './actions';
import { ActionFinder } from './ActionFinder';
import { CurveShelf } from '@/desk/curves/CurveShelf';
import { useDesk, useDeskState } from './DeskContext';
import { Downloads, useDownloadActions } from './Downloads';
import { DesignBoundary } from './DesignBoundary';
import { Faults } from './Faults';
import { KeySheet } from './KeySheet';
import { SaveMark } from '@/desk/saving/SaveMark';
import { SaveTrouble } from '@/desk/saving/SaveTrouble';
import { StageList } from './StageList';
import { PromiseStrip } from './PromiseStrip';
import { stages } from './stages';
import { VersionPanel } from './VersionPanel';
import { useLogActions } from './useLogActions';
import { useStage } from './useStage';
import { toggleTheme } from './theme';

/** What is around every stage: project, undo, promises, stages, and the curves that never leave. */
export function DeskFrame({ children }: { readonly children: ReactNode }) {
  const desk = useDesk();
  const name = useDeskState((state) => state.design.name);
  const undoLabel = useDeskState((state) => state.history.undo.at(-1)?.label);
  const redoLabel = useDeskState((state) => state.history.redo.at(-1)?.label);
  const variant = useDeskState((state) => state.design.variant);
  const pinnedRevision = useDeskState((state) => state.pinned?.revision);
  const router = useRouter();
  const stage = useStage();
  const [isNaming, setIsNaming] = useState(false);
  const openVersion = useCallback(() => setIsNaming(true), []);
  const [isFinding, setIsFinding] = useState(false);
  const [isShowingKeys, setIsShowingKeys] = useState(false);

  const actions = useMemo<Action[]>(
    () => [
      {
        id: 'undo',
        group: 'Project',
        name: undoLabel ? `Undo: ${undoLabel}` : 'Undo',
        keys: ['Ctrl+Z'],
        isDisabled: !undoLabel,
        run: () => desk.undo(),
      },
      {
        id: 'redo',
        group: 'Project',
        name: redoLabel ? `Redo: ${redoLabel}` : 'Redo',
        keys: ['Ctrl+Shift+Z', 'Ctrl+Y'],
        isDisabled: !redoLabel,
        run: () => desk.redo(),
      },
      {
        id: 'find',
        group: 'Project',
        name: 'Find an action',
        keys: ['Ctrl+K'],
        run: () => setIsFinding(true),
      },
      {
        id: 'keys',
        group: 'Project',
        name: 'Show all keys',
        keys: ['?'],
        run: () => setIsShowingKeys(true),
      },
      {
        id: 'projects',
        group: 'Project',
        name: 'Go to the list of projects',
        keys: ['Shift+Home'],
        run: () => router.push('/'),
      },
      {
        id: 'table',
        group: 'Project',
        name: 'Change between light and dark',
        keys: ['Ctrl+Shift+E'],
        run: toggleTheme,
      },
      ...panes.map(({ id, name, key, selector }) => ({
        id: `pane-${id}`,
        group: 'Go to',
        name: `Go to ${name}`,
        keys: [key],
        run: () => document.querySelector<HTMLElement>(selector)?.focus(),
      })),
      ...stages
        .filter((stage) => stage.isBuilt)
        .map((stage) => ({
          id: `stage-${stage.id}`,
          group: 'Stages',
          name: `Go to ${stage.name}`,
          keys: [stage.key],
          run: () => router.push(`/p/${desk.projectId}/${stage.id}`),
        })),
    ],
    [desk, router, undoLabel, redoLabel],
  );
  useRegisterActions(actions);
  useRegisterActions(useDownloadActions());
  useRegisterActions(useLogActions(openVersion));
  useActionKeys(desk.catchUp);
  // A press that comes before the page can answer it would be lost without a word.
  const isAnswering = useIsInBrowser();

  return (
    <Frame inert={!isAnswering}>
      <TopBar>
        <Link href="/" aria-label="Fair Voicing: all projects">
          <Mark /> <strong>Fair Voicing</strong>
        </Link>
        <h1>
          <NameField
            label="Project name"
            value={name}
            onCommit={(next) =>
              desk.change({ type: 'renameDesign', name: next }, 'rename the project')
            }
          />
        </h1>
        {variant !== mainLine && <Quiet>/ {variant}</Quiet>}
        <Button
          onPress={() => desk.undo()}
          isDisabled={!undoLabel}
          aria-label={undoLabel ? `Undo: ${undoLabel}` : 'Undo'}
        >
          <Undo2 size={14} aria-hidden /> Undo <kbd>Ctrl Z</kbd>
        </Button>
        <Button
          onPress={() => desk.redo()}
          isDisabled={!redoLabel}
          aria-label={redoLabel ? `Redo: ${redoLabel}` : 'Redo'}
        >
          <Redo2 size={14} aria-hidden /> Redo
        </Button>
        <Spacer />
        {pinnedRevision !== undefined && (
          <Quiet>
            against r{pinnedRevision}, hold <kbd>`</kbd> to see it
          </Quiet>
        )}
        <VersionPanel isOpen={isNaming} onOpenChange={setIsNaming} />
        <Downloads />
        <Button onPress={() => setIsFinding(true)}>
          Find an action <kbd>Ctrl K</kbd>
        </Button>
        <SaveMark />
      </TopBar>
      <PromiseStrip />
      <StageList current={stage.id} />
      <Middle>
        <Notices>
          <SaveTrouble />
          <Faults />
        </Notices>
        <main>
          <DesignBoundary name="This stage">{children}</DesignBoundary>
        </main>
        <DesignBoundary name="The curves">
          <CurveShelf />
        </DesignBoundary>
      </Middle>
      <ActionFinder isOpen={isFinding} onOpenChange={setIsFinding} />
      <KeySheet isOpen={isShowingKeys} onOpenChange={setIsShowingKeys} />
    </Frame>
  );
}

/** What every stage has around it, with the first thing in it that takes the focus. */
const panes = [
  {
    id: 'promises',
    name: 'the promises',
    key: 'Alt+P',
    selector: '[aria-label="Promises"] :is(a, button)',
  },
  {
    id: 'curves',
    name: 'the curves',
    key: 'Alt+C',
    selector: '[aria-label="Curves"] [role="slider"]',
  },
  {
    id: 'stage',
    name: 'the stage itself',
    key: 'Alt+0',
    selector: 'main :is([tabindex="0"], a, button, input)',
  },
] as const;

const Frame = styled.div`
  display: grid;
  grid-template: 46px 50px minmax(0, 1fr) / 138px minmax(0, 1fr);
  min-width: 1024px;
  height: 100vh;
  height: 100dvh;
  /* Each pane scrolls for itself: what is hidden for readers of the screen must not make the page longer. */
  overflow: clip;
`;

const TopBar = styled.header`
  grid-column: 1 / -1;
  display: flex;
  align-items: center;
  gap: 0.6rem;
  padding: 0 1rem;
  border-bottom: 1px solid ${({ theme }) => theme.colour.rule};
  > a {
    display: flex;
    align-items: center;
    gap: 0.5rem;
    color: inherit;
    text-decoration: none;
    white-space: nowrap;
  }
  h1 {
    font-weight: 600;
    margin-left: 0.8rem;
    flex: none;
  }
`;

const Spacer = styled.span`
  flex: 1;
`;

const Notices = styled.div`
  grid-row: 1;
`;

const Middle = styled.div`
  display: grid;
  grid-template-rows: auto minmax(0, 1fr) auto;
  min-width: 0;
  min-height: 0;
  main {
    grid-row: 2;
    min-height: 0;
    overflow: auto;
    position: relative;
  }
`;
