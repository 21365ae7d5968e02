'use client';
import type { Panel } from '@/core/document/baffleSchema';
import type { Design } from '@/core/document/schema';
import { fileStem } from '@/core/text';
import { drawingDxf } from '@/core/formats/drawingDxf';
import { drawingSvg } from '@/core/formats/drawingSvg';
import { drillDrawingOf } from '@/core/layout/drillDrawing';
import { orbitTable } from '@/core/layout/orbitTable';
import { ExportMenu, type ExportForm } from '@/ui/ExportMenu';
import type { BaffleClient } from '@/workers/baffleClient';
import { orbitDirections } from './directions';

interface ExportDrawingProps {
  readonly design: Design;
  readonly panel: Panel;
  readonly client: BaffleClient | null;
}

/** The front as a drawing at full size, and what it does as a table. */
export function ExportDrawing({ design, panel, client }: ExportDrawingProps) {
  const drawing = () => drillDrawingOf(design, panel);
  const forms: ExportForm[] = [
    {
      id: 'pdf',
      text: 'Drilling drawing, PDF at full size',
      ...{ ending: 'pdf', mediaType: 'application/pdf' },
      async make() {
        // It is a large package, and rarely needed.
        const { drawingPdf } = await import('@/core/formats/drawingPdf');
        return (await drawingPdf(drawing())) as BlobPart;
      },
    },
    {
      id: 'dxf',
      text: 'Drilling drawing, DXF',
      ...{ ending: 'dxf', mediaType: 'application/dxf' },
      make: () => drawingDxf(drawing()),
    },
    {
      id: 'svg',
      text: 'Drilling drawing, SVG',
      ...{ ending: 'svg', mediaType: 'image/svg+xml' },
      make: () => drawingSvg(drawing()),
    },
  ];
  if (client)
    forms.push({
      id: 'table',
      text: 'Diffraction of all drivers, CSV',
      ...{ ending: 'csv', mediaType: 'text/csv' },
      async make() {
        const own = design.drivers.filter(({ mounting }) => mounting.panelId === panel.id);
        const views = await Promise.all(
          own.map(({ id }) =>
            client.view(design, { driverId: id, directions: orbitDirections, atHz: null }),
          ),
        );
        return orbitTable(design, views);
      },
    });
  return <ExportMenu stem={fileStem(`${design.name} ${panel.name}`)} forms={forms} />;
}
