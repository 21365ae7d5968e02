'use client';
import type { DriverId } from '@/core/fields';
import { newId } from '@/ui/newId';
import { useCallback } from 'react';
import { emptyDriver, type Measurement } from '@/core/document/schema';
import { angleInName } from '@/core/formats/angleName';
import { useDesk } from '@/desk/DeskContext';

/** Changes to drivers that take more than one field. */
export function useDriverEdits() {
  const desk = useDesk();

  const addDriver = useCallback(
    (measurement?: Measurement) => {
      const { drivers } = desk.store.getState().design;
      const name = measurement ? nameFrom(measurement.name) : `Driver ${drivers.length + 1}`;
      const driver = {
        ...emptyDriver(newId('driver'), name),
        responseId: measurement?.kind === 'response' ? measurement.id : null,
        impedanceId: measurement?.kind === 'impedance' ? measurement.id : null,
      };
      desk.change({ type: 'addDriver', driver }, `add ${name}`);
    },
    [desk],
  );

  const assign = useCallback(
    (measurement: Measurement, driverId: DriverId) => {
      const { drivers } = desk.store.getState().design;
      const driver = drivers.find(({ id }) => id === driverId);
      if (!driver) return;
      const set =
        measurement.kind === 'response'
          ? { responseId: measurement.id }
          : { impedanceId: measurement.id };
      desk.change(
        { type: 'editDriver', id: driverId, set },
        `give ${measurement.name} to ${driver.name}`,
      );
    },
    [desk],
  );

  return { addDriver, assign };
}

/** "woofer response" names a woofer, "mid hor +15" a mid. */
function nameFrom(measurement: string): string {
  const bare =
    (angleInName(measurement)?.rest ?? measurement)
      .replace(/\b(?:response|impedance|spl|z|phase|on.?axis|measured)\b/gi, '')
      .replace(/[\s_-]+/g, ' ')
      .trim() || measurement;
  return bare[0].toUpperCase() + bare.slice(1);
}
