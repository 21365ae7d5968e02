/**
 * npm run bench: how fast the core is, as ratios that hold on any machine. Never a test.
 * Compares with ngspice on the same netlist and sweep when that is installed.
 */
import { benchBox } from './benchBox';
import { micro, say, timings } from './lib/benchTold';
import { execFileSync, spawnSync } from 'node:child_process';
import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import direct from 'ml-direct';
import { createFitter, fitDesign, fitGridHz } from '@/core/fitting/fit';
import { goalOf, type Goal, type Limit } from '@/core/fitting/goal';
import { limitedTo } from '@/core/fitting/limits';
import { createFitInputs } from '@/core/fitting/inputs';
import { createFitModel } from '@/core/fitting/model';
import { variablesOf } from '@/core/fitting/variables';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design } from '@/core/document/schema';
import { createExploration, explore, tryNetwork } from '@/core/fitting/explore';
import { solvableOf } from '@/core/prediction/solvable';
import { createBaffleDiffraction } from '@/core/baffle/diffraction/baffleDiffraction';
import { observerAt, type Plane } from '@/core/baffle/diffraction/observer';
import { rectangle, sharpEdge, type BaffleShape } from '@/core/baffle/shape';
import { searchPlaces } from '@/core/layout/placeSearch';
import { createBaffleViews } from '@/core/layout/view';
import { createBlockSensitivity } from '@/core/network/blockSensitivity';
import type { Sensitivity } from '@/core/network/sensitivity';
import { createTreeSensitivity } from '@/core/network/treeSensitivity';
import { withNetwork, type NetworkRecipe } from '@/core/fitting/grammar';
import { logGrid } from '@/core/grid/logGrid';
import { applyChange } from '@/core/editing/applyChange';
import { createPredictor } from '@/core/prediction/predict';
import { judge } from '@/core/promises/judge';
import { promisesOf } from '@/core/promises/promisesOf';
import { judgedPromisesOf } from '@/core/promises/judgedPromises';
import { readDesign } from '@/core/document/readDesign';
import { listeningWindow } from '@/core/radiation/cta2034';
import { planNetwork } from '@/core/network/plan';
import type { Probe } from '@/core/network/outputs';
import { createSolver } from '@/core/network/solver';
import { readSpice } from '@/core/network/spice';
import { createAroundViews } from '@/core/around/orbits';
import { createJointScorer, jointSearch } from '@/core/around/jointSearch';
import { allFree, readDemo, withOffAxis } from '../tests/fixtures';

const root = join(import.meta.dirname, '..');
const circuit = readFileSync(join(root, 'tests/references/net/n02_3way_common_mutual.cir'), 'utf8');
const probes: Probe[] = ['wp', 'mp', 'tp'].map((plus) => ({ kind: 'voltage', plus, minus: '0' }));

function benchSolver(): number {
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

function benchAgainstNgspice(oursPerPointMs: number): void {
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

/** A three-way of 14 free parts, from textbook values. */
function benchFit(): void {
  const { design, data } = readDemo();
  const { outlines, goal } = createExploration(design, data, limitedTo(14));
  const plain = { pad: 'none', correction: 'none', trap: 'none', isReversed: false } as const;
  const [low, middle, high] = outlines.map(({ driver }) => driver.id);
  const recipe: NetworkRecipe = {
    ways: [
      { ...plain, driverId: low, highPass: 0, lowPass: 2 },
      { ...plain, driverId: middle, highPass: 2, lowPass: 2, pad: 'divider', isReversed: true },
      { ...plain, driverId: high, highPass: 3, lowPass: 0, trap: 'shunt' },
    ],
    crossHz: [350, 3000],
  };
  const start = withNetwork(design, recipe, outlines);
  benchEvaluation(start, data, goal);
  for (const starts of [[0], [0, 1, 2, 3, 4, 5, 6, 7]]) {
    const began = performance.now();
    const { evaluations, before, merit } = fitDesign(start, data, { seed: 1, starts }, goal);
    const parts = start.ways.flatMap((way) => way.parts).length;
    say(
      `fit of ${parts} parts, every polarity, ${starts.length} start${starts.length === 1 ? '' : 's'}`,
      `${(performance.now() - began).toFixed(0)} ms, ${evaluations} networks, ${before.merit.toFixed(2)} → ${merit.toFixed(2)} dB`,
    );
  }
  benchWithoutGradients(start, data, goal);
  const wide = withOffAxis(start, data);
  const began = performance.now();
  const found = fitDesign(wide.design, wide.data, { seed: 1, starts: [0] }, goal);
  say(
    `the same with the listening window: ${listeningWindow.length + 1} observations, 1 start`,
    `${(performance.now() - began).toFixed(0)} ms, ${found.evaluations} networks, window within ${found.figures.windowDb!.toFixed(2)} dB`,
  );
}

/**
 * One evaluation of a fit with all derivatives, and where its time goes: the solution and its
 * adjoints in the fast way of trees, beside the same through the machine code of any topology.
 */
function benchEvaluation(start: Design, data: MeasurementData, goal: Goal): void {
  const variables = variablesOf(start);
  const inputs = createFitInputs(fitGridHz());
  const model = createFitModel(start, data, goal, variables, inputs);
  const whole = timings(() => model.evaluate(model.start, true), 2000);
  const plain = timings(() => model.evaluate(model.start, false), 2000);
  const circuit = solvableOf(start, data, inputs.condition, inputs.ofWays)!;
  const args = [
    circuit.netlist,
    circuit.loads,
    circuit.probes,
    variables.map(({ part }) => part.name),
    inputs.frequencyHz,
  ] as const;
  const losses = new Float64Array(variables.length);
  const solved = (one: Sensitivity) =>
    timings(() => {
      one.solve(circuit.netlist, losses);
      circuit.probes.forEach((_, probe) => one.slopes(probe));
    }, 1000);
  const tree = solved(createTreeSensitivity(...args)!);
  const block = solved(createBlockSensitivity(...args));
  const share = (ms: number) => `${micro(ms)}, ${((100 * ms) / whole.medianMs).toFixed(0)} %`;
  say(
    `one evaluation with derivatives, ${variables.length} parts, ${inputs.frequencyHz.length} points`,
    `${micro(whole.medianMs)}; without ${micro(plain.medianMs)}`,
  );
  say('  of which solution, and slopes of drivers and load', share(tree.medianMs));
  say('  the same by the machine code for any topology', share(block.medianMs));
}

/** A whole search of the demo in one process; on the queue in the second half. */
/** A part nudged: both orbits, all curves and figures; a fit with both orbits against one on axis. */
function benchAround(): void {
  const { design, data } = readDemo();
  const viewOf = createAroundViews();
  const wish = { stepDeg: 5, withinDb: 1.5 } as const;
  const nudged = (k: number) =>
    applyChange(design, { type: 'setPartValue', id: 'c4', value: 5.6e-6 * (1 + 1e-3 * (k % 7)) });
  let k = 0;
  const { medianMs, p95Ms } = timings(() => void viewOf(nudged(k++), data, wish), 40);
  say(
    'around, a value moved: 142 angles × 240 points, 3 ways (aim 16 ms)',
    `median ${medianMs.toFixed(1)} ms, 95 % within ${p95Ms.toFixed(1)} ms`,
  );
  const free = allFree(design);
  const whole = goalOf(free);
  const isAround = ({ kind }: Limit) => kind === 'window' || kind === 'straight';
  const onAxis = { ...whole, limits: whole.limits.filter((limit) => !isAround(limit)) };
  const perNetwork = (goal: Goal) => {
    const fitter = createFitter(
      createFitModel(free, data, goal, variablesOf(free), createFitInputs(fitGridHz())),
    );
    const { start } = fitter.model;
    return timings(() => fitter.model.evaluate(start, true), 200).medianMs;
  };
  const [axisMs, aroundMs] = [perNetwork(onAxis), perNetwork(whole)];
  say(
    'a network of a fit with window and directivity against axis alone (aim 3)',
    `${(aroundMs / axisMs).toFixed(2)} × (${micro(aroundMs)} against ${micro(axisMs)})`,
  );
}

/** Layout and network of the demo together, on one core. */
async function benchJointSearch(): Promise<void> {
  const { design, data } = readDemo();
  const wish = {
    panelId: 'front',
    moves: [
      { driverId: 'tweeter', asideMm: 40, upMm: 40, depthMm: 20 },
      { driverId: 'midrange', asideMm: 0, upMm: 40, depthMm: 0 },
    ],
    ...{ narrowestMm: 270, widestMm: 330, largestRadiusMm: 40, seed: 1 },
  };
  const score = createJointScorer(design, data, wish);
  const began = performance.now();
  const found = await jointSearch(
    design,
    wish,
    (tasks) => Promise.resolve(tasks.map(score)),
    () => undefined,
  );
  say(
    'layout and network of the demo in one search, one core (aim 2 min on two)',
    `${((performance.now() - began) / 1000).toFixed(0)} s, ${found?.tried} layouts, axis ±${found?.before.axisDb.toFixed(2)} → ±${found?.best.axisDb.toFixed(2)} dB`,
  );
}

async function benchSearch(): Promise<void> {
  const { design, data } = readDemo();
  const exploration = createExploration(design, data, limitedTo(13));
  const began = performance.now();
  const { networks, tried } = await explore(exploration, ({ tries, effort }) =>
    Promise.resolve(tries.flatMap((wish) => tryNetwork(exploration, wish, effort) ?? [])),
  );
  const oneMs = performance.now() - began;
  const best = Math.min(...networks.map(({ figures }) => figures.deviationDb));
  say(
    'search of the demo, 13 parts, one process',
    `${(oneMs / 1000).toFixed(1)} s, ${tried} networks, best ±${best.toFixed(2)} dB`,
  );
}

/**
 * The same problem for a general package that needs no derivatives (ml-direct: dividing rectangles,
 * Jones et al. 1993), given as many networks as it takes until it is as good as eight starts of
 * ours, or twenty thousand.
 */
function benchWithoutGradients(start: Design, data: MeasurementData, goal: Goal): void {
  const variables = variablesOf(start);
  const model = createFitModel(start, data, goal, variables, createFitInputs(fitGridHz()));
  const fitter = createFitter(model);
  const began = performance.now();
  const ours = fitDesign(start, data, { seed: 1, starts: [0, 1, 2, 3, 4, 5, 6, 7] }, goal);
  const oursMs = performance.now() - began;
  let count = 0;
  const meritOf = (values: ArrayLike<number>) => {
    count++;
    const merit = fitter.meritAt(Float64Array.from(values));
    return Number.isFinite(merit) ? merit : 1e6;
  };
  const theirsBegan = performance.now();
  let state = direct(meritOf, [...model.lower], [...model.upper], { iterations: 10 });
  while (state.minFunctionValue > ours.merit && count < 20_000)
    state = direct(meritOf, [...model.lower], [...model.upper], {
      iterations: 10,
      initialState: state.finalState as unknown,
    });
  const theirsMs = performance.now() - theirsBegan;
  say(
    'the same without derivatives (ml-direct)',
    `${(theirsMs / oursMs).toFixed(0)} × the time, ${count} networks, ${state.minFunctionValue.toFixed(2)} against ${ours.merit.toFixed(2)} dB`,
  );
}

/** One value of the demo moved: what the worker does between a key stroke and new curves. */
function benchPrediction(): void {
  const { design, data } = readDemo();
  const predict = createPredictor();
  const values = [3.3e-3, 3.6e-3].map((value) =>
    applyChange(design, { type: 'setPartValue', id: 'l1', value }),
  );
  let turn = 0;
  const nudging = timings(() => predict(values[turn++ % 2], data), 1000);
  const whole = timings(() => {
    const varied = values[turn++ % 2];
    judgedPromisesOf(varied, predict(varied, data));
  }, 1000);
  say(
    'one value of the demo moved, 479 points, with promises, median / 95 %',
    `${micro(whole.medianMs)} / ${micro(whole.p95Ms)}`,
  );
  const prediction = predict(design, data);
  const promises = promisesOf(design);
  const shares: [string, number][] = [
    ['prediction', nudging.medianMs],
    ['promises of the brief', timings(() => promisesOf(design), 1000).medianMs],
    ['verdicts', timings(() => judge(prediction, promises), 1000).medianMs],
  ];
  for (const [step, ms] of shares)
    say(`  ${step}`, `${micro(ms)}, ${((100 * ms) / whole.medianMs).toFixed(0)} %`);
  const checking = timings(() => readDesign(design, 'desk'), 1000);
  say('of which checking the document would add', micro(checking.medianMs));
}

/** A driver that is dragged over a sharp box, and both its orbits. */
function benchDiffraction(): void {
  const grid = logGrid(20, 20_000, 24);
  const shape: BaffleShape = {
    outline: rectangle(0.3, 0.71),
    edges: [sharpEdge, sharpEdge, sharpEdge, sharpEdge],
    depthM: 0.3,
  };
  let at = 0;
  const placed = () => ({ x: 0.1 + 1e-5 * (at++ % 1000), y: 0.6, radiusM: 0.0125 });
  const on = (angle: number, plane: Plane) => observerAt(placed(), plane, angle, 'far');
  const onAxis = timings(
    () => createBaffleDiffraction(shape, placed(), grid, 343).toward(on(0, 'H')),
    200,
  );
  const box = createBaffleDiffraction(shape, placed(), grid, 343);
  const orbits = timings(() => {
    for (const plane of ['H', 'V'] as const)
      for (let angle = -180; angle < 180; angle += 10) box.toward(on(angle, plane));
  }, 10);
  say(
    `diffraction of a box on axis, ${grid.length} points, from a new place, median / 95 %`,
    `${micro(onAxis.medianMs)} / ${micro(onAxis.p95Ms)}`,
  );
  say('  both orbits, 72 angles', micro(orbits.medianMs));
  benchLayout();
}

/** The demo's tweeter dragged over its front: what the screen asks for; and a search for places. */
function benchLayout(): void {
  const { design } = readDemo();
  const viewOf = createBaffleViews();
  let at = 0;
  const dragged = () =>
    applyChange(design, {
      type: 'editDriver',
      id: 'tweeter',
      set: { position: { xMm: 0.01 * (at++ % 1000), yMm: 66, zMm: -4 } },
    });
  const view = (degrees: readonly number[]) =>
    timings(
      () =>
        viewOf(dragged(), {
          driverId: 'tweeter',
          directions: degrees.map((one) => ({ plane: 'horizontal', degrees: one })),
          atHz: 1000,
        }),
      100,
    );
  say('  what the screen shows of a dragged driver: axis and edges', micro(view([]).medianMs));
  say('  the same with four angles', micro(view([0, 30, 60, 90]).medianMs));
  const began = performance.now();
  const search = searchPlaces(design, {
    panelId: 'front',
    movable: design.drivers.map(({ id }) => id),
    bands: new Map(),
    narrowestMm: 280,
    widestMm: 340,
    largestRadiusMm: 25,
  });
  for (;;) {
    const { done, value } = search.next();
    if (!done) continue;
    say(
      '  search for places: three drivers, four widths, two radii',
      `${((performance.now() - began) / 1000).toFixed(1)} s, ${value.before.meritDb.toFixed(2)} to ${value.best.meritDb.toFixed(2)} dB rms`,
    );
    break;
  }
}

const perPointMs = benchSolver();
benchPrediction();
benchFit();
benchDiffraction();
benchBox();
benchAround();
await benchJointSearch();
await benchSearch();
benchAgainstNgspice(perPointMs);
