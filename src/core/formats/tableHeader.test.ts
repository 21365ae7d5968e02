import { readTableHeader } from './tableHeader';

const roles = (
  line: string,
  columns = 3,
  delimiter: 'tab' | 'semicolon' | 'comma' | 'spaces' = 'spaces',
) => readTableHeader([line], delimiter, columns).roles;
const usual = ['frequency', 'magnitude', 'phase'];

test.each([
  'Freq(Hz) SPL(dB) Phase(deg)',
  'Freq (Hz) SPL (dB) Phase (deg)',
  'Frequency [Hz]   Magnitude [dB]   Phase [deg]',
  'frequency in Hz level in dB phase in degrees',
  'Hz dB deg',
  'Hz, Ohm, °',
  'f |Z| arg',
  'Frequency Impedance Phase',
  'Frekvens_Hz Pegel_dB Fase_deg',
])('%s names three columns', (line) => expect(roles(line)).toEqual(usual));

test('by delimiter, with columns of other kinds between', () => {
  expect(roles('Hz\tcoherence\tdB\tdeg', 4, 'tab')).toEqual([
    'frequency',
    'other',
    'magnitude',
    'phase',
  ]);
  expect(roles('Phase (deg);Level (dB);Frequency (Hz)', 3, 'semicolon')).toEqual([
    'phase',
    'magnitude',
    'frequency',
  ]);
  expect(roles('"Hz","dB"', 2, 'comma')).toEqual(['frequency', 'magnitude']);
});

test('what names no columns is left alone', () => {
  for (const line of ['Woofer in its box', '8 ohm nominal', 'measured at 2.83 V', ''])
    expect(roles(line)).toBeNull();
});

test.each<[string, Partial<ReturnType<typeof readTableHeader>>]>([
  [
    'Frequency [kHz] Level [dB] Phase [rad]',
    { frequencyUnit: 'kHz', magnitudeUnit: 'dB', phaseUnit: 'radians' },
  ],
  ['Hz kOhm deg', { frequencyUnit: 'Hz', magnitudeUnit: 'kohm', phaseUnit: 'degrees' }],
  ['Hz Pa deg', { magnitudeUnit: 'pascal' }],
  ['freq impedance phase', { frequencyUnit: null, magnitudeUnit: 'ohm', phaseUnit: null }],
  ['Hz real imag', { rectangular: true }],
])('%s: units', (line, wanted) =>
  expect(readTableHeader([line], 'spaces', 3)).toMatchObject(wanted),
);

test('units in prose count only in a line that speaks of the column', () => {
  expect(readTableHeader(['magnitude is linear', 'phase in radians'], 'spaces', 3)).toMatchObject({
    magnitudeUnit: 'linear',
    phaseUnit: 'radians',
  });
  expect(
    readTableHeader(['woofer, 8 ohm nominal', 'turned by 0.1 rad'], 'spaces', 3),
  ).toMatchObject({ magnitudeUnit: null, phaseUnit: null });
});
