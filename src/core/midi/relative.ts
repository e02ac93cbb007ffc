/** How an endless encoder says in 7 bits how far and which way it was turned. */

export const RELATIVE_ENCODINGS = ["twos-complement", "sign-bit", "offset-64"] as const;
export type RelativeEncoding = (typeof RELATIVE_ENCODINGS)[number];

/** Steps to the right in a value of 0..127; to the left they are negative. */
export function decodeRelative(encoding: RelativeEncoding, value7: number): number {
  switch (encoding) {
    case "twos-complement":
      return value7 < 64 ? value7 : value7 - 128;
    case "sign-bit":
      return value7 & 64 ? -(value7 & 63) || 0 : value7;
    case "offset-64":
      return value7 - 64;
    default:
      return encoding satisfies never;
  }
}

/** The value for a number of steps; more than the encoding can hold is cut to its end. */
export function encodeRelative(encoding: RelativeEncoding, steps: number): number {
  switch (encoding) {
    case "twos-complement": {
      const s = Math.min(63, Math.max(-64, steps));
      return s < 0 ? s + 128 : s;
    }
    case "sign-bit": {
      const s = Math.min(63, Math.abs(steps));
      return steps < 0 ? s | 64 : s;
    }
    case "offset-64":
      return Math.min(63, Math.max(-64, steps)) + 64;
    default:
      return encoding satisfies never;
  }
}
