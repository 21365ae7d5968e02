'use client';
import styled from 'styled-components';
import { usesOf } from '@/core/document/uses';
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
  if (measurements.length === 0)
    return (
      <Quiet>
        Nothing has been read yet. Each driver needs a response (Hz, dB, degrees) and an impedance
        (Hz, ohm, degrees). The demo in the list of projects has both for three drivers.
      </Quiet>
    );
  return (
    <List aria-label="Measurements that were read">
      {measurements.map(({ id, name, kind, origin }) => {
        const uses = usesOf(design, id);
        return (
          <li key={id}>
            <button
              type="button"
              aria-current={id === chosenId ? 'true' : undefined}
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
      })}
    </List>
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
