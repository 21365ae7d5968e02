import { pictureSize } from './pictureSize';

const png = (width: number, height: number) => {
  const bytes = new Uint8Array(33);
  bytes.set([0x89, 0x50, 0x4e, 0x47, 0x0d, 0x0a, 0x1a, 0x0a, 0, 0, 0, 13, 0x49, 0x48, 0x44, 0x52]);
  new DataView(bytes.buffer).setUint32(16, width);
  new DataView(bytes.buffer).setUint32(20, height);
  return bytes;
};

test('a PNG says its size in its first chunk, however large it unpacks', () => {
  expect(pictureSize(png(820, 480))).toEqual({ width: 820, height: 480 });
  expect(pictureSize(png(60_000, 60_000))).toEqual({ width: 60_000, height: 60_000 });
  expect(pictureSize(png(1, 1).subarray(0, 20))).toBeNull();
});

test('a JPEG says it in its frame, behind tables, comments and fill bytes', () => {
  const comment = [0xff, 0xfe, 0, 6, 1, 2, 3, 4];
  const table = [0xff, 0xc4, 0, 4, 9, 9];
  const frame = [0xff, 0xff, 0xc2, 0, 11, 8, 0x01, 0xe0, 0x03, 0x34, 1, 0, 0];
  const bytes = Uint8Array.from([0xff, 0xd8, ...comment, ...table, ...frame, 0, 0]);
  expect(pictureSize(bytes)).toEqual({ width: 820, height: 480 });
  expect(pictureSize(bytes.subarray(0, 16))).toBeNull();
  expect(pictureSize(Uint8Array.from([0xff, 0xd8, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0]))).toBeNull();
});

test('what is neither has no size', () => {
  expect(pictureSize(new Uint8Array())).toBeNull();
  expect(pictureSize(new TextEncoder().encode('GIF89a and more of that'))).toBeNull();
});
