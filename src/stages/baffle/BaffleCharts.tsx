'use client';
import styled from 'styled-components';
import type { Driver } from '@/core/document/schema';
import type { BaffleView } from '@/core/layout/view';
import { FrequencyChart } from '@/ui/chart/FrequencyChart';
import type { Curve } from '@/ui/chart/curve';
import { Choice } from '@/ui/fields/Choice';
import { Quiet } from '@/ui/sheets';
import { angleSets, type AngleSet, type Plane } from './directions';

interface BaffleChartsProps {
  readonly driver: Driver;
  /** Whether there is anything to wait for. */
  readonly isOnFront: boolean;
  readonly view: BaffleView | null;
  /** The same driver on the layout to compare with. */
  readonly other: BaffleView | null;
  readonly otherName: string;
  readonly colour: string;
  readonly cursorHz: number | null;
  readonly onCursor: (hz: number | null) => void;
  readonly plane: Plane;
  readonly onPlane: (plane: Plane) => void;
  readonly angles: AngleSet;
  readonly onAngles: (angles: AngleSet) => void;
}

/** Decibels over the driver in an infinite wall. */
const scale = { bottom: -20, top: 10 };
const dashes = ['', '8 3', '4 3', '2 3'];

/** What the baffle does to the chosen driver: on the axis, and at angles. */
export function BaffleCharts({
  driver,
  isOnFront,
  view,
  other,
  otherName,
  colour,
  cursorHz,
  onCursor,
  plane,
  onPlane,
  angles,
  onAngles,
}: BaffleChartsProps) {
  if (view?.driverId !== driver.id)
    return (
      <Quiet role="status">
        {isOnFront
          ? 'Working out the edges …'
          : `${driver.name} is not on a front that can be worked out.`}
      </Quiet>
    );
  const shared = { frequencyHz: view.frequencyHz, ...scale, unit: 'dB', cursorHz, onCursor };
  const onAxis: Curve[] = [
    ...(other
      ? [
          {
            id: 'other',
            label: otherName,
            values: other.onAxisDb,
            colour: 'var(--quiet)',
            dash: '5 4',
          },
        ]
      : []),
    { id: 'now', label: driver.name, values: view.onAxisDb, colour, width: 2 },
  ];
  const toward: Curve[] = view.towardDb.map((values, k) => ({
    id: `${view.directions[k].degrees}`,
    label: `${view.directions[k].degrees}°`,
    values,
    colour,
    width: k === 0 ? 2 : 1.4,
    ...(dashes[k] === '' ? {} : { dash: dashes[k] }),
  }));
  return (
    <Layout>
      <FrequencyChart
        title={`${driver.name} on this front, on the axis`}
        curves={onAxis}
        aside={<Quiet>re wall, ±0.5 dB</Quiet>}
        {...shared}
      />
      <FrequencyChart
        title={`${driver.name} at angles`}
        curves={toward}
        aside={
          <Choices>
            <Choice
              label="Plane of the angles"
              hideLabel
              options={[
                { id: 'horizontal', text: 'horizontal' },
                { id: 'vertical', text: 'vertical' },
              ]}
              value={plane}
              onChange={onPlane}
            />
            <Choice
              label="Angles shown"
              hideLabel
              options={angleSets.map(({ id, text }) => ({ id, text }))}
              value={angles.id}
              onChange={(id) => onAngles(angleSets.find((one) => one.id === id)!)}
            />
          </Choices>
        }
        {...shared}
      />
    </Layout>
  );
}

const Choices = styled.span`
  display: inline-flex;
  gap: 0.4rem;
`;

const Layout = styled.div`
  display: grid;
  grid-template-columns: repeat(2, minmax(0, 1fr));
  gap: 0.4rem 1rem;
  padding: 0.3rem 0.8rem;
`;
