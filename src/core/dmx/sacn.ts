/** Data packets of streaming ACN (ANSI E1.31), read strictly: what does not fit together is no packet. */
import { isAcn, layerLength, nameAt } from "./acn.ts";

/** The port of E1.31 (section 9.4). */
export const SACN_PORT = 5568;
export const LAST_SACN_UNIVERSE = 63_999;
/** A source that has not been heard for so long is gone, in ms (section 6.7.1, data loss). */
export const SACN_SILENT_MS = 2500;

export interface SacnPacket {
  /** Component identifier of the source, in hexadecimal. */
  readonly cid: string;
  readonly sourceName: string;
  /** 0..200; the highest is heard (section 6.2.3). */
  readonly priority: number;
  readonly sequence: number;
  /** Not for output (section 6.2.6, bit 7). */
  readonly isPreview: boolean;
  /** The source says that it ends (bit 6). */
  readonly isTerminated: boolean;
  readonly universe: number;
  /** The start code; 0 = levels. */
  readonly startCode: number;
  readonly slots: Uint8Array;
}

/** Octets of the three layers, up to the start code (tables 4-1 to 4-3). */
const ROOT = 0;
const FRAMING = 38;
const DMP = 115;
const START_CODE = 125;
const VECTOR_ROOT_DATA = 4;
const VECTOR_FRAMING_DATA = 2;
const VECTOR_SET_PROPERTY = 2;
const ADDRESS_AND_DATA_TYPE = 0xa1;
const HIGHEST_PRIORITY = 200;
const MOST_SLOTS = 512;

/** Null: it is no data packet of E1.31. */
export function readSacn(bytes: Uint8Array): SacnPacket | null {
  if (bytes.length <= START_CODE) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const lengthAt = (at: number) => layerLength(bytes, at);
  const count = view.getUint16(DMP + 8);
  const end = DMP + 10 + count;
  const fits =
    isAcn(bytes) &&
    view.getUint32(ROOT + 18) === VECTOR_ROOT_DATA &&
    view.getUint32(FRAMING + 2) === VECTOR_FRAMING_DATA &&
    bytes[DMP + 2] === VECTOR_SET_PROPERTY &&
    bytes[DMP + 3] === ADDRESS_AND_DATA_TYPE &&
    view.getUint16(DMP + 4) === 0 &&
    view.getUint16(DMP + 6) === 1 &&
    count >= 1 &&
    count <= MOST_SLOTS + 1 &&
    end <= bytes.length &&
    // Every layer ends where the packet does; its length counts from its own beginning.
    lengthAt(ROOT + 16) === end - 16 &&
    lengthAt(FRAMING) === end - FRAMING &&
    lengthAt(DMP) === end - DMP;
  if (!fits) return null;
  const priority = bytes[FRAMING + 70]!;
  const universe = view.getUint16(FRAMING + 75);
  if (priority > HIGHEST_PRIORITY || universe < 1 || universe > LAST_SACN_UNIVERSE) return null;
  const options = bytes[FRAMING + 74]!;
  return {
    cid: hexOf(bytes.subarray(ROOT + 22, ROOT + 38)),
    sourceName: nameAt(bytes, FRAMING + 6),
    priority,
    sequence: bytes[FRAMING + 73]!,
    isPreview: (options & 0x80) !== 0,
    isTerminated: (options & 0x40) !== 0,
    universe,
    startCode: bytes[START_CODE]!,
    slots: bytes.subarray(START_CODE + 1, end),
  };
}

/** The group that carries a universe (section 9.3.1). */
export function sacnGroup(universe: number): string {
  return `239.255.${universe >> 8}.${universe & 0xff}`;
}

function hexOf(bytes: Uint8Array): string {
  return [...bytes].map((b) => b.toString(16).padStart(2, "0")).join("");
}
