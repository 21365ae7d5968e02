'use client';
import { useEffect, useRef, useState } from 'react';
import styled from 'styled-components';
import { messageOf } from '@/core/problem';
import type { Measurement } from '@/core/document/schema';
import { captureSweep, recordedLevel, type RecordedLevel } from '@/core/measurement/capture';
import { withStep } from '@/core/measurement/recipe';
import { formatFixed } from '@/core/units/quantity';
import { ChoiceBlank, QuantityBlank, TextBlank } from '@/ui/fields/Blank';
import { Button, PrimaryButton } from '@/ui/Button';
import { Note, Quiet, Sentence } from '@/ui/sheets';
import { Tick } from '@/ui/fields/Tick';
import { writeCapture } from '@/workers/filesClient';
import { ProgressBarWithStop } from '@/ui/ProgressBarWithStop';
import { openSoundDevice, SoundInputGone, type SoundDevice } from './soundDevice';
import type { Intake } from '@/stages/bench/intake/useIntake';

interface Setup {
  readonly name: string;
  readonly levelDb: number;
  readonly seconds: number;
  readonly hasLoop: boolean;
  readonly placement: Measurement['microphone']['placement'];
  readonly distanceMm: number;
  readonly degrees: number;
  readonly volts: number;
  /**
   * Level that a sine at full scale of the microphone's input has, dB re 20 µPa; null while
   * unknown.
   */
  readonly fullScaleDb: number | null;
}

/** As quiet as a check can be and still be heard. */
const quietDb = -50;
/** The level may rise by this much over the last check that was not too loud. */
const rise = 10;
const checkSeconds = 0.7;

const first: Setup = {
  name: 'driver',
  levelDb: quietDb,
  seconds: 3,
  hasLoop: false,
  placement: 'design-axis',
  distanceMm: 1000,
  degrees: 0,
  volts: 2.83,
  fullScaleDb: null,
};

interface Check {
  readonly levelDb: number;
  readonly channels: readonly RecordedLevel[];
}

/** Measures with the sound device of this machine: an exponential sweep out, the microphone in. */
export function MicrophoneSheet({ intake }: { readonly intake: Intake }) {
  const [device, setDevice] = useState<SoundDevice | null>(null);
  const [inputId, setInputId] = useState<string | null>(null);
  const [setup, setSetup] = useState(first);
  const [check, setCheck] = useState<Check | null>(null);
  const [progress, setProgress] = useState<number | null>(null);
  const [trouble, setTrouble] = useState<string | null>(null);
  const [isOpening, setIsOpening] = useState(false);
  const abort = useRef<AbortController | null>(null);
  const isHere = useRef(true);
  const set = (change: Partial<Setup>) => setSetup({ ...setup, ...change });
  useEffect(
    () => () => {
      abort.current?.abort();
      device?.close();
    },
    [device],
  );
  useEffect(() => {
    isHere.current = true;
    return () => {
      isHere.current = false;
    };
  }, []);

  const open = async (id: string | null) => {
    setTrouble(null);
    setCheck(null);
    // Another input may be at another gain: everything begins quietly again.
    setSetup((now) => ({ ...now, levelDb: quietDb }));
    setIsOpening(true);
    try {
      const opened = await openSoundDevice(id);
      // The sheet may have been left while the browser asked.
      if (!isHere.current) return opened.close();
      setDevice(opened);
      setInputId(id);
    } catch (error) {
      setDevice(null);
      setTrouble(messageOf(error));
    } finally {
      setIsOpening(false);
    }
  };
  const play = async (sweep: Float64Array) => {
    const stop = (abort.current = new AbortController());
    setTrouble(null);
    setProgress(0);
    try {
      return await device!.playAndRecord(sweep, stop.signal, (share) =>
        setProgress(Math.round(100 * share)),
      );
    } catch (error) {
      if (!stop.signal.aborted) setTrouble(messageOf(error));
      if (error instanceof SoundInputGone) setDevice(null);
      return null;
    } finally {
      setProgress(null);
    }
  };
  const checkLevel = async () => {
    const { levelDb } = setup;
    const { sampleRateHz } = device!;
    const recorded = await play(captureSweep({ levelDb, seconds: checkSeconds, sampleRateHz }));
    if (recorded)
      setCheck({
        levelDb,
        channels: recorded.channels.map((one) => recordedLevel(one, sampleRateHz)),
      });
  };
  const measure = async () => {
    const { levelDb, seconds, hasLoop, degrees, name } = setup;
    const { sampleRateHz } = device!;
    const sweep = captureSweep({ levelDb, seconds, sampleRateHz });
    const recorded = await play(sweep);
    if (!recorded) return;
    const angle = `hor ${degrees < 0 ? '-' : '+'}${Math.abs(degrees)}`;
    const { files, referenceDb } = await writeCapture({
      name: `${name} ${angle}`,
      sweep,
      recorded,
      hasLoop,
    });
    await intake.take(files, (measurement) => stated(measurement, setup, referenceDb));
  };

  if (!device)
    return (
      <>
        <Caution />
        <div>
          <PrimaryButton isDisabled={isOpening} onPress={() => void open(null)}>
            Open the sound device
          </PrimaryButton>
        </div>
        {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
        <Quiet role="status">
          {isOpening
            ? 'Opening it: if the browser asks whether this page may use the microphone, answer there.'
            : 'The browser asks before it lets this page use the microphone. What is recorded stays on this machine.'}
        </Quiet>
      </>
    );
  const isChecked = check?.levelDb === setup.levelDb && check.channels[0].verdict === 'good';
  const isLoopHeard = !setup.hasLoop || check?.channels.at(1)?.verdict === 'good';
  const highest = check && check.channels[0].verdict !== 'clipped' ? check.levelDb + rise : quietDb;
  return (
    <>
      <Caution />
      <Sentence>
        The microphone is on{' '}
        <ChoiceBlank
          label="sound input"
          placeholder="the usual input"
          options={device.inputs.map(({ id, name }) => ({ id, text: name }))}
          value={inputId}
          onChange={(id) => void open(id)}
        />{' '}
        ({device.sampleRateHz / 1000} kHz,{' '}
        {device.channelCount === 2 ? 'two channels' : 'one channel'}
        ). It is{' '}
        <QuantityBlank
          label="distance of the microphone"
          value={setup.distanceMm}
          dimension="distance"
          min={1}
          max={20_000}
          stepBy={100}
          onChange={(distanceMm) => distanceMm !== null && set({ distanceMm })}
        />{' '}
        away{' '}
        <ChoiceBlank
          label="place of the microphone"
          options={[
            { id: 'design-axis', text: 'on the design axis' },
            { id: 'own-axis', text: 'on the driver’s axis' },
          ]}
          value={setup.placement}
          onChange={(placement) => placement && set({ placement })}
        />
        , turned by{' '}
        <QuantityBlank
          label="angle of the microphone"
          value={setup.degrees}
          dimension="degree"
          min={-180}
          max={180}
          stepBy={15}
          onChange={(degrees) => degrees !== null && set({ degrees })}
        />
        . What is measured is called{' '}
        <TextBlank
          label="name of the measurement"
          value={setup.name}
          onChange={(name) => set({ name: name.replace(/[\\/]/g, ' ').slice(0, 60) })}
        />
        . The sweep runs{' '}
        <QuantityBlank
          label="length of the sweep"
          value={setup.seconds}
          dimension="second"
          min={0.5}
          max={20}
          stepBy={1}
          onChange={(seconds) => seconds !== null && set({ seconds })}
        />{' '}
        at{' '}
        <QuantityBlank
          label="level of the sweep"
          value={setup.levelDb}
          dimension="decibel"
          min={-60}
          max={Math.min(0, highest)}
          stepBy={2}
          onChange={(levelDb) => levelDb !== null && set({ levelDb })}
        />{' '}
        re full scale, which gives{' '}
        <QuantityBlank
          label="voltage at the terminals"
          value={setup.volts}
          dimension="volt"
          min={0.001}
          max={100}
          stepBy={0.1}
          onChange={(volts) => volts !== null && set({ volts })}
        />{' '}
        at the terminals. A sound that fills the microphone’s input has{' '}
        <QuantityBlank
          label="level at full scale"
          placeholder="an unknown level"
          value={setup.fullScaleDb}
          dimension="decibel"
          min={60}
          max={180}
          stepBy={1}
          onChange={(fullScaleDb) => set({ fullScaleDb })}
        />
        .
      </Sentence>
      {device.channelCount === 2 && (
        <Tick isSelected={setup.hasLoop} onChange={(hasLoop) => set({ hasLoop })}>
          The second channel records the output directly, as a loop-back: timing is common to all
          measurements.
        </Tick>
      )}
      <Row>
        <Button isDisabled={progress !== null} onPress={() => void checkLevel()}>
          Check the level
        </Button>
        <PrimaryButton
          isDisabled={progress !== null || !isChecked || !isLoopHeard}
          onPress={() => void measure()}
        >
          Play the sweep
        </PrimaryButton>
      </Row>
      {progress !== null && (
        <ProgressBarWithStop
          name="Measuring"
          percent={progress}
          onStop={() => abort.current?.abort()}
        />
      )}
      <Told aria-live="polite">
        {check ? (
          check.channels.map((channel, c) =>
            c === 0 || setup.hasLoop ? (
              <LevelNote key={c} channel={channel} isLoop={c === 1} />
            ) : null,
          )
        ) : (
          <Quiet>
            Begin with a check. It starts {-quietDb} dB under full scale, and the level may rise by{' '}
            {rise} dB from one check to the next.
          </Quiet>
        )}
        {check && check.levelDb !== setup.levelDb && (
          <Quiet>The level has changed since the check: check again.</Quiet>
        )}
      </Told>
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
    </>
  );
}

const verdicts: Readonly<Record<RecordedLevel['verdict'], string>> = {
  silent: 'no sweep above the noise. Check cables and gain, or raise the level.',
  low: 'recorded, but low: raise the level or the gain of the input.',
  good: 'a good level.',
  clipped: 'too loud: it is or may be clipped. Lower the gain of the input or the level.',
};

function LevelNote({
  channel: { peakDb, noiseDb, verdict },
  isLoop,
}: {
  readonly channel: RecordedLevel;
  readonly isLoop: boolean;
}) {
  const figure = (name: string, db: number) =>
    Number.isFinite(db) ? `${name} ${formatFixed(db, 0)} dB re full scale` : `no ${name}`;
  return (
    <Note $kind={verdict === 'good' ? 'plain' : verdict === 'clipped' ? 'alarm' : 'doubt'}>
      {isLoop ? 'Loop-back' : 'Microphone'}: {figure('peak', peakDb)}, {figure('noise', noiseDb)}:{' '}
      {verdicts[verdict]}
    </Note>
  );
}

const Caution = () => (
  <Note $kind="doubt">
    Sweeps can damage ears and tweeters. Turn the amplifier down before the first check, stay away
    from the speaker or protect your ears, and put a capacitor in series with a tweeter until the
    level is known. On a valve amplifier, touch nothing inside: leave that to a qualified person.
  </Note>
);

/** What is known about a measurement because it was made here. */
function stated(measurement: Measurement, setup: Setup, referenceDb: number): Measurement {
  const { placement, distanceMm, hasLoop, degrees, volts, fullScaleDb } = setup;
  return {
    ...measurement,
    // Without a loop-back the delay of the sound device differs from one run to the next.
    microphone: { placement, distanceMm, commonTiming: hasLoop },
    driveVolts: volts,
    angle: { plane: 'horizontal', degrees },
    recipe:
      fullScaleDb === null
        ? measurement.recipe
        : withStep(measurement.recipe, {
            kind: 'level',
            isOn: true,
            addedDb: Number((fullScaleDb + referenceDb).toFixed(2)),
          }),
  };
}

const Row = styled.div`
  display: flex;
  gap: 0.6rem;
`;

const Told = styled.div`
  display: grid;
  gap: 0.4rem;
`;
