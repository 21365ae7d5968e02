'use client';
import { useCallback, useRef, useState } from 'react';
import type { Measurement } from '@/core/document/schema';
import { isSweepName, type Imported } from '@/core/formats/importMeasurement';
import { ProblemError } from '@/core/problem';
import { useDesk } from '@/desk/DeskContext';
import { importFile } from '@/workers/filesClient';
import { isPicture, readPicture, type SheetPicture } from '@/stages/bench/tracing/readPicture';
import { wantsProposal, type ReadFiles } from './readFiles';

interface Refusal {
  readonly key: string;
  readonly text: string;
}

/** Files that take part in no measurement: a folder holds all sorts of things. */
const isPassedOver = (file: File) => file.name.startsWith('.') || file.size === 0;

/**
 * Reads measurement files one after the other in a worker, as one step of the design. A WAV file
 * whose name says that it is the sweep is kept for the recordings that come with it or after it.
 * Reading can be stopped; what was read stays.
 */
export function useIntake(onRead: (measurement: Measurement) => void) {
  const desk = useDesk();
  const [refusals, setRefusals] = useState<readonly Refusal[]>([]);
  const [progress, setProgress] = useState<{ done: number; of: number } | null>(null);
  const [notice, setNotice] = useState('');
  const [proposed, setProposed] = useState<ReadFiles | null>(null);
  const [picture, setPicture] = useState<SheetPicture | null>(null);
  const sweep = useRef<File | null>(null);
  const stop = useRef<AbortController | null>(null);

  const take = useCallback(
    async (
      dropped: readonly File[],
      /** What is known about them beforehand. */
      adapt: (measurement: Measurement) => Measurement = (measurement) => measurement,
    ): Promise<readonly Measurement[]> => {
      const { signal } = (stop.current = new AbortController());
      setRefusals([]);
      setNotice('');
      const wanted = dropped.filter((file) => !isPassedOver(file) && !isPicture(file));
      sweep.current = wanted.find(({ name }) => isSweepName(name)) ?? sweep.current;
      const files = wanted.filter(({ name }) => !isSweepName(name));
      const fresh: Imported[] = [];
      const paths = new Map<string, string>();
      const refused: Refusal[] = [];
      const known = new Set(desk.store.getState().design.measurements.map(({ id }) => id));
      let repeated: string | null = null;
      for (const [done, file] of files.entries()) {
        if (signal.aborted) break;
        setProgress({ done, of: files.length });
        try {
          const imported = await importFile(file, sweep.current, signal);
          const measurement = adapt(imported.measurement);
          if (known.has(measurement.id)) repeated = file.name;
          else {
            known.add(measurement.id);
            fresh.push({ ...imported, measurement });
            paths.set(measurement.id, file.webkitRelativePath || file.name);
          }
          onRead(measurement);
        } catch (error) {
          if (signal.aborted) break;
          if (!(error instanceof ProblemError)) throw error;
          refused.push({ key: `${file.name} ${refused.length}`, text: error.message });
        }
      }
      // Of several pictures one is traced at a time.
      const drawn = dropped.find(isPicture);
      if (drawn)
        try {
          setPicture(await readPicture(drawn));
        } catch (error) {
          if (!(error instanceof ProblemError)) throw error;
          refused.push({ key: drawn.name, text: error.message });
        }
      setProgress(null);
      const taken = fresh.map(({ measurement }) => measurement);
      const read: ReadFiles = { imported: fresh, paths };
      // Many files, or one with a question, are shown together before anything is done with them.
      if (wantsProposal(read)) setProposed(read);
      else if (taken.length > 0)
        desk.addMeasurements(taken, new Map(fresh.flatMap(({ numbers }) => [...numbers])));
      setRefusals(refused);
      setNotice(
        [
          taken.length > 0 &&
            `${taken.length} measurement${taken.length === 1 ? '' : 's'} read${signal.aborted ? ', then stopped' : ''}.`,
          repeated !== null &&
            `${repeated} holds the same numbers as a measurement that is here already.`,
          taken.length === 0 && signal.aborted && 'Stopped; nothing was read.',
          files.length === 0 &&
            sweep.current &&
            `${sweep.current.name} is kept as the sweep of the recordings to come.`,
        ]
          .filter(Boolean)
          .join(' '),
      );
      return taken;
    },
    [desk, onRead],
  );

  return {
    take,
    progress,
    notice,
    refusals,
    /** What was read and waits for a decision. */
    proposed,
    decided: () => setProposed(null),
    /** A picture of a data sheet that a curve is to be traced from. */
    picture,
    putPictureAway: () => setPicture(null),
    stop: () => stop.current?.abort(),
    putAway: (key: string) => setRefusals((all) => all.filter((other) => other.key !== key)),
  };
}

export type Intake = ReturnType<typeof useIntake>;
