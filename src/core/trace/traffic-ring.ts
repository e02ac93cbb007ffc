/**
 * The newest traffic in one block of memory: rows of fixed size, written without allocation, and drained into memory
 * that other threads see (row-slabs.ts). A row:
 *
 *   byte  0  f64  sequence number, counted from 1
 *   byte  8  f64  time in ms
 *   byte 16  f64  a   (see outcome.ts)
 *   byte 24  f64  b
 *   byte 32  f64  sequence number of the row that caused this one; 0 = none
 *   byte 40  i32  direction and side: DIRECTION_OUT | SIDE_DESK
 *   byte 44  i32  surface or desk
 *   byte 48  i32  outcome code
 *   byte 52  i32  mapping; -1 = none
 *   byte 56  i32  control in its surface, or action in its mapping; -1 = none
 *   byte 60  i32  length of the whole message in bytes
 *   byte 64       its first 96 bytes; the others lie beside the rows (traffic-rests.ts)
 */

import { OUTCOME, type OutcomeCode } from "./outcome.ts";
import { RestWriter, restOf } from "./traffic-rests.ts";

export const ROW_BYTES = 160;
const ROW_HEAD_BYTES = 64;
/** Bytes of a message that a row keeps. */
export const ROW_DATA_BYTES = ROW_BYTES - ROW_HEAD_BYTES;

export const DIRECTION_OUT = 1;
export const SIDE_DESK = 2;

const F64_PER_ROW = ROW_BYTES / 8;
const I32_PER_ROW = ROW_BYTES / 4;

export class TrafficRing {
  readonly #rows: number;
  readonly #bytes: Uint8Array;
  readonly #f64: Float64Array;
  readonly #i32: Int32Array;
  readonly #rests = new RestWriter();
  #sequence = 0;
  #drained = 0;
  #lost = 0;

  /** `rows` must be a power of two. */
  constructor(rows = 2048) {
    if (rows < 2 || (rows & (rows - 1)) !== 0) throw new RangeError(`rows is ${rows}; a power of two is needed`);
    this.#rows = rows;
    const block = new ArrayBuffer(rows * ROW_BYTES);
    this.#bytes = new Uint8Array(block);
    this.#f64 = new Float64Array(block);
    this.#i32 = new Int32Array(block);
  }

  /** Sequence number of the newest row. */
  get sequence(): number {
    return this.#sequence;
  }
  /** Rows written and not yet drained. */
  get waiting(): number {
    return this.#sequence - this.#drained;
  }
  /** Rows that a drain would answer: those that wait and were not overwritten. */
  get drainable(): number {
    return Math.min(this.waiting, this.#rows);
  }
  /** Rows that were overwritten before they were drained. */
  get lost(): number {
    return this.#lost;
  }

  /** Starts a row for up to three MIDI bytes and answers its sequence number. A row that is started is given its outcome. */
  short(atMs: number, flags: number, device: number, b0: number, b1: number, b2: number, length: number): number {
    const row = this.#begin(atMs, flags, device, length);
    const at = row * ROW_BYTES + ROW_HEAD_BYTES;
    this.#i32[at >> 2] = b0 | (b1 << 8) | (b2 << 16); // little-endian, as every machine Node.js runs on
    return this.#sequence;
  }

  /** Starts a row for a longer message: its first `ROW_DATA_BYTES` in the row, the others beside it. */
  long(atMs: number, flags: number, device: number, bytes: Uint8Array, offset: number, length: number): number {
    const row = this.#begin(atMs, flags, device, length);
    const at = row * ROW_BYTES + ROW_HEAD_BYTES;
    const kept = length < ROW_DATA_BYTES ? length : ROW_DATA_BYTES;
    // A plain loop beats subarray + set below about 100 bytes: no view is allocated.
    for (let i = 0; i < kept; i++) this.#bytes[at + i] = bytes[offset + i]!;
    if (length > kept) this.#rests.add(this.#sequence, bytes, offset + kept, length - kept);
    return this.#sequence;
  }

  /**
   * A whole row for a message to a desk that lies in words of four bytes: `offset` and `length` in bytes, `offset` a
   * multiple of 4. One call in the place of `long` and `outcome`: it is the half of all rows while faders move.
   */
  toDesk(
    atMs: number,
    desk: number,
    words: Int32Array,
    offset: number,
    length: number,
    code: OutcomeCode,
    mapping: number,
    subject: number,
    a: number,
    b: number,
    cause: number,
  ): number {
    const sequence = ++this.#sequence;
    const row = sequence & (this.#rows - 1);
    const f64 = this.#f64;
    const i32 = this.#i32;
    const f = row * F64_PER_ROW;
    const i = row * I32_PER_ROW;
    f64[f] = sequence;
    f64[f + 1] = atMs;
    f64[f + 2] = a;
    f64[f + 3] = b;
    f64[f + 4] = cause;
    i32[i + 10] = DIRECTION_OUT | SIDE_DESK;
    i32[i + 11] = desk;
    i32[i + 12] = code;
    i32[i + 13] = mapping;
    i32[i + 14] = subject;
    i32[i + 15] = length;
    const to = i + ROW_HEAD_BYTES / 4;
    const from = offset >> 2;
    // MIDI messages are no whole words; their room in the block is.
    const kept = (length < ROW_DATA_BYTES ? length + 3 : ROW_DATA_BYTES) >> 2;
    for (let k = 0; k < kept; k++) i32[to + k] = words[from + k]!;
    if (length > ROW_DATA_BYTES) this.#restOfWords(sequence, words, offset, length);
    return sequence;
  }

  /**
   * As `toDesk` for the first action of mapping `mapping`, and in the same call what became of its cause: that it was
   * sent, by `control`. The message has room in a row. One call in the place of two leaves the compiler room to inline
   * both ways of a fader (bench row `core.small`: a quarter faster).
   */
  toDeskAndCause(
    atMs: number,
    desk: number,
    words: Int32Array,
    offset: number,
    length: number,
    mapping: number,
    control: number,
    value: number,
    state: number,
    cause: number,
  ): number {
    const sequence = ++this.#sequence;
    const mask = this.#rows - 1;
    const f64 = this.#f64;
    const i32 = this.#i32;
    let f = (sequence & mask) * F64_PER_ROW;
    let i = (sequence & mask) * I32_PER_ROW;
    f64[f] = sequence;
    f64[f + 1] = atMs;
    f64[f + 2] = value;
    f64[f + 3] = state;
    f64[f + 4] = cause;
    i32[i + 10] = DIRECTION_OUT | SIDE_DESK;
    i32[i + 11] = desk;
    i32[i + 12] = OUTCOME.action;
    i32[i + 13] = mapping;
    i32[i + 14] = 0;
    i32[i + 15] = length;
    const to = i + ROW_HEAD_BYTES / 4;
    const from = offset >> 2;
    const kept = (length + 3) >> 2;
    for (let k = 0; k < kept; k++) i32[to + k] = words[from + k]!;
    if (sequence - cause >= this.#rows) return sequence;
    f = (cause & mask) * F64_PER_ROW;
    i = (cause & mask) * I32_PER_ROW;
    f64[f + 2] = value;
    f64[f + 3] = 0;
    f64[f + 4] = 0;
    i32[i + 12] = OUTCOME.sent;
    i32[i + 13] = mapping;
    i32[i + 14] = control;
    return sequence;
  }

  /** Writes what became of the row with this sequence number, if it is still here. */
  outcome(
    sequence: number,
    code: OutcomeCode,
    mapping: number,
    subject: number,
    a: number,
    b: number,
    cause: number,
  ): void {
    if (this.#sequence - sequence >= this.#rows) return;
    const row = sequence & (this.#rows - 1);
    const f = row * F64_PER_ROW;
    const i = row * I32_PER_ROW;
    const f64 = this.#f64;
    const i32 = this.#i32;
    f64[f + 2] = a;
    f64[f + 3] = b;
    f64[f + 4] = cause;
    i32[i + 12] = code;
    i32[i + 13] = mapping;
    i32[i + 14] = subject;
  }

  /** What became of the row with this sequence number; -1 where it is no longer here. */
  outcomeOf(sequence: number): OutcomeCode | -1 {
    if (this.#sequence - sequence >= this.#rows) return -1;
    return this.#i32[(sequence & (this.#rows - 1)) * I32_PER_ROW + 12]! as OutcomeCode;
  }

  /** The rows since the last drain, oldest first, in a buffer of their own; null = none. */
  drain(): Uint8Array<ArrayBuffer> | null {
    if (this.waiting === 0) return null;
    const out = new Uint8Array(this.drainable * ROW_BYTES);
    this.drainInto(out, 0);
    return out;
  }

  /** Copies the rows since the last drain (`drainable` of them), oldest first, to row `at` of `out` and after. */
  drainInto(out: Uint8Array, at: number): void {
    const count = this.drainable;
    this.#lost += this.waiting - count;
    const first = (this.#sequence - count + 1) & (this.#rows - 1);
    const untilEnd = Math.min(count, this.#rows - first);
    out.set(this.#bytes.subarray(first * ROW_BYTES, (first + untilEnd) * ROW_BYTES), at * ROW_BYTES);
    if (untilEnd < count) out.set(this.#bytes.subarray(0, (count - untilEnd) * ROW_BYTES), (at + untilEnd) * ROW_BYTES);
    this.#drained = this.#sequence;
  }

  /** What lies beside the rows that were just drained; null = nothing. */
  takeRests(): ArrayBuffer | null {
    return this.#rests.take();
  }

  #restOfWords(sequence: number, words: Int32Array, offset: number, length: number): void {
    const bytes = new Uint8Array(words.buffer, words.byteOffset + offset, length);
    this.#rests.add(sequence, bytes, ROW_DATA_BYTES, length - ROW_DATA_BYTES);
  }

  #begin(atMs: number, flags: number, device: number, length: number): number {
    const sequence = ++this.#sequence;
    const row = sequence & (this.#rows - 1);
    const f64 = this.#f64;
    const i32 = this.#i32;
    const i = row * I32_PER_ROW;
    f64[row * F64_PER_ROW] = sequence;
    f64[row * F64_PER_ROW + 1] = atMs;
    i32[i + 10] = flags;
    i32[i + 11] = device;
    i32[i + 15] = length;
    return row;
  }
}

/** One row, read back. */
export interface TrafficRow {
  sequence: number;
  atMs: number;
  a: number;
  b: number;
  cause: number;
  out: boolean;
  desk: boolean;
  device: number;
  code: OutcomeCode;
  mapping: number;
  /** Of a row to or from a surface its control; of one to a desk which action of its mapping; -1 = none. */
  subject: number;
  length: number;
  bytes: Uint8Array;
}

/** Number of rows in a drained buffer. */
export function rowCount(block: Uint8Array): number {
  return block.byteLength / ROW_BYTES;
}

/** `rests`: what lies beside the rows; where it is given and has the rest of the message, `bytes` is all of it. */
export function readRow(block: Uint8Array, row: number, rests: ArrayBuffer | null = null): TrafficRow {
  const view = new DataView(block.buffer, block.byteOffset + row * ROW_BYTES, ROW_BYTES);
  const sequence = view.getFloat64(0, true);
  const flags = view.getInt32(40, true);
  const length = view.getInt32(60, true);
  const at = row * ROW_BYTES + ROW_HEAD_BYTES;
  const begun = block.subarray(at, at + Math.min(length, ROW_DATA_BYTES));
  const rest = length > ROW_DATA_BYTES ? restOf(rests, sequence) : null;
  return {
    sequence,
    atMs: view.getFloat64(8, true),
    a: view.getFloat64(16, true),
    b: view.getFloat64(24, true),
    cause: view.getFloat64(32, true),
    out: (flags & DIRECTION_OUT) !== 0,
    desk: (flags & SIDE_DESK) !== 0,
    device: view.getInt32(44, true),
    code: view.getInt32(48, true) as OutcomeCode, // rows are written by `outcome` and nothing else
    mapping: view.getInt32(52, true),
    subject: view.getInt32(56, true),
    length,
    bytes: rest ? joined(begun, rest) : begun,
  };
}

function joined(a: Uint8Array, b: Uint8Array): Uint8Array {
  const out = new Uint8Array(a.length + b.length);
  out.set(a);
  out.set(b, a.length);
  return out;
}
