/**
 * ESLint rule: no file of src imports itself through others, not even for types. What two rooms
 * need of each other stands in the wrong one of them.
 */
import { existsSync, readdirSync, readFileSync } from 'node:fs';
import { dirname, join, relative, resolve } from 'node:path';

const root = resolve(import.meta.dirname, '../..');
const importPattern =
  /(?:^|\n)\s*(?:import|export)\b[^;'"]*?from\s+['"]([^'"]+)['"]|\bimport\(\s*['"]([^'"]+)['"]/g;

/** File that an import of the project names; null for a package. */
function target(from, name) {
  const base = name.startsWith('@/')
    ? join(root, 'src', name.slice(2))
    : name.startsWith('.')
      ? resolve(dirname(from), name)
      : null;
  if (base === null) return null;
  return (
    [base, `${base}.ts`, `${base}.tsx`].find((path) => /\.tsx?$/.test(path) && existsSync(path)) ??
    null
  );
}

/** Which files each file of src imports. */
function importGraph() {
  const graph = new Map();
  for (const name of readdirSync(join(root, 'src'), { recursive: true })) {
    if (!/\.tsx?$/.test(name)) continue;
    const path = join(root, 'src', name);
    const found = [...readFileSync(path, 'utf8').matchAll(importPattern)]
      .map(([, plain, dynamic]) => target(path, plain ?? dynamic))
      .filter((one) => one !== null);
    graph.set(path, new Set(found));
  }
  return graph;
}

/** Shortest way from a file back to itself, the file at both ends; null when there is none. */
export function cycleOf(graph, start) {
  const before = new Map();
  const waiting = [start];
  for (let at = waiting.shift(); at !== undefined; at = waiting.shift())
    for (const next of graph.get(at) ?? []) {
      if (next === start) {
        const way = [start];
        for (let step = at; step !== start; step = before.get(step)) way.unshift(step);
        return [start, ...way];
      }
      if (before.has(next)) continue;
      before.set(next, at);
      waiting.push(next);
    }
  return null;
}

let graph = null;

export const noCycles = {
  meta: { type: 'problem', schema: [], messages: { cycle: 'Imports run in a circle: {{way}}.' } },
  create(context) {
    graph ??= importGraph();
    const cycle = cycleOf(graph, context.filename);
    if (!cycle) return {};
    const way = cycle.map((path) => relative(join(root, 'src'), path)).join(' → ');
    return { Program: (node) => context.report({ node, messageId: 'cycle', data: { way } }) };
  },
};
