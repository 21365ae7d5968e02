'use client';
import { useEffect, useState } from 'react';
import { messageOf } from '@/core/problem';
import { applyChange } from '@/core/editing/applyChange';
import type { TradePlace } from '@/core/fitting/tradeOff';
import type { Design } from '@/core/document/schema';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { runKey } from '@/desk/history';
import { startTradeOff } from '@/workers/aroundClient';

/** Networks from one end to the other. */
const count = 9;
const restMs = 1500;

/**
 * Networks between a flat axis and a flat window, worked out ahead while the hand rests: every place
 * of the slider is a fitted network.
 */
export function useTradeOff(isKnown: boolean) {
  const desk = useDesk();
  const design = useDeskState((state) => state.design);
  const [found, setFound] = useState<{
    readonly of: Design;
    readonly places: readonly TradePlace[];
    readonly isDone: boolean;
    readonly trouble: string | null;
  } | null>(null);
  const [chosen, setChosen] = useState<number | null>(null);
  /** What was taken over from the slider needs no new networks. */
  const [taken, setTaken] = useState<Design | null>(null);

  useEffect(() => {
    if (!isKnown || taken === design) return;
    let run: ReturnType<typeof startTradeOff> | null = null;
    const timer = setTimeout(() => {
      const tell = (places: readonly TradePlace[], isDone: boolean) =>
        setFound({ of: design, places, isDone, trouble: null });
      run = startTradeOff(design, desk.allSamples(), count, (places) => tell(places, false));
      const own = run;
      run.found
        .then((places) => own === run && tell(places ?? [], true))
        .catch((error: unknown) => {
          const trouble = messageOf(error);
          if (own === run) setFound({ of: design, places: [], isDone: true, trouble });
        });
    }, restMs);
    return () => {
      clearTimeout(timer);
      run?.stop();
      run = null;
      setChosen(null);
      desk.preview(null);
    };
  }, [desk, design, isKnown, taken]);

  const places = found?.places ?? [];
  const place = chosen === null ? null : (places.at(chosen) ?? null);
  const take = (variant: string | null) => {
    if (!place) return;
    desk.preview(null);
    const key = runKey(crypto.randomUUID());
    const label = `axis ±${place.axisDb.toFixed(2)} dB, window ±${place.windowDb.toFixed(2)} dB`;
    if (variant !== null) desk.change({ type: 'setVariant', variant }, `try ${variant}`, key);
    desk.change({ type: 'setPartValues', values: place.values }, label, key);
    setTaken(desk.store.getState().design);
    setChosen(null);
  };
  return {
    places,
    isDone: found?.isDone ?? false,
    isCurrent: found?.of === design || taken === design,
    trouble: found?.trouble ?? null,
    chosen,
    place,
    show: (index: number | null) => {
      setChosen(index);
      const shown = index === null ? undefined : places.at(index);
      const { design: present } = desk.store.getState();
      desk.preview(
        shown ? applyChange(present, { type: 'setPartValues', values: shown.values }) : null,
      );
    },
    take,
  };
}

export type TradeOffState = ReturnType<typeof useTradeOff>;
