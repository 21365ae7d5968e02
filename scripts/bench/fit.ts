/** npm run bench: fits and the search of networks. */
import { micro, say, timings } from './told';
import direct from 'ml-direct';
import { createFitter, fitDesign, fitGridHz } from '@/core/fitting/fit';
import { type Goal } from '@/core/fitting/goal';
import { limitedTo } from '@/core/fitting/limits';
import { createFitInputs } from '@/core/fitting/inputs';
import { createFitModel } from '@/core/fitting/model';
import { variablesOf } from '@/core/fitting/variables';
import type { MeasurementData } from '@/core/measurement/samples';
import type { Design } from '@/core/document/schema';
import { createExploration, explore, tryNetwork } from '@/core/exploration/explore';
import { solvableOf } from '@/core/prediction/solvable';
import { createBlockSensitivity } from '@/core/network/blockSensitivity';
import type { Sensitivity } from '@/core/network/sensitivity';
import { createTreeSensitivity } from '@/core/network/treeSensitivity';
import { withNetwork, type NetworkRecipe } from '@/core/filters/grammar';
import { listeningWindow } from '@/core/radiation/cta2034';
import { readDemo, withOffAxis } from '../../tests/fixtures';

/** A three-way of 14 free parts, from textbook values. */
export function benchFit(): void {
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

/**
 * The same problem for a general package that needs no derivatives (ml-direct: dividing rectangles,
 * Jones et al. 1993), given as long as it takes until it is as good as eight starts of ours, or ten
 * times the time of these.
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
    // No two alike: the package's hull does not end among equal values.
    return (Number.isFinite(merit) ? merit : 1e6) + 1e-9 * count;
  };
  const theirsBegan = performance.now();
  const isInTime = () => performance.now() - theirsBegan < 10 * oursMs;
  let state = direct(meritOf, [...model.lower], [...model.upper], { iterations: 1 });
  while (state.minFunctionValue > ours.merit && isInTime())
    state = direct(meritOf, [...model.lower], [...model.upper], {
      iterations: 1,
      initialState: state.finalState as unknown,
    });
  const theirsMs = performance.now() - theirsBegan;
  say(
    'the same without derivatives (ml-direct)',
    `${(theirsMs / oursMs).toFixed(0)} × the time, ${count} networks, ${state.minFunctionValue.toFixed(2)} against ${ours.merit.toFixed(2)} dB`,
  );
}

/** A whole search of the demo in one process; on the queue in the second half. */
export async function benchSearch(): Promise<void> {
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
