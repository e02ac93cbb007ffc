/** The RTP header of a packet (RFC 3550, section 5.1) with what RFC 6295 says of it in section 2.1. */

/** Ticks of the session's clock a second: timestamps count tenths of a millisecond. */
export const TICKS_PER_S = 10_000;

const HEADER_BYTES = 12;
const VERSION = 2;
const MARKER = 0x80;
/** The payload type that the session protocol gives to MIDI. */
const PAYLOAD_TYPE = 97;

export interface PacketHead {
  /** 0..65,535. */
  readonly sequence: number;
  /** In ticks, modulo 2^32. */
  readonly timestamp: number;
  readonly ssrc: number;
  /** Where the payload begins and ends: behind it may be padding. */
  readonly from: number;
  readonly end: number;
}

/** Joins head, command section and journal; the marker says that the list of commands is not empty. */
export function writePacket(
  head: Pick<PacketHead, "sequence" | "timestamp" | "ssrc">,
  hasCommands: boolean,
  ...parts: readonly Uint8Array[]
): Uint8Array {
  const packet = new Uint8Array(HEADER_BYTES + parts.reduce((n, p) => n + p.length, 0));
  packet[0] = VERSION << 6;
  packet[1] = (hasCommands ? MARKER : 0) | PAYLOAD_TYPE;
  packet[2] = head.sequence >> 8;
  packet[3] = head.sequence;
  for (let i = 0; i < 4; i++) {
    packet[4 + i] = head.timestamp >>> (24 - 8 * i);
    packet[8 + i] = head.ssrc >>> (24 - 8 * i);
  }
  let at = HEADER_BYTES;
  for (const part of parts) {
    packet.set(part, at);
    at += part.length;
  }
  return packet;
}

/** Null: it is no packet of ours. */
export function readPacketHead(packet: Uint8Array): PacketHead | null {
  if (packet.length < HEADER_BYTES || packet[0]! >> 6 !== VERSION || (packet[1]! & 0x7f) !== PAYLOAD_TYPE) return null;
  // Octet by octet: a view of its own for each packet costs more than all the rest.
  const uint16 = (at: number) => (packet[at]! << 8) | packet[at + 1]!;
  const uint32 = (at: number) => uint16(at) * 0x1_0000 + uint16(at + 2);
  const hasPadding = (packet[0]! & 0x20) !== 0;
  const hasExtension = (packet[0]! & 0x10) !== 0;
  let from = HEADER_BYTES + (packet[0]! & 0x0f) * 4;
  if (hasExtension) {
    if (from + 4 > packet.length) return null;
    from += 4 + uint16(from + 2) * 4;
  }
  const padding = hasPadding ? packet[packet.length - 1]! : 0;
  const end = packet.length - padding;
  if (from >= end || (hasPadding && padding === 0)) return null;
  return { sequence: uint16(2), timestamp: uint32(4), ssrc: uint32(8), from, end };
}
