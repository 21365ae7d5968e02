import { designOn, frontOf, mountedDriver } from '../../../tests/baffles';
import { measurementStatement } from '../../../tests/fixtures';
import type { Design } from '@/core/document/schema';
import { layoutOf } from './layouts';
import { measuredHere, toldSources } from './measuredHere';
import { orbitTable } from './orbitTable';

const id = 'a'.repeat(32);
const front = frontOf(200, 300);
const dome = { ...mountedDriver('dome', 0, 40), responseId: id };
const withStatement = (design: Design, set: object): Design => ({
  ...design,
  measurements: [{ ...measurementStatement(id, 'response'), ...set }],
});

test('what was measured and what is modelled is told for every way of measuring', () => {
  const design = designOn(front, dome);
  const told = (set: object) => toldSources(withStatement(design, set), dome).join(' ');
  expect(told({})).toMatch(/whatever baffle is in it\. Off the axis: modelled/);
  expect(told({ measuredOn: { kind: 'wall' } })).toMatch(
    /baffle step and edges of this front modelled/,
  );
  expect(told({ measuredOn: measuredHere(dome, front) })).toMatch(/on this front at this place/);
  const elsewhere = measuredHere({ ...dome, position: { ...dome.position, xMm: 30 } }, front);
  expect(told({ measuredOn: elsewhere })).toMatch(/divided out and this one multiplied in/);
  expect(toldSources(design, dome)[0]).toBe('No response yet.');
});

test('a layout is put onto another state of the design', () => {
  const before = designOn(front, dome);
  const layout = layoutOf(before);
  const moved = designOn(
    frontOf(260, 300),
    { ...dome, name: 'renamed', position: { xMm: 50, yMm: 0, zMm: 0 } },
    mountedDriver('later', 0, -80),
  );
  const back = layout.onto(moved);
  expect(back.panels).toEqual([front]);
  expect(back.drivers[0]).toMatchObject({ name: 'renamed', position: dome.position });
  expect(back.drivers[1].position.yMm).toBe(-80);
});

test('a table of orbits has no formulas and no stray columns', () => {
  const view = {
    driverId: 'dome',
    frequencyHz: Float64Array.of(100, 200),
    onAxisDb: Float64Array.of(0, 0),
    directions: [{ plane: 'vertical', degrees: -15 } as const],
    towardDb: [Float64Array.of(-6, -3)],
    acting: [],
  };
  const named = { drivers: [{ ...dome, name: '=1+1,"x"' }] };
  expect(orbitTable(named, [view, null])).toBe(
    'driver,freq_hz,plane,angle_deg,mag_db\n"\'=1+1,""x""",100.00,V,-15,-6.000\n"\'=1+1,""x""",200.00,V,-15,-3.000\n',
  );
});
