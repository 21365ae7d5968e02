import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readDesign } from '@/core/document/readDesign';
import { readNamedTable } from '@/core/formats/projectFile';
import { storeMeasurement, withoutNumbers, type SamplesJson } from './measurements';
import type { StoredProject } from '@/core/log/project';
import type { Design } from '@/core/document/schema';
import { createProject, findDemo, projectNames } from './projects';

/** The demo that is there, or a fresh one. */
export const openDemoProject = async (): Promise<StoredProject> =>
  (await findDemo()) ?? createDemoProject();

interface Demo {
  readonly design: Design;
  readonly numbers: ReadonlyMap<string, SamplesJson>;
}

/** Read once: fresh copies are asked for again and again, and its files don’t change meanwhile. */
let read: Demo | null = null;

function readDemo(): Demo {
  const folder = join(process.cwd(), 'demo/reading-room');
  const path = join(folder, 'design.json');
  const design = readDesign(JSON.parse(readFileSync(path, 'utf8')), path);
  const numbers = new Map(
    design.measurements.map(({ id, name, origin }) => {
      const file = join(folder, origin.fileName);
      const { frequencyHz, magnitude, phaseDeg } = readNamedTable(
        new Uint8Array(readFileSync(file)),
        file,
        id,
        name,
      );
      return [
        id,
        {
          frequencyHz: Array.from(frequencyHz),
          magnitude: Array.from(magnitude),
          phaseDeg: phaseDeg && Array.from(phaseDeg),
        },
      ] as const;
    }),
  );
  return { design, numbers };
}

/**
 * A fresh project with the demo: the Reading Room's three drivers, their measurements and the
 * starting network. Its name has a number while there are others.
 */
export async function createDemoProject(): Promise<StoredProject> {
  const { design, numbers } = (read ??= readDemo());
  for (const id of await withoutNumbers([...numbers.keys()]))
    await storeMeasurement(id, numbers.get(id)!);
  const names = await projectNames();
  let name = design.name;
  for (let number = 2; names.has(name); number++) name = `${design.name} ${number}`;
  return createProject({ ...design, name }, 0, null, true);
}
