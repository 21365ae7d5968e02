import { readSession } from '../../../tests/fixtures';
import { cutSheets, usualStock } from '@/core/cabinet/cutList';
import { boardsOf } from '@/core/cabinet/panels';
import { boxHoles } from '@/core/cabinet/holes';
import { cutDrawing, cutTable, sawingCaution } from './cutDrawing';

const { design } = readSession();
const [asBuilt] = design.boxes;
const boards = boardsOf(asBuilt, boxHoles(design, asBuilt));
const sheets = cutSheets(boards, usualStock);

test('sheets lie side by side, every board in its own, none over another', () => {
  const many = cutSheets(
    boards.map((board) => ({ ...board, count: board.count * 8 })),
    usualStock,
  );
  expect(many.length).toBeGreaterThan(2);
  const drawing = cutDrawing('Boards', many, usualStock);
  const { lengthMm, widthMm } = usualStock;
  expect(drawing.widthMm).toBe(many.length * (lengthMm + 100) - 100);
  const stock = drawing.rectangles.filter(
    ({ width, height }) => width === lengthMm && height === widthMm,
  );
  expect(stock).toHaveLength(many.length);
  const pieces = drawing.rectangles.filter((one) => !stock.includes(one));
  expect(pieces).toHaveLength(many.reduce((sum, sheet) => sum + sheet.pieces.length, 0));
  for (const piece of pieces) {
    const home = stock.filter(
      ({ x }) => piece.x >= x && piece.x + piece.width <= x + lengthMm + 1e-6,
    );
    expect(home).toHaveLength(1);
    expect(piece.y + piece.height).toBeLessThanOrEqual(widthMm + 1e-6);
    for (const other of pieces) {
      if (other === piece) continue;
      const isApart =
        other.x >= piece.x + piece.width ||
        piece.x >= other.x + other.width ||
        other.y >= piece.y + piece.height ||
        piece.y >= other.y + other.height;
      expect(isApart).toBe(true);
    }
  }
});

test('each board is named in its middle with its three sizes, and the caution goes along', () => {
  const { centres, notes } = cutDrawing('Boards', sheets, usualStock);
  expect(centres.map(({ lines }) => lines[0])).toContain('As built: rear');
  const rear = centres.find(({ lines }) => lines[0] === 'As built: rear')!;
  expect(rear.lines[1]).toBe('710 mm × 300 mm × 19 mm');
  expect(notes).toContain(sawingCaution);
  expect(sawingCaution).toMatch(/guards.*hearing.*dust.*local rules/);
});

test('the cut list is a table with a row for each board and its work', () => {
  const [head, ...rows] = cutTable(boards, 'birch plywood').trim().split('\n');
  expect(head).toBe('board,count,length_mm,width_mm,thickness_mm,material,work');
  expect(rows).toHaveLength(boards.length);
  expect(rows[0]).toMatch(/^As built: front,1,710,300,22,birch plywood,/);
  // The area of all boards of one thickness is that of its sheets’ used share.
  const area = (thicknessMm: number) =>
    boards
      .filter((board) => board.thicknessMm === thicknessMm)
      .reduce((sum, board) => sum + board.count * board.lengthMm * board.widthMm, 0);
  for (const sheet of sheets)
    expect(sheet.usedShare * usualStock.lengthMm * usualStock.widthMm).toBeCloseTo(
      area(sheet.thicknessMm),
      3,
    );
});

test('a name with a comma, quotes or a formula stays one field and no formula', () => {
  const odd = boards.map((board) => ({ ...board, name: '=SUM(A1),"x"' }));
  const row = cutTable(odd, 'mdf').split('\n')[1];
  expect(row.startsWith('=')).toBe(false);
  expect(row.split(/,(?=(?:[^"]*"[^"]*")*[^"]*$)/)).toHaveLength(7);
});
