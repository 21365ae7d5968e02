import { designOn, frontOf, mountedDriver } from '../../../tests/baffles';
import { panelHoles } from '@/core/cabinet/holes';
import { coneAround } from '@/core/cabinet/neck';
import { layoutFindings } from './findings';

const cone = mountedDriver('cone', 0, 50, { frameMm: 170, cutoutMm: 146 }, 137);
const domeAt = (yMm: number, kind: 'flush' | 'waveguide' = 'flush') =>
  mountedDriver('dome', 0, yMm, { kind, byMm: 30, mouthMm: 130, frameMm: 50, cutoutMm: 45 }, 7);
const codesOf = (dome: ReturnType<typeof domeAt>) =>
  layoutFindings(designOn(frontOf(220, 400), cone, dome), null).map(({ code }) => code);

test('a dome in the neck of a cone goes through its hole, and is asked for the waveguide that the cone is', () => {
  const design = designOn(frontOf(220, 400), cone, domeAt(50));
  expect(coneAround(design.drivers[1], design.drivers)).toBe(design.drivers[0]);
  expect(coneAround(design.drivers[0], design.drivers)).toBeUndefined();
  expect(panelHoles(design, design.panels[0]).map(({ what }) => what)).toEqual(['cone']);
  expect(codesOf(domeAt(50))).toContain('dome_in_neck');
  expect(codesOf(domeAt(50, 'waveguide'))).not.toContain('dome_in_neck');
});

test('a dome beside a cone is none of it', () => {
  const design = designOn(frontOf(220, 400), cone, domeAt(-90));
  expect(coneAround(design.drivers[1], design.drivers)).toBeUndefined();
  expect(panelHoles(design, design.panels[0])).toHaveLength(2);
  expect(codesOf(domeAt(-90))).not.toContain('dome_in_neck');
});
