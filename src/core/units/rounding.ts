const unitOf = (value: number, digits: number) =>
  10 ** (Math.floor(Math.log10(Math.abs(value))) - digits + 1);
/** What an exact value may be off by for having been computed. */
const hair = 1e-9;

/** A limit that may not be passed upwards, rounded to the safe side with so many digits. */
export function roundedDown(value: number, digits: number): number {
  const unit = unitOf(value, digits);
  return Number((Math.floor(value / unit + hair) * unit).toPrecision(digits));
}

/** A limit that may not be passed downwards, rounded to the safe side. */
export function roundedUp(value: number, digits: number): number {
  const unit = unitOf(value, digits);
  return Number((Math.ceil(value / unit - hair) * unit).toPrecision(digits + 1));
}
