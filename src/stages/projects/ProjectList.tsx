'use client';
import { FolderInput, Plus } from 'lucide-react';
import { useRouter } from 'next/navigation';
import { useEffect, useRef, useState } from 'react';
import styled from 'styled-components';
import { emptyDesign } from '@/core/document/schema';
import { messageOf } from '@/core/problem';
import type { ProjectSummary, StoredProject } from '@/core/log/project';
import * as api from '@/desk/api';
import { Button, PrimaryButton, TextButton } from '@/ui/Button';
import { Mark } from '@/ui/Mark';
import { Note } from '@/ui/sheets';
import { useIsInBrowser } from '@/ui/useIsInBrowser';
import { lessons } from '@/stages/bench/lessons/lessons';
import { FirstVisit } from './FirstVisit';
import { ProjectRow } from './ProjectRow';
import { readProject } from '@/workers/filesClient';

interface ProjectListProps {
  /** The last changed first; one more than the newest when there are more. */
  readonly initial: readonly ProjectSummary[];
  /** Number of projects that are shown until all are asked for. */
  readonly newest: number;
}

/** The list of projects: open, begin, import, copy, delete and take the deletion back. */
export function ProjectList({ initial, newest }: ProjectListProps) {
  const router = useRouter();
  const chooser = useRef<HTMLInputElement>(null);
  const list = useRef<HTMLUListElement>(null);
  const [projects, setProjects] = useState(initial);
  const [isWhole, setIsWhole] = useState(false);
  const [deleted, setDeleted] = useState<ProjectSummary | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [isBusy, setIsBusy] = useState(false);
  // A press that comes before the page can answer it would be lost without a word.
  const isAnswering = useIsInBrowser();

  /** Runs one thing at a time and says in words what went wrong. */
  const attempt = async (work: () => Promise<void>) => {
    setIsBusy(true);
    setTrouble(null);
    try {
      await work();
    } catch (error) {
      const words = messageOf(error);
      setTrouble(
        error instanceof api.ServerAway ? `${words} Check that it runs, and try again.` : words,
      );
    } finally {
      setIsBusy(false);
    }
  };
  const refresh = async () => setProjects(await api.listProjects(isWhole ? null : newest + 1));
  const showAll = () =>
    attempt(async () => {
      setProjects(await api.listProjects(null));
      setIsWhole(true);
    });
  useEffect(() => {
    // The button that was pressed is gone; what it has brought is next.
    if (isWhole) list.current?.children[newest]?.querySelector('a')?.focus();
  }, [isWhole, newest]);
  const isCut = !isWhole && projects.length > newest;
  const open = ({ id }: StoredProject, stage: string) => router.push(`/p/${id}/${stage}`);

  const openDemo = () => void attempt(async () => open(await api.demo('open'), 'network'));
  const beginLesson = () =>
    void attempt(async () =>
      open(await api.createProject(emptyDesign('Practice')), `bench?lesson=${lessons[0].id}`),
    );

  const importFile = async (file: File) => {
    const { design, data, log } = await readProject(file);
    for (const [id, samples] of data) await api.storeMeasurement(id, samples);
    open(await api.createProjectWithLog(design, log), design.ways.length > 0 ? 'network' : 'brief');
  };
  const act = (project: ProjectSummary, action: 'copy' | 'delete') =>
    attempt(async () => {
      if (action === 'copy') await api.duplicateProject(project.id);
      if (action === 'delete') {
        await api.deleteProject(project.id);
        setDeleted(project);
      }
      await refresh();
    });
  const takeBack = (project: ProjectSummary) =>
    attempt(async () => {
      await api.restoreProject(project.id);
      setDeleted(null);
      await refresh();
    });

  return (
    <Page inert={!isAnswering}>
      <header>
        <Mark size={30} />
        <div>
          <h1>Fair Voicing</h1>
          <p>Measured drivers to a passive loudspeaker that does what was asked of it.</p>
        </div>
      </header>
      <Bar>
        <PrimaryButton
          isDisabled={isBusy}
          onPress={() =>
            void attempt(async () =>
              open(await api.createProject(emptyDesign('New speaker')), 'brief'),
            )
          }
        >
          <Plus size={15} aria-hidden /> New project
        </PrimaryButton>
        <Button isDisabled={isBusy} onPress={() => chooser.current?.click()}>
          <FolderInput size={15} aria-hidden /> Import a project file
        </Button>
        <Button isDisabled={isBusy} onPress={openDemo}>
          Open the demo
        </Button>
        {(isCut || projects.some(({ isDemo }) => isDemo)) && (
          <Button
            isDisabled={isBusy}
            onPress={() => void attempt(async () => open(await api.demo('fresh'), 'network'))}
          >
            Fresh copy of the demo
          </Button>
        )}
        <input
          ref={chooser}
          type="file"
          accept=".zip,application/zip"
          aria-label="Project file"
          hidden
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = '';
            if (file) void attempt(() => importFile(file));
          }}
        />
      </Bar>
      <div aria-live="polite">
        {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
        {deleted !== null && (
          <Note $kind="plain">
            “{deleted.name}” is deleted. It can be taken back now.{' '}
            <TextButton onPress={() => void takeBack(deleted)}>Undo the deletion</TextButton>
          </Note>
        )}
      </div>
      {projects.every(({ isDemo }) => isDemo) && (
        <FirstVisit isBusy={isBusy} onDemo={openDemo} onLesson={beginLesson} />
      )}
      {projects.length > 0 && (
        <List ref={list} aria-label="Projects">
          {(isCut ? projects.slice(0, newest) : projects).map((project) => (
            <ProjectRow
              key={project.id}
              project={project}
              isBusy={isBusy}
              onAct={(action) => void act(project, action)}
            />
          ))}
        </List>
      )}
      {isCut && (
        <div>
          <Button isDisabled={isBusy} onPress={() => void showAll()}>
            Show older projects
          </Button>
        </div>
      )}
    </Page>
  );
}

const Page = styled.main`
  max-width: 64rem;
  margin: 0 auto;
  padding: 9vh 2rem 3rem;
  display: grid;
  gap: 1.2rem;
  > header {
    display: flex;
    gap: 0.9rem;
    align-items: center;
    h1 {
      font-size: 1.5rem;
    }
    p {
      color: ${({ theme }) => theme.colour.quiet};
    }
  }
`;

const Bar = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0.6rem;
`;

const List = styled.ul`
  border-top: 1px solid ${({ theme }) => theme.colour.rule};
`;
