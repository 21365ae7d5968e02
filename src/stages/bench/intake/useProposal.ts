'use client';
import { newId } from '@/ui/newId';
import { useMemo, useState } from 'react';
import { emptyDriver, type Driver, type Measurement } from '@/core/document/schema';
import type { Imported } from '@/core/formats/importMeasurement';
import { centreHz, proposeDrivers, slotsOf, type ProposedDriver } from '@/core/formats/proposal';
import type { Samples } from '@/core/measurement/samples';
import { timingPattern } from '@/core/measurement/timingPattern';
import { useDesk } from '@/desk/DeskContext';
import { runKey } from '@/desk/history';
import type { ReadFiles } from './readFiles';

/** What the user says of one measurement. */
interface Said {
  readonly kind: Measurement['kind'];
  readonly angle: Measurement['angle'];
  readonly ownerKey: string | null;
  readonly usesPhase: boolean;
}

/** A measurement with what is said of it. */
export interface ProposalRow {
  readonly key: string;
  readonly measurement: Measurement;
  readonly numbers: ReadonlyMap<string, Samples>;
  readonly ownerKey: string | null;
  readonly withPhase: Imported['withPhase'];
  readonly usesPhase: boolean;
  readonly said: Said;
}

/**
 * The proposal for files that were read, what the user changes in it, and the one step that takes
 * it over.
 */
export function useProposal({ imported, paths }: ReadFiles, onDone: () => void) {
  const desk = useDesk();
  const [existing] = useState(() => desk.store.getState().design.drivers);
  const first = useMemo(
    () =>
      proposeDrivers(
        imported.map(({ measurement }) => measurement),
        existing,
        paths,
      ),
    [imported, existing, paths],
  );
  const timing = useMemo(
    () =>
      timingPattern(
        imported.flatMap(({ measurement: { id, kind }, numbers }) =>
          kind === 'response' ? [numbers.get(id)!] : [],
        ),
      ),
    [imported],
  );
  const [changes, setChanges] = useState<ReadonlyMap<string, Partial<Said>>>(new Map());
  const [names, setNames] = useState<ReadonlyMap<string, string>>(new Map());
  const [microphone, setMicrophone] = useState({
    distanceMm: 1000,
    commonTiming: timing?.kind !== 'own',
  });

  const drivers: readonly ProposedDriver[] = [
    ...first.drivers,
    // Drivers of the design that no file names can be chosen as well.
    ...existing
      .filter(({ id }) => first.drivers.every(({ existingId }) => existingId !== id))
      .map(({ id, name }) => ({ key: id, name, existingId: id })),
  ].map((driver) => ({ ...driver, name: names.get(driver.key) ?? driver.name }));

  const rows = imported.map(({ measurement, numbers, withPhase }): ProposalRow => {
    const said: Said = {
      kind: measurement.kind,
      angle: measurement.angle,
      ownerKey: first.ownerOf.get(measurement.id) ?? null,
      usesPhase: false,
      ...changes.get(measurement.id),
    };
    const source = said.usesPhase && withPhase ? withPhase : { measurement, numbers };
    const { kind, angle, ownerKey, usesPhase } = said;
    return {
      key: measurement.id,
      measurement: {
        ...source.measurement,
        kind,
        angle: kind === 'response' ? angle : null,
        microphone: { ...source.measurement.microphone, ...microphone },
      },
      numbers: source.numbers,
      ...{ ownerKey, usesPhase, withPhase, said },
    };
  });

  function takeOver(withDrivers: boolean): void {
    const key = runKey(crypto.randomUUID());
    const label = `import ${rows.length} measurements`;
    const numbers = new Map(rows.flatMap((row) => [...row.numbers]));
    desk.addMeasurements(
      rows.map(({ measurement }) => measurement),
      numbers,
      { label, mergeKey: key },
    );
    if (withDrivers)
      for (const { driver, isNew } of given())
        if (isNew) desk.change({ type: 'addDriver', driver }, label, key);
        else desk.change({ type: 'editDriver', id: driver.id, set: driver }, label, key);
    onDone();
  }

  /** Drivers with what they are given, those of the lows first. */
  function given(): { readonly driver: Driver; readonly isNew: boolean }[] {
    return drivers
      .flatMap(({ key, name, existingId }) => {
        const own = rows.filter(({ ownerKey }) => ownerKey === key);
        if (own.length === 0) return [];
        const slots = slotsOf(own.map(({ measurement }) => measurement));
        const known = existing.find(({ id }) => id === existingId);
        const base = known ?? emptyDriver(newId('driver'), name);
        const samples = own.find(({ measurement: { id } }) => id === slots.responseId);
        const centre = samples ? centreHz(samples.numbers.get(slots.responseId!)!) : Infinity;
        return [
          {
            isNew: known === undefined,
            centre,
            driver: {
              ...base,
              name,
              // What a driver has already stays; the proposal fills what it lacks.
              responseId: base.responseId ?? slots.responseId,
              impedanceId: base.impedanceId ?? slots.impedanceId,
              offAxisIds: [...new Set([...base.offAxisIds, ...slots.offAxisIds])],
            },
          },
        ];
      })
      .sort((a, b) => a.centre - b.centre);
  }

  return {
    rows,
    drivers,
    timing,
    microphone,
    setMicrophone,
    rename: (key: string, name: string) => setNames((all) => new Map(all).set(key, name)),
    setRow: (key: string, set: Partial<Said>) =>
      setChanges((all) => new Map(all).set(key, { ...all.get(key), ...set })),
    takeOver,
  };
}
