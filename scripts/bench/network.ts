/** npm run bench: the network, and ngspice on the same netlist and sweep. */
import { micro, say, timings } from './told';
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { logGrid } from '@/core/grid/logGrid';
import { planNetwork } from '@/core/network/plan';
import type { Probe } from '@/core/network/outputs';
import { createSolver } from '@/core/network/solver';
import { readSpice } from '@/core/network/spice';

const root = join(import.meta.dirname, '../..');
const circuit = readFileSync(join(root, 'tests/references/net/n02_3way_common_mutual.cir'), 'utf8');
const probes: Probe[] = ['wp', 'mp', 'tp'].map((plus) => ({ kind: 'voltage', plus, minus: '0' }));

export function benchSolver(): number {
  const { netlist } = readSpice(circuit, 'n02.cir');
  const frequencyHz = logGrid(20, 20_000, 48);
  const plan = planNetwork(netlist);
  const solver = createSolver(plan, netlist, new Map(), probes, frequencyHz);
  const planning = timings(() => planNetwork(netlist), 200);
  const solving = timings(() => solver.solve(netlist), 2000);
  say(
    `network: ${netlist.elements.length} elements, ${plan.unknownCount} unknowns, ${plan.slotCount} entries, points`,
    String(frequencyHz.length),
  );
  say('planning the topology, median', micro(planning.medianMs));
  say('solving the sweep, median / 95 %', `${micro(solving.medianMs)} / ${micro(solving.p95Ms)}`);
  say('solve time per point', micro(solving.medianMs / frequencyHz.length));
  const { gc } = globalThis;
  if (gc) {
    gc();
    const before = process.memoryUsage().heapUsed;
    const count = 20_000;
    for (let i = 0; i < count; i++) solver.solve(netlist);
    say(
      'bytes allocated per solve',
      ((process.memoryUsage().heapUsed - before) / count).toFixed(2),
    );
  }
  return solving.medianMs / frequencyHz.length;
}

/** ngspice on a sweep of `points` frequencies, whole process in milliseconds, best of five. */
function ngspiceMs(folder: string, perOctave: number): number {
  const deck = circuit.replace(/^\.ac.*$/m, `.ac oct ${perOctave} 20 20k\n.save v(wp) v(mp) v(tp)`);
  const file = join(folder, `bench${perOctave}.cir`);
  writeFileSync(file, deck);
  const runs = Array.from({ length: 5 }, () => {
    const start = performance.now();
    execFileSync('ngspice', ['-b', '-r', join(folder, 'out.raw'), file], { stdio: 'ignore' });
    return performance.now() - start;
  });
  return Math.min(...runs);
}

export function benchAgainstNgspice(oursPerPointMs: number): void {
  if (spawnSync('ngspice', ['--version']).error) {
    say('speed against ngspice', 'ngspice is not installed (apt-get install ngspice)');
    return;
  }
  const folder = mkdtempSync(join(tmpdir(), 'fair-bench-'));
  try {
    const file = join(folder, 'ours.cir');
    writeFileSync(file, circuit);
    const [few, many] = [48, 48 * 200];
    const [fewMs, manyMs] = [ngspiceMs(folder, few), ngspiceMs(folder, many)];
    const perPoint =
      (manyMs - fewMs) / (logGrid(20, 20_000, many).length - logGrid(20, 20_000, few).length);
    const whole = timings(() => {
      execFileSync(
        process.execPath,
        [
          join(root, 'bin/fair.mjs'),
          'ac',
          file,
          '--probe',
          'v(wp)',
          '--probe',
          'v(mp)',
          '--probe',
          'v(tp)',
          '--from',
          '20',
          '--to',
          '20000',
          '--per-octave',
          '48',
        ],
        { stdio: 'ignore' },
      );
    }, 5);
    say('ngspice per point (slope between two long sweeps)', micro(perPoint));
    say('speed against ngspice, per point', `${(perPoint / oursPerPointMs).toFixed(1)} ×`);
    say(
      'speed against ngspice, whole process, 479 points',
      `${(fewMs / whole.medianMs).toFixed(2)} × (${fewMs.toFixed(0)} ms against ${whole.medianMs.toFixed(0)} ms)`,
    );
  } finally {
    rmSync(folder, { recursive: true });
  }
}
