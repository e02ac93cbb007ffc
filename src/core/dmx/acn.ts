/** What all packets of streaming ACN begin with (ANSI E1.31, section 5), and how they say lengths and names. */

const IDENTIFIER = [0x41, 0x53, 0x43, 0x2d, 0x45, 0x31, 0x2e, 0x31, 0x37, 0, 0, 0];
const LENGTH_FLAGS = 7;
/** Octets of a source's name (section 6.2.2). */
export const NAME_OCTETS = 64;

/** Preamble, postamble and packet identifier (sections 5.1 to 5.3). `bytes`: 16 at least. */
export function isAcn(bytes: Uint8Array): boolean {
  const view = new DataView(bytes.buffer, bytes.byteOffset, bytes.byteLength);
  return (
    view.getUint16(0) === 0x0010 && view.getUint16(2) === 0 && IDENTIFIER.every((octet, i) => bytes[4 + i] === octet)
  );
}

/** The length of the layer that begins at `at`, in octets; -1 = its flags are others than the standard's (section 5.4). */
export function layerLength(bytes: Uint8Array, at: number): number {
  const word = (bytes[at]! << 8) | bytes[at + 1]!;
  return word >> 12 === LENGTH_FLAGS ? word & 0x0fff : -1;
}

/** A name of UTF-8 that ends with a zero or with its field. */
export function nameAt(bytes: Uint8Array, at: number): string {
  const name = bytes.subarray(at, at + NAME_OCTETS);
  const end = name.indexOf(0);
  return new TextDecoder().decode(end < 0 ? name : name.subarray(0, end));
}
