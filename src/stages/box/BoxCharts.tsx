'use client';
import type { ComponentProps, ReactNode } from 'react';
import styled from 'styled-components';
import { stepTimesMs } from '@/core/lows/boxFigures';
import type { BoxView } from '@/core/lows/view';
import { FrequencyChart } from '@/ui/chart/FrequencyChart';
import { TimeChart } from '@/ui/chart/TimeChart';
import type { Curve } from '@/ui/chart/curve';
import { Choice } from '@/ui/fields/Choice';
import { Quiet } from '@/ui/sheets';
import { curveStyle } from '@/ui/theme';
import type { BoxesLookedAt } from '@/workers/boxClient';

/** What the second chart may show. */
export const quantities = [
  { id: 'excursion', text: 'excursion, sine at the programme’s voltage' },
  { id: 'port', text: 'air speed in the port, likewise' },
  { id: 'clean', text: 'greatest clean level' },
  { id: 'delay', text: 'group delay' },
  { id: 'impedance', text: 'impedance' },
  { id: 'parts', text: 'cone and opening apart' },
  { id: 'force', text: 'force on the box' },
  { id: 'step', text: 'step response' },
] as const;
export type QuantityShown = (typeof quantities)[number]['id'];

/** What of a box is told for some frequency, and on which scale. */
interface Told {
  readonly unit: string;
  readonly of: (view: BoxView) => Float64Array | null;
  /** Least top of the scale. */
  readonly least: number;
  readonly isLevel: boolean;
}

const told: Readonly<Record<Exclude<QuantityShown, 'step'>, Told>> = {
  excursion: {
    ...{ unit: 'mm', least: 4, isLevel: false },
    of: ({ driven }) => driven?.excursionMm ?? null,
  },
  port: {
    ...{ unit: 'm/s', least: 10, isLevel: false },
    of: ({ driven }) => driven?.openingSpeed ?? null,
  },
  clean: { unit: 'dB', least: 0, isLevel: true, of: ({ curves }) => curves?.clean.db ?? null },
  delay: {
    ...{ unit: 'ms', least: 20, isLevel: false },
    of: ({ curves }) => curves?.groupDelayMs ?? null,
  },
  impedance: { unit: 'Ω', least: 20, isLevel: false, of: ({ curves }) => curves?.ohms ?? null },
  parts: { unit: 'dB', least: 0, isLevel: true, of: ({ curves }) => curves?.coneDb ?? null },
  force: { unit: 'N', least: 5, isLevel: false, of: ({ curves }) => curves?.forceN ?? null },
};

interface BoxChartsProps {
  readonly looked: BoxesLookedAt | null;
  /** Names of the curves, in the order of the views. */
  readonly names: readonly string[];
  readonly cursorHz: number | null;
  readonly onCursor: (hz: number | null) => void;
  readonly shown: QuantityShown;
  readonly onShown: (shown: QuantityShown) => void;
}

const band = { fromHz: 10, toHz: 1000 };
const stepSpan = { fromMs: 0, toMs: 80, ticks: [0, 20, 40, 60, 80] };
/** Two decades as wide as 100/3 dB are high at two thirds: 25 dB to a decade. */
const heightDb = 100 / 3;

const styleAt = (k: number) => {
  const { colour, dash } = curveStyle(k);
  if (k === 0) return { colour, width: 2.2 };
  return { colour, ...(dash === undefined ? {} : { dash }), width: 1.4 };
};

const highest = (all: readonly (Float64Array | null)[]) =>
  all.reduce(
    (most, values) =>
      values?.reduce((top, v) => (Number.isFinite(v) ? Math.max(top, v) : top), most) ?? most,
    -Infinity,
  );

/** Level, and one more quantity, of the box that is drawn and of those beside it. */
export function BoxCharts({ looked, names, cursorHz, onCursor, shown, onShown }: BoxChartsProps) {
  if (!looked || looked.views.every(({ curves }) => curves === null))
    return (
      <Quiet role="status">
        {looked
          ? 'No curves yet: the box lacks a driver, its figures, or room.'
          : 'Working out the boxes …'}
      </Quiet>
    );
  const { frequencyHz, views } = looked;
  const shared = { frequencyHz, band, cursorHz, onCursor };
  const levels = views.map((view) => view.sumDb ?? view.curves?.levelDb ?? null);
  const [{ withBoundariesDb }] = views;
  const top = Math.ceil((highest([...levels, withBoundariesDb]) + 3) / 5) * 5;
  const isInDesign = views.some((view) => view.isInDesign);
  const curvesOf = (values: readonly (Float64Array | null)[]): Curve[] =>
    values.flatMap((one, k) =>
      one ? [{ id: views[k].boxId, label: names[k], values: one, ...styleAt(k) }] : [],
    );
  const choice = (
    <Choice
      label="Shown in the second chart"
      hideLabel
      options={quantities}
      value={shown}
      onChange={onShown}
    />
  );
  return (
    <Layout>
      <FrequencyChart
        title={isInDesign ? 'Sum on the axis with this box' : 'Level in half space, 1 m'}
        curves={[...curvesOf(levels), ...withBoundaries(views[0])]}
        bottom={top - heightDb}
        top={top}
        unit="dB"
        aside={
          <Quiet>
            {looked.volts} V{looked.hasNetwork ? ', network in it' : ', no network'}
          </Quiet>
        }
        {...shared}
      />
      {shown === 'step' ? (
        <TimeChart
          title="Also"
          timeMs={stepTimesMs}
          span={stepSpan}
          aside={choice}
          curves={views.flatMap(({ boxId, step }, k) =>
            step ? [{ id: boxId, label: names[k], values: step, ...styleAt(k) }] : [],
          )}
        />
      ) : (
        <SecondChart {...{ shown, looked, curvesOf, choice, shared }} />
      )}
    </Layout>
  );
}

interface SecondChartProps {
  readonly shown: Exclude<QuantityShown, 'step'>;
  readonly looked: BoxesLookedAt;
  readonly curvesOf: (values: readonly (Float64Array | null)[]) => Curve[];
  readonly choice: ReactNode;
  readonly shared: Pick<
    ComponentProps<typeof FrequencyChart>,
    'frequencyHz' | 'band' | 'cursorHz' | 'onCursor'
  >;
}

/** One quantity over frequency, with its limit. */
function SecondChart({ shown, looked, curvesOf, choice, shared }: SecondChartProps) {
  const { frequencyHz, views } = looked;
  const { unit, of, least, isLevel } = told[shown];
  const second = views.map(of);
  const most = highest(second);
  const limit = limitOf(shown, views[0]);
  const secondTop = isLevel
    ? Math.ceil((most + 3) / 5) * 5
    : Math.max(least, niceAbove(1.05 * Math.max(most, limit?.value ?? 0)));
  const opening = shown === 'parts' ? (views[0].curves?.openingDb ?? null) : null;
  return (
    <FrequencyChart
      title="Also"
      curves={[
        ...curvesOf(second),
        ...(opening
          ? [
              {
                ...{ id: 'opening', label: 'opening', values: opening },
                ...{ colour: 'var(--quiet)', dash: '4 3' },
              },
            ]
          : []),
        ...(limit === null
          ? []
          : [
              {
                ...{ id: 'limit', label: limit.label, colour: 'var(--alarm)', dash: '6 4' },
                ...{ values: frequencyHz.map(() => limit.value), isGuide: true },
              },
            ]),
      ]}
      bottom={isLevel ? secondTop - heightDb : 0}
      top={secondTop}
      unit={unit}
      aside={choice}
      {...shared}
    />
  );
}

/** The first box in its surroundings, as Around has it. */
function withBoundaries({ withBoundariesDb }: BoxView): Curve[] {
  if (!withBoundariesDb) return [];
  return [
    {
      ...{ id: 'boundaries', label: 'with boundaries', colour: 'var(--quiet)', dash: '5 4' },
      values: withBoundariesDb,
    },
  ];
}

/** A round number at or above. */
function niceAbove(value: number): number {
  if (!(value > 0)) return 1;
  const decade = 10 ** Math.floor(Math.log10(value));
  return decade * ([1, 1.5, 2, 3, 4, 5, 7, 10].find((step) => step * decade >= value) ?? 10);
}

function limitOf(shown: QuantityShown, { limits: { xmaxMm, portMps } }: BoxView) {
  if (shown === 'port' && portMps !== null) return { label: 'quiet up to here', value: portMps };
  return shown === 'excursion' && xmaxMm !== null ? { label: 'Xmax', value: xmaxMm } : null;
}

const Layout = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.4rem 1rem;
  padding: 0.3rem 0.8rem;
  border-top: 1px solid ${({ theme }) => theme.colour.grid};
`;
