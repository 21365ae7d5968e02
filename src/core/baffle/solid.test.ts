import { cut, dot, lengthOf, minus, prism, type Solid } from './solid';
import { rectangle } from './shape';

const box = prism(rectangle(0.2, 0.3), 0.25);

/** Every edge once, faces flat, and as many corners as Euler's formula asks for. */
function expectWhole(solid: Solid) {
  const corners = new Set(
    solid.faces.flatMap(({ corners: all }) =>
      all.map(({ x, y, z }) => [x, y, z].map((value) => value.toFixed(8)).join(' ')),
    ),
  );
  expect(corners.size - solid.edges.length + solid.faces.length).toBe(2);
  for (const { corners: all, normal } of solid.faces)
    for (const corner of all)
      expect(Math.abs(dot(minus(corner, all[0]), normal))).toBeLessThan(1e-9);
  // The normal of each face leads away from the middle.
  for (const { corners: all, normal } of solid.faces)
    expect(dot(minus(all[0], { x: 0.1, y: 0.15, z: -0.125 }), normal)).toBeGreaterThan(0);
}

test('a box has six faces and twelve edges with three quarters of air around each', () => {
  expectWhole(box);
  expect([box.faces.length, box.edges.length]).toEqual([6, 12]);
  for (const { airAngle, sides } of box.edges) {
    expect(airAngle).toBeCloseTo(1.5 * Math.PI, 12);
    // Across each face leads into it: toward its middle.
    for (const { face, into, normal } of sides) {
      expect(dot(into, normal)).toBeCloseTo(0, 12);
      expect(lengthOf(into)).toBeCloseTo(1, 12);
      expect(normal).toEqual(box.faces[face].normal);
    }
  }
});

test('a face across its edge is where the edge says it is', () => {
  for (const { from, sides } of box.edges)
    for (const { face, into } of sides) {
      const { corners } = box.faces[face];
      const middle = corners.reduce(
        (sum, { x, y, z }) => ({ x: sum.x + x / 4, y: sum.y + y / 4, z: sum.z + z / 4 }),
        { x: 0, y: 0, z: 0 },
      );
      expect(dot(minus(middle, from), into)).toBeGreaterThan(0.05);
    }
});

test('what is cut by a plane has one face more, and all of it lies below', () => {
  const slope = Math.SQRT1_2;
  const plane = { normal: { x: -slope, y: 0, z: slope }, offset: -0.02 * slope };
  const chamfered = cut(box, plane);
  expectWhole(chamfered);
  expect([chamfered.faces.length, chamfered.edges.length]).toEqual([7, 15]);
  for (const { corners } of chamfered.faces)
    for (const corner of corners)
      expect(dot(corner, plane.normal)).toBeLessThan(plane.offset + 1e-8);
  expect(cut(box, { normal: { x: 1, y: 0, z: 0 }, offset: 0.5 })).toBe(box);
  // Its opposite too, and both meet the one above.
  const twice = cut(chamfered, {
    normal: { x: 0, y: slope, z: slope },
    offset: (0.3 - 0.03) * slope,
  });
  expectWhole(twice);
  expect(twice.faces).toHaveLength(8);
});
