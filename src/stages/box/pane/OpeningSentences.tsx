'use client';
import { Trash2 } from 'lucide-react';
import type { Air } from '@/core/box/enclosure';
import { lineFacts } from '@/core/cabinet/line';
import type { Box, BoxPipe } from '@/core/document/boxSchema';
import type { BoxView } from '@/core/lows/view';
import type { Dimension } from '@/core/units/quantity';
import { formatFixed, formatNumber, formatQuantity } from '@/core/units/quantity';
import { Button } from '@/ui/Button';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Quiet, Sentence } from '@/ui/sheets';
import type { BoxEdits } from '@/stages/box/useBoxEdits';

interface OpeningProps {
  readonly box: Box;
  readonly edits: BoxEdits;
}

/** A passive cone's figures and the mass that tunes it. */
export function PassiveSentence({
  box,
  view,
  edits,
}: OpeningProps & { readonly view: BoxView | null }) {
  const { passive } = box;
  const blank = (
    label: string,
    key: keyof Box['passive'],
    dimension: Dimension,
    [min, max, stepBy]: readonly [number, number, number],
  ) => (
    <QuantityBlank
      {...{ label, dimension, min, max, stepBy }}
      value={passive[key]}
      onChange={(value) =>
        value !== null &&
        edits.set(
          box,
          (now) => ({
            passive: { ...now.passive, [key]: key === 'count' ? Math.round(value) : value },
          }),
          'passive radiator',
          `passive ${key}`,
        )
      }
    />
  );
  return (
    <Sentence>
      {blank('Number of passive radiators', 'count', 'number', [1, 2, 1])} passive radiator
      {passive.count > 1 ? 's' : ''}: fs {blank('Passive: fs', 'fsHz', 'hertz', [3, 200, 1])}, Qms{' '}
      {blank('Passive: Qms', 'qms', 'number', [0.3, 100, 0.5])}, Vas{' '}
      {blank('Passive: Vas', 'vasLitres', 'litre', [0.1, 5000, 1])}, Sd{' '}
      {blank('Passive: Sd', 'sdCm2', 'squareCentimetre', [5, 10_000, 5])}, Xmax{' '}
      {blank('Passive: Xmax', 'xmaxMm', 'millimetre', [0.5, 200, 0.5])}, with{' '}
      {blank('Passive: added mass', 'addedMassG', 'gram', [0, 10_000, 1])} added to each; tuned to{' '}
      {view?.tunedHz ? formatQuantity(Number(view.tunedHz.toFixed(1)), 'hertz') : '–'}.
    </Sentence>
  );
}

/** Linings of a line by what one buys (typical, common practice). */
const linings = [
  { id: '0', text: 'empty' },
  { id: '500', text: 'lined thinly' },
  { id: '1500', text: 'loosely filled' },
  { id: '3000', text: 'filled' },
  { id: '6000', text: 'densely filled' },
] as const;

const nearestLining = (resistivity: number) =>
  linings.reduce((best, one) =>
    Math.abs(Number(one.id) - resistivity) < Math.abs(Number(best.id) - resistivity) ? one : best,
  ).id;

/** A line's segments, its driver's place and its end. */
export function LineSentence({ box, edits, air }: OpeningProps & { readonly air: Air }) {
  const { pipe } = box;
  const set = (
    edit: Partial<BoxPipe> | ((now: BoxPipe) => Partial<BoxPipe>),
    label: string,
    key?: string,
  ) =>
    edits.set(
      box,
      (now) => ({ pipe: { ...now.pipe, ...(typeof edit === 'function' ? edit(now.pipe) : edit) } }),
      label,
      key,
    );
  const { lengthMm, litres, quarterHz, threeQuartersHz, thirdMm } = lineFacts(
    pipe,
    air.speedOfSound,
  );
  const isEven = pipe.segments.every(({ areaCm2 }) => areaCm2 === pipe.segments[0].areaCm2);
  return (
    <>
      {pipe.segments.map((segment, s) => {
        const change = (next: Partial<typeof segment>) =>
          set(
            ({ segments }) => ({
              segments: segments.map((one, k) => (k === s ? { ...one, ...next } : one)),
            }),
            'line',
            `segment ${s}`,
          );
        return (
          <Sentence key={s}>
            Segment {s + 1}:{' '}
            <QuantityBlank
              label={`Segment ${s + 1}, length`}
              dimension="millimetre"
              min={10}
              max={10_000}
              stepBy={10}
              value={segment.lengthMm}
              onChange={(value) => value !== null && change({ lengthMm: value })}
            />{' '}
            of{' '}
            <QuantityBlank
              label={`Segment ${s + 1}, area`}
              dimension="squareCentimetre"
              min={5}
              max={20_000}
              stepBy={10}
              value={segment.areaCm2}
              onChange={(value) => value !== null && change({ areaCm2: value })}
            />
            ,{' '}
            <ChoiceBlank
              label={`Segment ${s + 1}, fill`}
              isAlwaysSaid
              options={linings}
              value={nearestLining(segment.flowResistivity)}
              onChange={(id) => id !== null && change({ flowResistivity: Number(id) })}
            />{' '}
            {pipe.segments.length > 1 && (
              <Button
                aria-label={`Remove segment ${s + 1}`}
                onPress={() =>
                  set(
                    ({ segments }) => ({ segments: segments.toSpliced(s, 1) }),
                    'remove a segment',
                  )
                }
              >
                <Trash2 size={12} aria-hidden />
              </Button>
            )}
          </Sentence>
        );
      })}
      <Sentence>
        The driver is{' '}
        <QuantityBlank
          label="Driver along the line"
          dimension="millimetre"
          min={0}
          max={50_000}
          stepBy={10}
          value={pipe.driverAtMm}
          onChange={(value) =>
            value !== null && set({ driverAtMm: value }, 'driver along the line', 'driver at')
          }
        />{' '}
        from its closed end; the other end is{' '}
        <ChoiceBlank
          label="End of the line"
          isAlwaysSaid
          options={[
            { id: 'open', text: 'open' },
            { id: 'closed', text: 'closed' },
          ]}
          value={pipe.end}
          onChange={(end) => end !== null && set({ end }, 'end of the line')}
        />
        .{' '}
        <Button
          isDisabled={pipe.segments.length >= 12}
          onPress={() =>
            set(
              ({ segments }) => ({ segments: [...segments, segments[segments.length - 1]] }),
              'add a segment',
            )
          }
        >
          Add a segment
        </Button>
      </Sentence>
      <Quiet>
        {formatNumber(Math.round(lengthMm))} mm, {formatFixed(litres, 1)} l; quarter wave{' '}
        {formatQuantity(Number(quarterHz.toPrecision(3)), 'hertz')}, the next resonance{' '}
        {formatQuantity(Number(threeQuartersHz.toPrecision(3)), 'hertz')}
        {isEven
          ? `, which a driver a third along, at ${formatNumber(Math.round(thirdMm))} mm, does not drive`
          : ''}
        . A last segment that is narrower is a vent, and lowers both.
      </Quiet>
    </>
  );
}
