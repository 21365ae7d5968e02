'use client';
import { FileDown } from 'lucide-react';
import { useState } from 'react';
import { Menu, MenuItem, MenuTrigger, Popover } from 'react-aria-components';
import { zipSync } from 'fflate';
import type { AroundView } from '@/core/around/orbits';
import { aroundTables, directionTables } from '@/core/around/tables';
import type { Design } from '@/core/document/schema';
import { Button } from '@/ui/Button';
import { saveFile } from '@/ui/saveFile';
import { MenuSheet, Note } from '@/ui/sheets';
import type { AroundClient } from '@/workers/aroundClient';
import { mapPng, mapSvg } from './maps/mapPicture';

interface ExportAroundProps {
  readonly design: Design;
  readonly view: AroundView;
  readonly client: AroundClient | null;
  readonly stepDeg: 5 | 10;
  readonly distanceMm: number;
}

const missing = 'It is not known of some driver what it does in these directions.';

/** Maps as pictures, curves and orbits as tables, directivity as SOFA. */
export function ExportAround({ design, view, client, stepDeg, distanceMm }: ExportAroundProps) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const stem = `${design.name} around`.toLowerCase().replace(/[^a-z0-9]+/g, '-');
  const save = (ending: string, content: BlobPart, type: string) =>
    saveFile(`${stem}.${ending}`, new Blob([content], { type }));
  const zipped = (tables: readonly (readonly [string, string])[]) => {
    const encoder = new TextEncoder();
    return zipSync(
      Object.fromEntries(tables.map(([name, text]) => [name, encoder.encode(text)])),
    ) as BlobPart;
  };
  const take = async (what: string) => {
    setTrouble(null);
    try {
      if (what === 'svg') save('svg', mapSvg(document.body, view), 'image/svg+xml');
      if (what === 'png') saveFile(`${stem}.png`, await mapPng(document.body));
      if (what === 'tables') save('zip', zipped(aroundTables(design, view)), 'application/zip');
      if (what === 'orbits' && client) {
        const found = await client.directivity(design, stepDeg, distanceMm);
        if (!found) return setTrouble(missing);
        save('orbits.zip', zipped(directionTables(design, found)), 'application/zip');
      }
      if (what === 'sofa' && client) {
        const bytes = await client.sofa(design, stepDeg, distanceMm);
        if (!bytes) return setTrouble(missing);
        save('sofa', bytes as BlobPart, 'application/x-hdf5');
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
              <MenuItem id="png">Both maps, PNG</MenuItem>
              <MenuItem id="svg">Both maps, SVG</MenuItem>
              <MenuItem id="tables">All curves, CSV (zip)</MenuItem>
              <MenuItem id="orbits">A response table for each direction (zip)</MenuItem>
              <MenuItem id="sofa">Directivity, SOFA (AES69)</MenuItem>
            </Menu>
          </MenuSheet>
        </Popover>
      </MenuTrigger>
      {trouble !== null && <Note $kind="alarm">{trouble}</Note>}
    </>
  );
}
