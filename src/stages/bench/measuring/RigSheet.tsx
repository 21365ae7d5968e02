'use client';
import { useRef, useState } from 'react';
import styled from 'styled-components';
import { withStep } from '@/core/measurement/recipe';
import { formatNumber } from '@/core/units/quantity';
import { coneAreaCm2, rigLevelDb, type RigDriver, type RigSetup } from '@/core/rig/rig';
import type { Measurement } from '@/core/document/schema';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Button, PrimaryButton } from '@/ui/Button';
import { Note, Quiet, Sentence } from '@/ui/sheets';
import { Tick } from '@/ui/fields/Tick';
import { measureOnRig, type RigRun } from '@/workers/rigClient';
import { ProgressBarWithStop } from '@/ui/ProgressBarWithStop';
import type { Intake } from '@/stages/bench/intake/useIntake';

const first: RigSetup = {
  driver: { kind: 'demo', name: 'woofer' },
  beside: null,
  distanceMm: 1000,
  horizontalDeg: 0,
  volts: 2.83,
  noiseDb: 32,
  humDb: null,
  floorMm: 1100,
  hasBadCable: false,
  seed: 1,
};

const driverOptions = [
  { id: 'woofer', text: 'the demo’s woofer' },
  { id: 'midrange', text: 'the demo’s midrange' },
  { id: 'tweeter', text: 'the demo’s tweeter' },
  { id: 'invented', text: 'an invented driver' },
] as const;
type DriverChoice = (typeof driverOptions)[number]['id'];

const choiceOf = (driver: RigDriver | null): DriverChoice | null =>
  driver && (driver.kind === 'demo' ? driver.name : 'invented');
const driverOf = (choice: DriverChoice, seed: number): RigDriver =>
  choice === 'invented' ? { kind: 'invented', seed } : { kind: 'demo', name: choice };

/** A sweep takes its time on a real rig; here the bar runs as long as the sound would. */
const sweepMs = 1950;

/**
 * A stand-in for amplifier, microphone and room: hidden drivers, honest faults, files as an outside
 * program would write them. Everything from it says so.
 */
export function RigSheet({ intake }: { readonly intake: Intake }) {
  const [setup, setSetup] = useState(first);
  const [massG, setMassG] = useState(10);
  const [progress, setProgress] = useState<number | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const abort = useRef<AbortController | null>(null);
  const set = (change: Partial<RigSetup>) => setSetup({ ...setup, ...change });
  const inventedSeed = setup.driver.kind === 'invented' ? setup.driver.seed : 1;

  const measure = async (run: RigRun) => {
    const stop = new AbortController();
    abort.current = stop;
    setTrouble(null);
    setProgress(0);
    const began = performance.now();
    const timer = setInterval(
      () => setProgress(Math.min(99, (100 * (performance.now() - began)) / sweepMs)),
      50,
    );
    try {
      const files = await measureOnRig(setup, run, stop.signal);
      const left = sweepMs - (performance.now() - began);
      if (left > 0) await new Promise((resolve) => setTimeout(resolve, left));
      if (stop.signal.aborted) return;
      await intake.take(files, (measurement) => stated(measurement, setup));
      // The next run has other noise.
      setSetup((now) => ({ ...now, seed: now.seed + 1 }));
    } catch (error) {
      if (!(error instanceof DOMException)) setTrouble(String(error));
    } finally {
      clearInterval(timer);
      setProgress(null);
    }
  };

  return (
    <>
      <Note $kind="plain">
        Practice, not a measurement: amplifier, microphone, room and drivers are simulated. What
        comes from here has “practice” in its name.
      </Note>
      <Sentence>
        The rig holds{' '}
        <ChoiceBlank
          label="driver in the rig"
          options={driverOptions}
          value={choiceOf(setup.driver)}
          onChange={(choice) => choice && set({ driver: driverOf(choice, inventedSeed) })}
        />
        {setup.driver.kind === 'invented' && (
          <>
            {' '}
            number{' '}
            <QuantityBlank
              label="number of the invented driver"
              value={setup.driver.seed}
              dimension="number"
              min={1}
              max={9999}
              stepBy={1}
              onChange={(seed) =>
                seed !== null && set({ driver: { kind: 'invented', seed: Math.round(seed) } })
              }
            />
          </>
        )}
        , in parallel with{' '}
        <ChoiceBlank
          label="driver beside it"
          placeholder="nothing"
          options={driverOptions.filter(({ id }) => id !== 'invented')}
          value={choiceOf(setup.beside)}
          onChange={(choice) => set({ beside: choice && driverOf(choice, 1) })}
        />
        . The microphone is{' '}
        <QuantityBlank
          label="distance of the microphone"
          value={setup.distanceMm}
          dimension="distance"
          min={200}
          max={4000}
          stepBy={100}
          onChange={(distanceMm) => distanceMm !== null && set({ distanceMm })}
        />{' '}
        away on the design axis, turned by{' '}
        <QuantityBlank
          label="angle of the microphone"
          value={setup.horizontalDeg}
          dimension="degree"
          min={-90}
          max={90}
          stepBy={15}
          onChange={(horizontalDeg) => horizontalDeg !== null && set({ horizontalDeg })}
        />
        . The sweep has{' '}
        <QuantityBlank
          label="voltage of the sweep"
          value={setup.volts}
          dimension="volt"
          min={0.1}
          max={20}
          stepBy={0.1}
          onChange={(volts) => volts !== null && set({ volts })}
        />
        . The room is as loud as{' '}
        <QuantityBlank
          label="noise of the room"
          value={setup.noiseDb}
          dimension="decibel"
          min={0}
          max={90}
          stepBy={1}
          onChange={(noiseDb) => noiseDb !== null && set({ noiseDb })}
        />
        , with a hum of{' '}
        <QuantityBlank
          label="mains hum"
          placeholder="none"
          value={setup.humDb}
          dimension="decibel"
          min={0}
          max={100}
          stepBy={1}
          onChange={(humDb) => set({ humDb })}
        />
        , and a hard floor{' '}
        <QuantityBlank
          label="height above the floor"
          placeholder="far"
          value={setup.floorMm}
          dimension="distance"
          min={200}
          max={5000}
          stepBy={100}
          onChange={(floorMm) => set({ floorMm })}
        />{' '}
        below.
      </Sentence>
      <Quiet>Its cone has {formatNumber(coneAreaCm2(setup.driver), 3)} cm², by the ruler.</Quiet>
      <Tick isSelected={setup.hasBadCable} onChange={(hasBadCable) => set({ hasBadCable })}>
        One of the clips has a bad contact.
      </Tick>
      <Row>
        <PrimaryButton
          isDisabled={progress !== null}
          onPress={() => void measure({ kind: 'sweep' })}
        >
          Play the sweep
        </PrimaryButton>
        <Button isDisabled={progress !== null} onPress={() => void measure({ kind: 'as-mounted' })}>
          Measure the impedance
        </Button>
        <Button
          isDisabled={progress !== null}
          onPress={() => void measure({ kind: 'added-mass', massG })}
        >
          … with a mass
        </Button>
        <QuantityBlank
          label="mass on the cone"
          value={massG}
          dimension="gram"
          min={0.01}
          max={500}
          stepBy={1}
          onChange={(next) => next !== null && setMassG(next)}
        />
      </Row>
      {progress !== null && (
        <ProgressBarWithStop
          name="Measuring"
          percent={progress}
          onStop={() => abort.current?.abort()}
        />
      )}
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
      <Quiet>
        On a real rig, begin quietly: a sweep at full level can damage ears and tweeters. Put a
        capacitor in series with a tweeter while you look for the level.
      </Quiet>
    </>
  );
}

/** What is known about a measurement because the rig made it. */
const stated = (measurement: Measurement, setup: RigSetup): Measurement =>
  measurement.kind === 'impedance'
    ? measurement
    : {
        ...measurement,
        microphone: {
          placement: 'design-axis',
          distanceMm: setup.distanceMm,
          commonTiming: true,
        },
        driveVolts: setup.volts,
        angle: { plane: 'horizontal', degrees: setup.horizontalDeg },
        recipe: withStep(measurement.recipe, {
          kind: 'level',
          isOn: true,
          addedDb: Number(rigLevelDb.toFixed(2)),
        }),
      };

const Row = styled.div`
  display: flex;
  align-items: center;
  flex-wrap: wrap;
  gap: 0.6rem;
`;
