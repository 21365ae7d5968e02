'use client';
import { useMemo, useState } from 'react';
import styled from 'styled-components';
import { cutSheets, usualStock, type CutSheet, type Stock } from '@/core/cabinet/cutList';
import { materialTable } from '@/core/cabinet/materials';
import { boardPriceOf, boxOutlay } from '@/core/cabinet/outlay';
import { boxHoles } from '@/core/cabinet/holes';
import { boardsOf, holeWords, wallsOf } from '@/core/cabinet/panels';
import { sawFaults } from '@/core/cabinet/sawFaults';
import type { Box } from '@/core/document/boxSchema';
import type { Design } from '@/core/document/schema';
import { fileStem } from '@/core/text';
import { drawingDxf } from '@/core/formats/drawingDxf';
import { drawingSvg } from '@/core/formats/drawingSvg';
import { cutDrawing, cutTable, sawingCaution } from '@/core/lows/cutDrawing';
import { ProblemError } from '@/core/problem';
import { formatFixed, formatNumber } from '@/core/units/quantity';
import { ChoiceBlank, QuantityBlank } from '@/ui/fields/Blank';
import { Tick } from '@/ui/fields/Tick';
import { ExportMenu, type ExportForm } from '@/ui/ExportMenu';
import { Note, Quiet, Sentence, tableLook } from '@/ui/sheets';
import type { BoxEdits } from '@/stages/box/useBoxEdits';

interface BoardsPaneProps {
  readonly design: Design;
  readonly box: Box;
  readonly edits: BoxEdits;
}

const joints = [
  { id: 'butt', text: 'butted' },
  { id: 'mitre', text: 'mitred' },
  { id: 'rebate', text: 'rebated' },
] as const;

/** The boards of the box, on sheets as they are sold. */
export function BoardsPane({ design, box, edits }: BoardsPaneProps) {
  const [chosen, setStock] = useState<Stock>(usualStock);
  const material = materialTable[box.shell.material];
  // Without grain nothing hinders a board from lying either way.
  const mayTurn = chosen.mayTurn || !material.hasGrain;
  const stock = useMemo(() => ({ ...chosen, mayTurn }), [chosen, mayTurn]);
  const [copies, setCopies] = useState(design.brief.speakerCount ?? 1);
  const boards = useMemo(
    () =>
      boardsOf(box, boxHoles(design, box)).map((board) => ({
        ...board,
        count: board.count * copies,
      })),
    [design, box, copies],
  );
  const faults = useMemo(() => sawFaults(design, box), [design, box]);
  const cut = useMemo(() => {
    if (faults.length > 0) return { sheets: [], trouble: null };
    try {
      return { sheets: cutSheets(boards, stock), trouble: null };
    } catch (error) {
      if (error instanceof ProblemError) return { sheets: [], trouble: error.message };
      throw error;
    }
  }, [boards, stock, faults]);
  const { shell } = box;
  const title = `${design.name}: ${box.name}, ${material.name}`;
  const drawing = () => cutDrawing(title, cut.sheets, stock);
  const forms: readonly ExportForm[] = [
    {
      ...{ id: 'csv', text: 'Cut list, CSV', ending: 'csv', mediaType: 'text/csv' },
      make: () => cutTable(boards, material.name),
    },
    {
      id: 'dxf',
      text: 'Sheets, DXF at full size',
      ...{ ending: 'dxf', mediaType: 'application/dxf' },
      make: () => drawingDxf(drawing()),
    },
    {
      id: 'svg',
      text: 'Sheets, SVG at full size',
      ...{ ending: 'svg', mediaType: 'image/svg+xml' },
      make: () => drawingSvg(drawing()),
    },
  ];
  const mm = (label: string, key: 'lengthMm' | 'widthMm' | 'kerfMm', min: number) => (
    <QuantityBlank
      label={label}
      dimension="millimetre"
      min={min}
      max={5000}
      stepBy={key === 'kerfMm' ? 0.1 : 10}
      value={stock[key]}
      onChange={(value) => value !== null && setStock((before) => ({ ...before, [key]: value }))}
    />
  );
  return (
    <Layout>
      <Sentence>
        Boards{' '}
        <ChoiceBlank
          label="Joint"
          isAlwaysSaid
          options={joints}
          value={shell.joint}
          onChange={(joint) => joint !== null && edits.shell(box, { joint }, 'joint')}
        />
        , for{' '}
        <QuantityBlank
          label="Boxes that are built"
          dimension="number"
          min={1}
          max={20}
          stepBy={1}
          value={copies}
          onChange={(value) => value !== null && setCopies(Math.round(value))}
        />{' '}
        boxes, at {design.brief.currency}{' '}
        <QuantityBlank
          label="Price of the board"
          placeholder={formatFixed(boardPriceOf({ ...shell, boardPrice: null }), 0)}
          dimension="number"
          min={0}
          max={1e5}
          stepBy={1}
          value={shell.boardPrice}
          onChange={(boardPrice) => edits.shell(box, { boardPrice }, 'price of the board')}
        />{' '}
        a square metre, from sheets of {mm('Length of a sheet', 'lengthMm', 100)} ×{' '}
        {mm('Width of a sheet', 'widthMm', 100)}, the saw takes {mm('Kerf', 'kerfMm', 0)}.
      </Sentence>
      {material.hasGrain && (
        <Tick
          isSelected={chosen.mayTurn}
          onChange={(isFree) => setStock((before) => ({ ...before, mayTurn: isFree }))}
        >
          Boards may lie across the grain
        </Tick>
      )}
      <ExportMenu
        label="Export the boards"
        stem={fileStem(`${design.name} ${box.name} boards`)}
        forms={forms}
        isDisabled={cut.sheets.length === 0}
      />
      {faults.map(({ code, what, why, mend }, f) => (
        <Note key={`${code} ${f}`} $kind="alarm">
          {what} {why} {mend} Nothing is exported until then.
        </Note>
      ))}
      {cut.trouble !== null && <Note $kind="alarm">{cut.trouble}</Note>}
      <Table aria-label="Cut list">
        <thead>
          <tr>
            <th>board</th>
            <th>n</th>
            <th>mm</th>
            <th>thick</th>
          </tr>
        </thead>
        <tbody>
          {boards.map(({ name, count, lengthMm, widthMm, thicknessMm, holes, work }) => (
            <tr key={name}>
              <th scope="row">
                {name.replace(`${box.name}: `, '')}
                {[...holes.map(holeWords), ...work].map((words) => (
                  <Quiet as="div" key={words}>
                    {words}
                  </Quiet>
                ))}
              </th>
              <td>{count}</td>
              <td>
                {formatNumber(Number(lengthMm.toFixed(1)))} ×{' '}
                {formatNumber(Number(widthMm.toFixed(1)))}
              </td>
              <td>{formatNumber(thicknessMm)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      {cut.sheets.map((sheet, s) => (
        <SheetDrawing key={s} sheet={sheet} stock={stock} number={s + 1} />
      ))}
      <Quiet as="p">{outlayWords(design, box, copies)}</Quiet>
      <Walls box={box} />
      <Quiet as="p">{sawingCaution}</Quiet>
    </Layout>
  );
}

function outlayWords(design: Design, box: Box, copies: number): string {
  const { boards, fill, opening, whole } = boxOutlay(box, design);
  const parts = [
    `boards ${formatFixed(copies * boards, 0)}`,
    ...(fill > 0 ? [`fill ${formatFixed(copies * fill, 0)}`] : []),
    ...(opening > 0 ? [`opening ${formatFixed(copies * opening, 0)}`] : []),
  ].join(', ');
  return `About ${design.brief.currency} ${formatFixed(copies * whole, 0)} for ${copies === 1 ? 'one box' : `${copies} boxes`}: ${parts}; a quarter of each sheet is offcuts. Prices that are not stated are usual ones (common practice).`;
}

/** Without the box's own name, which all boards of a sheet share. */
const short = (name: string) => name.slice(name.indexOf(': ') + 2);

/** A sheet with its boards, to scale. */
function SheetDrawing({
  sheet,
  stock,
  number,
}: {
  readonly sheet: CutSheet;
  readonly stock: Stock;
  readonly number: number;
}) {
  const { thicknessMm, pieces, usedShare } = sheet;
  return (
    <figure style={{ margin: 0 }}>
      <svg
        viewBox={`0 0 ${stock.lengthMm} ${stock.widthMm}`}
        width="100%"
        role="img"
        aria-label={`Sheet ${number}: ${pieces.map(({ name }) => name).join(', ')}`}
      >
        <rect
          width={stock.lengthMm}
          height={stock.widthMm}
          fill="var(--sheet)"
          stroke="var(--rule)"
          strokeWidth="6"
        />
        {pieces.map(({ name, xMm, yMm, lengthMm, widthMm }) => (
          <g key={name} data-board={name}>
            <rect
              x={xMm}
              y={stock.widthMm - yMm - widthMm}
              width={lengthMm}
              height={widthMm}
              fill="var(--raised)"
              stroke="var(--ink)"
              strokeWidth="4"
            />
            <text
              x={xMm + lengthMm / 2}
              y={stock.widthMm - yMm - widthMm / 2 + 18}
              fontSize={Math.min(80, lengthMm / (0.6 * short(name).length), widthMm * 0.6)}
              textAnchor="middle"
              fill="currentColor"
            >
              {short(name)}
            </text>
          </g>
        ))}
      </svg>
      <figcaption>
        <Quiet>
          Sheet {number}, {formatNumber(thicknessMm)} mm: {formatFixed(100 * usedShare, 0)} % used
        </Quiet>
      </figcaption>
    </figure>
  );
}

/** What the walls weigh and where they resonate. */
function Walls({ box }: { readonly box: Box }) {
  const material = materialTable[box.shell.material];
  return (
    <details>
      <summary>Walls and their resonances</summary>
      <Table aria-label="Walls">
        <thead>
          <tr>
            <th>wall</th>
            <th>free, mm</th>
            <th>first at, Hz</th>
            <th>kg</th>
          </tr>
        </thead>
        <tbody>
          {wallsOf(box.shell).map(({ name, spanMm, hz, kg }) => (
            <tr key={name}>
              <th scope="row">{name}</th>
              <td>
                {formatNumber(Math.round(spanMm[0]))} × {formatNumber(Math.round(spanMm[1]))}
              </td>
              <td>
                {formatNumber(Math.round(hz[0]))}–{formatNumber(Math.round(hz[1]))}
              </td>
              <td>{formatFixed(kg, 1)}</td>
            </tr>
          ))}
        </tbody>
      </Table>
      <Quiet as="p">
        {material.name}: {material.gives}; {material.costs}. Edges between hinged and clamped;
        typical stiffness {material.stiffnessGpa.join('–')} GPa, {material.density} kg/m³ (common
        practice). Stiff and braced puts resonances high, where they are easily damped but the ear
        is sharp; thin and damped keeps them low and short.
      </Quiet>
    </details>
  );
}

const Table = styled.table`
  ${tableLook}
  font-variant-numeric: tabular-nums;
  td:nth-child(3) {
    white-space: nowrap;
  }
`;

const Layout = styled.div`
  display: grid;
  gap: 0.7rem;
  justify-items: start;
  > table,
  > figure,
  > details {
    width: 100%;
  }
  summary {
    cursor: pointer;
    font-weight: 600;
    font-size: 0.8125rem;
  }
`;
