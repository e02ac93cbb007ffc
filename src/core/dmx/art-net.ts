/** Levels as Art-Net 4 carries them (ArtDmx), read strictly. */

export const ART_NET_PORT = 6454;
/** A source that has not been heard for so long is gone, in ms: it repeats what it says at least every four seconds. */
export const ART_NET_SILENT_MS = 10_000;

export interface ArtDmxPacket {
  /** 0 = the source does not number its packets. */
  readonly sequence: number;
  /** The input at the source that it came from. */
  readonly physical: number;
  /** The 15-bit port address: net, sub-net and universe. */
  readonly universe: number;
  readonly slots: Uint8Array;
}

/** "Art-Net" and a zero. */
export const ART_NET_IDENTIFIER = [0x41, 0x72, 0x74, 0x2d, 0x4e, 0x65, 0x74, 0];
export const OLDEST_ART_NET_VERSION = 14;
/** The operation code of ArtDmx, low octet first. */
const OP_DMX = 0x5000;
const HEAD = 18;
const MOST_SLOTS = 512;

/** Whether it is a packet of Art-Net, whatever it says. */
export function hasIdentifier(bytes: Uint8Array): boolean {
  return bytes.length >= 10 && ART_NET_IDENTIFIER.every((octet, i) => bytes[i] === octet);
}

/** Whether it is meant to be ArtDmx: what then cannot be read is faulty, and not another operation. */
export function isArtDmx(bytes: Uint8Array): boolean {
  return hasIdentifier(bytes) && (bytes[8]! | (bytes[9]! << 8)) === OP_DMX;
}

/** Null: it is no ArtDmx packet. */
export function readArtDmx(bytes: Uint8Array): ArtDmxPacket | null {
  if (bytes.length < HEAD + 2 || !isArtDmx(bytes)) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  if (view.getUint16(10) < OLDEST_ART_NET_VERSION) return null;
  const length = view.getUint16(16);
  if (length < 2 || length > MOST_SLOTS || length % 2 !== 0 || HEAD + length > bytes.length) return null;
  if (bytes[15]! > 0x7f) return null;
  return {
    sequence: bytes[12]!,
    physical: bytes[13]!,
    universe: (bytes[15]! << 8) | bytes[14]!,
    slots: bytes.subarray(HEAD, HEAD + length),
  };
}
