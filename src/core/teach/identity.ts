/** What a unit says that it is (MIDI 1.0, "Device Inquiry": Identity Request and Identity Reply). */
import { hexBytes } from "../midi/hex.ts";

/** Asks every unit at the port: F0 7E, all devices, general information, identity request. */
export const IDENTITY_REQUEST: readonly number[] = [0xf0, 0x7e, 0x7f, 0x06, 0x01, 0xf7];

/**
 * From a reply the bytes that name the unit: maker (one or three bytes), family (two) and member (two), as pairs; null = the
 * message is no reply. The version behind them changes with each update and is left out.
 */
export function identityIn(bytes: Uint8Array): string | null {
  if (bytes[0] !== 0xf0 || bytes[1] !== 0x7e || bytes[3] !== 0x06 || bytes[4] !== 0x02) return null;
  const maker = bytes[5] === 0 ? 3 : 1;
  const end = 5 + maker + 4;
  return bytes.length > end ? hexBytes(bytes.subarray(5, end)) : null;
}

/** True where both name the same unit. */
export function sameIdentity(a: string, b: string): boolean {
  const plain = (text: string) => text.replaceAll(" ", "").toUpperCase();
  return plain(a) === plain(b);
}
