import { seatOf, wantedSineDb } from '@/core/brief/answers';
import { seatGainsDb, seatLevelDb } from '@/core/brief/arithmetic';
import { term } from '@/core/brief/consequence';
import { neededSensitivityDb } from '@/core/brief/sensitivity';
import { sensitivityDb, sourceLevelDb } from '@/core/prediction/figures';
import { formatFixed, formatNumber, formatQuantity } from '@/core/units/quantity';
import { noLevel, ofSum, type KindFacts } from './kind';

export const seatLevel: KindFacts = {
  title: 'Level at seat',
  meaning: 'Level of the loudest sine that the amplifier gives at the farthest seat',
  unit: 'dB',
  decimals: 0,
  side: 'atLeast',
  usual: 100,
  scale: 15,
  dimension: 'decibel',
  stage: 'brief',
  measure: ofSum((_, prediction, { conditions: { amplifier, seat } }) => {
    if (!seat) return { needs: 'seats and amplifier power' };
    const level = sourceLevelDb(prediction, amplifier);
    return level === null ? noLevel : { value: seatLevelDb(level, seat) };
  }),
  derive({ brief }) {
    const wanted = wantedSineDb(brief);
    if (wanted === null) return null;
    const headroom = brief.headroomDb ?? 0;
    return {
      limit: wanted,
      answers: ['loudness', 'headroom'],
      arithmetic: `${
        headroom > 3
          ? `${formatNumber(brief.loudnessDb!)} dB with peaks ${formatNumber(headroom)} dB over it; a sine with the same peaks has ${formatFixed(wanted, 1)} dB.`
          : `Asked for: ${formatNumber(brief.loudnessDb!)} dB.`
      } Whether cones and ports bear it is promised as excursion and port speed.`,
      yields: 'loudness',
    };
  },
};

export const sensitivity: KindFacts = {
  title: 'Sensitivity',
  meaning: 'Mean level for 2.83 V at the terminals, 1 m, 300 Hz–3 kHz',
  unit: 'dB',
  decimals: 1,
  side: 'atLeast',
  usual: 85,
  scale: 8,
  dimension: 'decibel',
  stage: 'network',
  measure: ofSum((_, prediction, { conditions: { amplifier } }) => {
    const value = sensitivityDb(prediction, amplifier);
    return value === null ? noLevel : { value };
  }),
  derive(design) {
    const wanted = wantedSineDb(design.brief);
    const seat = seatOf(design, 'farthest');
    if (wanted === null || !seat) return null;
    const { drive, distance, count, room } = seatGainsDb(seat);
    const { roomGainDb, roomSquareMetres } = design.brief;
    const from =
      roomGainDb !== null ? 'stated' : roomSquareMetres !== null ? 'by its floor' : 'assumed';
    return {
      limit: neededSensitivityDb(wanted, seat),
      answers: ['loudness', 'amplifier', 'seats'],
      arithmetic: `${formatFixed(wanted, 1)} dB at ${formatQuantity(seat.distanceMm, 'distance')} ${term(-drive)} (${formatNumber(seat.watts)} W) ${term(-distance)} (distance) ${term(-count)} (${seat.speakerCount} speakers) ${term(-room)} (room, ${from}).`,
      yields: 'loudness',
    };
  },
};
