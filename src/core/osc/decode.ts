/**
 * A strict reader for OSC 1.0 packets: sizes, alignment, zero padding and depth are all checked, and
 * what is wrong is told with its place. It never throws and never reads outside the given bytes.
 */
import type { OscArgument, OscPacket, OscProblem, OscResult } from "./types.ts";

/** Largest payload of one UDP datagram over IPv4. */
export const MAX_OSC_PACKET_BYTES = 65_507;
/** Bundles inside bundles; real desks use one level. */
export const MAX_BUNDLE_DEPTH = 8;
/** Arrays inside arrays in the type tags. */
const MAX_ARRAY_DEPTH = 8;

const BUNDLE_MARK = "#bundle";
const utf8 = new TextDecoder("utf-8", { fatal: false });

class Refused extends Error {
  readonly problem: OscProblem;
  constructor(code: OscProblem["code"], atByte: number) {
    super(code);
    this.problem = { code, atByte };
  }
}

export function decodeOsc(bytes: Uint8Array): OscResult {
  if (bytes.length > MAX_OSC_PACKET_BYTES)
    return { ok: false, problem: { code: "osc-too-large", atByte: MAX_OSC_PACKET_BYTES } };
  try {
    return { ok: true, packet: readPacket(bytes, 0, bytes.length, 0) };
  } catch (error) {
    if (error instanceof Refused) return { ok: false, problem: error.problem };
    throw error;
  }
}

function readPacket(bytes: Uint8Array, start: number, end: number, depth: number): OscPacket {
  if (end === start) throw new Refused("osc-empty", start);
  if ((end - start) % 4 !== 0) throw new Refused("osc-not-aligned", end);
  const first = bytes[start];
  if (first === 0x2f) return readMessage(bytes, start, end);
  if (first === 0x23) return readBundle(bytes, start, end, depth);
  throw new Refused("osc-bad-address", start);
}

// OSC 1.0, "OSC Bundles": "#bundle", an 8-byte time tag, then size and contents of each element.
function readBundle(bytes: Uint8Array, start: number, end: number, depth: number): OscPacket {
  if (depth >= MAX_BUNDLE_DEPTH) throw new Refused("osc-too-deep", start);
  const reader = new Reader(bytes, start, end);
  if (reader.string() !== BUNDLE_MARK) throw new Refused("osc-bad-bundle", start);
  const timeTag = reader.uint64();
  const elements: OscPacket[] = [];
  while (reader.at < end) {
    const size = reader.int32();
    if (size < 0 || size % 4 !== 0 || reader.at + size > end) throw new Refused("osc-bad-bundle", reader.at - 4);
    elements.push(readPacket(bytes, reader.at, reader.at + size, depth + 1));
    reader.at += size;
  }
  return { kind: "bundle", timeTag, elements };
}

function readMessage(bytes: Uint8Array, start: number, end: number): OscPacket {
  const reader = new Reader(bytes, start, end);
  const address = reader.string();
  // Older senders may leave the type tags out; we cannot know the types then, so only an empty list is safe.
  if (reader.at === end) return { kind: "message", address, args: [] };
  const tagsAt = reader.at;
  const tags = reader.string();
  if (tags[0] !== ",") throw new Refused("osc-no-type-tags", tagsAt);
  const stack: OscArgument[][] = [[]];
  for (let i = 1; i < tags.length; i++) readArgument(reader, tags[i]!, stack, tagsAt + i);
  if (stack.length !== 1) throw new Refused("osc-open-array", tagsAt);
  if (reader.at !== end) throw new Refused("osc-trailing-bytes", reader.at);
  return { kind: "message", address, args: stack[0]! };
}

function readArgument(reader: Reader, tag: string, stack: OscArgument[][], tagAt: number): void {
  const list = stack[stack.length - 1]!;
  switch (tag) {
    case "i":
      list.push({ type: "i", value: reader.int32() });
      return;
    case "f":
      list.push({ type: "f", value: reader.float32() });
      return;
    case "d":
      list.push({ type: "d", value: reader.float64() });
      return;
    case "h":
      list.push({ type: "h", value: BigInt.asIntN(64, reader.uint64()) });
      return;
    case "t":
      list.push({ type: "t", value: reader.uint64() });
      return;
    case "s":
    case "S":
      list.push({ type: tag, value: reader.string() });
      return;
    case "b":
      list.push({ type: "b", value: reader.blob() });
      return;
    case "c":
      list.push({ type: "c", value: String.fromCharCode(reader.int32() & 0x7f) });
      return;
    case "r":
      list.push({ type: "r", value: `#${(reader.int32() >>> 0).toString(16).padStart(8, "0")}` });
      return;
    case "m": {
      const word = reader.int32();
      list.push({ type: "m", value: [word >>> 24, (word >>> 16) & 255, (word >>> 8) & 255, word & 255] });
      return;
    }
    case "T":
    case "F":
    case "N":
    case "I":
      list.push({ type: tag });
      return;
    case "[": {
      if (stack.length > MAX_ARRAY_DEPTH) throw new Refused("osc-too-deep", tagAt);
      const inner: OscArgument[] = [];
      list.push({ type: "[", value: inner });
      stack.push(inner);
      return;
    }
    case "]":
      if (stack.length === 1) throw new Refused("osc-open-array", tagAt);
      stack.pop();
      return;
    default:
      throw new Refused("osc-unknown-type", tagAt);
  }
}

class Reader {
  at: number;
  readonly #bytes: Uint8Array;
  readonly #view: DataView;
  readonly #end: number;

  constructor(bytes: Uint8Array, start: number, end: number) {
    this.#bytes = bytes;
    this.#view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
    this.at = start;
    this.#end = end;
  }

  // OSC 1.0, "Atomic Data Types": a null-terminated string, padded with nulls to a multiple of four.
  string(): string {
    const start = this.at;
    let stop = start;
    let ascii = true;
    while (stop < this.#end && this.#bytes[stop] !== 0) {
      if (this.#bytes[stop]! > 126) ascii = false;
      stop++;
    }
    if (stop >= this.#end) throw new Refused("osc-bad-string", start);
    this.at = start + ((stop - start) & ~3) + 4;
    this.#zeros(stop, this.at);
    // Short ASCII is the rule; building it directly is faster than the decoder for the first 40 bytes or so.
    if (!ascii || stop - start > 40) return utf8.decode(this.#bytes.subarray(start, stop));
    let text = "";
    for (let i = start; i < stop; i++) text += String.fromCharCode(this.#bytes[i]!);
    return text;
  }

  blob(): Uint8Array {
    const size = this.int32();
    const stop = this.at + size;
    if (size < 0 || stop > this.#end) throw new Refused("osc-bad-blob", this.at - 4);
    const padded = this.at + ((size + 3) & ~3);
    if (padded > this.#end) throw new Refused("osc-bad-blob", this.at - 4);
    const copy = this.#bytes.slice(this.at, stop); // a view would pin the datagram
    this.at = padded;
    this.#zeros(stop, padded);
    return copy;
  }

  int32(): number {
    return this.#view.getInt32(this.#take(4));
  }
  float32(): number {
    return this.#view.getFloat32(this.#take(4));
  }
  float64(): number {
    return this.#view.getFloat64(this.#take(8));
  }
  uint64(): bigint {
    return this.#view.getBigUint64(this.#take(8));
  }

  #take(count: number): number {
    const at = this.at;
    if (at + count > this.#end) throw new Refused("osc-truncated", at);
    this.at = at + count;
    return at;
  }

  #zeros(from: number, to: number): void {
    if (to > this.#end) throw new Refused("osc-truncated", from);
    for (let i = from; i < to; i++) if (this.#bytes[i] !== 0) throw new Refused("osc-bad-padding", i);
  }
}
