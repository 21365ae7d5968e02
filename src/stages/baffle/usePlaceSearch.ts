'use client';
import { useEffect, useRef, useState } from 'react';
import {
  layoutChange,
  type FoundLayout,
  type PlaceProgress,
  type PlacesFound,
  type PlaceWish,
} from '@/core/layout/placeSearch';
import { applyChange } from '@/core/editing/applyChange';
import { useDesk } from '@/desk/DeskContext';
import { startPlaceSearch, type PlaceRun } from '@/workers/baffleClient';

/** Searches places for the open design, shows one layout of those found, takes one over. */
export function usePlaceSearch() {
  const desk = useDesk();
  const [progress, setProgress] = useState<PlaceProgress | null>(null);
  const [found, setFound] = useState<PlacesFound | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const run = useRef<PlaceRun | null>(null);
  // Who leaves the search sees the design again, and nothing goes on unseen.
  useEffect(
    () => () => {
      run.current?.stop();
      desk.preview(null);
    },
    [desk],
  );
  return {
    ...{ progress, found, trouble },
    search(wish: PlaceWish) {
      setTrouble(null);
      setFound(null);
      // What a stopped search still tells is not heard.
      const isWanted = () => run.current === started;
      const started: PlaceRun = startPlaceSearch(
        desk.store.getState().design,
        wish,
        (told) => isWanted() && setProgress(told),
      );
      run.current = started;
      started.found
        .then((places) => isWanted() && setFound(places))
        .catch((error: unknown) => {
          if (isWanted()) setTrouble(error instanceof Error ? error.message : String(error));
        })
        .finally(() => isWanted() && setProgress(null));
    },
    stop: () => {
      run.current?.stop();
      run.current = null;
      setProgress(null);
    },
    /** Shows a layout in the place of the present one; null shows the design again. */
    show(layout: FoundLayout | null) {
      const { design } = desk.store.getState();
      desk.preview(layout && applyChange(design, layoutChange(design, layout)));
    },
    takeOver(layout: FoundLayout) {
      desk.preview(null);
      desk.change(layoutChange(desk.store.getState().design, layout), 'places that were found');
    },
  };
}

export type PlaceSearch = ReturnType<typeof usePlaceSearch>;
