'use client';
import { useEffect } from 'react';
import {
  layoutChange,
  type FoundLayout,
  type PlaceProgress,
  type PlacesFound,
  type PlaceWish,
} from '@/core/layout/placeSearch';
import { applyChange } from '@/core/editing/applyChange';
import { useDesk } from '@/desk/DeskContext';
import { useRun } from '@/desk/useRun';
import { startPlaceSearch } from '@/workers/baffleClient';

/** Searches places for the open design, shows one layout of those found, takes one over. */
export function usePlaceSearch() {
  const desk = useDesk();
  const { progress, found, trouble, begin, end } = useRun<PlaceProgress, PlacesFound>();
  // Who leaves the search sees the design again.
  useEffect(() => () => desk.preview(null), [desk]);
  return {
    ...{ progress, found, trouble },
    search: (wish: PlaceWish) =>
      begin((tell) => startPlaceSearch(desk.store.getState().design, wish, tell)),
    stop: () => end(),
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
