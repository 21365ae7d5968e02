'use client';
import type { PartId } from '@/core/fields';
import { useShallow } from 'zustand/react/shallow';
import { memo } from 'react';
import styled from 'styled-components';
import { partsOf } from '@/core/document/schema';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';

/**
 * What a coil that is first coupled begins with: two coils of like size, flat beside each other
 * (common practice).
 */
const usualCoefficient = 0.03;

interface CouplingsProps {
  readonly partId: PartId;
  readonly partName: string;
}

/** Coils coupled to the chosen one. Not drawn again while values move. */
export const Couplings = memo(function Couplings({ partId, partName }: CouplingsProps) {
  const desk = useDesk();
  const couplings = useDeskState((state) => state.design.couplings);
  const names = useDeskState(
    useShallow(
      ({ design }) =>
        new Map(
          partsOf(design)
            .filter(({ kind, id }) => kind === 'coil' && id !== partId)
            .map(({ id, name }) => [id, name]),
        ),
    ),
  );
  const coils = [...names].map(([id, name]): Coil => ({ id, name }));
  const own = couplings.flatMap(({ partA, partB, coefficient }) => {
    const otherId = partA === partId ? partB : partB === partId ? partA : null;
    const other = coils.find(({ id }) => id === otherId);
    return other ? [{ other, coefficient }] : [];
  });
  const couple = (other: Coil, coefficient: number) =>
    desk.change(
      { type: 'coupleCoils', partA: partId, partB: other.id, coefficient },
      coefficient === 0
        ? `part ${partName} from ${other.name}`
        : `couple ${partName} with ${other.name}`,
      `coupling ${partId} ${other.id}`,
    );
  const free = coils.filter(({ id }) => own.every(({ other }) => other.id !== id));
  if (coils.length === 0) return null;
  return (
    <Sentence>
      Coupled to{' '}
      {own.map(({ other, coefficient }) => (
        <span key={other.id}>
          {other.name} with k{' '}
          <QuantityBlank
            label={`coupling of ${partName} and ${other.name}`}
            value={coefficient}
            dimension="number"
            min={-0.99}
            max={0.99}
            stepBy={0.01}
            onChange={(next) => couple(other, next ?? 0)}
          />
          ,{' '}
        </span>
      ))}
      {free.length > 0 && (
        <ChoiceBlank
          label={`coil coupled to ${partName}`}
          placeholder={own.length > 0 ? 'and …' : 'no other coil'}
          options={free.map(({ id, name }) => ({ id, text: name }))}
          value={null}
          onChange={(id) => {
            const other = free.find((one) => one.id === id);
            if (other) couple(other, usualCoefficient);
          }}
        />
      )}
      .
    </Sentence>
  );
});

interface Coil {
  readonly id: string;
  readonly name: string;
}

const Sentence = styled.div.attrs({ role: 'paragraph' })`
  font-size: 0.8125rem;
`;
