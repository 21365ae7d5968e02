'use client';
import { Copy } from 'lucide-react';
import { Menu, MenuItem, MenuTrigger, Popover } from 'react-aria-components';
import { fileStem } from '@/core/text';
import { useDesk } from '@/desk/DeskContext';
import { Button } from '@/ui/Button';
import { chartPng, chartSvg } from '@/ui/chart/chartFiles';
import { saveFile } from '@/ui/saveFile';
import { MenuSheet } from '@/ui/sheets';

/** Takes the drawing of the rails along as a picture. */
export function ExportRails() {
  const desk = useDesk();
  const take = async (what: 'svg' | 'png') => {
    const drawing = document.querySelector<SVGSVGElement>('svg[data-rails]');
    if (!drawing) return;
    const stem = `${fileStem(desk.store.getState().design.name)}-network`;
    const picture =
      what === 'svg'
        ? new Blob([chartSvg(drawing)], { type: 'image/svg+xml' })
        : await chartPng(drawing);
    saveFile(`${stem}.${what}`, picture);
  };
  return (
    <MenuTrigger>
      <Button aria-label="Export the drawing">
        <Copy size={13} aria-hidden /> Drawing
      </Button>
      <Popover placement="bottom end">
        <MenuSheet>
          <Menu onAction={(key) => void take(key as 'svg' | 'png')}>
            <MenuItem id="svg">Save SVG</MenuItem>
            <MenuItem id="png">Save PNG</MenuItem>
          </Menu>
        </MenuSheet>
      </Popover>
    </MenuTrigger>
  );
}
