'use client';
import { FolderInput, Plus } from 'lucide-react';
import Link from 'next/link';
import { useRouter } from 'next/navigation';
import { useRef, useState } from 'react';
import { Button as AriaButton, Menu, MenuItem, MenuTrigger, Popover } from 'react-aria-components';
import styled from 'styled-components';
import { emptyDesign } from '@/core/document/schema';
import { ProblemError } from '@/core/problem';
import type { ProjectSummary, StoredProject } from '@/core/document/project';
import * as api from '@/desk/api';
import { Button, PrimaryButton, TextButton } from '@/ui/Button';
import { Mark } from '@/ui/Mark';
import { Card, MenuSheet, Note, Quiet } from '@/ui/sheets';
import { readProject } from '@/workers/filesClient';

/** The list of projects: open, begin, bring in, copy, delete and take the deletion back. */
export function ProjectList({ initial }: { readonly initial: readonly ProjectSummary[] }) {
  const router = useRouter();
  const chooser = useRef<HTMLInputElement>(null);
  const [projects, setProjects] = useState(initial);
  const [deleted, setDeleted] = useState<ProjectSummary | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [isBusy, setIsBusy] = useState(false);

  /** Runs one thing at a time and says in words what went wrong. */
  const attempt = async (work: () => Promise<void>) => {
    setIsBusy(true);
    setTrouble(null);
    try {
      await work();
    } catch (error) {
      const words =
        error instanceof ProblemError || error instanceof api.ServerAway
          ? error.message
          : String(error);
      setTrouble(
        error instanceof api.ServerAway ? `${words} Check that it runs, and try again.` : words,
      );
    } finally {
      setIsBusy(false);
    }
  };
  const refresh = async () => setProjects(await api.listProjects());
  const open = ({ id }: StoredProject, stage: string) => router.push(`/p/${id}/${stage}`);

  const bringIn = async (file: File) => {
    const { design, data, log } = await readProject(file);
    for (const [id, samples] of data) await api.storeMeasurement(id, samples);
    open(await api.createProjectWithLog(design, log), design.ways.length > 0 ? 'network' : 'brief');
  };
  const act = (project: ProjectSummary, action: string) =>
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
    <Page>
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
        <Button
          isDisabled={isBusy}
          onPress={() => void attempt(async () => open(await api.createDemo(), 'network'))}
        >
          Open the demo
        </Button>
        <input
          ref={chooser}
          type="file"
          accept=".zip,application/zip"
          aria-label="Project file"
          hidden
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = '';
            if (file) void attempt(() => bringIn(file));
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
      {projects.length === 0 ? (
        <Card>
          <p>There is no project yet.</p>
          <Quiet>
            Begin a new one with your own measurements, import a project file, or look round in the
            demo: a three-way speaker for the listening room of a small town’s record library.
          </Quiet>
        </Card>
      ) : (
        <List aria-label="Projects">
          {projects.map((project) => (
            <li key={project.id}>
              <Link href={`/p/${project.id}/${project.wayCount > 0 ? 'network' : 'bench'}`}>
                <strong>{project.name}</strong>
                <Quiet>
                  {counted(project.driverCount, 'driver')}, {counted(project.wayCount, 'way')},{' '}
                  {counted(project.partCount, 'part')}
                </Quiet>
                <Quiet>
                  changed{' '}
                  <time dateTime={project.updatedAt}>
                    {project.updatedAt.slice(0, 16).replace('T', ' ')} UTC
                  </time>
                  , version {project.revision}
                </Quiet>
              </Link>
              <MenuTrigger>
                <More aria-label={`More for ${project.name}`} isDisabled={isBusy}>
                  …
                </More>
                <Popover placement="bottom end">
                  <MenuSheet>
                    <Menu onAction={(key) => void act(project, String(key))}>
                      <MenuItem id="copy">Make a copy</MenuItem>
                      <MenuItem id="delete">Delete</MenuItem>
                    </Menu>
                  </MenuSheet>
                </Popover>
              </MenuTrigger>
            </li>
          ))}
        </List>
      )}
    </Page>
  );
}

const counted = (count: number, noun: string) => `${count} ${noun}${count === 1 ? '' : 's'}`;

const Page = styled.main`
  max-width: 58rem;
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
  li {
    display: flex;
    align-items: center;
    border-bottom: 1px solid ${({ theme }) => theme.colour.rule};
  }
  a {
    flex: 1;
    display: grid;
    grid-template-columns: minmax(10rem, 1fr) 13rem 17rem;
    gap: 1rem;
    align-items: baseline;
    padding: 0.75rem 0.6rem;
    color: inherit;
    text-decoration: none;
    &:hover {
      background: ${({ theme }) => theme.colour.sheet};
    }
    strong {
      overflow: hidden;
      text-overflow: ellipsis;
      white-space: nowrap;
    }
  }
`;

const More = styled(AriaButton)`
  border: 1px solid transparent;
  border-radius: ${({ theme }) => theme.radius};
  background: none;
  color: inherit;
  font: inherit;
  padding: 0.2rem 0.6rem;
  cursor: pointer;
  &[data-hovered] {
    border-color: ${({ theme }) => theme.colour.rule};
  }
`;
