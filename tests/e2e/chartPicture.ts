import type { Page } from '@playwright/test';

/** A chart as a data sheet has it: where its axes lie in the picture, and the curve drawn. */
export interface ChartPicture {
  readonly buffer: Buffer;
  readonly width: number;
  readonly height: number;
  /** Pixel of a frequency and of a level. */
  readonly x: (hz: number) => number;
  readonly y: (db: number) => number;
}

const box = { left: 70, right: 770, top: 30, bottom: 430 };
const size = { width: 820, height: 480 };
const range = { fromHz: 50, toHz: 20_000, bottomDb: 60, topDb: 110 };

/** Draws a curve in the browser: grey grid, labels, a second curve in another colour that crosses it. */
export async function chartPicture(
  page: Page,
  curve: readonly (readonly [hz: number, db: number])[],
): Promise<ChartPicture> {
  const x = (hz: number) =>
    box.left +
    ((box.right - box.left) * Math.log(hz / range.fromHz)) / Math.log(range.toHz / range.fromHz);
  const y = (db: number) =>
    box.bottom - ((box.bottom - box.top) * (db - range.bottomDb)) / (range.topDb - range.bottomDb);
  const points = curve.map(([hz, db]) => [x(hz), y(db)] as const);
  const lines = [50, 100, 200, 500, 1000, 2000, 5000, 10_000, 20_000].map(x);
  const levels = [60, 70, 80, 90, 100, 110].map(y);
  const base64 = await page.evaluate(
    ({ all, uprights, rows, frame, picture }) => {
      const canvas = document.createElement('canvas');
      Object.assign(canvas, picture);
      const pen = canvas.getContext('2d')!;
      pen.fillStyle = '#fff';
      pen.fillRect(0, 0, picture.width, picture.height);
      pen.strokeStyle = '#bbb';
      pen.lineWidth = 1;
      for (const at of uprights) {
        pen.beginPath();
        pen.moveTo(at, frame.top);
        pen.lineTo(at, frame.bottom);
        pen.stroke();
      }
      for (const at of rows) {
        pen.beginPath();
        pen.moveTo(frame.left, at);
        pen.lineTo(frame.right, at);
        pen.stroke();
      }
      pen.fillStyle = '#000';
      pen.fillText('Frequency (Hz)', 380, 465);
      pen.lineWidth = 2;
      pen.strokeStyle = '#c03020';
      pen.beginPath();
      pen.moveTo(frame.left, frame.bottom - 40);
      pen.lineTo(frame.right, frame.top + 60);
      pen.stroke();
      pen.strokeStyle = '#1040b0';
      pen.beginPath();
      all.forEach(([px, py], i) => (i === 0 ? pen.moveTo(px, py) : pen.lineTo(px, py)));
      pen.stroke();
      return canvas.toDataURL('image/png').split(',')[1];
    },
    { all: points, uprights: lines, rows: levels, frame: box, picture: size },
  );
  return { buffer: Buffer.from(base64, 'base64'), ...size, x, y };
}
