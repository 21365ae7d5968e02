/** Fields in the words of the trade; all others are told by their names, taken apart. */
const words: Readonly<Record<string, string>> = {
  isFree: 'free for fits',
  isLocked: 'locked',
  isLossFixed: 'resistance stated by hand',
  lowest: 'lower bound',
  highest: 'upper bound',
  tie: 'tied',
  offAxisIds: 'responses off axis',
  header: 'header of the file',
  importedAt: 'time of import',
  fsHz: 'fs, Hz',
  qes: 'Qes',
  qms: 'Qms',
  vasLitres: 'Vas, l',
  sdCm2: 'Sd, cm²',
  mmsG: 'Mms, g',
  blTm: 'Bl, T·m',
  xmaxMm: 'Xmax, mm',
  reOhm: 'Re, Ω',
  leMh: 'Le, mH',
  mechanicalMm: 'Xmech, mm',
  nominalOhms: 'nominal impedance, Ω',
  ratedWatts: 'rated power, W',
  ratedAs: 'kind of power rating',
  filterHz: 'high pass of the rating, Hz',
  filterOrder: 'order of that high pass',
  second: 'second impedance',
  secondId: 'file of the second impedance',
  fitting: 'parameters:',
};

/** What ends a name and is a unit. */
const units: Readonly<Record<string, string>> = {
  Hz: 'Hz',
  Mm: 'mm',
  Mh: 'mH',
  G: 'g',
  Ohm: 'Ω',
  Ohms: 'Ω',
  Deg: '°',
  Db: 'dB',
  Litres: 'l',
  Watts: 'W',
  Volts: 'V',
};

/** A field of the document as a person says it: "Sd, cm²", "lead, Ω", "set back, mm". */
export function fieldWords(field: string): string {
  const known = words[field];
  if (known !== undefined) return known;
  const parts = field.split(/(?=[A-Z])/);
  const unit = parts.length > 1 ? units[parts.at(-1)!] : undefined;
  const named = unit === undefined ? parts : parts.slice(0, -1);
  const text = named.map((part, k) => (k === 0 ? part : part.toLowerCase())).join(' ');
  return unit === undefined ? text : `${text}, ${unit}`;
}
