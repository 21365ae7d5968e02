import { problem } from '@/core/problem';
import type { Picture } from '@/core/tracing/follow';
import { pictureSize } from '@/core/tracing/pictureSize';

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

const unreadable = (name: string) =>
  refused(name, 'This can’t be read as a picture.', 'It is damaged, or neither PNG nor JPEG.');

/** @throws ProblemError `picture_unreadable` */
export async function readPicture(file: File): Promise<SheetPicture> {
  if (file.size > mostBytes)
    throw refused(file.name, 'This picture is too large.', `Up to ${mostBytes / 1e6} MB are read.`);
  const bytes = new Uint8Array(await file.arrayBuffer());
  const size = pictureSize(bytes);
  if (!size) throw unreadable(file.name);
  if (size.width * size.height > mostPixels)
    throw refused(
      file.name,
      `This picture has ${size.width} × ${size.height} pixels.`,
      `Up to ${mostPixels / 1e6} million are read.`,
    );
  let bitmap: ImageBitmap;
  try {
    bitmap = await createImageBitmap(file);
  } catch {
    throw unreadable(file.name);
  }
  // A photograph may lie on its side in the file.
  const { width, height } = bitmap;
  const canvas = new OffscreenCanvas(width, height);
  const context = canvas.getContext('2d', { willReadFrequently: true })!;
  // What is transparent counts as paper.
  context.fillStyle = '#fff';
  context.fillRect(0, 0, width, height);
  context.drawImage(bitmap, 0, 0);
  return {
    ...{ name: file.name, width, height, bitmap, bytes },
    data: context.getImageData(0, 0, width, height).data,
  };
}
