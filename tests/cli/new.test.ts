/** `fair new`: a spec and its tables as a project. */
import { cpSync, mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { unzipSync, strFromU8 } from 'fflate';
import type { Design } from '@/core/document/schema';
import { fair, root } from './run';

test('numbers that come again are no second angle: told, and the first one counts', () => {
  const folder = mkdtempSync(join(tmpdir(), 'fair-new-'));
  cpSync(join(root, 'demo/reading-room'), folder, { recursive: true });
  const spec = JSON.parse(readFileSync(join(folder, 'spec.json'), 'utf8')) as {
    drivers: { response: string; orbit?: object[] }[];
  };
  const at = (plane: 'H' | 'V', angle_deg: number) => ({
    ...{ file: spec.drivers[0].response, plane, angle_deg },
  });
  spec.drivers[2].orbit = [at('H', 30), at('H', -30), at('V', 30)];
  writeFileSync(join(folder, 'spec.json'), JSON.stringify(spec));
  const out = join(folder, 'out.zip');
  const { status, stderr } = fair('new', join(folder, 'spec.json'), '--out', out);
  expect(status).toBe(0);
  expect(stderr.match(/holds the numbers of .* at 30° H and is left out/g)).toHaveLength(2);
  const files = unzipSync(readFileSync(out));
  const { drivers } = JSON.parse(strFromU8(files['design.json'])) as Design;
  expect(drivers[2].offAxisIds).toHaveLength(1);
});
