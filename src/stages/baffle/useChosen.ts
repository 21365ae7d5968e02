'use client';
import { useCallback, useState } from 'react';
import type { Panel } from '@/core/document/baffleSchema';
import type { Design, Driver } from '@/core/document/schema';
import type { Chosen } from './chosen';

interface ChosenOnBaffle {
  readonly shown: Chosen;
  readonly choose: (chosen: Chosen) => void;
  /** Whose curves are shown: the chosen driver, or the last that was. */
  readonly driver: Driver | undefined;
}

/** What is chosen on the drawing. */
export function useChosen(design: Design, panel: Panel): ChosenOnBaffle {
  const [chosen, setChosen] = useState<Chosen | null>(null);
  const [lastDriverId, setLastDriverId] = useState<string | null>(null);
  const choose = useCallback((next: Chosen) => {
    setChosen(next);
    if (next.kind === 'driver') setLastDriverId(next.id);
  }, []);
  const own = design.drivers.filter(({ mounting }) => mounting.panelId === panel.id);
  // Until something is chosen the driver that plays highest is: there edges matter most.
  const last = own.at(-1);
  const usual: Chosen = last ? { kind: 'driver', id: last.id } : { kind: 'front' };
  const shown = chosen && isThere(chosen, own, panel) ? chosen : usual;
  const driverId = shown.kind === 'driver' ? shown.id : lastDriverId;
  return { shown, choose, driver: own.find(({ id }) => id === driverId) ?? last };
}

function isThere(chosen: Chosen, own: readonly Driver[], panel: Panel): boolean {
  if (chosen.kind === 'driver') return own.some(({ id }) => id === chosen.id);
  if (chosen.kind === 'edge') return chosen.index < panel.corners.length;
  if (chosen.kind === 'port') return chosen.index < panel.ports.length;
  return true;
}
