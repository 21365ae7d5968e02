'use client';
import { partKinds, partValue, kindsOfParts } from '@/core/document/partKinds';
import { useState } from 'react';
import styled from 'styled-components';
import type { Part } from '@/core/document/schema';
import type { Buyable } from '@/core/fitting/stock';
import { twoThatMake, type Stock } from '@/core/fitting/stock';
import { ProblemError } from '@/core/problem';
import { cutText } from '@/core/text';
import type { PreferredSeries } from '@/core/units/preferredSeries';
import { formatQuantity, parseQuantity } from '@/core/units/quantity';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { fieldLook } from '@/ui/fields/field';
import { Note, Quiet, Sentence } from '@/ui/sheets';

const stockOptions = [
  { id: 'E6', text: 'E6' },
  { id: 'E12', text: 'E12' },
  { id: 'E24', text: 'E24' },
  { id: 'E96', text: 'E96' },
  { id: 'two E6', text: 'two of E6' },
  { id: 'two E12', text: 'two of E12' },
  { id: 'two E24', text: 'two of E24' },
  { id: 'steps', text: 'steps of' },
  { id: 'owned', text: 'what is owned' },
] as const;
type StockId = (typeof stockOptions)[number]['id'];

interface StockChoicesProps {
  /** Parts whose values are rounded. */
  readonly parts: readonly Part[];
  readonly series: Buyable;
  readonly onChange: (series: Buyable) => void;
}

/** What values may be rounded to, and which two parts make those that are made of two. */
export function StockChoices({ parts, series, onChange }: StockChoicesProps) {
  const blank = { series, onChange };
  return (
    <>
      <Sentence>
        Round the free values: resistors to <StockBlank kind="resistor" {...blank} />, coils to{' '}
        <StockBlank kind="coil" {...blank} />, capacitors to{' '}
        <StockBlank kind="capacitor" {...blank} />.
      </Sentence>
      <Owned {...blank} />
      <Pairs parts={parts} series={series} />
    </>
  );
}

function StockBlank({
  kind,
  series,
  onChange,
}: {
  readonly kind: keyof Buyable;
  readonly series: Buyable;
  readonly onChange: (series: Buyable) => void;
}) {
  const stock = series[kind];
  const value: StockId =
    typeof stock === 'string'
      ? stock
      : 'owned' in stock
        ? 'owned'
        : 'stepOf' in stock
          ? 'steps'
          : (`two ${stock.twoOf}` as StockId);
  return (
    <>
      <ChoiceBlank
        label={`series of ${kind}s`}
        options={stockOptions}
        value={value}
        onChange={(next) => onChange({ ...series, [kind]: stockFrom(next ?? 'E12', kind) })}
      />
      {typeof stock !== 'string' && 'stepOf' in stock && (
        <>
          {' '}
          <QuantityBlank
            label={`step of ${kind}s`}
            value={stock.stepOf}
            dimension={partKinds[kind].dimension}
            min={partKinds[kind].step / 100}
            max={partKinds[kind].step * 100}
            stepBy={partKinds[kind].step}
            onChange={(stepOf) => stepOf !== null && onChange({ ...series, [kind]: { stepOf } })}
          />
        </>
      )}
    </>
  );
}

function stockFrom(id: StockId, kind: keyof Buyable): Stock {
  if (id === 'owned') return { owned: [...partKinds[kind].owned] };
  if (id === 'steps') return { stepOf: partKinds[kind].step };
  if (id.startsWith('two ')) return { twoOf: id.slice(4) as PreferredSeries };
  return id as PreferredSeries;
}

/** A value above zero, or null for what can't be read. */
function valueOf(word: string, kind: keyof Buyable): number | null {
  try {
    const value = parseQuantity(word, partKinds[kind].dimension);
    return value > 0 ? value : null;
  } catch (error) {
    if (error instanceof ProblemError) return null;
    throw error;
  }
}

/** The values that are owned, as text with units. */
function Owned({
  series,
  onChange,
}: {
  readonly series: Buyable;
  readonly onChange: (series: Buyable) => void;
}) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const read = (kind: keyof Buyable, text: string) => {
    const words = text.split(/[;\n]|,\s+|\s{2,}/).filter((word) => word.trim() !== '');
    const unread: string[] = [];
    const owned = words
      .flatMap((word) => {
        const value = valueOf(word, kind);
        if (value === null) unread.push(`“${cutText(word.trim(), 20)}”`);
        return value ?? [];
      })
      .sort((a, b) => a - b);
    setTrouble(
      unread.length === 0
        ? null
        : `Could not be read, and is not counted: ${unread.join(', ')}. Write each value with its unit, as ${formatQuantity(partKinds[kind].owned[0], partKinds[kind].dimension)}, and a semicolon between.`,
    );
    if (owned.length > 0) onChange({ ...series, [kind]: { owned } });
  };
  return (
    <>
      {kindsOfParts.map((kind) => {
        const stock = series[kind];
        if (typeof stock === 'string' || !('owned' in stock)) return null;
        return (
          <Field key={kind}>
            <span>Own {kind}s, each piece with a semicolon between</span>
            <input
              defaultValue={stock.owned
                .map((value) => formatQuantity(value, partKinds[kind].dimension))
                .join('; ')}
              onBlur={(event) => read(kind, event.target.value)}
            />
          </Field>
        );
      })}
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
    </>
  );
}

/** Which two parts make the values that are made of two. */
function Pairs({ parts, series }: { readonly parts: readonly Part[]; readonly series: Buyable }) {
  const told = parts.flatMap((part) => {
    const stock = series[part.kind];
    if (typeof stock === 'string' || !('twoOf' in stock)) return [];
    const two = twoThatMake(partValue(part), stock.twoOf);
    const shown = (value: number) => formatQuantity(value, partKinds[part.kind].dimension);
    return two
      ? [
          `${part.name}: ${shown(two[0])} and ${shown(two[1])} in ${part.kind === 'capacitor' ? 'parallel' : 'series'}`,
        ]
      : [];
  });
  return told.length > 0 ? <Quiet>{told.join('; ')}.</Quiet> : null;
}

const Field = styled.label`
  display: grid;
  gap: 0.2rem;
  font-size: ${({ theme }) => theme.size.small};
  input {
    ${fieldLook}
  }
`;
