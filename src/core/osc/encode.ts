/** Writes OSC 1.0 packets. Bytes are exact: every string and blob is padded with zeros to a multiple of four. */
import type { OscArgument, OscPacket } from "./types.ts";

const utf8 = new TextEncoder();
const BUNDLE_MARK_BYTES = 8;
const TIME_TAG_BYTES = 8;

/** A number as an OSC int32: the nearest whole number that there is. */
export function int32(value: number): number {
  return Math.min(2 ** 31 - 1, Math.max(-(2 ** 31), Math.round(value) || 0));
}

/** Length of an OSC string or address of `byteCount` bytes on the wire, terminator and padding included. */
export function paddedStringBytes(byteCount: number): number {
  return (byteCount & ~3) + 4;
}

export function encodeOsc(packet: OscPacket): Uint8Array {
  const bytes = new Uint8Array(packetBytes(packet));
  new Writer(bytes).packet(packet);
  return bytes;
}

/** The type tags of a list of arguments, with the leading comma. */
function typeTags(args: readonly OscArgument[]): string {
  return `,${args.map(tagOf).join("")}`;
}

function tagOf(arg: OscArgument): string {
  return arg.type === "[" ? `[${arg.value.map(tagOf).join("")}]` : arg.type;
}

function packetBytes(packet: OscPacket): number {
  if (packet.kind === "bundle")
    return packet.elements.reduce((sum, e) => sum + 4 + packetBytes(e), BUNDLE_MARK_BYTES + TIME_TAG_BYTES);
  return (
    paddedStringBytes(utf8.encode(packet.address).length) +
    paddedStringBytes(typeTags(packet.args).length) +
    packet.args.reduce((sum, a) => sum + argumentBytes(a), 0)
  );
}

function argumentBytes(arg: OscArgument): number {
  switch (arg.type) {
    case "i":
    case "f":
    case "c":
    case "r":
    case "m":
      return 4;
    case "h":
    case "t":
    case "d":
      return 8;
    case "s":
    case "S":
      return paddedStringBytes(utf8.encode(arg.value).length);
    case "b":
      return 4 + ((arg.value.length + 3) & ~3);
    case "[":
      return arg.value.reduce((sum, a) => sum + argumentBytes(a), 0);
    case "T":
    case "F":
    case "N":
    case "I":
      return 0;
    default:
      return arg satisfies never;
  }
}

class Writer {
  #at = 0;
  readonly #bytes: Uint8Array;
  readonly #view: DataView;

  constructor(bytes: Uint8Array) {
    this.#bytes = bytes;
    this.#view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  }

  packet(packet: OscPacket): void {
    if (packet.kind === "message") {
      this.#string(packet.address);
      this.#string(typeTags(packet.args));
      for (const arg of packet.args) this.#argument(arg);
      return;
    }
    this.#string("#bundle");
    this.#uint64(packet.timeTag);
    for (const element of packet.elements) {
      const sizeAt = this.#at;
      this.#at += 4;
      this.packet(element);
      this.#view.setInt32(sizeAt, this.#at - sizeAt - 4);
    }
  }

  #argument(arg: OscArgument): void {
    switch (arg.type) {
      case "i":
        this.#int32(arg.value);
        return;
      case "f":
        this.#view.setFloat32(this.#at, arg.value);
        this.#at += 4;
        return;
      case "d":
        this.#view.setFloat64(this.#at, arg.value);
        this.#at += 8;
        return;
      case "h":
      case "t":
        this.#uint64(arg.value);
        return;
      case "s":
      case "S":
        this.#string(arg.value);
        return;
      case "b":
        this.#int32(arg.value.length);
        this.#bytes.set(arg.value, this.#at);
        this.#at += (arg.value.length + 3) & ~3;
        return;
      case "c":
        this.#int32(arg.value.charCodeAt(0));
        return;
      case "r":
        this.#int32(Number.parseInt(arg.value.slice(1), 16) | 0);
        return;
      case "m":
        this.#bytes.set(arg.value, this.#at);
        this.#at += 4;
        return;
      case "[":
        for (const inner of arg.value) this.#argument(inner);
        return;
      case "T":
      case "F":
      case "N":
      case "I":
        return;
      default:
        arg satisfies never;
    }
  }

  #string(text: string): void {
    const encoded = utf8.encode(text);
    this.#bytes.set(encoded, this.#at);
    this.#at += paddedStringBytes(encoded.length);
  }

  #int32(value: number): void {
    this.#view.setInt32(this.#at, value);
    this.#at += 4;
  }

  #uint64(value: bigint): void {
    this.#view.setBigUint64(this.#at, BigInt.asUintN(64, value));
    this.#at += 8;
  }
}
