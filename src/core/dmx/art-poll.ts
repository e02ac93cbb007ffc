/**
 * How an Art-Net 4 network finds its nodes: a controller asks (ArtPoll), each node tells what it takes (ArtPollReply).
 * Controllers send levels only to nodes that have answered.
 */
import { ART_NET_IDENTIFIER, hasIdentifier, OLDEST_ART_NET_VERSION } from "./art-net.ts";

const OP_POLL = 0x2000;
const OP_POLL_REPLY = 0x2100;
const POLL_HEAD = 14;
const TARGETED = 0x20;
const REPLY_BYTES = 239;
/** The code of a maker that has none ("OemUnknown"). */
const OEM_UNKNOWN = 0x00ff;
/** A port that gives out what the network says, as DMX512. */
const PORT_OUT = 0x80;
/** Its levels are in use. */
const GOOD_OUTPUT = 0x80;
/** Port addresses of 15 bits. */
const STATUS_15_BITS = 0x08;

/** Whom a poll asks: every node, or those that take one of these port addresses, both included. */
export interface ArtPoll {
  readonly from: number;
  readonly to: number;
}

/** Null: it is no ArtPoll packet. */
export function readArtPoll(bytes: Uint8Array): ArtPoll | null {
  if (bytes.length < POLL_HEAD || !hasIdentifier(bytes)) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (view.getUint16(8, true) !== OP_POLL || view.getUint16(10) < OLDEST_ART_NET_VERSION) return null;
  const isTargeted = (bytes[12]! & TARGETED) !== 0;
  if (!isTargeted) return { from: 0, to: 0x7fff };
  // Top before bottom; a packet that is too short for them asks nobody.
  return bytes.length < 18 ? null : { from: view.getUint16(16), to: view.getUint16(14) };
}

export interface ArtNode {
  /** The address of this computer, four octets. */
  readonly address: readonly number[];
  /** Six octets; zeros where it is not known. */
  readonly hardware: readonly number[];
  readonly port: number;
  readonly shortName: string;
  readonly longName: string;
}

/** What one universe is told by: each has a reply of its own, for net and sub-net stand in it once. `bind` counts from 1. */
export function artPollReply(node: ArtNode, universe: number, bind: number): Uint8Array {
  const bytes = new Uint8Array(REPLY_BYTES);
  const view = new DataView(bytes.buffer);
  bytes.set(ART_NET_IDENTIFIER, 0);
  view.setUint16(8, OP_POLL_REPLY, true);
  bytes.set(node.address, 10);
  view.setUint16(14, node.port, true);
  view.setUint16(16, 1); // version of this firmware
  bytes[18] = (universe >> 8) & 0x7f; // net
  bytes[19] = (universe >> 4) & 0x0f; // sub-net
  view.setUint16(20, OEM_UNKNOWN);
  write(bytes, 26, 18, node.shortName);
  write(bytes, 44, 64, node.longName);
  write(bytes, 108, 64, "#0001 [0000] it listens"); // RcPowerOk and the polls that were answered
  view.setUint16(172, 1); // ports
  bytes[174] = PORT_OUT;
  bytes[182] = GOOD_OUTPUT;
  bytes[190] = universe & 0x0f;
  bytes.set(node.hardware, 201);
  bytes.set(node.address, 207);
  bytes[211] = bind;
  bytes[212] = STATUS_15_BITS;
  return bytes;
}

/** ASCII with a zero at its end, as much as there is room for. */
function write(bytes: Uint8Array, at: number, room: number, text: string): void {
  for (let i = 0; i < Math.min(text.length, room - 1); i++) {
    const code = text.charCodeAt(i);
    bytes[at + i] = code >= 0x20 && code < 0x7f ? code : 0x3f;
  }
}
