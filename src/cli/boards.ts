import { cutSheets, usualStock, type Stock } from '@/core/cabinet/cutList';
import { boxHoles, type BoardHole } from '@/core/cabinet/holes';
import { materialTable } from '@/core/cabinet/materials';
import { boardsOf, type BoardPiece } from '@/core/cabinet/panels';
import { sawFaults } from '@/core/cabinet/sawFaults';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { problem, ProblemError } from '@/core/problem';
import { positiveOption, readArguments, type Command } from './command';
import { readDesignFile } from './input/designFile';
import { emit } from './input/files';

const joints = { butted: 'butt', rebated: 'rebate', mitred: 'mitre' } as const;

export const boards: Command = {
  help: `fair boards DESIGN.json|PROJECT.zip [--joint butted|rebated|mitred] [--boxes N]
            [--sheet 2500x1250] [--kerf 3.2] [--turn] [--out FILE]

The boards of the box in use: sizes, holes, what else is done to them, and how they are laid on
sheets. Writes JSON {outside_mm:[w,h,d], boards:[{name, count, length_mm, width_mm, thickness_mm,
material, holes:[{what, x_mm, y_mm, diameter_mm, width_mm, height_mm, recess_diameter_mm,
recess_mm}], work:[…]}], sheets:[{thickness_mm, length_mm, width_mm, placed:[{name, x_mm, y_mm,
length_mm, width_mm, turned}]}]}. Holes are from the board's lower left corner seen from outside;
placed sizes as laid. What can't be sawn is refused, with its reason.

  --joint J      as the box states it, unless said
  --boxes N      boxes that are built (1)
  --sheet LxW    of the sheets, along the grain first, mm (${usualStock.lengthMm}x${usualStock.widthMm})
  --kerf K       what the saw takes, mm (${usualStock.kerfMm})
  --turn         boards may lie across the grain (they may in boards without grain)
  --out FILE     write to FILE instead of standard output

Example:
  fair boards demo/reading-room/design.json --joint rebated --boxes 2`,
  run(args) {
    const { values, positionals } = readArguments(
      'boards',
      args,
      {
        joint: { type: 'string' },
        boxes: { type: 'string' },
        sheet: { type: 'string' },
        kerf: { type: 'string' },
        turn: { type: 'boolean' },
        out: { type: 'string' },
      },
      1,
    );
    const { design } = readDesignFile(positionals[0]);
    const given = boxOf(design);
    const joint = values.joint === undefined ? given.shell.joint : jointOf(values.joint);
    const box: Box = { ...given, shell: { ...given.shell, joint } };
    const [fault] = sawFaults(design, box);
    if (fault) throw new ProblemError(fault);
    const copies =
      values.boxes === undefined ? 1 : Math.round(positiveOption('boards', 'boxes', values.boxes));
    if (copies < 1 || copies > mostBoxes)
      throw badOption('boxes', values.boxes ?? '', `a whole number from 1 to ${mostBoxes}`);
    const material = materialTable[box.shell.material];
    const stock: Stock = {
      ...sheetOf(values.sheet),
      kerfMm: values.kerf === undefined ? usualStock.kerfMm : kerfOf(values.kerf),
      mayTurn: values.turn === true || !material.hasGrain,
    };
    const pieces = boardsOf(box, boxHoles(design, box));
    const all = pieces.map((piece) => ({ ...piece, count: piece.count * copies }));
    const { widthMm, heightMm, depthMm } = box.shell;
    const report = {
      outside_mm: [widthMm, heightMm, box.kind === 'open-baffle' ? box.shell.frontMm : depthMm],
      boards: all.map((piece) => toldBoard(piece, material.name)),
      sheets: cutSheets(all, stock).map(({ thicknessMm, pieces: placed }) => ({
        thickness_mm: thicknessMm,
        length_mm: stock.lengthMm,
        width_mm: stock.widthMm,
        placed: placed.map((one) => ({
          name: one.name,
          x_mm: one.xMm,
          y_mm: one.yMm,
          length_mm: one.lengthMm,
          width_mm: one.widthMm,
          turned: one.isTurned,
        })),
      })),
    };
    emit(`${JSON.stringify(report, null, 2)}\n`, values.out);
  },
};

const mostBoxes = 100;

/** The box that is in use and stands by itself; of several the largest. */
function boxOf({ name, boxes }: Design): Box {
  const size = ({ shell }: Box) => shell.widthMm * shell.heightMm * shell.depthMm;
  const standing = (all: readonly Box[]) =>
    all.filter(({ insideId }) => insideId === null).sort((a, b) => size(b) - size(a));
  // A design with one box means that one, in use or not.
  const box =
    standing(boxes.filter(({ isUsed }) => isUsed)).at(0) ??
    (boxes.length === 1 ? boxes[0] : undefined);
  if (box) return box;
  throw problem(
    'no_box_in_use',
    name,
    boxes.length === 0 ? 'The design has no box.' : 'No box of the design is in use.',
    'Boards are those of the box in use.',
    'Put a box into use on the Box stage.',
  );
}

const badOption = (option: string, text: string, wanted: string) =>
  problem(
    'bad_option',
    `fair boards --${option}`,
    `“${text}” is not ${wanted}.`,
    '',
    `Give ${wanted}.`,
  );

function jointOf(text: string): Box['shell']['joint'] {
  if (Object.hasOwn(joints, text)) return joints[text as keyof typeof joints];
  throw badOption('joint', text, `one of ${Object.keys(joints).join(', ')}`);
}

function sheetOf(text: string | undefined): Pick<Stock, 'lengthMm' | 'widthMm'> {
  if (text === undefined) return usualStock;
  const sides = /^(\d+(?:\.\d+)?)[x×](\d+(?:\.\d+)?)$/i.exec(text.trim())?.slice(1).map(Number);
  if (!sides || !(sides[0] > 0 && sides[1] > 0) || Math.max(...sides) > 20_000)
    throw badOption('sheet', text, 'a sheet such as 2500x1250, millimetres');
  return { lengthMm: sides[0], widthMm: sides[1] };
}

function kerfOf(text: string): number {
  const kerf = Number(text);
  if (text.trim() !== '' && kerf >= 0 && kerf <= 50) return kerf;
  throw badOption('kerf', text, 'a width from 0 to 50, millimetres');
}

const toldBoard = (piece: BoardPiece, material: string) => ({
  name: piece.name,
  count: piece.count,
  length_mm: piece.lengthMm,
  width_mm: piece.widthMm,
  thickness_mm: piece.thicknessMm,
  material,
  holes: piece.holes.map(toldHole),
  work: piece.work,
});

const toldHole = ({ what, xMm, yMm, diameterMm, slotMm, recess, frameMm, kind }: BoardHole) => ({
  what,
  x_mm: xMm,
  y_mm: yMm,
  ...(diameterMm !== null && { diameter_mm: diameterMm }),
  ...(slotMm !== null && { width_mm: slotMm.width, height_mm: slotMm.height }),
  ...(recess !== null && { recess_diameter_mm: recess.diameterMm, recess_mm: recess.depthMm }),
  ...(recess === null &&
    kind === 'port' &&
    frameMm !== null && { what: `${what}, flared to ${frameMm} mm` }),
});
