'use client';
import styled from 'styled-components';
import { airOf } from '@/core/cabinet/enclosureOf';
import { quietMps, withTuning } from '@/core/cabinet/vent';
import type { Box, BoxPort } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import type { BoxView } from '@/core/lows/view';
import { formatFixed, formatNumber, formatQuantity } from '@/core/units/quantity';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Tick } from '@/ui/fields/Tick';
import { Note, Quiet, Sentence } from '@/ui/sheets';
import type { BoxEdits } from '@/stages/box/useBoxEdits';
import { useState } from 'react';

interface PortSentenceProps {
  readonly design: Design;
  readonly box: Box;
  readonly view: BoxView | null;
  readonly edits: BoxEdits;
}

const ends = [
  { id: 'flanged', text: 'flush with the panel' },
  { id: 'free', text: 'free' },
  { id: 'flared', text: 'flared' },
] as const;

/** The port: its sides, its ends, and its length from a tuning or a tuning from its length. */
export function PortSentence({ design, box, view, edits }: PortSentenceProps) {
  const { port } = box;
  const [refused, setRefused] = useState<number | null>(null);
  const set = (change: Partial<BoxPort>, label: string, key?: string) =>
    edits.port(box, change, label, key);
  const mm = (label: string, key: keyof BoxPort, min: number, max: number, value: number) => (
    <QuantityBlank
      {...{ label, min, max, value }}
      dimension="millimetre"
      stepBy={1}
      onChange={(next) => next !== null && set({ [key]: next }, label.toLowerCase(), `port ${key}`)}
    />
  );
  const tuneTo = (hz: number | null) => {
    if (hz === null) return;
    const tuned = withTuning(edits.now(box), hz, design, airOf(design));
    setRefused(tuned ? null : hz);
    if (tuned) edits.set(box, tuned, 'tuning', 'tuning');
  };
  const { vent, tunedHz, figures } = view ?? { vent: null, tunedHz: null, figures: null };
  const isFlared = port.innerEnd === 'flared' || port.outerEnd === 'flared';
  return (
    <Layout>
      <Sentence>
        <QuantityBlank
          label="Number of ports"
          dimension="number"
          min={1}
          max={4}
          stepBy={1}
          value={port.count}
          onChange={(count) =>
            count !== null && set({ count: Math.round(count) }, 'ports', 'ports')
          }
        />{' '}
        <ChoiceBlank
          label="Shape of the port"
          isAlwaysSaid
          options={[
            { id: 'round', text: port.count > 1 ? 'round ports' : 'round port' },
            { id: 'slot', text: port.count > 1 ? 'slots' : 'slot' },
          ]}
          value={port.shape}
          onChange={(shape) => shape !== null && set({ shape }, 'shape of the port')}
        />{' '}
        {port.shape === 'round' ? (
          <>of {mm('Diameter of the port', 'diameterMm', 10, 500, port.diameterMm)} inside</>
        ) : (
          <>
            {mm('Width of the slot', 'slotWidthMm', 10, 2000, port.slotWidthMm)} ×{' '}
            {mm('Height of the slot', 'slotHeightMm', 5, 500, port.slotHeightMm)}
          </>
        )}
        , {mm('Length of the port', 'lengthMm', 0, 3000, port.lengthMm)} long, tuned to{' '}
        <QuantityBlank
          label="Tuning"
          dimension="hertz"
          min={5}
          max={300}
          stepBy={0.5}
          value={tunedHz === null ? null : Number(tunedHz.toFixed(1))}
          onChange={tuneTo}
        />{' '}
        (the length follows). Inside {port.shape === 'round' ? 'it ends' : 'the slot ends'}{' '}
        <ChoiceBlank
          label="Inner end"
          isAlwaysSaid
          options={ends}
          value={port.innerEnd}
          onChange={(innerEnd) => innerEnd !== null && set({ innerEnd }, 'inner end')}
        />
        , outside{' '}
        <ChoiceBlank
          label="Outer end"
          isAlwaysSaid
          options={ends}
          value={port.outerEnd}
          onChange={(outerEnd) => outerEnd !== null && set({ outerEnd }, 'outer end')}
        />
        {isFlared && <>, flares of {mm('Radius of the flares', 'flareMm', 0, 100, port.flareMm)}</>}
        , through the{' '}
        <ChoiceBlank
          label="Panel of the port"
          isAlwaysSaid
          options={[
            { id: 'front', text: 'front' },
            { id: 'rear', text: 'rear' },
          ]}
          value={port.side}
          onChange={(side) => side !== null && set({ side }, 'panel of the port')}
        />
        , {mm('Height of the port', 'heightMm', 0, 5000, port.heightMm)} above the inside’s bottom,
        with{' '}
        <QuantityBlank
          label="Bends"
          dimension="number"
          min={0}
          max={3}
          stepBy={1}
          value={port.bends}
          onChange={(bends) =>
            bends !== null && set({ bends: Math.round(bends) }, 'bends', 'bends')
          }
        />{' '}
        right-angled bends; {port.shape === 'round' ? 'its wall' : 'its board'}{' '}
        {mm('Wall of the port', 'wallMm', 0, 50, port.wallMm)}.
      </Sentence>
      <Tick
        isSelected={port.isOutside}
        onChange={(isOutside) => set({ isOutside }, 'port outside')}
      >
        All of it is outside of the box
      </Tick>
      {port.shape === 'slot' && (
        <Tick
          isSelected={port.isOnWall}
          onChange={(isOnWall) => set({ isOnWall }, 'slot on a wall')}
        >
          It runs along a wall of the box
        </Tick>
      )}
      {refused !== null && (
        <Note $kind="doubt" role="status">
          No port of this width tunes this box to {formatQuantity(refused, 'hertz')}: its end
          corrections alone tune lower, or it fills the box. Take another width.
        </Note>
      )}
      {vent && (
        <Quiet role="status" aria-label="Facts of the port">
          {formatFixed(vent.areaCm2, 1)} cm², acts {formatNumber(Math.round(vent.effectiveMm))} mm
          long with both end corrections; first pipe resonance{' '}
          {formatQuantity(Number(vent.pipeHz.toPrecision(3)), 'hertz')};{' '}
          {vent.fits
            ? `${formatNumber(Math.round(vent.clearanceMm))} mm clear behind it: it fits`
            : vent.tooWideMm > 0
              ? `it does not fit: ${formatNumber(Math.round(vent.tooWideMm))} mm wider than the inside`
              : `it does not fit: ${formatNumber(Math.round(vent.clearanceMm))} mm clear, ${formatNumber(Math.round(vent.neededMm))} mm needed`}
          {figures?.portMps !== null && figures
            ? `; up to ${formatFixed(figures.portMps, 1)} m/s under programme, quiet up to ${formatFixed(quietMps(port), 0)}`
            : ''}
          .
        </Quiet>
      )}
    </Layout>
  );
}

const Layout = styled.div`
  display: grid;
  gap: 0.4rem;
`;
