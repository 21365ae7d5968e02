'use client';
import { newId } from '@/ui/newId';
import { useState } from 'react';
import styled from 'styled-components';
import { arrangeWay } from '@/core/editing/change';
import { partsOf, type Way } from '@/core/document/schema';
import type { Alignment, FilterOrder } from '@/core/prediction/prototypes';
import {
  baffleStep,
  filterIntoLoad,
  filterIntoResistor,
  impedanceCorrection,
  levelPad,
  partsFor,
  trap,
  type StartingPoint,
} from '@/core/filters/startingPoints';
import { loadOf, ohmsAt } from '@/core/filters/filterLoad';
import type { Desk } from '@/desk/desk';
import { useDesk, useDeskState } from '@/desk/DeskContext';
import { centreHz } from '@/core/formats/proposal';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { TextButton } from '@/ui/Button';
import { Tick } from '@/ui/fields/Tick';
import { Quiet } from '@/ui/sheets';

const sides = [
  { id: 'low', text: 'low pass' },
  { id: 'high', text: 'high pass' },
] as const;
const alignments: readonly { readonly id: Alignment; readonly text: string }[] = [
  { id: 'butterworth', text: 'Butterworth' },
  { id: 'linkwitz-riley', text: 'Linkwitz–Riley' },
  { id: 'bessel', text: 'Bessel' },
];
const orders = [
  { id: '1', text: 'first-order' },
  { id: '2', text: 'second-order' },
  { id: '3', text: 'third-order' },
  { id: '4', text: 'fourth-order' },
] as const;
const loads = [
  { id: 'real', text: 'its measured impedance' },
  { id: 'resistor', text: 'a resistor of its size' },
] as const;

/**
 * Where a way is likely to cross to its neighbour: below the highest way a low pass, for the
 * highest itself a high pass, half way between the middles of what their drivers radiate.
 */
function likelyCrossing(
  desk: Desk,
  way: Way,
): { readonly side: 'low' | 'high'; readonly hz: number } {
  const { ways, drivers } = desk.store.getState().design;
  const centres = ways
    .flatMap(({ id, ends }) => {
      const driver = drivers.find((one) => one.id === ends.at(0)?.driverId);
      const samples = driver?.responseId ? desk.samples(driver.responseId) : undefined;
      return samples ? [{ id, hz: centreHz(samples) }] : [];
    })
    .sort((a, b) => a.hz - b.hz);
  const at = centres.findIndex(({ id }) => id === way.id);
  if (at < 0 || centres.length < 2) return { side: 'low', hz: 2000 };
  const isHighest = at === centres.length - 1;
  const neighbour = centres[isHighest ? at - 1 : at + 1];
  const hz = Number(Math.sqrt(centres[at].hz * neighbour.hz).toPrecision(2));
  return { side: isHighest ? 'high' : 'low', hz };
}

const emptied = (way: Way): Way => ({ ...way, parts: [], groups: [] });

/** Textbook beginnings for a way: slopes, L-pad, Zobel network, baffle step, trap. */
export function StartingPoints({ way }: { readonly way: Way }) {
  const desk = useDesk();
  const drivers = useDeskState((state) => state.design.drivers);
  const loaded = useDeskState((state) => state.loaded);
  const impedanceIds = way.ends.map(
    ({ driverId }) => drivers.find(({ id }) => id === driverId)?.impedanceId ?? null,
  );
  const isLoaded = impedanceIds.every((id) => id !== null && loaded.has(id));
  const [crossing] = useState(() => likelyCrossing(desk, way));
  const [side, setSide] = useState<(typeof sides)[number]['id']>(crossing.side);
  const [alignment, setAlignment] = useState<Alignment>('butterworth');
  const [order, setOrder] = useState<(typeof orders)[number]['id']>('2');
  const [hz, setHz] = useState(crossing.hz);
  const [against, setAgainst] = useState<(typeof loads)[number]['id']>('real');
  const [isInPlace, setIsInPlace] = useState(false);
  const [padDb, setPadDb] = useState(3);
  const [step, setStep] = useState({ db: 4, hz: 400 });
  const [bump, setBump] = useState({ db: 3, hz: 1000, octaves: 1 });

  const samples = isLoaded
    ? impedanceIds.flatMap((id) => (id === null ? [] : (desk.samples(id) ?? [])))
    : [];
  if (samples.length === 0)
    return <Quiet>Textbook slopes are worked out once its driver has an impedance.</Quiet>;
  const load = () => loadOf(samples, way.endsJoin);
  const ohms = (at: number) => ohmsAt(load(), at);
  /** Slopes are before everything that is there; what belongs to the driver is before it. */
  const put = (point: StartingPoint, label: string, isFirst: boolean) => {
    const { design } = desk.store.getState();
    const isReplacing = isFirst && isInPlace;
    // What is replaced gives its names away.
    const others = isReplacing
      ? { ...design, ways: design.ways.map((one) => (one.id === way.id ? emptied(one) : one)) }
      : design;
    const names = new Set(partsOf(others).map(({ name }) => name));
    const made = partsFor(point, names, () => newId('part'));
    const before = isReplacing ? emptied(way) : way;
    const parts = isFirst ? [...made.parts, ...before.parts] : [...before.parts, ...made.parts];
    const contents = { parts, groups: [...before.groups, ...made.groups] };
    desk.change(arrangeWay(way.id, contents), `${label} for ${way.name}`);
  };
  const isOdd = order === '1' || order === '3';
  const chosen = alignment === 'linkwitz-riley' && isOdd ? 'butterworth' : alignment;
  const putFilter = () => {
    const wish = {
      isHighPass: side === 'high',
      alignment: chosen,
      order: Number(order) as FilterOrder,
      hz,
    };
    const point =
      against === 'real' ? filterIntoLoad(wish, load()) : filterIntoResistor(wish, ohms(hz));
    put(point, `${chosen} ${side} pass`, true);
  };
  return (
    <List aria-label={`Starting points for ${way.name}`}>
      <li data-entries>
        A{' '}
        <ChoiceBlank
          isAlwaysSaid
          label="order of the slope"
          options={orders}
          value={order}
          onChange={(next) => setOrder(next ?? '2')}
        />{' '}
        <ChoiceBlank
          isAlwaysSaid
          label="kind of slope"
          options={isOdd ? alignments.filter(({ id }) => id !== 'linkwitz-riley') : alignments}
          value={chosen}
          onChange={(next) => setAlignment(next ?? 'butterworth')}
        />{' '}
        <ChoiceBlank
          isAlwaysSaid
          label="side of the slope"
          options={sides}
          value={side}
          onChange={(next) => setSide(next ?? 'low')}
        />{' '}
        at{' '}
        <QuantityBlank
          label="frequency of the slope"
          value={hz}
          dimension="hertz"
          min={20}
          max={20_000}
          stepBy={50}
          onChange={(next) => next !== null && setHz(next)}
        />{' '}
        into{' '}
        <ChoiceBlank
          isAlwaysSaid
          label="load of the slope"
          options={loads}
          value={against}
          onChange={(next) => setAgainst(next ?? 'real')}
        />
        . <TextButton onPress={putFilter}>Put the slope on the rail</TextButton>
        {way.parts.length > 0 && (
          <Tick isSelected={isInPlace} onChange={setIsInPlace}>
            In place of what is on the rail
          </Tick>
        )}
      </li>
      <li data-entries>
        An L-pad of{' '}
        <QuantityBlank
          label="decibels of the L-pad"
          value={padDb}
          dimension="decibel"
          min={0.1}
          max={30}
          stepBy={0.5}
          onChange={(next) => next !== null && setPadDb(next)}
        />
        .{' '}
        <TextButton onPress={() => put(levelPad(padDb, ohms(hz)), 'L-pad', false)}>
          Put the L-pad before the driver
        </TextButton>
      </li>
      <li data-entries>
        A Zobel network against the rise of the impedance above {Math.round(hz / 4)} Hz.{' '}
        <TextButton
          onPress={() => put(impedanceCorrection(load(), hz / 4), 'Zobel network', false)}
        >
          Put the Zobel network across the driver
        </TextButton>
      </li>
      <li data-entries>
        Baffle-step compensation of{' '}
        <QuantityBlank
          label="decibels of the baffle step"
          value={step.db}
          dimension="decibel"
          min={0.5}
          max={12}
          stepBy={0.5}
          onChange={(db) => db !== null && setStep({ ...step, db })}
        />{' '}
        around{' '}
        <QuantityBlank
          label="frequency of the baffle step"
          value={step.hz}
          dimension="hertz"
          min={50}
          max={3000}
          stepBy={10}
          onChange={(next) => next !== null && setStep({ ...step, hz: next })}
        />
        .{' '}
        <TextButton
          onPress={() => put(baffleStep(step.db, step.hz, ohms(step.hz)), 'baffle step', false)}
        >
          Put the step on the rail
        </TextButton>
      </li>
      <li data-entries>
        A trap that pulls{' '}
        <QuantityBlank
          label="decibels of the trap"
          value={bump.db}
          dimension="decibel"
          min={0.5}
          max={30}
          stepBy={0.5}
          onChange={(db) => db !== null && setBump({ ...bump, db })}
        />{' '}
        down at{' '}
        <QuantityBlank
          label="frequency of the trap"
          value={bump.hz}
          dimension="hertz"
          min={20}
          max={20_000}
          stepBy={10}
          onChange={(next) => next !== null && setBump({ ...bump, hz: next })}
        />
        ,{' '}
        <QuantityBlank
          label="width of the trap in octaves"
          value={bump.octaves}
          dimension="number"
          min={0.1}
          max={4}
          stepBy={0.1}
          onChange={(octaves) => octaves !== null && setBump({ ...bump, octaves })}
        />{' '}
        octaves wide.{' '}
        <TextButton
          onPress={() => put(trap(bump.db, bump.hz, bump.octaves, ohms(bump.hz)), 'trap', false)}
        >
          Put the trap on the rail
        </TextButton>
      </li>
    </List>
  );
}

const List = styled.ul`
  display: grid;
  gap: 0.5rem;
  font-size: 0.8125rem;
`;
