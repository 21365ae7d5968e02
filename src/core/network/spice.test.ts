import { parseProbe, parseSpiceNumber, readSpice } from './spice';

test.each([
  ['4.7u', 4.7e-6],
  ['4.7UF', 4.7e-6],
  ['10MEG', 1e7],
  ['4.7M', 4.7e-3],
  ['0.22Ohm', 0.22],
  ['1k5', undefined],
  ['3n', 3e-9],
  ['2f', 2e-15],
  ['1e-3', 1e-3],
  ['1E3k', 1e6],
  ['8', 8],
  ['.5t', 5e11],
  ['7G', 7e9],
  ['-2p', -2e-12],
  ['u', undefined],
])('%s is %p', (text, value) => expect(parseSpiceNumber(text)).toBe(value));

test('title, comments, continuation, case and .end', () => {
  const { title, netlist, warnings } = readSpice(
    [
      'R1 looks like a part',
      '* comment',
      'VAMP IN 0 DC 0 AC 2.83 90',
      'R1 IN',
      '+ OUT 4 ; load',
      'L1 out 0 1mH $ coil',
      '.ac oct 12 10 40k',
      '.end',
      'nonsense',
    ].join('\r\n'),
    'x.cir',
  );
  expect(title).toBe('R1 looks like a part');
  expect(netlist.elements.map(({ kind, name, a, b }) => [kind, name, a, b])).toEqual([
    ['source', 'vamp', 'in', '0'],
    ['resistor', 'r1', 'in', 'out'],
    ['coil', 'l1', 'out', '0'],
  ]);
  const [source] = netlist.elements;
  if (source.kind !== 'source') throw new Error('no source');
  expect(source.voltsRe).toBeCloseTo(0, 15);
  expect(source.voltsIm).toBeCloseTo(2.83, 15);
  expect(warnings).toEqual(['x.cir:7: .ac is not used here and was ignored.']);
});

test.each([
  ['V1 a 0 5', 0],
  ['V1 a 0 AC', 1],
  ['V1 a 0 DC 3 AC 2', 2],
  ['V1 a 0 SIN(0 1 1k) AC 4', 4],
])('%s has %d V', (line, volts) => {
  const [source] = readSpice(`t\n${line}`, 'x.cir').netlist.elements;
  expect(source).toMatchObject({ voltsRe: volts, voltsIm: 0 });
});

test.each([
  ['Q1 a b c', 'x.cir:2: The element q1 is not known.'],
  ['R1 a', 'x.cir:2: r1 does not name two nodes.'],
  ['R1 a b', 'x.cir:2: r1 has no value.'],
  ['R1 a b many', 'x.cir:2: “many” is not a number.'],
  ['K1 L1 R2 0.5', 'x.cir:2: k1 does not name two coils.'],
  ['+ 5', 'x.cir:2: A + line continues nothing.'],
])('%s is refused with file and line', (line, message) => {
  expect(() => readSpice(`t\n${line}`, 'x.cir')).toThrow(message);
});

test('probes', () => {
  expect(parseProbe('V(Out)')).toEqual({ kind: 'voltage', plus: 'out', minus: '0' });
  expect(parseProbe('v( a , b )')).toEqual({ kind: 'voltage', plus: 'a', minus: 'b' });
  expect(parseProbe('i(V1)')).toEqual({ kind: 'current', source: 'v1' });
  for (const wrong of ['v()', 'x(a)', 'i(a,b)', 'v(a', ''])
    expect(() => parseProbe(wrong)).toThrow('not a probe');
});
