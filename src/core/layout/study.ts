import type { Design } from '@/core/document/schema';
import { logGrid } from '@/core/grid/logGrid';
import type { Finding, Prediction } from '@/core/prediction/prediction';
import { problem } from '@/core/problem';
import { formatFixed, formatQuantity } from '@/core/units/quantity';
import { createBumpSearch, type BumpFinding } from './bump';
import { layoutFaults, tooLarge } from './faults';
import { createStepEffect, layoutFindings, tellStepFromDb, usedBand } from './findings';

/** All that is found about where the drivers are. */
export interface LayoutStudy {
  readonly findings: readonly Finding[];
  readonly bumps: readonly BumpFinding[];
}

const stepGridHz = () => logGrid(500, 20_000, 24);
const bumpGridHz = () => logGrid(200, 10_000, 12);

/** Studies layouts one after the other. */
export function createLayoutStudy() {
  const steps = stepGridHz();
  const effectOf = createStepEffect(steps);
  const bumpOf = createBumpSearch(bumpGridHz());
  return (design: Design, prediction: Prediction | null): LayoutStudy => {
    const faults = layoutFaults(design);
    const mounted = design.drivers.filter(({ mounting }) => mounting.panelId !== null);
    return {
      findings: [
        ...faults,
        ...design.panels.flatMap((panel) => sizeFinding(design, panel)),
        ...mounted.flatMap((driver) => {
          const effect = effectOf(design, driver);
          if (!effect || Math.abs(effect.byDb) < tellStepFromDb) return [];
          return [stepFinding(driver, effect)];
        }),
        ...layoutFindings(design, prediction),
      ],
      bumps: mounted.flatMap(
        (driver) => bumpOf(design, driver.id, usedBand(design, prediction, driver)) ?? [],
      ),
    };
  };
}

/** A front that is larger than the brief allows. */
function sizeFinding(design: Design, panel: Design['panels'][number]): Finding[] {
  const told = tooLarge(design, panel);
  if (told === null) return [];
  return [
    {
      ...problem('front_too_large', panel.name, told, '', 'Make it smaller, or change the Brief.')
        .problem,
      severity: 'doubt',
      about: panel.id,
    },
  ];
}

function stepFinding(
  { id, name, mounting: { kind, byMm, frameMm } }: Design['drivers'][number],
  { byDb, atHz }: { readonly byDb: number; readonly atHz: number },
): Finding {
  const size = formatQuantity(byMm, 'millimetre');
  const rim =
    frameMm === null ? '' : ` at ${formatQuantity(frameMm / 2, 'millimetre')} from its middle`;
  const told = {
    proud: `${name} stands ${size} proud: its own frame is an edge${rim}.`,
    recessed: `${name} lies ${size} deep: the rim of its recess is an edge${rim}.`,
    behind: `${name} lies behind a front of ${size}: the hole before it is an edge.`,
  }[kind as 'proud' | 'recessed' | 'behind'];
  return {
    ...problem(
      `${kind}_frame`,
      name,
      told,
      `It changes the axis by up to ${formatFixed(byDb, 1)} dB, at ${formatQuantity(Number(atHz.toPrecision(2)), 'hertz')}${kind === 'proud' ? '' : ' (estimated)'}.`,
      kind === 'proud'
        ? `Let it in flush: a recess ${size} deep${frameMm === null ? '' : `, ${formatQuantity(frameMm, 'millimetre')} across`}.`
        : 'Bring it level with the front, or round the rim.',
    ).problem,
    severity: 'doubt',
    about: id,
  };
}
