import { fitDriver } from '@/core/driver/parameters';
import type { DriverParameters, SecondRun } from '@/core/driver/thieleSmall';
import { problem } from '@/core/problem';
import { positiveOption, readArguments, type Command } from './command';
import { emit } from './input/files';
import { readImpedance } from './input/tables';

export const ts: Command = {
  help: `fair ts FREE.txt --sd-cm2 S [--re R] [--added-mass-g G MASS.txt | --box-l V BOX.txt]

Driver parameters from impedance in free air, alone or with a second run: with added mass,
or on a closed box of known volume. Least squares of the whole complex curves (Small 1972).
Writes JSON {fs_hz, qms, qes, qts, vas_l, mms_g, cms_mm_n, bl_tm, re_ohm, le_mh, le2_mh,
re2_ohm, semi_k, semi_n, rms_percent, std_error:{…}}; null where one run alone can't say.
Of a semi-inductance K(jw)^n, le_mh has the same reactance at 1 kHz.

  --sd-cm2 S                 effective area of the cone
  --re R                     resistance of the coil, when measured with direct current
  --added-mass-g G MASS.txt  impedance with G grams on the cone
  --box-l V BOX.txt          impedance on a closed box of V litres
  --lead-ohm R               resistance of leads that is in the tables (0)
  --out FILE                 write to FILE instead of standard output

Example:
  fair ts tests/references/ts/d1_woofer_free_noisy.csv --sd-cm2 226 --added-mass-g 15 tests/references/ts/d1_woofer_added_mass_noisy.csv`,
  run(args) {
    const hasSecond = args.some((arg) => /^--(?:added-mass-g|box-l)\b/.test(arg));
    const { values, positionals } = readArguments(
      'ts',
      args,
      {
        'sd-cm2': { type: 'string' },
        re: { type: 'string' },
        'added-mass-g': { type: 'string' },
        'box-l': { type: 'string' },
        'lead-ohm': { type: 'string' },
        out: { type: 'string' },
      },
      hasSecond ? 2 : 1,
    );
    const option = (name: 're' | 'added-mass-g' | 'box-l' | 'lead-ohm') =>
      values[name] === undefined ? null : positiveOption('ts', name, values[name]);
    const massG = option('added-mass-g');
    const boxLitres = option('box-l');
    if (massG !== null && boxLitres !== null)
      throw problem(
        'usage',
        'fair ts',
        'Both an added mass and a box are given.',
        'One second run is fitted.',
        'Give one of them.',
      );
    const [freeFile, secondFile] = inOrder(args, positionals);
    const second: SecondRun | null =
      massG !== null
        ? { kind: 'added-mass', samples: readImpedance(secondFile), massKg: massG / 1000 }
        : boxLitres !== null
          ? { kind: 'known-box', samples: readImpedance(secondFile), volumeM3: boxLitres / 1000 }
          : null;
    const { parameters, standardErrors, misfit } = fitDriver(readImpedance(freeFile), second, {
      sdM2: positiveOption('ts', 'sd-cm2', values['sd-cm2']) / 1e4,
      reOhm: option('re'),
      leadOhm: option('lead-ohm') ?? 0,
    });
    const report = {
      ...inUnits(parameters),
      rms_percent: 100 * misfit,
      std_error: inUnits(standardErrors),
    };
    emit(`${JSON.stringify(report, null, 2)}\n`, values.out);
  },
};

/** The file that follows the option of the second run is that run's, wherever it is. */
function inOrder(args: readonly string[], positionals: readonly string[]): readonly string[] {
  const at = args.findIndex((arg) => /^--(?:added-mass-g|box-l)(?:=|$)/.test(arg));
  const second = at < 0 ? undefined : args.at(args[at].includes('=') ? at + 1 : at + 2);
  return second === positionals[0] && positionals.length === 2
    ? [positionals[1], positionals[0]]
    : positionals;
}

function inUnits(p: DriverParameters) {
  const scaled = (value: number | null, factor: number) => (value === null ? null : value * factor);
  return {
    fs_hz: p.fsHz,
    qms: p.qms,
    qes: p.qes,
    qts: p.qts,
    vas_l: scaled(p.vasM3, 1000),
    mms_g: scaled(p.mmsKg, 1000),
    cms_mm_n: scaled(p.cmsMPerN, 1000),
    bl_tm: p.blTm,
    re_ohm: p.reOhm,
    le_mh: p.leHenry * 1000,
    le2_mh: scaled(p.le2Henry, 1000),
    re2_ohm: p.re2Ohm,
    semi_k: p.semiK,
    semi_n: p.semiN,
  };
}
