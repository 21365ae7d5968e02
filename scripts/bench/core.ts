/**
 * npm run bench: how fast the core is, as ratios that hold on any machine. Never a test.
 * Compares with ngspice on the same netlist and sweep when that is installed.
 */
import { benchAround, benchJointSearch } from './around';
import { benchDiffraction } from './baffle';
import { benchBox } from './box';
import { benchFit, benchSearch } from './fit';
import { benchAgainstNgspice, benchSolver } from './network';
import { benchPrediction } from './prediction';

// First, as in the worker that predicts: what other networks make the engine compile slows it.
benchPrediction();
const perPointMs = benchSolver();
benchFit();
benchDiffraction();
benchBox();
benchAround();
await benchJointSearch();
await benchSearch();
benchAgainstNgspice(perPointMs);
