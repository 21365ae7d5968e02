import {
  bandTimes,
  boxDifferences,
  correctedLengthM,
  fitMeasuredBox,
  mostMisfit,
  peakCount,
  type BoxDifference,
  type MeasuredBox,
} from '@/core/box/measuredBox';
import { tuningHz, type Air, type Enclosure } from '@/core/box/enclosure';
import { onePeak, toldDifference } from '@/core/lows/builtBox';
import { problem } from '@/core/problem';
import { boxSpecSchema, systemOf } from './box';
import { readArguments, type Command } from './command';
import { emit } from './input/files';
import { readSpec, unreadableSpec } from './input/spec';
import { readImpedance } from './input/tables';

export const built: Command = {
  help: `fair built SPEC.json IMPEDANCE.txt [--out FILE]

What a built box became, by the impedance at its driver's terminals (freq, ohm[, degrees]) held
against its plan (SPEC.json as for fair box; sealed or vented). The driver's mass and motor are
the spec's, its compliance is found. Writes JSON {volume_l, tuned_hz, ql, compliance_ratio,
misfit_percent, std_error:{volume_l, tuned_hz, ql, compliance_ratio}, differences:[{what:
"volume", "port", "leak" or "driver", by_percent, advice}]}; tuned_hz is null for a sealed box.
With a misfit over ${100 * mostMisfit} % no difference is told.

  --out FILE     write to FILE instead of standard output

Example:
  fair built docs/examples/built.json docs/examples/built.txt`,
  run(args) {
    const { values, positionals } = readArguments('built', args, { out: { type: 'string' } }, 2);
    const [specPath, tablePath] = positionals;
    const { driver, enclosure, air } = systemOf(
      'built',
      specPath,
      readSpec('built', specPath, boxSpecSchema),
    );
    if (enclosure.kind !== 'sealed' && enclosure.kind !== 'vented')
      throw unreadableSpec(
        'built',
        specPath,
        ['enclosure', 'type'],
        'Only a sealed or a vented box can be told from its impedance.',
      );
    const impedance = readImpedance(tablePath);
    if (enclosure.kind === 'vented' && peakCount(impedance, bandTimes * driver.fsHz) < 2)
      throw problem('one_peak_of_a_vented_box', tablePath, ...onePeak);
    let found: MeasuredBox;
    try {
      found = fitMeasuredBox({ driver, enclosure, air }, impedance);
    } catch (error) {
      if (!(error instanceof RangeError)) throw error;
      throw problem('box_not_in_impedance', tablePath, error.message, '', '');
    }
    emit(`${JSON.stringify(reportOf(enclosure, air, found), null, 2)}\n`, values.out);
  },
};

type Planned = Extract<Enclosure, { kind: 'sealed' | 'vented' }>;

function reportOf(plan: Planned, air: Air, found: MeasuredBox) {
  const { volumeM3, tunedHz, ql, compliance, misfit } = found;
  const litres = 1000 * volumeM3.value;
  return {
    volume_l: litres,
    tuned_hz: tunedHz?.value ?? null,
    ql: ql.value,
    compliance_ratio: compliance.value,
    misfit_percent: 100 * misfit,
    std_error: {
      volume_l: litres * volumeM3.standardError,
      tuned_hz: tunedHz && tunedHz.value * tunedHz.standardError,
      ql: ql.value * ql.standardError,
      compliance_ratio: compliance.value * compliance.standardError,
    },
    differences: boxDifferences(plan, found).map((one) => ({
      what: one.kind,
      by_percent: 100 * (one.ratio - 1),
      advice: `${toldDifference(one, plan)}${toCut(one, plan, air, found)}`,
    })),
  };
}

/** What a port that acts otherwise is to be cut to. */
function toCut({ kind }: BoxDifference, plan: Planned, air: Air, found: MeasuredBox): string {
  if (kind !== 'port' || plan.kind !== 'vented') return '';
  const wantedHz = tuningHz(plan.volumeM3, plan.port, air);
  const mm = 1000 * correctedLengthM(found, plan.port.lengthM, wantedHz, air);
  return mm < 0
    ? ' No port of this width tunes this box so high.'
    : ` For ${wantedHz.toFixed(1)} Hz make it ${mm.toFixed(0)} mm long.`;
}
