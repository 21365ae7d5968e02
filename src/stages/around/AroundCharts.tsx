'use client';
import { useState } from 'react';
import styled from 'styled-components';
import type { AroundView, Plane } from '@/core/around/orbits';
import { levelAtHz } from '@/core/prediction/straightness';
import { formatFixed } from '@/core/units/quantity';
import { FrequencyChart } from '@/ui/chart/FrequencyChart';
import type { Curve } from '@/ui/chart/curve';
import { levelScale } from '@/ui/chart/window';
import { Choice } from '@/ui/fields/Choice';
import { Quiet } from '@/ui/sheets';
import { curveStyle } from '@/ui/theme';

/** What the first chart shows. */
export const curveSets = [
  { id: 'means', text: 'axis, window, power' },
  { id: 'reflections', text: 'the five reflections' },
  { id: 'horizontal', text: 'angles to the side' },
  { id: 'vertical', text: 'angles up and down' },
  { id: 'seats', text: 'the seats' },
] as const;
export type CurveSet = (typeof curveSets)[number]['id'];

interface AroundChartsProps {
  readonly view: AroundView;
  readonly set: CurveSet;
  readonly onSet: (set: CurveSet) => void;
  readonly cursorHz: number | null;
  readonly onCursor: (hz: number | null) => void;
}

const ink = { colour: 'var(--ink)', width: 2, labelAt: 'start' } as const;

/** The standard's curves, the indices, and what is predicted in a room. */
export function AroundCharts({ view, set, onSet, cursorHz, onCursor }: AroundChartsProps) {
  const { frequencyHz, curves, roomLine } = view;
  const [measure, setMeasure] = useState<Measure>('index');
  const shared = { frequencyHz, cursorHz, onCursor } as const;
  const levels = curvesOf(view, set);
  const scale = levelScale(curves.onAxis);
  return (
    <Layout>
      <FrequencyChart
        title="Levels"
        curves={levels}
        {...scale}
        unit="dB"
        aside={
          <Choice<CurveSet>
            label="Curves shown"
            hideLabel
            options={curveSets}
            value={set}
            onChange={onSet}
          />
        }
        {...shared}
      />
      <FrequencyChart
        title="Directivity"
        {...(measure === 'index' ? indexCurves(view) : widthCurves(view))}
        aside={
          <Choice<Measure>
            label="Measure of directivity"
            hideLabel
            options={measures}
            value={measure}
            onChange={setMeasure}
          />
        }
        {...shared}
      />
      <FrequencyChart
        title="In the room"
        curves={[
          { ...ink, id: 'room', label: '', values: curves.inRoom },
          ...(roomLine
            ? [
                {
                  ...{ id: 'line', label: '', isGuide: true },
                  ...{ colour: 'var(--accent)', dash: '2 4', width: 1.2 },
                  values: frequencyHz.map((hz) => levelAtHz(roomLine, hz)),
                },
              ]
            : []),
        ]}
        {...scale}
        unit="dB"
        aside={
          roomLine && <Quiet>slope {formatFixed(roomLine.dbPerOctave, 1)} dB per octave</Quiet>
        }
        {...shared}
      />
    </Layout>
  );
}

const measures = [
  { id: 'index', text: 'index' },
  { id: 'width', text: 'beam width' },
] as const;
type Measure = (typeof measures)[number]['id'];

/** Directivity indices, dB. */
const indexCurves = ({ curves, sphereIndex }: AroundView) => ({
  curves: [
    { ...curveStyle(3), id: 'sphere', label: 'sphere', values: sphereIndex, width: 1 },
    { ...curveStyle(1), id: 'early', label: 'early', values: curves.earlyReflectionsIndex },
    { ...ink, id: 'di', label: 'DI', values: curves.soundPowerIndex },
  ],
  ...{ bottom: -5, top: 20, unit: 'dB' },
});

/** Where the level has fallen by 6 dB, degrees from side to side; none where it never falls so far. */
function widthCurves({ orbits }: AroundView) {
  const width = (plane: Plane) =>
    orbits[plane].beamWidthDeg.map((degrees) => (degrees >= 360 ? NaN : degrees));
  return {
    curves: [
      { ...curveStyle(1), id: 'high', label: 'vertical', values: width('vertical') },
      { ...ink, id: 'wide', label: 'horizontal', values: width('horizontal') },
    ],
    ...{ bottom: 0, top: 360, unit: '°' },
  };
}

const shownDegrees = [0, 10, 20, 30, 45, 60, 75, 90];

function curvesOf(view: AroundView, set: CurveSet): Curve[] {
  const { frequencyHz, curves, orbits, seats, seatMeanDb } = view;
  const axis: Curve = { ...ink, id: 'axis', label: 'axis', values: curves.onAxis };
  switch (set) {
    case 'means':
      return [
        { ...curveStyle(3), id: 'power', label: 'power', values: curves.soundPower },
        { ...curveStyle(1), id: 'early', label: 'early', values: curves.earlyReflections },
        { ...curveStyle(2), id: 'window', label: 'window', values: curves.listeningWindow },
        axis,
      ];
    case 'reflections':
      return (['floor', 'ceiling', 'frontWall', 'sideWall', 'rearWall'] as const).map(
        (name, k): Curve => ({
          ...curveStyle(k),
          ...{ id: name, label: reflectionNames[name], values: curves[name] },
        }),
      );
    case 'horizontal':
    case 'vertical': {
      const { degrees, levelDb } = orbits[set];
      const points = frequencyHz.length;
      const wanted = set === 'vertical' ? [-30, -20, -10, 0, 10, 20, 30] : shownDegrees;
      return wanted.flatMap((angle, k): Curve[] => {
        const a = degrees.indexOf(angle);
        if (a < 0) return [];
        const values = Float64Array.from(levelDb.subarray(a * points, (a + 1) * points));
        return [
          angle === 0
            ? { ...axis, values }
            : { ...curveStyle(k), id: `${angle}`, label: `${angle}°`, values, width: 1.2 },
        ];
      });
    }
    case 'seats':
      return [
        ...seats.map(({ seat, togetherDb, directDb }, k): Curve => ({
          ...curveStyle(k),
          ...{ id: seat.id, label: seat.name, values: togetherDb ?? directDb, width: 1.2 },
        })),
        ...(seatMeanDb ? [{ ...ink, id: 'mean', label: 'mean, direct', values: seatMeanDb }] : []),
      ];
  }
}

const reflectionNames = {
  floor: 'floor',
  ceiling: 'ceiling',
  frontWall: 'front wall',
  sideWall: 'side wall',
  rearWall: 'rear wall',
} as const;

const Layout = styled.div`
  display: grid;
  grid-template-columns: repeat(3, minmax(0, 1fr));
  border-top: 1px solid ${({ theme }) => theme.colour.grid};
`;
