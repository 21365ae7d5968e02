import { partKinds, partValue } from '@/core/document/partKinds';
import { partsOf, type Design, type Part } from '@/core/document/schema';
import { problem } from '@/core/problem';

/** A value that a fit may move, and the parts that move with it. */
export interface Variable {
  readonly part: Part;
  /** The part itself with ratio 1, and what is tied to it. */
  readonly members: readonly { readonly part: Part; readonly ratio: number }[];
  readonly lowest: number;
  readonly highest: number;
}

/** Without bounds a value may move by this factor to each side. */
const reach = 10;

/**
 * The free values of a design: parts that are free, not locked, not tied, and not left out.
 *
 * @throws ProblemError `nothing_free`; `bounds_crossed` naming the part
 */
export function variablesOf(design: Design): Variable[] {
  const parts = partsOf(design);
  if (!parts.some(isVariable))
    throw problem(
      'nothing_free',
      design.name,
      'No part is free.',
      'Only what the designer frees is moved.',
      'Free some parts first.',
    );
  return parts.filter(isVariable).map((part) => {
    const value = partValue(part);
    const [least, most] = partKinds[part.kind].fitted;
    const lowest = part.fit.lowest ?? Math.max(value / reach, Math.min(least, value));
    const highest = part.fit.highest ?? Math.min(value * reach, Math.max(most, value));
    if (!(lowest < highest))
      throw problem(
        'bounds_crossed',
        part.name,
        `The lowest value that ${part.name} may take is not below the highest.`,
        '',
        'Change one of its bounds.',
      );
    return {
      part,
      members: [
        { part, ratio: 1 },
        ...parts
          .filter(({ fit }) => fit.tie?.partId === part.id)
          .map((tied) => ({ part: tied, ratio: tied.fit.tie!.ratio })),
      ],
      lowest,
      highest,
    };
  });
}

const isVariable = ({ fit, isLocked, isOff }: Part) =>
  fit.isFree && fit.tie === null && !isLocked && !isOff;
