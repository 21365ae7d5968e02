/**
 * A small assembler for WebAssembly (core specification 2.0, binary format and 128-bit vectors):
 * just what the solver needs. Everything runs over pairs of doubles (f64x2), at addresses `running
 * offset + constant`.
 */

import { Bytes, bytesOf, moduleBytes, opcode, valueType } from './wasmBytes';

/** The part of the global that is used; the core is compiled without the DOM's types. */
declare const WebAssembly: {
  readonly Memory: new (limits: { readonly initial: number }) => WasmMemory;
  readonly Module: new (bytes: Uint8Array) => object;
  readonly Instance: new (
    module: object,
    imports: { readonly m: { readonly m: WasmMemory } },
  ) => { readonly exports: Readonly<Record<string, WasmFunction>> };
};

interface WasmMemory {
  readonly buffer: ArrayBuffer;
}

/** Where an input of its own begins, and how far the routine runs, both in bytes. */
type WasmFunction = (first: number, bytes: number) => void;

/** Bytes of a page of memory. */
const pageBytes = 65_536;

/**
 * Frequencies per round: pairs that do not depend on each other, so that the processor can work on
 * one while it waits for another. More than two pairs brought nothing (`npm run bench`).
 */
const pairs = 2;
const pairBytes = 16;

/** Code that leaves the vector of one of the pairs on the stack. */
export type Vector = (code: Code, pair: number) => void;

/** A complex number for each frequency of a round. */
export interface ComplexVector {
  readonly re: Vector;
  readonly im: Vector;
}

/** Frequencies that a routine may read and write beyond its end. */
export const overrun = 2 * pairs - 1;

/** Numbers of the vector instructions that are used; each follows the byte 0xfd. */
const vector = {
  load: 0x00,
  loadSplat: 0x0a,
  store: 0x0b,
  constant: 0x0c,
  lessThan: 0x49,
  not: 0x4d,
  or: 0x50,
  abs: 0xec,
  negate: 0xed,
  add: 0xf0,
  subtract: 0xf1,
  multiply: 0xf2,
  divide: 0xf3,
} as const;

/**
 * Locals of every function: its two parameters, the running offset, the offset from the first
 * parameter.
 */
const local = { first: 0, second: 1, offset: 2, fromFirst: 3, vectors: 4 } as const;
type Pointer = 'offset' | 'fromFirst';

/** The body of a function, written from front to back. */
export class Code {
  readonly bytes = new Bytes();
  vectorCount = 0;
  private used = 0;

  vector(instruction: number): void {
    this.bytes.byte(opcode.vector);
    this.bytes.number(instruction);
  }
  get(index: number): void {
    this.bytes.byte(opcode.localGet);
    this.bytes.number(index);
  }
  set(index: number): void {
    this.bytes.byte(opcode.localSet);
    this.bytes.number(index);
  }
  /** Alignment hint of eight bytes, then the offset. */
  place(offset: number): void {
    this.bytes.byte(3);
    this.bytes.number(offset);
  }
  /** Keeps a vector in locals of its own until the end of the {@link scope}. */
  keep(value: Vector): Vector {
    const index = this.reserve();
    this.setAll(index, value);
    return (code, pair) => code.get(index + pair);
  }
  keepComplex({ re, im }: ComplexVector): ComplexVector {
    return { re: this.keep(re), im: this.keep(im) };
  }
  /** A vector that changes while the code runs. */
  variable(start: Vector): { readonly value: Vector; readonly set: (next: Vector) => void } {
    const index = this.reserve();
    this.setAll(index, start);
    return {
      value: (code, pair) => code.get(index + pair),
      set: (next) => this.setAll(index, next),
    };
  }
  private reserve(): number {
    const index = local.vectors + this.used;
    this.used += pairs;
    this.vectorCount = Math.max(this.vectorCount, this.used);
    return index;
  }
  private setAll(index: number, value: Vector): void {
    for (let pair = 0; pair < pairs; pair++) {
      value(this, pair);
      this.set(index + pair);
    }
  }
  /** Locals that are kept inside are free again afterwards. */
  scope(write: () => void): void {
    const before = this.used;
    write();
    this.used = before;
  }
  store(offset: number, value: Vector, pointer: Pointer = 'offset'): void {
    for (let pair = 0; pair < pairs; pair++) {
      this.get(local[pointer]);
      value(this, pair);
      this.vector(vector.store);
      this.place(offset + pair * pairBytes);
    }
  }
}

export const load =
  (offset: number, pointer: Pointer = 'offset'): Vector =>
  (code, pair) => {
    code.get(local[pointer]);
    code.vector(vector.load);
    code.place(offset + pair * pairBytes);
  };
/** One double at a fixed address, in both halves. */
export const loadScalar =
  (address: number): Vector =>
  (code) => {
    code.bytes.all([opcode.constantI32, 0]);
    code.vector(vector.loadSplat);
    code.place(address);
  };
export const constant = (value: number): Vector => {
  const half = new Uint8Array(Float64Array.of(value).buffer);
  return (code) => {
    code.vector(vector.constant);
    code.bytes.all(half);
    code.bytes.all(half);
  };
};
const binary =
  (operation: number) =>
  (a: Vector, b: Vector): Vector =>
  (code, pair) => {
    a(code, pair);
    b(code, pair);
    code.vector(operation);
  };
const unary =
  (operation: number) =>
  (a: Vector): Vector =>
  (code, pair) => {
    a(code, pair);
    code.vector(operation);
  };
export const add = binary(vector.add);
export const subtract = binary(vector.subtract);
export const multiply = binary(vector.multiply);
export const divide = binary(vector.divide);
export const lessThan = binary(vector.lessThan);
export const or = binary(vector.or);
export const abs = unary(vector.abs);
export const negate = unary(vector.negate);
export const not = unary(vector.not);

/** a·b; each part of the operands is computed twice unless it is kept. */
export const product = (a: ComplexVector, b: ComplexVector): ComplexVector => ({
  re: subtract(multiply(a.re, b.re), multiply(a.im, b.im)),
  im: add(multiply(a.re, b.im), multiply(a.im, b.re)),
});
export const difference = (a: ComplexVector, b: ComplexVector): ComplexVector => ({
  re: subtract(a.re, b.re),
  im: subtract(a.im, b.im),
});

interface WasmRoutine {
  readonly name: string;
  readonly body: (code: Code) => void;
}

/**
 * The body in a loop: one round after the other, until the running offset reaches the second
 * parameter.
 */
function functionBytes({ body }: WasmRoutine): Uint8Array {
  const code = new Code();
  const { bytes } = code;
  bytes.all([opcode.loop, valueType.none]);
  code.get(local.offset);
  code.get(local.first);
  bytes.byte(opcode.addI32);
  code.set(local.fromFirst);
  body(code);
  code.get(local.offset);
  // A signed number in two bytes.
  const roundBytes = [(pairs * pairBytes) | 0x80, 0];
  bytes.all([opcode.constantI32, ...roundBytes, opcode.addI32, opcode.localTee, local.offset]);
  code.get(local.second);
  const innermost = 0;
  bytes.all([opcode.lessThanUnsignedI32, opcode.branchIf, innermost, opcode.end, opcode.end]);
  return bytesOf((whole) => {
    // Two groups of locals: two running numbers, and the vectors.
    whole.all([2, 2, valueType.i32]);
    whole.number(code.vectorCount);
    whole.byte(valueType.v128);
    whole.all(bytes.written());
  });
}

/**
 * Compiles routines over a memory of their own.
 *
 * @param bytes that the memory must hold
 */
export function compileRoutines<Name extends string>(
  routines: readonly (WasmRoutine & { readonly name: Name })[],
  bytes: number,
): { readonly memory: ArrayBuffer; readonly run: Readonly<Record<Name, WasmFunction>> } {
  const pages = Math.ceil(bytes / pageBytes);
  const memory = new WebAssembly.Memory({ initial: pages });
  const compiled = new WebAssembly.Module(
    moduleBytes(
      routines.map((routine) => ({ name: routine.name, bytes: functionBytes(routine) })),
      pages,
    ),
  );
  const { exports } = new WebAssembly.Instance(compiled, { m: { m: memory } });
  return { memory: memory.buffer, run: exports };
}
