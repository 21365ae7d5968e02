import { z } from 'zod';
import { hertz, identifier, positive } from '@/core/fields';

/**
 * What the speaker must do, as asked; null where nothing was answered. The amplifier's output
 * resistance is in the design's amplifier, because the prediction uses it.
 */
export const briefSchema = z.strictObject({
  purpose: z.enum(['music', 'film', 'desk', 'mixing', 'outdoors']).nullable(),
  place: z.enum(['free', 'near-wall', 'on-desk', 'in-cabinet']).nullable(),
  nearestSeatMm: positive.max(100_000).nullable(),
  farthestSeatMm: positive.max(100_000).nullable(),
  /** Half the angle over which the seats spread, seen from the speaker. */
  spreadDeg: positive.max(90).nullable(),
  speakerCount: z.int().min(1).max(16).nullable(),
  /**
   * Floor of the room, from which follows what it adds at the seats; what it adds, where somebody
   * knows better.
   */
  roomSquareMetres: positive.max(10_000).nullable(),
  roomGainDb: z.number().min(0).max(12).nullable(),
  /** Rated power of the amplifier, and the load into which it is stated. */
  ratedWatts: positive.max(10_000).nullable(),
  ratedIntoOhms: positive.max(100).nullable(),
  /** Lowest load that the amplifier tolerates. */
  lowestLoadOhms: positive.max(100).nullable(),
  /** Long-term level wanted at the farthest seat, and what peaks may add to it. */
  /** How the amplifier is driven where power, heat and excursion are told: see `programme.ts`. */
  programme: z.enum(['overdriven', 'full', 'music']).nullable(),
  loudnessDb: z.number().min(40).max(130).nullable(),
  headroomDb: z.number().min(0).max(40).nullable(),
  reach3Hz: hertz.nullable(),
  reach10Hz: hertz.nullable(),
  widthMm: positive.max(10_000).nullable(),
  heightMm: positive.max(10_000).nullable(),
  depthMm: positive.max(10_000).nullable(),
  /** Money for one speaker, in the currency named. */
  money: positive.max(1e7).nullable(),
  currency: z.string().trim().min(1).max(4),
  /** Rated impedance wanted (IEC 60268-5). */
  ratedOhms: positive.max(64).nullable(),
  /** How far the response on axis may stray from the target, ± dB. */
  evennessDb: positive.max(20).nullable(),
  /** Drivers and parts that must be used, in the designer's words. */
  mustUse: z.string().max(600),
  carpentry: z.enum(['straight-cuts', 'router', 'curves']).nullable(),
  /** What gives way first is first. Empty while it is not ranked. */
  givesWay: z.array(z.enum(['size', 'reach', 'loudness', 'money', 'evenness'])).max(5),
});

export type Brief = z.infer<typeof briefSchema>;
export type Yielding = Brief['givesWay'][number];

export const emptyBrief: Brief = {
  purpose: null,
  place: null,
  nearestSeatMm: null,
  farthestSeatMm: null,
  spreadDeg: null,
  speakerCount: null,
  roomSquareMetres: null,
  roomGainDb: null,
  ratedWatts: null,
  ratedIntoOhms: null,
  lowestLoadOhms: null,
  programme: null,
  loudnessDb: null,
  headroomDb: null,
  reach3Hz: null,
  reach10Hz: null,
  widthMm: null,
  heightMm: null,
  depthMm: null,
  money: null,
  currency: '€',
  ratedOhms: null,
  evennessDb: null,
  mustUse: '',
  carpentry: null,
  givesWay: [],
};

/** What a driver's data sheet says; null where it says nothing. */
export const sheetSchema = z.strictObject({
  fsHz: hertz.nullable(),
  qes: positive.max(100).nullable(),
  qms: positive.max(100).nullable(),
  vasLitres: positive.max(10_000).nullable(),
  sdCm2: positive.max(10_000).nullable(),
  mmsG: positive.max(10_000).nullable(),
  blTm: positive.max(1000).nullable(),
  /**
   * Excursion to each side that stays free of gross distortion, and that beyond which something
   * strikes or tears.
   */
  xmaxMm: positive.max(200).nullable(),
  mechanicalMm: positive.max(500).nullable(),
  reOhm: positive.max(1000).nullable(),
  /** Inductance of the voice coil, mH. */
  leMh: positive.max(100).nullable(),
  /** Impedance by which the maker turns volts into watts. */
  nominalOhms: positive.max(1000).nullable(),
  ratedWatts: positive.max(10_000).nullable(),
  /** What kind of power that is: see `driver/rating.ts`. */
  ratedAs: z.enum(['noise', 'aes', 'programme', 'system']).nullable(),
  /** High pass behind which a system rating holds. */
  filterHz: hertz.nullable(),
  filterOrder: z.int().min(1).max(4).nullable(),
});

export type DriverSheet = z.infer<typeof sheetSchema>;

export const emptySheet: DriverSheet = {
  fsHz: null,
  qes: null,
  qms: null,
  vasLitres: null,
  sdCm2: null,
  mmsG: null,
  blTm: null,
  xmaxMm: null,
  mechanicalMm: null,
  reOhm: null,
  leMh: null,
  nominalOhms: null,
  ratedWatts: null,
  ratedAs: null,
  filterHz: null,
  filterOrder: null,
};

const band = { fromHz: hertz, toHz: hertz };
const decibels = z.number().min(-30).max(30);

/** Shape of the response that is aimed at, relative to its own level, over a band. */
export const targetSchema = z
  .discriminatedUnion('kind', [
    z.strictObject({ kind: z.literal('flat'), ...band }),
    z.strictObject({ kind: z.literal('tilt'), ...band, dbPerOctave: z.number().min(-6).max(6) }),
    /** First-order step of the lows against the highs around a frequency. */
    z.strictObject({ kind: z.literal('shelf'), ...band, stepHz: hertz, lowsDb: decibels }),
    z.strictObject({
      kind: z.literal('points'),
      ...band,
      points: z
        .array(z.strictObject({ hz: hertz, db: decibels }))
        .min(2)
        .max(500),
    }),
  ])
  .refine(({ fromHz, toHz }) => fromHz < toHz, 'The band of the target ends before it begins.');

export type Target = z.infer<typeof targetSchema>;

export const flatTarget: Target = { kind: 'flat', fromHz: 200, toHz: 15_000 };

export const promiseKinds = [
  'on-axis',
  'window',
  'reach-3',
  'reach-10',
  'sensitivity',
  'seat-level',
  'lowest-impedance',
  'equivalent-resistance',
  'phase-tracking',
  'target-slopes',
  'directivity',
  'directivity-slope',
  'sound-power',
  'in-room',
  'seats',
  'angle',
  'cost',
  'outside-size',
  'resistor-heat',
  'travel',
  'driver-power',
  'resonance',
  'crossover-place',
  'crossover-floor',
  'port-speed',
] as const;

export type PromiseKind = (typeof promiseKinds)[number];

/**
 * A change to a promise that follows from the brief (its id is then its kind), or a promise made by
 * hand. What is null stays as derived, or as is usual for the kind.
 */
export const promiseEntrySchema = z.strictObject({
  id: identifier,
  kind: z.enum(promiseKinds),
  isOff: z.boolean(),
  atLeast: z.number().min(-1e6).max(1e6).nullable(),
  atMost: z.number().min(-1e6).max(1e6).nullable(),
  fromHz: hertz.nullable(),
  toHz: hertz.nullable(),
  /** Direction of a promise that is about one; null for all others. */
  angle: z
    .strictObject({
      plane: z.enum(['horizontal', 'vertical']),
      degrees: z.number().min(-180).max(180),
    })
    .nullable(),
  /** 1, may give way first, to 5, must be kept. */
  weight: z.int().min(1).max(5).nullable(),
});

export type PromiseEntry = z.infer<typeof promiseEntrySchema>;
