/** Addresses of OSC 1.0. */

/** "/", then printable ASCII without space and # * , ? [ ]; `{` and `}` may stand where names are filled in later. */
export const OSC_ADDRESS_TEMPLATE = /^\/(?:(?![#*,?[\]])[!-~])*$/;

/**
 * True for an address as OSC 1.0 has it ("OSC Messages" and "OSC Address Spaces"): a "/", then printable ASCII without
 * space and # * , ? [ ] { }, which belong to patterns.
 */
export function isOscAddress(text: string): boolean {
  return OSC_ADDRESS_TEMPLATE.test(text) && !/[{}]/.test(text);
}
