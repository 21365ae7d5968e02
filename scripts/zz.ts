import { readDemo } from '../tests/fixtures';
import { fitDesign, withFit } from '../src/core/fitting/fit';
import { goalOf } from '../src/core/fitting/goal';
import { createPredictor } from '../src/core/design/predict';
import { judge } from '../src/core/promises/judge';
import { promisesOf } from '../src/core/promises/promisesOf';
const { design, data } = readDemo();
const free = { ...design, ways: design.ways.map((w) => ({ ...w, parts: w.parts.map((p) => ({ ...p, fit: { ...p.fit, isFree: true } })) })) };
console.log(JSON.stringify(goalOf(free)));
for (const starts of [[0], [0,1,2,3,4,5,6,7]]) {
  const t = performance.now();
  const r = fitDesign(free, data, { seed: 1, starts });
  console.log((performance.now() - t).toFixed(0), 'ms', r.evaluations, r.before.cost.toFixed(3), r.before.figures, r.cost.toFixed(3), r.figures);
  const d = withFit(free, r);
  console.log(d.ways.map((w) => w.polarity + ' ' + w.parts.map((p) => p.name + '=' + (p.kind === 'resistor' ? p.ohms.toFixed(2) : p.kind === 'coil' ? (p.henries * 1e3).toFixed(3) : (p.farads * 1e6).toFixed(2))).join(' ')));
  console.log(judge(createPredictor()(d, data), promisesOf(d)).map((v) => v.kind + ' ' + v.value?.toFixed(2) + ' ' + v.isKept).join('; '));
}
