/** Each finding where it belongs, not where it does not, and gone once it is mended. */
import { readSession, withoutBaffle } from '../../../../tests/fixtures';
import { applyChange } from '@/core/editing/applyChange';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { createBoxViews } from '@/core/lows/view';
import type { BoxFinding } from './finding';
import { boxFindings } from './findings';

const session = readSession();
const { data } = session;
// Without edges to work out, every look is quick.
const design = withoutBaffle(session.design);
const [asBuilt] = design.boxes;
const looking = createBoxViews();

function found(change: Partial<Box>, within: Design = design): BoxFinding[] {
  const box = { ...asBuilt, ...change };
  const views = looking(within, [box], data);
  return boxFindings(within, box, views, views.views[0]);
}
const one = (all: readonly BoxFinding[], code: string) => all.find((each) => each.code === code);
const codes = (all: readonly BoxFinding[]) => all.map(({ code }) => code);
const shell = (change: Partial<Box['shell']>): Partial<Box> => ({
  shell: { ...asBuilt.shell, ...change },
});
const port = (change: Partial<Box['port']>, more: Partial<Box> = {}): Partial<Box> => ({
  ...{ kind: 'vented', fill: 'walls' },
  ...more,
  port: { ...asBuilt.port, ...change },
});
/** The box after what a finding offers; it must be of the box that was looked at. */
function mended({ offer }: BoxFinding, within: Design = design): Box {
  const changed = offer!.changes.reduce(applyChange, within);
  return changed.boxes.find(({ id }) => id === asBuilt.id)!;
}

test('every finding says what, why or how, in whole sentences and without loose ends', () => {
  const all = [
    found({}),
    found({ driverIds: [] }),
    found({ driverIds: ['woofer', 'midrange'] }),
    found({ isUsed: true, ...shell({ depthMm: 420 }) }),
    found({ fill: 'none' }),
    found(port({ lengthMm: 700 })),
    found(port({ diameterMm: 40, lengthMm: 60, heightMm: 20 }, { fill: 'none' })),
    found(port({}, { fill: 'full' })),
    found({ kind: 'passive-radiator' }),
    found({ kind: 'line' }),
    found({ kind: 'open-baffle' }),
  ].flat();
  expect(new Set(codes(all)).size).toBeGreaterThan(10);
  for (const { what, why, mend, offer } of all) {
    for (const text of [what, why, mend].filter((text) => text !== '')) {
      expect(text).toMatch(/^[^a-z ].*[.]$/);
      expect(text).not.toMatch(/NaN|undefined|null|Infinity| {2}/);
    }
    expect(what).not.toBe('');
    if (offer) expect(offer.told).toMatch(/^[A-Z].*[^.]$/);
  }
});

test('what stops the work comes first, advice last', () => {
  const order = { stops: 0, doubt: 1, advice: 2 };
  const ranks = found(port({ lengthMm: 700 }, { fill: 'full' })).map(
    (each) => order[each.severity],
  );
  expect(ranks).toEqual(ranks.toSorted((a, b) => a - b));
  expect(ranks[0]).toBe(0);
});

test('drivers that are unlike share a box under protest; two of a kind do not', () => {
  const unlike = one(found({ driverIds: ['woofer', 'midrange'] }), 'drivers_unlike');
  expect(unlike).toMatchObject({ severity: 'doubt', what: 'Midrange is not like Woofer.' });
  const twin = { ...design.drivers[0], id: 'twin', name: 'Twin' };
  const pair = { ...design, drivers: [...design.drivers, twin] };
  expect(codes(found({ driverIds: ['woofer', 'twin'] }, pair))).not.toContain('drivers_unlike');
});

test('a measurement whose box nobody told is doubted while its box is in use, and no longer once it is told', () => {
  const [woofer] = design.drivers;
  const used = applyChange(design, { type: 'setBox', box: { ...asBuilt, isUsed: true } });
  const untold = applyChange(used, {
    type: 'editMeasurement',
    id: woofer.responseId!,
    set: { inBox: { kind: 'unknown' } },
  });
  const doubt = one(found({ isUsed: true }, untold), 'measured_box_unknown');
  expect(doubt?.what).toBe('It is not said in which box the response of Woofer was measured.');
  expect(doubt?.why).toContain('200 Hz');
  expect(codes(found({ isUsed: true }, used))).not.toContain('measured_box_unknown');
  expect(codes(found({ isUsed: false }, untold))).not.toContain('measured_box_unknown');
});

describe('ports', () => {
  test('one that is longer than the room, one that ends too near, one that fits', () => {
    const long = one(found(port({ lengthMm: 700 })), 'port_too_long')!;
    expect(long.severity).toBe('stops');
    // 380 mm outside, of which walls take 41: 361 mm from the front’s face to the rear’s inside.
    expect(long.what).toBe('The port is 339 mm longer than the room inside.');
    const near = one(found(port({ lengthMm: 330 })), 'port_too_near');
    expect(near?.severity).toBe('doubt');
    const fits = codes(found(port({ lengthMm: 200 })));
    expect(fits).not.toContain('port_too_long');
    expect(fits).not.toContain('port_too_near');
    // With a bend it need not be as deep.
    expect(codes(found(port({ lengthMm: 330, bends: 1 })))).not.toContain('port_too_near');
  });

  test('a narrow one is loud at full excursion, and loud under programme when much is asked', () => {
    const narrow = found(port({ diameterMm: 40, lengthMm: 60 }));
    expect(codes(narrow)).toContain('port_small_at_full_excursion');
    const loud = {
      ...design,
      brief: { ...design.brief, loudnessDb: design.brief.loudnessDb! + 20 },
    };
    const noisy = one(found(port({ diameterMm: 40, lengthMm: 60 }), loud), 'port_noisy');
    expect(noisy?.what).toMatch(/^Air in the port reaches \d+ m\/s under programme\.$/);
    expect(codes(found(port({ diameterMm: 120, lengthMm: 260 }), loud))).not.toContain(
      'port_noisy',
    );
  });

  test('its own pipe resonance is told with where it is', () => {
    const long = one(found(port({ lengthMm: 300 })), 'port_pipe_mode');
    expect(long?.severity).toBe('advice');
    expect(long?.what).toMatch(/\d Hz|\d kHz/);
    expect(codes(found(port({ lengthMm: 80 })))).not.toContain('port_pipe_mode');
  });

  test('near the end of the height it lets the standing wave out; in the middle it does not', () => {
    const low = one(found(port({ heightMm: 40 })), 'port_at_pressure_maximum')!;
    const moved = mended(
      low,
      applyChange(design, { type: 'setBox', box: { ...asBuilt, ...port({ heightMm: 40 }) } }),
    );
    expect(moved.port.heightMm).toBe(Math.round((710 - 2 * 19) / 2));
    expect(codes(found(moved))).not.toContain('port_at_pressure_maximum');
  });

  test('below the tuning nothing holds the cone, where a sine of the amplifier moves it too far', () => {
    const free = one(found(port({ lengthMm: 120 })), 'below_tuning');
    expect(free?.what ?? free?.why).toMatch(/tuning|holds/);
    const weak = { ...design, brief: { ...design.brief, ratedWatts: 0.5 } };
    expect(codes(found(port({ lengthMm: 120 }), weak))).not.toContain('below_tuning');
  });

  test('a box that is filled to the port is emptied to its walls with one press', () => {
    const filled = one(found(port({}, { fill: 'full' })), 'vented_box_filled')!;
    const emptied = mended(filled);
    expect(emptied.fill).toBe('walls');
    expect(codes(found(port({}, { fill: 'walls' })))).not.toContain('vented_box_filled');
  });
});

describe('what moves', () => {
  test('a cone beyond its Xmax under programme, named with both figures', () => {
    const loud = {
      ...design,
      brief: { ...design.brief, loudnessDb: design.brief.loudnessDb! + 20 },
    };
    const over = one(found({}, loud), 'excursion_over_xmax')!;
    expect(over.what).toMatch(/^Woofer moves \d+\.\d mm under programme; its Xmax is 6\.5 mm\.$/);
    expect(codes(found({}))).not.toContain('excursion_over_xmax');
  });

  test('a passive cone that is too small for what the driver displaces', () => {
    const loud = {
      ...design,
      brief: { ...design.brief, loudnessDb: design.brief.loudnessDb! + 12 },
    };
    const small = { ...asBuilt.passive, sdCm2: 120, xmaxMm: 4 };
    expect(codes(found({ kind: 'passive-radiator', passive: small }, loud))).toContain(
      'passive_over_xmax',
    );
    const large = { ...asBuilt.passive, sdCm2: 700, count: 2, xmaxMm: 15 };
    expect(codes(found({ kind: 'passive-radiator', passive: large }))).not.toContain(
      'passive_over_xmax',
    );
  });
});

describe('inside', () => {
  test('bare walls and an empty sealed box are advised against', () => {
    expect(codes(found({ fill: 'none' }))).toContain('sealed_box_empty');
    expect(codes(found(port({}, { fill: 'none' })))).toContain('vented_box_bare');
    for (const fill of ['walls', 'half', 'full'] as const)
      expect(codes(found({ fill }))).not.toContain('sealed_box_empty');
  });

  test('standing waves that coincide are set apart, at the same volume', () => {
    const square = shell({ heightMm: 520, depthMm: 523, widthMm: 300 });
    const pair = one(found(square), 'modes_coincide')!;
    expect(pair.what).toContain('the height');
    const apart = mended(
      pair,
      applyChange(design, { type: 'setBox', box: { ...asBuilt, ...square } }),
    );
    expect(codes(found(apart))).not.toContain('modes_coincide');
    const litres = ({ widthMm, heightMm, depthMm }: Box['shell']) => widthMm * heightMm * depthMm;
    expect(litres(apart.shell) / litres(square.shell!)).toBeCloseTo(1, 2);
  });

  test('what sets standing waves apart keeps to the sizes that the brief allows', () => {
    const square = shell({ heightMm: 520, depthMm: 523, widthMm: 300 });
    const within = (brief: Partial<Design['brief']>): Design => ({
      ...design,
      brief: { ...design.brief, widthMm: null, heightMm: null, depthMm: null, ...brief },
    });
    const offered = (brief: Partial<Design['brief']>) => {
      const asked = within(brief);
      const pair = one(found(square, asked), 'modes_coincide')!;
      if (pair.offer === null) return null;
      return mended(pair, applyChange(asked, { type: 'setBox', box: { ...asBuilt, ...square } }))
        .shell;
    };
    const litres = ({ widthMm, heightMm, depthMm }: Box['shell']) => widthMm * heightMm * depthMm;
    for (const brief of [
      {},
      { heightMm: 520 },
      { depthMm: 523 },
      { heightMm: 520, widthMm: 300 },
      { heightMm: 520, depthMm: 523 },
    ]) {
      const apart = offered(brief)!;
      for (const [side, most] of Object.entries(brief))
        expect(apart[side as keyof typeof brief]).toBeLessThanOrEqual(most);
      expect(litres(apart)).toBeLessThanOrEqual(litres(square.shell!));
      expect(codes(found({ shell: apart }))).not.toContain('modes_coincide');
    }
    expect(offered({ widthMm: 300, heightMm: 520, depthMm: 523 })).toBeNull();
  });

  test('a line that is more than its box holds is told, and the box made deeper where it may be', () => {
    const pipe = (areaCm2: number): Partial<Box> => ({
      kind: 'line',
      pipe: { ...asBuilt.pipe, segments: [{ lengthMm: 2000, areaCm2, flowResistivity: 1000 }] },
    });
    const unbound = { ...design, brief: { ...design.brief, depthMm: null } };
    const large = one(found(pipe(900), unbound), 'line_too_large')!;
    expect(large.what).toMatch(/^The line is 180\.0 l; the box has [\d.]+ l for it\.$/);
    const deeper = mended(
      large,
      applyChange(unbound, { type: 'setBox', box: { ...asBuilt, ...pipe(900) } }),
    );
    expect(codes(found(deeper, unbound))).not.toContain('line_too_large');
    expect(deeper.pipe).toEqual(pipe(900).pipe);
    const bound = { ...design, brief: { ...design.brief, depthMm: asBuilt.shell.depthMm } };
    expect(one(found(pipe(900), bound), 'line_too_large')!.offer).toBeNull();
    expect(codes(found(pipe(100)))).not.toContain('line_too_large');
  });

  test('a large thin wall is braced with one press; the offer halves its span', () => {
    const weak = shell({ wallMm: 12, material: 'mdf' });
    const wall = one(found(weak), 'wall_resonance')!;
    const braced = mended(
      wall,
      applyChange(design, { type: 'setBox', box: { ...asBuilt, ...weak } }),
    );
    expect(braced.shell.braces).toHaveLength(1);
    const after = one(found(braced), 'wall_resonance');
    const lowest = (text: string) => Number(/at (\d+)–/.exec(text)![1]);
    if (after) expect(lowest(after.what)).toBeGreaterThan(1.2 * lowest(wall.what));
    expect(
      codes(found(shell({ wallMm: 40, frontMm: 40, material: 'birch-plywood' }))),
    ).not.toContain('wall_resonance');
  });

  test('an open baffle and a line are not told of the waves in a box', () => {
    for (const kind of ['open-baffle', 'line'] as const) {
      const told = codes(found({ kind, ...shell({ heightMm: 520, depthMm: 523 }) }));
      expect(told).not.toContain('modes_coincide');
      expect(told).not.toContain('sealed_box_empty');
    }
  });
});
