'use client';
import { useState } from 'react';
import styled from 'styled-components';
import type { Design, Measurement } from '@/core/document/schema';
import { usesOf } from '@/core/told/uses';
import { useDeskState } from '@/desk/DeskContext';
import { Quiet } from '@/ui/sheets';

interface MeasurementListProps {
  readonly chosenId: string | null;
  readonly onChoose: (id: string) => void;
}

/** Everything that was read, with who uses it. */
export function MeasurementList({ chosenId, onChoose }: MeasurementListProps) {
  const design = useDeskState((state) => state.design);
  const { measurements } = design;
  const [opened, setOpened] = useState<ReadonlySet<string>>(new Set());
  if (measurements.length === 0)
    return (
      <Quiet>
        Nothing has been read yet. Each driver needs a response (Hz, dB, degrees) and an impedance
        (Hz, ohm, degrees). The demo in the list of projects has both for three drivers.
      </Quiet>
    );
  const sets = design.drivers.filter(({ offAxisIds }) => offAxisIds.length >= leastSet);
  const inSets = new Set(sets.flatMap(({ offAxisIds }) => offAxisIds));
  const entry = (measurement: Measurement) => (
    <Entry
      key={measurement.id}
      {...{ design, measurement, onChoose }}
      isChosen={measurement.id === chosenId}
    />
  );
  return (
    <List aria-label="Measurements that were read">
      {measurements.filter(({ id }) => !inSets.has(id)).map(entry)}
      {sets.map((driver) => {
        const own = measurements.filter(({ id }) => driver.offAxisIds.includes(id));
        const isOpen = opened.has(driver.id) || own.some(({ id }) => id === chosenId);
        return (
          <li key={driver.id}>
            <button
              type="button"
              aria-expanded={isOpen}
              onClick={() =>
                setOpened((before) => {
                  const next = new Set(before);
                  if (!next.delete(driver.id)) next.add(driver.id);
                  return next;
                })
              }
            >
              <strong>
                {isOpen ? '▾' : '▸'} {driver.name} off its axis
              </strong>
              <Quiet>{own.length} responses</Quiet>
              <Quiet>{reachWords(own)}</Quiet>
            </button>
            {isOpen && <List aria-label={`${driver.name} off its axis`}>{own.map(entry)}</List>}
          </li>
        );
      })}
    </List>
  );
}

/** Responses off the axis that are told together, from so many on. */
const leastSet = 4;

/** “horizontal to 180°, vertical to 170°” */
function reachWords(responses: readonly Measurement[]): string {
  const told = (['horizontal', 'vertical'] as const).flatMap((plane) => {
    const angles = responses.flatMap(({ angle }) =>
      angle?.plane === plane ? [Math.abs(angle.degrees)] : [],
    );
    return angles.length === 0 ? [] : [`${plane} to ${Math.max(...angles)}°`];
  });
  return told.join(', ');
}

interface EntryProps {
  readonly design: Design;
  readonly measurement: Measurement;
  readonly isChosen: boolean;
  readonly onChoose: (id: string) => void;
}

function Entry({
  design,
  measurement: { id, name, kind, origin },
  isChosen,
  onChoose,
}: EntryProps) {
  const uses = usesOf(design, id);
  return (
    <li>
      <button
        type="button"
        aria-current={isChosen ? 'true' : undefined}
        onClick={() => onChoose(id)}
      >
        <strong>{name}</strong>
        <Quiet>
          {kind}, {origin.rowCount.toLocaleString('en')} points
          {origin.warnings.length > 0 && `, ${origin.warnings.length} to look at`}
        </Quiet>
        <Quiet>{uses.join(', ') || 'not used yet'}</Quiet>
      </button>
    </li>
  );
}

const List = styled.ul`
  display: grid;
  button {
    width: 100%;
    display: grid;
    text-align: left;
    font: inherit;
    color: inherit;
    background: none;
    border: 0;
    border-left: 3px solid transparent;
    border-bottom: 1px solid ${({ theme }) => theme.colour.grid};
    padding: 0.4rem 0.5rem;
    cursor: pointer;
    strong {
      font-weight: 600;
      overflow-wrap: anywhere;
    }
    &:hover {
      background: ${({ theme }) => theme.colour.sheet};
    }
    &[aria-current] {
      background: ${({ theme }) => theme.colour.accentWash};
      border-left-color: ${({ theme }) => theme.colour.accent};
    }
  }
`;
