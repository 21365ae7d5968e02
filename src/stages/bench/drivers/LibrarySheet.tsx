'use client';
import { FileDown, FilePlus2, Trash2 } from 'lucide-react';
import { useRef, useState } from 'react';
import styled from 'styled-components';
import type { LibraryEntry, LibrarySample } from '@/core/editing/library';
import { totalQ } from '@/core/driver/motor';
import { formatFixed } from '@/core/units/quantity';
import { useDeskState } from '@/desk/DeskContext';
import { ChoiceBlank } from '@/ui/fields/Blank';
import { Button, PrimaryButton, TextButton } from '@/ui/Button';
import { NameField } from '@/ui/fields/NameField';
import { Note, Quiet, tableLook, Sentence } from '@/ui/sheets';
import { useLibrary } from './useLibrary';

/** Drivers that are kept across projects, each with its samples. */
export function LibrarySheet() {
  const library = useLibrary();
  const { entries, trouble, notice, deleted } = library;
  const drivers = useDeskState((state) => state.design.drivers);
  const chooser = useRef<HTMLInputElement>(null);
  const [driverId, setDriverId] = useState<string | null>(null);
  const [entryId, setEntryId] = useState<string | null>(null);
  const driver = drivers.find(({ id }) => id === driverId) ?? drivers.at(0);
  const entry = entries?.find(({ id }) => id === entryId) ?? null;
  return (
    <>
      <h3>Drivers kept across projects</h3>
      {driver && (
        <Sentence>
          Put{' '}
          <ChoiceBlank
            label="driver for the library"
            options={drivers.map(({ id, name }) => ({ id, text: name }))}
            value={driver.id}
            onChange={setDriverId}
          />{' '}
          with its measurements and its data sheet into the library, as{' '}
          <ChoiceBlank
            label="place in the library"
            placeholder="a new driver"
            options={(entries ?? []).map(({ id, name }) => ({ id, text: `a sample of ${name}` }))}
            value={entry?.id ?? null}
            onChange={setEntryId}
          />
          .{' '}
          <PrimaryButton onPress={() => void library.put(driver, entry)}>
            Put it there
          </PrimaryButton>
        </Sentence>
      )}
      <div>
        <Button onPress={() => chooser.current?.click()}>
          <FilePlus2 size={14} aria-hidden /> Read a driver file
        </Button>
        <input
          ref={chooser}
          type="file"
          accept=".zip,application/zip"
          aria-label="Driver file"
          hidden
          onChange={(event) => {
            const [file] = event.target.files ?? [];
            event.target.value = '';
            if (file) void library.readFile(file);
          }}
        />
      </div>
      <div aria-live="polite">
        {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
        {notice !== '' && <Quiet>{notice}</Quiet>}
        {deleted && (
          <Note $kind="plain">
            “{deleted.name}” is out of the library; projects that use it keep it.{' '}
            <TextButton onPress={() => void library.takeBack(deleted)}>Take it back</TextButton>
          </Note>
        )}
      </div>
      {entries?.length === 0 && (
        <Quiet>
          Nothing is in it yet. A driver that was measured once need not be measured again for the
          next speaker: put it here, and bring it into any project.
        </Quiet>
      )}
      {entries?.map((one) => (
        <Entry key={one.id} entry={one} library={library} />
      ))}
    </>
  );
}

interface EntryProps {
  readonly entry: LibraryEntry;
  readonly library: ReturnType<typeof useLibrary>;
}

function Entry({ entry, library }: EntryProps) {
  const { name, samples, trouble } = entry;
  return (
    <section aria-label={`${name} in the library`}>
      <Head>
        <h4>
          <NameField
            label={`Name of ${name} in the library`}
            value={name}
            onCommit={(next) => void library.rename(entry, next)}
          />
        </h4>
        <Button
          aria-label={`Save ${name} as a file`}
          onPress={() => void library.saveAsFile(entry)}
        >
          <FileDown size={13} aria-hidden /> as a file
        </Button>
        <Button
          aria-label={`Take ${name} out of the library`}
          onPress={() => void library.remove(entry)}
        >
          <Trash2 size={13} aria-hidden />
        </Button>
      </Head>
      {trouble !== null && <Note $kind="alarm">It can’t be read: {trouble}</Note>}
      <Table>
        <thead>
          <tr>
            <th scope="col">sample</th>
            <th scope="col">measured</th>
            <th scope="col">fs, Hz</th>
            <th scope="col">Qts</th>
            <th scope="col">Vas, l</th>
            <th scope="col">Sd, cm²</th>
            <th scope="col">Re, Ω</th>
            <td />
          </tr>
        </thead>
        <tbody>
          {samples.map((sample, index) => (
            <tr key={index}>
              <th scope="row">{sample.name}</th>
              <td>{measured(sample)}</td>
              {figures(sample).map((figure, i) => (
                <td key={i}>{figure}</td>
              ))}
              <td>
                <TextButton
                  aria-label={`Add ${sample.name} of ${name} to this project`}
                  onPress={() => void library.bringIn(entry, index)}
                >
                  add
                </TextButton>
              </td>
            </tr>
          ))}
        </tbody>
      </Table>
    </section>
  );
}

const measured = ({ hasResponse, hasImpedance, angleCount }: LibrarySample): string =>
  [hasResponse && 'response', hasImpedance && 'impedance', angleCount > 0 && `${angleCount} angles`]
    .filter(Boolean)
    .join(', ') || 'nothing';

const figures = ({ sheet }: LibrarySample): string[] =>
  [sheet.fsHz, totalQ(sheet), sheet.vasLitres, sheet.sdCm2, sheet.reOhm].map((value, i) =>
    value === null ? '–' : formatFixed(value, [1, 2, 1, 0, 2][i]),
  );

const Head = styled.div`
  display: flex;
  align-items: center;
  gap: 0.5rem;
  h4 {
    flex: 1;
    margin: 0;
    font-size: inherit;
  }
`;

const Table = styled.table`
  ${tableLook}
`;
