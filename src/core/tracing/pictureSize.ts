/** Width and height of a picture, pixels. */
interface PictureSize {
  readonly width: number;
  readonly height: number;
}

const png = [0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a];

/**
 * How large a PNG or JPEG says it is, from its head alone: a small file may unpack to more than any
 * memory holds, so this is asked before it is unpacked.
 *
 * @returns null for what is neither
 */
export function pictureSize(bytes: Uint8Array): PictureSize | null {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (png.every((byte, i) => bytes[i] === byte))
    return bytes.length < 24 ? null : { width: view.getUint32(16), height: view.getUint32(20) };
  return bytes[0] === 0xff && bytes[1] === 0xd8 ? jpegSize(view) : null;
}

/** Frame headers: baseline, progressive and the rarer kinds; not tables of codes. */
const isFrame = (marker: number): boolean =>
  marker >= 0xc0 && marker <= 0xcf && ![0xc4, 0xc8, 0xcc].includes(marker);

function jpegSize(view: DataView): PictureSize | null {
  let at = 2;
  while (at + 9 <= view.byteLength) {
    if (view.getUint8(at) !== 0xff) return null;
    const marker = view.getUint8(at + 1);
    // Fill bytes may precede a marker.
    if (marker === 0xff) {
      at++;
      continue;
    }
    if (isFrame(marker)) return { height: view.getUint16(at + 5), width: view.getUint16(at + 7) };
    at += 2 + view.getUint16(at + 2);
  }
  return null;
}
