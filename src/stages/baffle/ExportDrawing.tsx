'use client';
import { FileDown } from 'lucide-react';
import { useState } from 'react';
import { Menu, MenuItem, MenuTrigger, Popover } from 'react-aria-components';
import type { Panel } from '@/core/document/baffleSchema';
import type { Design } from '@/core/document/schema';
import { drawingDxf } from '@/core/formats/drawingDxf';
import { drawingSvg } from '@/core/formats/drawingSvg';
import { drillDrawingOf } from '@/core/layout/drillDrawing';
import { orbitTable } from '@/core/layout/orbitTable';
import { Button } from '@/ui/Button';
import { saveFile } from '@/ui/saveFile';
import { MenuSheet, Note } from '@/ui/sheets';
import type { BaffleClient } from '@/workers/baffleClient';
import { orbitDirections } from './directions';

interface ExportDrawingProps {
  readonly design: Design;
  readonly panel: Panel;
  readonly client: BaffleClient | null;
}

/** The front as a drawing at full size, and what it does as a table. */
export function ExportDrawing({ design, panel, client }: ExportDrawingProps) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const stem = `${design.name} ${panel.name}`.toLowerCase().replace(/[^a-z0-9]+/g, '-');
  const save = (ending: string, content: BlobPart, type: string) =>
    saveFile(`${stem}.${ending}`, new Blob([content], { type }));
  const take = async (what: string) => {
    setTrouble(null);
    try {
      const drawing = drillDrawingOf(design, panel);
      if (what === 'svg') save('svg', drawingSvg(drawing), 'image/svg+xml');
      if (what === 'dxf') save('dxf', drawingDxf(drawing), 'application/dxf');
      if (what === 'pdf') {
        // It is a large package, and rarely needed.
        const { drawingPdf } = await import('@/core/formats/drawingPdf');
        save('pdf', (await drawingPdf(drawing)) as BlobPart, 'application/pdf');
      }
      if (what === 'table' && client) {
        const own = design.drivers.filter(({ mounting }) => mounting.panelId === panel.id);
        const views = await Promise.all(
          own.map(({ id }) =>
            client.view(design, { driverId: id, directions: orbitDirections, atHz: null }),
          ),
        );
        save('csv', orbitTable(design, views), 'text/csv');
      }
    } catch (error) {
      setTrouble(error instanceof Error ? error.message : String(error));
    }
  };
  return (
    <>
      <MenuTrigger>
        <Button>
          <FileDown size={14} aria-hidden /> Export
        </Button>
        <Popover placement="bottom end">
          <MenuSheet>
            <Menu onAction={(key) => void take(String(key))}>
              <MenuItem id="pdf">Drilling drawing, PDF at full size</MenuItem>
              <MenuItem id="dxf">Drilling drawing, DXF</MenuItem>
              <MenuItem id="svg">Drilling drawing, SVG</MenuItem>
              <MenuItem id="table">Diffraction of all drivers, CSV</MenuItem>
            </Menu>
          </MenuSheet>
        </Popover>
      </MenuTrigger>
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
    </>
  );
}
