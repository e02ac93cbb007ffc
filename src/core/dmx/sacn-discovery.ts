/** Universe discovery packets of streaming ACN (ANSI E1.31, section 8): which universes a source sends. Read strictly. */
import { isAcn, layerLength, nameAt } from "./acn.ts";
import { LAST_SACN_UNIVERSE } from "./sacn.ts";

/** The universe whose group carries them (section 8, “E131_DISCOVERY_UNIVERSE”). */
export const DISCOVERY_UNIVERSE = 64_214;

export interface SacnDiscovery {
  readonly sourceName: string;
  /** Of one page of its list, in rising order. */
  readonly universes: readonly number[];
}

/** Octets of the layers (tables 4-3 and 8-9). */
const FRAMING = 38;
const LIST = 112;
const UNIVERSES = 120;
const VECTOR_ROOT_EXTENDED = 8;
const VECTOR_EXTENDED_DISCOVERY = 2;
const VECTOR_UNIVERSE_LIST = 1;
const MOST_UNIVERSES = 512;

/** Null: it is no discovery packet. */
export function readSacnDiscovery(bytes: Uint8Array): SacnDiscovery | null {
  if (bytes.length < UNIVERSES || !isAcn(bytes)) return null;
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  const lengthAt = (at: number) => layerLength(bytes, at);
  const end = LIST + lengthAt(LIST);
  const count = (end - UNIVERSES) / 2;
  const fits =
    view.getUint32(18) === VECTOR_ROOT_EXTENDED &&
    view.getUint32(FRAMING + 2) === VECTOR_EXTENDED_DISCOVERY &&
    view.getUint32(LIST + 2) === VECTOR_UNIVERSE_LIST &&
    Number.isInteger(count) &&
    count >= 0 &&
    count <= MOST_UNIVERSES &&
    end <= bytes.length &&
    lengthAt(16) === end - 16 &&
    lengthAt(FRAMING) === end - FRAMING &&
    bytes[118]! <= bytes[119]!;
  if (!fits) return null;
  const universes = Array.from({ length: count }, (_, i) => view.getUint16(UNIVERSES + 2 * i));
  if (universes.some((u) => u < 1 || u > LAST_SACN_UNIVERSE)) return null;
  return { sourceName: nameAt(bytes, FRAMING + 6), universes };
}
