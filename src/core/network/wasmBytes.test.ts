import type { Bytes } from './wasmBytes';
import { bytesOf, moduleBytes, opcode } from './wasmBytes';

const written = (write: (bytes: Bytes) => void) => [...bytesOf(write)];

test('numbers are written seven bits to a byte, as the specification’s example has it', () => {
  // WebAssembly core specification 5.2.2 and the LEB128 of DWARF 4, 7.6: 624485 is E5 8E 26.
  expect(written((bytes) => bytes.number(624_485))).toEqual([0xe5, 0x8e, 0x26]);
  expect(written((bytes) => bytes.number(0))).toEqual([0]);
  expect(written((bytes) => bytes.number(127))).toEqual([0x7f]);
  expect(written((bytes) => bytes.number(128))).toEqual([0x80, 0x01]);
});

test('what grows beyond its room keeps what it has', () => {
  const count = 40_000;
  const bytes = written((all) => {
    for (let i = 0; i < count; i++) all.byte(i & 0xff);
  });
  expect(bytes).toHaveLength(count);
  expect(bytes[32_771]).toBe(32_771 & 0xff);
});

test('a module with one empty function is one that the engine takes', () => {
  // No locals, then the end.
  const bytes = moduleBytes([{ name: 'nothing', bytes: Uint8Array.of(0, opcode.end) }], 1);
  expect([...bytes.subarray(0, 8)]).toEqual([0, 0x61, 0x73, 0x6d, 1, 0, 0, 0]);
  expect(WebAssembly.validate(Uint8Array.from(bytes))).toBe(true);
  const memory = new WebAssembly.Memory({ initial: 1 });
  const { exports } = new WebAssembly.Instance(new WebAssembly.Module(Uint8Array.from(bytes)), {
    m: { m: memory },
  });
  expect(Object.keys(exports)).toEqual(['nothing']);
});
