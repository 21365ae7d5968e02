import { readFileSync } from 'node:fs';
import { join } from 'node:path';
import { readDesign } from '@/core/document/readDesign';
import { readNamedTable } from '@/core/formats/projectFile';
import { storeMeasurement } from './measurements';
import type { StoredProject } from '@/core/document/project';
import { createProject, findDemo, listProjects } from './projects';

/** The demo that is there, or a fresh one. */
export const openDemoProject = async (): Promise<StoredProject> =>
  (await findDemo()) ?? createDemoProject();

/**
 * A fresh project with the demo: the Reading Room's three drivers, their measurements and the
 * starting network. Its name has a number while there are others.
 */
export async function createDemoProject(): Promise<StoredProject> {
  const folder = join(process.cwd(), 'demo/reading-room');
  const path = join(folder, 'design.json');
  const design = readDesign(JSON.parse(readFileSync(path, 'utf8')), path);
  for (const { id, name, origin } of design.measurements) {
    const file = join(folder, origin.fileName);
    const { frequencyHz, magnitude, phaseDeg } = readNamedTable(
      new Uint8Array(readFileSync(file)),
      file,
      id,
      name,
    );
    await storeMeasurement(id, {
      frequencyHz: Array.from(frequencyHz),
      magnitude: Array.from(magnitude),
      phaseDeg: phaseDeg && Array.from(phaseDeg),
    });
  }
  const names = new Set((await listProjects()).map(({ name }) => name));
  let name = design.name;
  for (let number = 2; names.has(name); number++) name = `${design.name} ${number}`;
  return createProject({ ...design, name }, 0, null, true);
}
