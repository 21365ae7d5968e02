'use client';
import { useEffect, useRef, useState } from 'react';
import { type FoundNetwork } from '@/core/exploration/found';
import type { SearchLimits } from '@/core/fitting/limits';
import { withoutBounds, withWays } from '@/core/filters/grammar';
import { ProblemError } from '@/core/problem';
import { useDesk } from '@/desk/DeskContext';
import { searchNetworks, type SearchOutcome } from '@/workers/exploreClient';

interface Progress {
  readonly percent: number;
  readonly words: string;
}

/** Searches networks for the open design, shows one of them, takes one over. */
export function useSearch() {
  const desk = useDesk();
  const [progress, setProgress] = useState<Progress | null>(null);
  const [outcome, setOutcome] = useState<SearchOutcome | null>(null);
  const [best, setBest] = useState<readonly FoundNetwork[]>([]);
  const [trouble, setTrouble] = useState<string | null>(null);
  const abort = useRef<AbortController | null>(null);
  const designOf = ({ ways }: FoundNetwork) =>
    withWays(desk.store.getState().design, withoutBounds(ways));

  // Who leaves the search sees the design again, and nothing goes on unseen.
  useEffect(
    () => () => {
      abort.current?.abort();
      desk.preview(null);
    },
    [desk],
  );

  return {
    progress,
    outcome,
    best,
    trouble,
    stop: () => abort.current?.abort(),
    /** Lays out what another search has found. */
    layOut: (found: SearchOutcome) => {
      setOutcome(found);
      setBest(found.networks);
    },
    search: async (limits: SearchLimits) => {
      const { signal } = (abort.current = new AbortController());
      setTrouble(null);
      setOutcome(null);
      setBest([]);
      setProgress({ percent: 0, words: 'beginning' });
      let stage = '';
      try {
        const found = await searchNetworks(
          desk.store.getState().design,
          await desk.designSamples(),
          limits,
          signal,
          {
            onStage: ({ stage: next, best: now }) => {
              stage = next ?? '';
              setBest(now);
            },
            onProgress: (done, of) =>
              setProgress({
                percent: Math.round((100 * done) / of),
                words: `${stage}: ${done} of ${of}`,
              }),
          },
        );
        setOutcome(found);
        setBest(found.networks);
      } catch (error) {
        setTrouble(error instanceof ProblemError ? error.message : String(error));
      } finally {
        setProgress(null);
      }
    },
    show: (network: FoundNetwork | null) => desk.preview(network && designOf(network)),
    takeOver: (network: FoundNetwork) => {
      const design = designOf(network);
      const variant = `found, ${network.partCount} parts, ±${network.figures.deviationDb.toFixed(1)} dB`;
      desk.change(
        { type: 'replaceDesign', design: { ...design, variant } },
        `take over a network of ${network.partCount} parts`,
      );
    },
  };
}
