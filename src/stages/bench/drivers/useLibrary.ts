'use client';
import { newId } from '@/ui/newId';
import { useCallback, useEffect, useState } from 'react';
import {
  libraryDocument,
  libraryDocumentsOf,
  withSample,
  type LibraryEntry,
} from '@/core/editing/library';
import type { Driver } from '@/core/document/schema';
import { fileStem } from '@/core/text';
import { ProblemError } from '@/core/problem';
import * as api from '@/desk/api';
import { useDesk } from '@/desk/DeskContext';
import { saveFile } from '@/ui/saveFile';
import { readProject, writeProject } from '@/workers/filesClient';

/** The library of drivers on the server, and what can be done with it. */
export function useLibrary() {
  const desk = useDesk();
  /** Null until it has come. */
  const [entries, setEntries] = useState<readonly LibraryEntry[] | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [notice, setNotice] = useState('');
  const [deleted, setDeleted] = useState<LibraryEntry | null>(null);

  /** Does something, says in words how it went, and shows the library as it then is. */
  const attempt = useCallback(async (work: () => Promise<string>) => {
    setTrouble(null);
    setNotice('');
    try {
      setNotice(await work());
      setEntries(await api.listLibrary());
    } catch (error) {
      if (!(error instanceof ProblemError || error instanceof api.ServerAway)) throw error;
      setTrouble(error.message);
    }
  }, []);
  useEffect(() => {
    const timer = setTimeout(() => void attempt(() => Promise.resolve('')));
    return () => clearTimeout(timer);
  }, [attempt]);

  /** @param entry library driver that it is a sample of; null for a new one */
  const put = (driver: Driver, entry: LibraryEntry | null) =>
    attempt(async () => {
      // The server must have the numbers before anything there can name them.
      await desk.flush();
      const { design } = desk.store.getState();
      if (!entry) {
        await api.addLibraryDriver(libraryDocument(driver.name, design, [driver]));
        return `${driver.name} is in the library.`;
      }
      const { document, revision } = await api.fetchLibraryDriver(entry.id);
      const sample = { ...driver, id: newId('sample') };
      await api.saveLibraryDriver(entry.id, revision, withSample(document, design, sample));
      return `${driver.name} is in the library as a sample of ${entry.name}.`;
    });

  const bringIn = (entry: LibraryEntry, sampleIndex: number) =>
    attempt(async () => {
      const { document } = await api.fetchLibraryDriver(entry.id);
      const sample = document.drivers[sampleIndex];
      const driver = { ...sample, id: newId('driver') };
      const { measurements } = libraryDocument(entry.name, document, [driver]);
      desk.change(
        { type: 'bringDrivers', drivers: [driver], measurements },
        `add ${driver.name} from the library`,
      );
      return `${driver.name} is in this project now, with ${measurements.length} measurement${measurements.length === 1 ? '' : 's'}.`;
    });

  const rename = (entry: LibraryEntry, name: string) =>
    attempt(async () => {
      const { document, revision } = await api.fetchLibraryDriver(entry.id);
      await api.saveLibraryDriver(entry.id, revision, { ...document, name });
      return '';
    });

  const remove = (entry: LibraryEntry) =>
    attempt(async () => {
      await api.deleteLibraryDriver(entry.id);
      setDeleted(entry);
      return '';
    });

  const takeBack = (entry: LibraryEntry) =>
    attempt(async () => {
      await api.restoreLibraryDriver(entry.id);
      setDeleted(null);
      return `${entry.name} is back.`;
    });

  const saveAsFile = (entry: LibraryEntry) =>
    attempt(async () => {
      const { document } = await api.fetchLibraryDriver(entry.id);
      await desk.loadSamples(document.measurements);
      const file = await writeProject({ design: document, data: desk.allSamples(), log: [] });
      saveFile(`${fileStem(entry.name)}.driver.zip`, file);
      return '';
    });

  const readFile = (file: File) =>
    attempt(async () => {
      const { design, data } = await readProject(file);
      const documents = libraryDocumentsOf(design);
      for (const [id, samples] of data) await api.storeMeasurement(id, samples);
      for (const document of documents) await api.addLibraryDriver(document);
      return `${documents.map(({ name }) => name).join(', ')} ${documents.length === 1 ? 'is' : 'are'} in the library.`;
    });

  return {
    ...{ entries, trouble, notice, deleted },
    ...{ put, bringIn, rename, remove, takeBack, saveAsFile, readFile },
  };
}
