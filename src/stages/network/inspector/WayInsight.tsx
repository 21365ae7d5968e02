'use client';
import type { WayId } from '@/core/fields';
import { magnitudesOf } from '@/core/prediction/derived';
import { Fragment, useState } from 'react';
import { loadsAtDrive } from '@/core/brief/asked';
import { tellLoad } from '@/core/brief/loadWords';
import type { Prediction } from '@/core/prediction/prediction';
import { driveOf, ratedSourceVolts } from '@/core/document/programme';
import type { DriverLoad } from '@/core/prediction/strain';
import type { Design, Way } from '@/core/document/schema';
import { wayLossDb, wayTargetError } from '@/core/prediction/wayTarget';
import { levelsOver } from '@/core/spectrum/level';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { useDeskState } from '@/desk/DeskContext';
import { shownOf } from '@/desk/deskState';
import { WaySlopes } from '@/stages/network/slopes/WaySlopes';
import { FrequencyChart } from '@/ui/chart/FrequencyChart';
import { lengthScale } from '@/ui/chart/window';
import { Arithmetic } from '@/ui/Arithmetic';
import { Note, Quiet } from '@/ui/sheets';

/**
 * What a way's filter does apart from its driver, how it follows its own slopes, what its drivers
 * have to take.
 */
export function WayInsight({ way }: { readonly way: Way }) {
  const prediction = useDeskState((state) => shownOf(state).prediction);
  const volts = useDeskState((state) => shownOf(state).design.amplifier.volts);
  const band = useDeskState((state) => shownOf(state).design.target);
  const [cursorHz, setCursorHz] = useState<number | null>(null);
  const own = prediction?.ways.find(({ wayId }) => wayId === way.id);
  if (!prediction || !own) return <WaySlopes way={way} told="" />;
  const { frequencyHz } = prediction;
  const error = way.target && wayTargetError(own.levelDb, frequencyHz, way.target, band);
  const transferDb = levelsOver(magnitudesOf(own.voltage), volts);
  const lossDb = wayLossDb(transferDb, frequencyHz, way.target, band);
  return (
    <>
      <WaySlopes
        way={way}
        told={[
          error &&
            `It deviates by ${formatFixed(error.rmsDb, 1)} dB rms, at most ${formatFixed(error.worst.db, 1)} dB at ${formatQuantity(Number(error.worst.atHz.toPrecision(3)), 'hertz')}.`,
          lossDb !== null &&
            (way.target
              ? `In its passband it plays ${formatFixed(lossDb, 1)} dB under its driver alone.`
              : `Where it is loudest it plays ${formatFixed(lossDb, 1)} dB under its driver alone.`),
        ]
          .filter((sentence) => typeof sentence === 'string')
          .join(' ')}
      />
      <FrequencyChart
        title="Its filter alone"
        frequencyHz={frequencyHz}
        curves={[
          {
            id: 'transfer',
            label: '',
            values: transferDb,
            colour: 'var(--ink)',
            width: 1.6,
          },
        ]}
        bottom={-40}
        top={10}
        unit="dB"
        cursorHz={cursorHz}
        onCursor={setCursorHz}
      />
      <Loads wayId={way.id} />
    </>
  );
}

/**
 * What a way's drivers have to bear with the amplifier driven as the brief says, and how far they
 * move for a sine.
 */
function Loads({ wayId }: { readonly wayId: WayId }) {
  const design = useDeskState((state) => shownOf(state).design);
  const prediction = useDeskState((state) => shownOf(state).prediction);
  const loads = loadsAtDrive(design, prediction);
  if (!prediction || !loads)
    return (
      <Quiet>
        What its drivers have to take is known once the Brief says the amplifier’s power.
      </Quiet>
    );
  return loads
    .filter((load) => load.wayId === wayId)
    .map((load) => {
      const { text, warnings, arithmetic } = tellLoad(load);
      return (
        <Fragment key={load.driverId}>
          <Note $kind={warnings.length > 0 ? 'doubt' : 'plain'}>
            With {driveOf(design.brief).words}, {load.driverName} {text} {warnings.join(' ')}
            <Arithmetic lines={arithmetic} />
          </Note>
          <Excursion load={load} prediction={prediction} design={design} />
        </Fragment>
      );
    });
}

/** Excursion for a sine at the amplifier's rated power, against Xmax. */
function Excursion({
  load: { wayId, driverId, driverName, xmaxMm },
  prediction: { frequencyHz, strains },
  design,
}: {
  readonly load: DriverLoad;
  readonly prediction: Prediction;
  readonly design: Design;
}) {
  const [cursorHz, setCursorHz] = useState<number | null>(null);
  const own = strains.find((one) => one.wayId === wayId && one.driverId === driverId)?.excursion;
  const volts = ratedSourceVolts(design);
  if (!own || volts === null) return null;
  const values = own.sinePeakMm.map((mm) => volts * mm);
  const limit = xmaxMm === null ? [] : [frequencyHz.map(() => xmaxMm)];
  return (
    <FrequencyChart
      title={`Excursion of ${driverName}, sine at rated power`}
      frequencyHz={frequencyHz}
      curves={[
        { id: 'excursion', label: 'peak', values, colour: 'var(--ink)', width: 1.6 },
        ...limit.map((line) => ({
          ...{ id: 'xmax', label: 'Xmax', values: line, colour: 'var(--accent)' },
          ...{ width: 1, dash: '2 3', isGuide: true },
        })),
      ]}
      {...lengthScale([...values, xmaxMm ?? 0])}
      unit="mm"
      cursorHz={cursorHz}
      onCursor={setCursorHz}
    />
  );
}
