/** Time tags of bundles as times: OSC 1.0, "Temporal Semantics and OSC Time Tags", in the format of NTP (RFC 5905, 6). */
/** Seconds from 1900, where NTP begins, to 1970. */
const NTP_TO_UNIX_S = 2_208_988_800;
const FRACTIONS_PER_S = 2 ** 32;

/** The furthest ahead that a time tag is believed, in ms: beyond it the clocks of the two do not agree. */
export const MOST_AHEAD_MS = 3_600_000;

/** A time tag in ms since 1970. */
export function timeTagMs(tag: bigint): number {
  const seconds = Number(tag >> 32n) - NTP_TO_UNIX_S;
  return seconds * 1000 + (Number(tag & 0xffff_ffffn) / FRACTIONS_PER_S) * 1000;
}
