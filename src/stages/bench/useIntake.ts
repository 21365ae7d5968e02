'use client';
import { useCallback, useRef, useState } from 'react';
import type { Measurement } from '@/core/design/schema';
import { isSweepName } from '@/core/formats/importMeasurement';
import type { Samples } from '@/core/measurement/samples';
import { ProblemError } from '@/core/problem';
import { useDesk } from '@/desk/DeskContext';
import { importFile } from '@/workers/filesClient';

interface Refusal {
  readonly key: string;
  readonly text: string;
}

/** Files that take part in no measurement: a folder holds all sorts of things. */
const isPassedOver = (file: File) => file.name.startsWith('.') || file.size === 0;

/**
 * Reads measurement files one after the other in a worker, as one step of the design. A WAV file whose name says that it is
 * the sweep is kept for the recordings that come with it or after it. Reading can be stopped; what was read stays.
 */
export function useIntake(onRead: (measurement: Measurement) => void) {
  const desk = useDesk();
  const [refusals, setRefusals] = useState<readonly Refusal[]>([]);
  const [progress, setProgress] = useState<{ done: number; of: number } | null>(null);
  const [notice, setNotice] = useState('');
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
      const wanted = dropped.filter((file) => !isPassedOver(file));
      sweep.current = wanted.find(({ name }) => isSweepName(name)) ?? sweep.current;
      const files = wanted.filter(({ name }) => !isSweepName(name));
      const taken: Measurement[] = [];
      const numbers = new Map<string, Samples>();
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
            taken.push(measurement);
            for (const [id, samples] of imported.numbers) numbers.set(id, samples);
          }
          onRead(measurement);
        } catch (error) {
          if (signal.aborted) break;
          if (!(error instanceof ProblemError)) throw error;
          refused.push({ key: `${file.name} ${refused.length}`, text: error.message });
        }
      }
      setProgress(null);
      if (taken.length > 0) desk.addMeasurements(taken, numbers);
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
    stop: () => stop.current?.abort(),
    putAway: (key: string) => setRefusals((all) => all.filter((other) => other.key !== key)),
  };
}

export type Intake = ReturnType<typeof useIntake>;
