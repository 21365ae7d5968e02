'use client';
import { zipSync } from 'fflate';
import type { AroundView } from '@/core/around/orbits';
import { aroundTables, directionTables } from '@/core/around/tables';
import type { Design } from '@/core/document/schema';
import { fileStem } from '@/core/text';
import { ExportMenu, type ExportForm } from '@/ui/ExportMenu';
import type { AroundClient } from '@/workers/aroundClient';
import { mapPng, mapSvg } from './maps/mapPicture';

interface ExportAroundProps {
  readonly design: Design;
  readonly view: AroundView;
  readonly client: AroundClient | null;
  readonly stepDeg: 5 | 10;
  readonly distanceMm: number;
}

/** Maps as pictures, curves and orbits as tables, directivity as SOFA. */
export function ExportAround({ design, view, client, stepDeg, distanceMm }: ExportAroundProps) {
  const forms: ExportForm[] = [
    {
      ...{ id: 'png', text: 'Both maps, PNG', ending: 'png', mediaType: 'image/png' },
      make: () => mapPng(document.body),
    },
    {
      ...{ id: 'svg', text: 'Both maps, SVG', ending: 'svg', mediaType: 'image/svg+xml' },
      make: () => mapSvg(document.body, view),
    },
    {
      id: 'tables',
      text: 'All curves, CSV (zip)',
      ...{ ending: 'zip', mediaType: 'application/zip' },
      make: () => zipped(aroundTables(design, view)),
    },
  ];
  if (client)
    forms.push(
      {
        id: 'orbits',
        text: 'A response table for each direction (zip)',
        ...{ ending: 'orbits.zip', mediaType: 'application/zip' },
        make: async () =>
          zipped(
            directionTables(design, known(await client.directivity(design, stepDeg, distanceMm))),
          ),
      },
      {
        id: 'sofa',
        text: 'Directivity, SOFA (AES69)',
        ...{ ending: 'sofa', mediaType: 'application/x-hdf5' },
        make: async () => known(await client.sofa(design, stepDeg, distanceMm)) as BlobPart,
      },
    );
  return <ExportMenu stem={fileStem(`${design.name} around`)} forms={forms} />;
}

function known<T>(found: T | null): T {
  if (found === null)
    throw new Error('It is not known of some driver what it does in these directions.');
  return found;
}

function zipped(tables: readonly (readonly [string, string])[]): BlobPart {
  const encoder = new TextEncoder();
  return zipSync(Object.fromEntries(tables.map(([name, text]) => [name, encoder.encode(text)])));
}
