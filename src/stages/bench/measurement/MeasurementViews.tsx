'use client';
import { useMemo, useState } from 'react';
import styled from 'styled-components';
import type { Examination } from '@/core/insight/examine';
import type { Measurement } from '@/core/document/schema';
import { thinnedForDisplay } from '@/core/measurement/display';
import { withoutDelay } from '@/core/measurement/flight';
import { interpolated } from '@/core/measurement/interpolate';
import type { Samples } from '@/core/measurement/samples';
import { smoothed } from '@/core/measurement/smooth';
import { formatFixed } from '@/core/units/quantity';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import type { ChartMark, Curve } from '@/ui/chart/curve';
import { FrequencyChart } from '@/ui/chart/FrequencyChart';
import { RidgeChart } from '@/ui/chart/RidgeChart';
import { TimeChart } from '@/ui/chart/TimeChart';
import { levelScale, ohmScale } from '@/ui/chart/window';
import { Choice } from '@/ui/fields/Choice';
import { Quiet } from '@/ui/sheets';
import { curveStyle } from '@/ui/theme';

const views = [
  { id: 'level', text: 'level' },
  { id: 'phase', text: 'phase' },
  { id: 'delay', text: 'group delay' },
  { id: 'impulse', text: 'impulse and step' },
  { id: 'decay', text: 'decay' },
  { id: 'harmonics', text: 'harmonics' },
] as const;
type View = (typeof views)[number]['id'];

/** Widths of display smoothing, octaves. */
const widths = [
  { id: 'none', text: 'not smoothed' },
  { id: '1/48', text: '1/48 octave' },
  { id: '1/24', text: '1/24 octave' },
  { id: '1/12', text: '1/12 octave' },
  { id: '1/6', text: '1/6 octave' },
  { id: '1/3', text: '1/3 octave' },
] as const;
type Width = (typeof widths)[number]['id'];

interface MeasurementViewsProps {
  readonly measurement: Measurement;
  readonly samples: Samples;
  readonly examination: Examination | null;
}

/**
 * Curves of one measurement: as it was measured and as its steps leave it, in frequency and in
 * time.
 */
export function MeasurementViews({ measurement, samples, examination }: MeasurementViewsProps) {
  const [view, setView] = useState<View>('level');
  const [width, setWidth] = useState<Width>('none');
  const [cursorHz, setCursorHz] = useState<number | null>(null);
  const cursor = { cursorHz, onCursor: setCursorHz };
  const isResponse = measurement.kind === 'response';
  // The measured curve is drawn at the level that it is used at.
  const leveled = useMemo(
    () => louder(samples, addedDb(measurement.recipe)),
    [samples, measurement.recipe],
  );
  const offered = views.filter(
    ({ id }) =>
      id === 'level' ||
      (id === 'phase' && samples.phaseDeg !== null) ||
      (id === 'delay' && Boolean(examination?.delay)) ||
      ((id === 'impulse' || id === 'decay') && Boolean(examination?.time)) ||
      (id === 'harmonics' && measurement.harmonics.length > 0),
  );
  const shown = offered.some(({ id }) => id === view) ? view : 'level';
  const marks = useMemo<ChartMark[]>(
    () => [
      ...(examination?.conditioned.marks ?? []).map(({ fromHz, toHz, reason }) => ({
        fromHz,
        toHz,
        label: reason,
      })),
      ...(examination && examination.conditioned.validFromHz > 0
        ? [{ fromHz: 1, toHz: examination.conditioned.validFromHz, label: 'under the gate' }]
        : []),
    ],
    [examination],
  );
  return (
    <div>
      {isResponse && (
        <Choices>
          <Choice label="Show" options={offered} value={shown} onChange={setView} />
          {shown === 'level' && (
            <Choice label="for the eye only" options={widths} value={width} onChange={setWidth} />
          )}
        </Choices>
      )}
      {(shown === 'level' || shown === 'phase') && (
        <LevelChart
          {...{ examination, marks, width, cursor, isResponse }}
          samples={leveled}
          isPhase={shown === 'phase'}
          isConditioned={measurement.recipe.some(({ isOn, kind }) => isOn && kind !== 'level')}
        />
      )}
      {shown === 'delay' && examination?.delay && (
        <FrequencyChart
          title="Group delay"
          frequencyHz={examination.delay.frequencyHz}
          curves={[
            {
              id: 'group',
              label: 'group',
              values: examination.delay.groupMs,
              colour: 'var(--ink)',
            },
            { id: 'excess', label: 'excess', values: examination.delay.excessMs, ...curveStyle(1) },
          ]}
          {...delayScale(examination.delay.excessMs)}
          unit="ms"
          {...cursor}
        />
      )}
      {shown === 'impulse' && examination?.time && (
        <TimeChart
          title="Impulse and step, after the arrival"
          timeMs={examination.time.timeMs}
          curves={[
            {
              id: 'impulse',
              label: 'impulse',
              values: examination.time.impulse,
              colour: 'var(--ink)',
            },
            { id: 'step', label: 'step', values: examination.time.step, ...curveStyle(1) },
          ]}
        />
      )}
      {shown === 'decay' && examination?.time && (
        <RidgeChart
          title="Decay: what is left after a time"
          frequencyHz={examination.time.decay.frequencyHz}
          ridges={examination.time.decay.slices.map(({ afterMs, levelDb }) => ({
            label: `${afterMs} ms`,
            values: levelDb,
          }))}
          rangeDb={40}
        />
      )}
      {shown === 'harmonics' && <HarmonicChart measurement={measurement} cursor={cursor} />}
    </div>
  );
}

interface Cursor {
  readonly cursorHz: number | null;
  readonly onCursor: (hz: number | null) => void;
}

interface LevelChartProps {
  readonly samples: Samples;
  readonly examination: Examination | null;
  readonly marks: readonly ChartMark[];
  readonly width: Width;
  readonly cursor: Cursor;
  readonly isResponse: boolean;
  readonly isPhase: boolean;
  readonly isConditioned: boolean;
}

function LevelChart(props: LevelChartProps) {
  const { samples, examination, marks, width, cursor, isResponse, isPhase, isConditioned } = props;
  // A phase that turns with the flight can't be read: it is drawn without, and the title says so.
  const flight = isPhase ? (examination?.flightSeconds ?? 0) : 0;
  const used = examination?.conditioned;
  const raw = useMemo(() => seen(withoutDelay(samples, flight), width), [samples, flight, width]);
  const result = useMemo(
    () =>
      used && isConditioned
        ? seen(withoutDelay(used.samples, used.holdsDelay ? flight : 0), width)
        : null,
    [used, isConditioned, flight, width],
  );
  const main = result ?? raw;
  const curves = useMemo<Curve[]>(() => {
    const pick = (from: Samples) => (isPhase ? from.phaseDeg : from.magnitude);
    const line = (id: string, values: Float64Array | null, look: Partial<Curve>): Curve[] =>
      values ? [{ id, label: '', values, colour: 'var(--ink)', width: 1.6, ...look }] : [];
    if (!result) return line('measured', pick(raw), {});
    return [
      ...line('measured', onFrequenciesOf(raw, pick(raw), result.frequencyHz), {
        colour: 'var(--quiet)',
        width: 1,
        label: 'measured',
        labelAt: 'start',
      }),
      ...line('conditioned', pick(result), { label: 'used' }),
    ];
  }, [raw, result, isPhase]);
  const scale = isPhase
    ? { bottom: -180, top: 180 }
    : (isResponse ? levelScale : ohmScale)(main.magnitude);
  return (
    <FrequencyChart
      title={
        isPhase
          ? flight === 0
            ? 'Phase'
            : `Phase, without ${formatFixed(1000 * flight, 2)} ms of flight`
          : isResponse
            ? result
              ? 'Level, measured and used'
              : 'Level as measured'
            : 'Impedance as measured'
      }
      frequencyHz={main.frequencyHz}
      curves={curves}
      marks={marks}
      {...scale}
      unit={isPhase ? '°' : isResponse ? 'dB' : 'Ω'}
      {...cursor}
    />
  );
}

/** Five milliseconds around the middle of the excess delay. */
function delayScale(excessMs: Float64Array) {
  const middle = Math.round([...excessMs].sort((a, b) => a - b)[excessMs.length >> 1]);
  return { bottom: middle - 2, top: middle + 3 };
}

/** As it is drawn: smoothed if wished, and no more points than the eye can tell apart. */
function seen(samples: Samples, width: Width): Samples {
  const [, of] = width.split('/');
  return thinnedForDisplay(of ? smoothed(samples, 1 / Number(of)) : samples);
}

/** Values at other frequencies, for drawing two curves over one axis; nothing outside the data. */
function onFrequenciesOf(
  { frequencyHz }: Samples,
  values: Float64Array | null,
  atHz: Float64Array,
): Float64Array | null {
  if (!values) return null;
  const [lowest, highest] = [frequencyHz[0], frequencyHz[frequencyHz.length - 1]];
  return interpolated(frequencyHz, values, atHz).map((value, i) =>
    atHz[i] < lowest * 0.99 || atHz[i] > highest * 1.01 ? NaN : value,
  );
}

/** Decibels that the steps of a recipe add to everything. */
const addedDb = (recipe: Measurement['recipe']) =>
  recipe.reduce((sum, step) => (step.kind === 'level' && step.isOn ? sum + step.addedDb : sum), 0);

const louder = (samples: Samples, db: number): Samples =>
  db === 0 ? samples : { ...samples, magnitude: samples.magnitude.map((level) => level + db) };

function HarmonicChart({
  measurement,
  cursor,
}: {
  readonly measurement: Measurement;
  readonly cursor: Cursor;
}) {
  const desk = useDesk();
  const loaded = useDeskState((state) => state.loaded);
  const { harmonics, recipe } = measurement;
  const known = harmonics.flatMap(({ order, levelId, floorId }) => {
    const [level, floor] = [desk.samples(levelId), desk.samples(floorId)];
    return level && floor && loaded.has(levelId) ? [{ order, level, floor }] : [];
  });
  const own = desk.samples(measurement.id);
  if (known.length === 0 || !own) return <Quiet>Loading the harmonics …</Quiet>;
  const added = addedDb(recipe);
  const axis = known[0].level.frequencyHz;
  const raised = (samples: Samples) =>
    axis.map((hz) => {
      const at = samples.frequencyHz.findIndex((one) => Math.abs(one / hz - 1) < 1e-6);
      return at < 0 ? NaN : samples.magnitude[at] + added;
    });
  const fundamental = onFrequenciesOf(own, smoothed(own, 1 / 6).magnitude, axis)!.map(
    (level) => level + added,
  );
  const curves: Curve[] = [
    { id: 'fundamental', label: 'played', values: fundamental, colour: 'var(--ink)', width: 1.8 },
    ...known.map(({ order, level }, k) => ({
      id: `h${order}`,
      label: `${order}${order === 2 ? 'nd' : order === 3 ? 'rd' : 'th'}`,
      values: raised(level),
      ...curveStyle(k),
    })),
    {
      id: 'floor',
      label: 'noise',
      values: raised(known[0].floor),
      colour: 'var(--quiet)',
      width: 1,
      dash: '1 2',
    },
  ];
  const highest = fundamental.reduce((high, level) => (level > high ? level : high), -Infinity);
  const top = 10 * Math.ceil(highest / 10);
  return (
    <FrequencyChart
      title="Harmonics against the frequency played"
      frequencyHz={axis}
      curves={curves}
      bottom={top - 100}
      top={top}
      unit="dB"
      {...cursor}
    />
  );
}

const Choices = styled.div`
  display: grid;
  grid-template-columns: minmax(0, 1fr) minmax(0, 1fr);
  gap: 0.6rem;
`;
