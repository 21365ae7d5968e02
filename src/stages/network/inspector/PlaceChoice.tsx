'use client';
import { nodeInWords, nodeKey } from '@/core/document/places';
import type { NodeRef } from '@/core/document/schema';
import { useDeskState } from '@/desk/DeskContext';
import { Choice } from '@/ui/fields/Choice';

interface PlaceChoiceProps {
  readonly label: string;
  readonly places: readonly NodeRef[];
  readonly value: NodeRef;
  readonly onChange: (node: NodeRef) => void;
}

/** A place of the network, by its name. */
export function PlaceChoice({ label, places, value, onChange }: PlaceChoiceProps) {
  const ways = useDeskState((state) => state.design.ways);
  const terminals = useDeskState((state) => state.design.terminals);
  const known = places.some((node) => nodeKey(node) === nodeKey(value))
    ? places
    : [value, ...places];
  return (
    <Choice
      label={label}
      options={known.map((node) => ({
        id: nodeKey(node),
        text: nodeInWords({ ways, terminals }, node),
      }))}
      value={nodeKey(value)}
      onChange={(key) => {
        const node = known.find((one) => nodeKey(one) === key);
        if (node) onChange(node);
      }}
    />
  );
}
