import { problem } from '@/core/problem';
import type { Picture } from '@/core/tracing/follow';

/** A picture of a data sheet, with its file. */
export interface SheetPicture extends Picture {
  readonly name: string;
  readonly bytes: Uint8Array;
  readonly bitmap: ImageBitmap;
}

const mostBytes = 25_000_000;
const mostPixels = 40_000_000;

export const isPicture = (file: Pick<File, 'name' | 'type'>): boolean =>
  /^image\/(png|jpeg)$/.test(file.type) || /\.(png|jpe?g)$/i.test(file.name);

const refused = (name: string, what: string, why: string) =>
  problem('picture_unreadable', name, what, why, 'Give a PNG or JPEG of the chart, cut to it.');

/** @throws ProblemError `picture_unreadable` */
export async function readPicture(file: File): Promise<SheetPicture> {
  if (file.size > mostBytes)
    throw refused(file.name, 'This picture is too large.', `Up to ${mostBytes / 1e6} MB are read.`);
  let bitmap: ImageBitmap;
  try {
    bitmap = await createImageBitmap(file);
  } catch {
    throw refused(file.name, 'This can’t be read as a picture.', 'It is damaged, or no picture.');
  }
  const { width, height } = bitmap;
  if (width * height > mostPixels)
    throw refused(
      file.name,
      `This picture has ${width} × ${height} pixels.`,
      `Up to ${mostPixels / 1e6} million are read.`,
    );
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  // What is transparent counts as paper.
  context.fillStyle = '#fff';
  context.fillRect(0, 0, width, height);
  context.drawImage(bitmap, 0, 0);
  return {
    ...{ name: file.name, width, height, bitmap },
    data: context.getImageData(0, 0, width, height).data,
    bytes: new Uint8Array(await file.arrayBuffer()),
  };
}
