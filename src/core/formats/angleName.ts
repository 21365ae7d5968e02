/** Direction from which a response was measured: horizontal to the right, vertical up, degrees. */
interface NamedAngle {
  readonly plane: 'horizontal' | 'vertical';
  readonly degrees: number;
  /** The name without what told the angle: files of one set share it. */
  readonly rest: string;
}

const plane = String.raw`(?<plane>horizontal|vertical|horiz|vert|hor|ver|h|v)`;
const number = String.raw`(?<sign>[+\-−–]|minus|plus|m(?=\d)|p(?=\d))?\s*(?<degrees>\d{1,3}(?:[.,]\d)?)`;
const unit = String.raw`(?:\s*(?:deg(?:rees?)?|°|d(?![a-z])))?`;
const edge = String.raw`(?:^|(?<=[^a-z0-9]))`;
const end = String.raw`(?![0-9a-z])`;

/**
 * Spellings, the surest first: plane then angle, angle then plane, an angle with its unit or sign
 * alone.
 */
const spellings = [
  new RegExp(`${edge}${plane}[\\s_(=]*${number}${unit}\\)?${end}`, 'i'),
  new RegExp(`${edge}${number}${unit}[\\s_]*${plane}${end}`, 'i'),
  new RegExp(`${edge}${number}\\s*(?:deg(?:rees?)?|°)${end}`, 'i'),
  new RegExp(`(?:^|(?<=[\\s_]))(?<sign>[+\\-−–])(?<degrees>\\d{1,3})${end}`, 'i'),
];

/**
 * Plane and angle in the name of a file, in the spellings that people use: `hor +30`, `v-15deg`,
 * `H_030`, `30° vertical`, `woofer -45`. An angle without a plane is taken as horizontal; 181 to
 * 359 count as negative.
 *
 * @returns null when the name tells no angle
 */
export function angleInName(fileName: string): NamedAngle | null {
  const name = fileName.replace(/^.*[\\/]/, '').replace(/\.[a-z0-9]{1,5}$/i, '');
  for (const spelling of spellings) {
    const match = spelling.exec(name);
    if (!match) continue;
    const said = match.groups!;
    const size = Number(said.degrees.replace(',', '.'));
    if (size > 359) continue;
    const isMinus = /^(?:[-−–]|minus|m)$/i.test(said.sign ?? '');
    const turned = size > 180 ? size - 360 : size;
    return {
      plane: /^v/i.test(said.plane ?? '') ? 'vertical' : 'horizontal',
      degrees: isMinus && turned !== 0 ? -turned : turned,
      rest: `${name.slice(0, match.index)} ${name.slice(match.index + match[0].length)}`
        .replace(/[\s_()=-]+/g, ' ')
        .trim(),
    };
  }
  return null;
}
