/**
 * The packets by which two ends of a MIDI session on the network agree, keep their clocks in step, tell what has
 * arrived and part. RFC 6295 leaves this to the ends (section 6, "Session Management Tools"); what stands here is what
 * units of the field do. Numbers are big-endian, offsets and lengths in bytes:
 *
 *   all       0 FF FF · 2 two letters
 *   IN OK NO  4 version · 8 token · 12 SSRC · 16 name, UTF-8, ended by a zero; BY has no name
 *   CK        4 SSRC · 8 count 0..2 · 9 three of padding · 12, 20, 28 times of 64 bits; 36 in all
 *   RS        4 SSRC · 8 sequence number of 16 bits · 10 two of padding; 12 in all
 */

const SIGNATURE = 0xffff;
const PROTOCOL_VERSION = 2;
/** Longest name that is read, in bytes. */
const LONGEST_NAME = 255;

export type Agreement = "invite" | "accept" | "refuse" | "bye";

export type SessionPacket =
  | {
      readonly kind: Agreement;
      /** Chosen by who invites; the answer carries it back. */
      readonly token: number;
      readonly ssrc: number;
      readonly name: string;
    }
  /** Three of these, 0, 1 and 2, go to and fro; times in ticks of each sender's own clock, all 64 bits of them. */
  | {
      readonly kind: "clock";
      readonly ssrc: number;
      readonly count: number;
      readonly times: readonly [bigint, bigint, bigint];
    }
  /** Everything up to this packet, 0..65,535, has arrived. */
  | { readonly kind: "feedback"; readonly ssrc: number; readonly sequence: number };

const LETTERS: Record<SessionPacket["kind"], string> = {
  invite: "IN",
  accept: "OK",
  refuse: "NO",
  bye: "BY",
  clock: "CK",
  feedback: "RS",
};
const KINDS = new Map(Object.entries(LETTERS).map(([kind, letters]) => [letters, kind as SessionPacket["kind"]]));

export function writeSessionPacket(packet: SessionPacket): Uint8Array {
  switch (packet.kind) {
    case "clock": {
      const { bytes, view } = begin(packet.kind, 36);
      view.setUint32(4, packet.ssrc);
      view.setUint8(8, packet.count);
      for (const [i, time] of packet.times.entries()) view.setBigUint64(12 + i * 8, BigInt.asUintN(64, time));
      return bytes;
    }
    case "feedback": {
      const { bytes, view } = begin(packet.kind, 12);
      view.setUint32(4, packet.ssrc);
      view.setUint16(8, packet.sequence);
      return bytes;
    }
    default: {
      const name = packet.kind === "bye" ? new Uint8Array() : new TextEncoder().encode(`${packet.name}\0`);
      const { bytes, view } = begin(packet.kind, 16 + name.length);
      view.setUint32(4, PROTOCOL_VERSION);
      view.setUint32(8, packet.token);
      view.setUint32(12, packet.ssrc);
      bytes.set(name, 16);
      return bytes;
    }
  }
}

function begin(kind: SessionPacket["kind"], length: number): { bytes: Uint8Array; view: DataView } {
  const bytes = new Uint8Array(length);
  const view = new DataView(bytes.buffer);
  view.setUint16(0, SIGNATURE);
  const letters = LETTERS[kind];
  view.setUint8(2, letters.charCodeAt(0));
  view.setUint8(3, letters.charCodeAt(1));
  return { bytes, view };
}

/** Whether a datagram is of the session, and not of its stream of MIDI. */
export function isSessionPacket(bytes: Uint8Array): boolean {
  return bytes[0] === 0xff && bytes[1] === 0xff;
}

/** Null: it is no such packet, or too short. */
export function readSessionPacket(bytes: Uint8Array): SessionPacket | null {
  if (bytes.length < 8 || !isSessionPacket(bytes)) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const kind = KINDS.get(String.fromCharCode(bytes[2]!, bytes[3]!));
  switch (kind) {
    case undefined:
      return null;
    case "clock": {
      if (bytes.length < 36 || bytes[8]! > 2) return null;
      const time = (i: number) => view.getBigUint64(12 + i * 8);
      return { kind, ssrc: view.getUint32(4), count: bytes[8]!, times: [time(0), time(1), time(2)] };
    }
    case "feedback":
      return bytes.length < 10 ? null : { kind, ssrc: view.getUint32(4), sequence: view.getUint16(8) };
    default: {
      if (bytes.length < 16 || view.getUint32(4) !== PROTOCOL_VERSION) return null;
      const end = bytes.indexOf(0, 16);
      const name = bytes.subarray(16, Math.min(end < 0 ? bytes.length : end, 16 + LONGEST_NAME));
      return { kind, token: view.getUint32(8), ssrc: view.getUint32(12), name: new TextDecoder().decode(name) };
    }
  }
}
