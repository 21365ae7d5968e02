import { z } from 'zod';
import { fingerprint, hertz, positive } from '@/core/fields';
import { problem } from '@/core/problem';
import { coneRadiusM } from '@/core/radiation/piston';
import { roundedDown } from '@/core/units/rounding';
import { nearFieldTopHz, splice as joined, type NearSource } from '../splice';
import { stepBase, stepKind } from './step';

/** Radius of a cone of which nothing is known, mm. */
const usualRadiusMm = 100;
const usualJoinHz = 300;

/**
 * Match of near and far field, both absolute, beyond which something is not as stated, dB (common
 * practice).
 */
const mostMatchDb = 1.5;

/** Puts a near field in the place of the low end: of the cone, and of the port if there is one. */
export const splice = stepKind({
  schema: z.strictObject({
    ...stepBase,
    kind: z.literal('splice'),
    nearId: fingerprint,
    radiusMm: positive.max(1000),
    portId: fingerprint.nullable(),
    portRadiusMm: positive.max(1000).nullable(),
    /** Middle of the join. */
    atHz: hertz,
    /** Width of the baffle for its step; null for none. */
    stepWidthMm: positive.max(5000).nullable(),
  }),
  name: 'Near field below',
  needs: ({ nearId, portId }) => (portId === null ? [nearId] : [nearId, portId]),
  first(_, { others, sdCm2, widthMm }) {
    const radiusMm = sdCm2 === null ? usualRadiusMm : Math.round(1000 * coneRadiusM(sdCm2));
    return {
      nearId: (others.find(({ name }) => /near/i.test(name)) ?? others[0]).id,
      radiusMm,
      portId: null,
      portRadiusMm: null,
      atHz: roundedDown(Math.min(usualJoinHz, nearFieldTopHz(radiusMm)), 2),
      stepWidthMm: widthMm,
    };
  },
  apply(step, { samples, validFromHz }, setting) {
    const source = (id: string, radiusMm: number): NearSource => {
      const near = setting.find(id);
      if (near) return { samples: near, radiusMm };
      throw problem(
        'near_missing',
        'splice',
        'The near field is not here.',
        'It was removed, or is not loaded yet.',
        'Choose the near-field measurement again.',
      );
    };
    const { matchDb, residualDb, ka, ...result } = joined(
      [
        source(step.nearId, step.radiusMm),
        ...(step.portId && step.portRadiusMm ? [source(step.portId, step.portRadiusMm)] : []),
      ],
      samples,
      {
        atHz: step.atHz,
        farDistanceMm: setting.microphoneDistanceMm,
        stepWidthMm: step.stepWidthMm,
      },
    );
    const doubts = [
      ...(ka > 1 ? [`ka is ${ka.toFixed(1)} at the join; above 1 near and far field differ`] : []),
      ...(step.atHz < validFromHz
        ? [`the gate is valid from ${validFromHz.toFixed(0)} Hz only`]
        : []),
      ...(Math.abs(matchDb) > mostMatchDb
        ? [
            `with levels that are both absolute this should be within ${mostMatchDb} dB: check the width of the baffle, the radius and the distances, the low end is about as much too ${matchDb > 0 ? 'high' : 'low'}`,
          ]
        : []),
      ...(step.stepWidthMm === null
        ? [
            'no baffle step is in it, as for a driver in a wall: in a box the low end comes out up to 6 dB too high',
          ]
        : []),
    ];
    return {
      samples: result.samples,
      validFromHz: 0,
      note: `Near field moved by ${matchDb.toFixed(1)} dB beyond the piston’s scale, ${residualDb.toFixed(2)} dB rms left over the join${doubts.map((doubt) => `; ${doubt}`).join('')}.`,
    };
  },
});
