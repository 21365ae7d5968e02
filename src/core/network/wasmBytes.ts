/**
 * The binary format of WebAssembly (core specification 2.0): bytes, and the numbers of what is used
 * here.
 */

/** Bytes that are written one after the other; grows as needed. */
export class Bytes {
  private room = new Uint8Array(16_384);
  length = 0;

  byte(value: number): void {
    if (this.length === this.room.length) {
      const larger = new Uint8Array(2 * this.length);
      larger.set(this.room);
      this.room = larger;
    }
    this.room[this.length++] = value;
  }
  /** A whole number of 0 or more, seven bits to a byte (LEB128). */
  number(value: number): void {
    let rest = value;
    while (rest > 0x7f) {
      this.byte((rest & 0x7f) | 0x80);
      rest >>>= 7;
    }
    this.byte(rest);
  }
  all(bytes: readonly number[] | Uint8Array): void {
    for (const byte of bytes) this.byte(byte);
  }
  /** With the length before it. */
  counted(bytes: Uint8Array): void {
    this.number(bytes.length);
    this.all(bytes);
  }
  written(): Uint8Array {
    return this.room.subarray(0, this.length);
  }
}

export const bytesOf = (write: (bytes: Bytes) => void): Uint8Array => {
  const bytes = new Bytes();
  write(bytes);
  return bytes.written();
};

/** Instructions on numbers and flow (specification 5.4). */
export const opcode = {
  loop: 0x03,
  end: 0x0b,
  branchIf: 0x0d,
  localGet: 0x20,
  localSet: 0x21,
  localTee: 0x22,
  constantI32: 0x41,
  lessThanUnsignedI32: 0x49,
  addI32: 0x6a,
  /** Before the number of a vector instruction. */
  vector: 0xfd,
} as const;

/** Types (specification 5.3). */
export const valueType = { none: 0x40, i32: 0x7f, v128: 0x7b, func: 0x60 } as const;

/** Kinds of imports and exports. */
const kind = { func: 0x00, memory: 0x02 } as const;

/** Sections of a module, in the order in which they must come (specification 5.5). */
const section = { types: 1, imports: 2, functions: 3, exports: 7, code: 10 } as const;

/** `\0asm`, version 1. */
const preamble = [0x00, 0x61, 0x73, 0x6d, 1, 0, 0, 0];

const text = (words: string) => [words.length, ...[...words].map((letter) => letter.charCodeAt(0))];

/**
 * A function by its name, with its locals and its instructions as they are counted in a code
 * section.
 */
interface FunctionBytes {
  readonly name: string;
  readonly bytes: Uint8Array;
}

/** A module of functions of two parameters over one memory that it imports as `m.m`. */
export const moduleBytes = (functions: readonly FunctionBytes[], pages: number): Uint8Array =>
  bytesOf((whole) => {
    const write = (id: number, content: (bytes: Bytes) => void) => {
      whole.byte(id);
      whole.counted(bytesOf(content));
    };
    whole.all(preamble);
    const [parameters, results] = [2, 0];
    write(section.types, (bytes) =>
      bytes.all([1, valueType.func, parameters, valueType.i32, valueType.i32, results]),
    );
    write(section.imports, (bytes) => {
      const noLargest = 0;
      bytes.all([1, ...text('m'), ...text('m'), kind.memory, noLargest]);
      bytes.number(pages);
    });
    write(section.functions, (bytes) => bytes.all([functions.length, ...functions.map(() => 0)]));
    write(section.exports, (bytes) => {
      bytes.byte(functions.length);
      functions.forEach(({ name }, i) => bytes.all([...text(name), kind.func, i]));
    });
    write(section.code, (bytes) => {
      bytes.byte(functions.length);
      for (const one of functions) bytes.counted(one.bytes);
    });
  });
