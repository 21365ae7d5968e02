'use client';
import { useRef, useState } from 'react';
import styled from 'styled-components';
import { messageOf } from '@/core/problem';
import { differences, type Difference } from '@/core/told/difference';
import { judgedAs, withNetworkOf } from '@/core/document/networkOnly';
import type { Design } from '@/core/document/schema';
import type { ProjectFile } from '@/core/formats/projectFile';
import { cutText } from '@/core/text';
import { useDesk } from '@/desk/DeskContext';
import { Button, PrimaryButton } from '@/ui/Button';
import { Note, Quiet, tableLook } from '@/ui/sheets';
import { readProject } from '@/workers/filesClient';

interface Guest {
  readonly name: string;
  readonly project: ProjectFile;
  /** Against the design on the desk: drivers, measurements and answers first, then the network. */
  readonly ground: readonly Difference[];
  readonly network: readonly Difference[];
}

const isGround = ({ about }: Difference) => ['driver', 'measurement', 'answer'].includes(about);

/** A name that no variant has, of at most forty characters. */
function freeName(wanted: string, taken: ReadonlySet<string>): string {
  const base = cutText(wanted.replace(/\.fair\.zip$|\.zip$/i, ''), 34).trim() || 'guest';
  let name = base;
  for (let number = 2; taken.has(name); number++) name = `${base} ${number}`;
  return name;
}

/**
 * Project files from others, each as a variant of this project: what differs in drivers and answers
 * is shown first.
 */
export function BringVariants({ taken }: { readonly taken: readonly string[] }) {
  const desk = useDesk();
  const chooser = useRef<HTMLInputElement>(null);
  const [guests, setGuests] = useState<readonly Guest[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [isBusy, setIsBusy] = useState(false);

  const attempt = async (work: () => Promise<void>) => {
    setTrouble(null);
    setIsBusy(true);
    try {
      await work();
    } catch (error) {
      setTrouble(messageOf(error));
    } finally {
      setIsBusy(false);
    }
  };
  const read = (files: readonly File[]) =>
    attempt(async () => {
      const names = new Set(taken);
      const found: Guest[] = [];
      const { design } = desk.store.getState();
      for (const file of files) {
        const project = await readProject(file);
        const name = freeName(file.name, names);
        names.add(name);
        const all = differences(design, {
          ...project.design,
          variant: design.variant,
          name: design.name,
        });
        found.push({
          ...{ name, project },
          ground: all.filter(isGround),
          network: all.filter((one) => !isGround(one)),
        });
      }
      setGuests(found);
    });
  /**
   * Saves each as the newest state of a variant of its own, and comes back to what was on the desk.
   */
  const bring = (take: (mine: Design, theirs: Design) => Design) =>
    attempt(async () => {
      const { design: mine } = desk.store.getState();
      for (const { name, project } of guests) {
        desk.keepNumbers(project.data);
        const guest = { ...take(mine, project.design), name: mine.name, variant: name };
        desk.goTo(guest, `import ${name}`);
        await desk.flush();
      }
      desk.goTo(mine, `back to ${mine.variant}`);
      await desk.flush();
      setGuests([]);
    });

  return (
    <Box>
      <Button isDisabled={isBusy} onPress={() => chooser.current?.click()}>
        Import project files as variants
      </Button>
      <input
        ref={chooser}
        type="file"
        accept=".zip"
        multiple
        hidden
        aria-label="Project files as variants"
        onChange={(event) => {
          const files = [...(event.target.files ?? [])];
          event.target.value = '';
          void read(files);
        }}
      />
      {trouble !== null && (
        <Note $kind="alarm" role="alert">
          {trouble}
        </Note>
      )}
      {guests.map(({ name, ground, network }) => (
        <section key={name} aria-label={`What differs in ${name}`}>
          <h4>{name}</h4>
          <Rows
            title="Drivers and answers"
            rows={ground}
            none="Drivers, measurements and answers are the same."
          />
          <Rows title="Network and settings" rows={network} none="The network is the same." />
        </section>
      ))}
      {guests.length > 0 && (
        <Buttons>
          <PrimaryButton
            isDisabled={isBusy}
            onPress={() => void bring((mine, theirs) => withNetworkOf(mine, theirs))}
          >
            Their networks on my drivers and answers
          </PrimaryButton>
          <Button
            isDisabled={isBusy}
            onPress={() => void bring((mine, theirs) => judgedAs(theirs, mine))}
          >
            Their drivers too
          </Button>
          <Button isDisabled={isBusy} onPress={() => setGuests([])}>
            Leave them out
          </Button>
        </Buttons>
      )}
    </Box>
  );
}

const mostRows = 60;

function Rows({
  title,
  rows,
  none,
}: {
  readonly title: string;
  readonly rows: readonly Difference[];
  readonly none: string;
}) {
  if (rows.length === 0) return <Quiet>{none}</Quiet>;
  return (
    <Table aria-label={title}>
      <thead>
        <tr>
          <th scope="col">{title}</th>
          <th scope="col">here</th>
          <th scope="col">there</th>
        </tr>
      </thead>
      <tbody>
        {rows.slice(0, mostRows).map(({ about, what, before, after }) => (
          <tr key={about + what}>
            <th scope="row">{what}</th>
            <td>{before ?? '–'}</td>
            <td>{after ?? '–'}</td>
          </tr>
        ))}
        {rows.length > mostRows && (
          <tr>
            <td colSpan={3}>and {rows.length - mostRows} more</td>
          </tr>
        )}
      </tbody>
    </Table>
  );
}

const Box = styled.div`
  display: grid;
  justify-items: start;
  gap: 0.6rem;
  margin-top: 0.6rem;
`;

const Buttons = styled.div`
  display: flex;
  flex-wrap: wrap;
  gap: 0.5rem;
`;

const Table = styled.table`
  ${tableLook}
`;
