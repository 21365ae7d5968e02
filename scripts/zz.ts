import { readDemo } from '../tests/fixtures';
import { createExploration, firstCandidates, tryNetwork } from '@/core/fitting/explore';
import { limitedTo } from '@/core/fitting/limits';
const { design, data } = readDemo();
const ex = createExploration(design, data, limitedTo(14));
const all = firstCandidates(ex).filter((_, i) => i % 13 === 0);
const t0 = performance.now();
let best = Infinity; for (const r of all) best = Math.min(best, tryNetwork(ex, r, 'look')?.cost ?? Infinity);
console.log('look', (performance.now() - t0) / all.length, best);
