/** Addresses of OSC 1.0. */

/**
 * True for an address as OSC 1.0 has it ("OSC Messages" and "OSC Address Spaces"): a "/", then printable ASCII without
 * space and # * , ? [ ] { }, which belong to patterns.
 */
export function isOscAddress(text: string): boolean {
  return /^\/[!-~]*$/.test(text) && !/[#*,?[\]{}]/.test(text);
}
