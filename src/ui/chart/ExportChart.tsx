'use client';
import { memo } from 'react';
import { Copy } from 'lucide-react';
import { Button, Menu, MenuItem, MenuTrigger, Popover } from 'react-aria-components';
import styled from 'styled-components';
import { fileStem } from '@/core/text';
import { saveFile } from '../saveFile';
import { MenuSheet } from '../sheets';
import type { Curve } from './curve';
import { chartPng, chartSvg, curvesCsv, type AxisUnits } from './chartFiles';

interface ExportChartProps {
  readonly title: string;
  readonly units: AxisUnits;
  /**
   * What the chart shows when something is taken; a stable function, so that the menu does not
   * change.
   */
  readonly shown: () => {
    readonly frequencyHz: Float64Array;
    readonly curves: readonly Curve[];
    readonly svg: SVGSVGElement | null;
  };
}

/** Takes a chart along: as a picture or as numbers. */
export const ExportChart = memo(function ExportChart({ title, units, shown }: ExportChartProps) {
  const stem = fileStem(title);
  const take = async (what: string) => {
    const { frequencyHz, curves, svg: picture } = shown();
    if (what === 'copy-csv')
      await navigator.clipboard.writeText(curvesCsv(frequencyHz, curves, units));
    if (what === 'csv')
      saveFile(
        `${stem}.csv`,
        new Blob([curvesCsv(frequencyHz, curves, units)], { type: 'text/csv' }),
      );
    if (what === 'svg' && picture)
      saveFile(`${stem}.svg`, new Blob([chartSvg(picture)], { type: 'image/svg+xml' }));
    if (what === 'png' && picture) saveFile(`${stem}.png`, await chartPng(picture));
    if (what === 'copy-png' && picture)
      await navigator.clipboard.write([new ClipboardItem({ 'image/png': chartPng(picture) })]);
  };
  return (
    <MenuTrigger>
      <Small aria-label={`Export ${title}`}>
        <Copy size={13} aria-hidden />
      </Small>
      <Popover placement="top end">
        <MenuSheet>
          <Menu onAction={(key) => void take(String(key))}>
            <MenuItem id="copy-png">Copy as picture</MenuItem>
            <MenuItem id="copy-csv">Copy as CSV</MenuItem>
            <MenuItem id="png">Save PNG</MenuItem>
            <MenuItem id="svg">Save SVG</MenuItem>
            <MenuItem id="csv">Save CSV</MenuItem>
          </Menu>
        </MenuSheet>
      </Popover>
    </MenuTrigger>
  );
});

const Small = styled(Button)`
  border: 0;
  background: none;
  padding: 3px;
  color: ${({ theme }) => theme.colour.quiet};
  cursor: pointer;
  display: flex;
  @media print {
    display: none;
  }
`;
