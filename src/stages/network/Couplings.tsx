'use client';
import styled from 'styled-components';
import { partsOf, type Part } from '@/core/design/schema';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { ChoiceBlank, QuantityBlank } from '@/ui/Blank';

/** What a coil that is first coupled begins with: two coils of like size, flat beside each other (common practice). */
const usualCoefficient = 0.03;

/** Coils that the chosen one hears. */
export function Couplings({ part }: { readonly part: Part }) {
  const desk = useDesk();
  const design = useDeskState((state) => state.design);
  const coils = partsOf(design).filter(({ kind, id }) => kind === 'coil' && id !== part.id);
  const own = design.couplings.flatMap(({ partA, partB, coefficient }) => {
    const otherId = partA === part.id ? partB : partB === part.id ? partA : null;
    const other = coils.find(({ id }) => id === otherId);
    return other ? [{ other, coefficient }] : [];
  });
  const couple = (other: Part, coefficient: number) =>
    desk.change(
      { type: 'coupleCoils', partA: part.id, partB: other.id, coefficient },
      coefficient === 0
        ? `part ${part.name} from ${other.name}`
        : `couple ${part.name} with ${other.name}`,
      `coupling ${part.id} ${other.id}`,
    );
  const free = coils.filter(({ id }) => own.every(({ other }) => other.id !== id));
  if (coils.length === 0) return null;
  return (
    <Sentence>
      It hears{' '}
      {own.map(({ other, coefficient }) => (
        <span key={other.id}>
          {other.name} with k{' '}
          <QuantityBlank
            label={`coupling of ${part.name} and ${other.name}`}
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
          label={`coil that ${part.name} hears`}
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
}

const Sentence = styled.p`
  font-size: 0.8125rem;
`;
