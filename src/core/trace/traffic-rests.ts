/**
 * What a row of traffic has no room for: the bytes of a long message beyond the first, so that a take has it whole.
 * Written beside the rows and taken with them, as one buffer that can be joined to the next one. An entry:
 *
 *   byte  0  f64  sequence number of its row
 *   byte  8  u32  number of bytes
 *   byte 12       the bytes, and zeros up to a multiple of 8
 */

/** Bytes that are kept between two takings; what comes when it is full is not kept. */
export const MOST_REST_BYTES = 1024 * 1024;

const HEAD_BYTES = 12;

function entryBytes(length: number): number {
  return Math.ceil((HEAD_BYTES + length) / 8) * 8;
}

export class RestWriter {
  #bytes = new Uint8Array(0);
  #end = 0;

  add(sequence: number, bytes: Uint8Array, offset: number, length: number): void {
    const end = this.#end + entryBytes(length);
    if (end > MOST_REST_BYTES) return;
    if (end > this.#bytes.length) {
      const grown = new Uint8Array(Math.min(MOST_REST_BYTES, Math.max(4096, 2 * end)));
      grown.set(this.#bytes);
      this.#bytes = grown;
    }
    const view = new DataView(this.#bytes.buffer, this.#end);
    view.setFloat64(0, sequence, true);
    view.setUint32(8, length, true);
    this.#bytes.set(bytes.subarray(offset, offset + length), this.#end + HEAD_BYTES);
    this.#bytes.fill(0, this.#end + HEAD_BYTES + length, end);
    this.#end = end;
  }

  /** Everything since the last call; null = nothing. */
  take(): ArrayBuffer | null {
    if (this.#end === 0) return null;
    const out = this.#bytes.slice(0, this.#end).buffer;
    this.#end = 0;
    return out;
  }
}

/** The rest of the message in the row with this sequence number; null where it was not kept. */
export function restOf(rests: ArrayBuffer | null, sequence: number): Uint8Array | null {
  if (!rests) return null;
  const view = new DataView(rests);
  for (let at = 0; at + HEAD_BYTES <= rests.byteLength; ) {
    const length = view.getUint32(at + 8, true);
    if (view.getFloat64(at, true) === sequence) return new Uint8Array(rests, at + HEAD_BYTES, length);
    at += entryBytes(length);
  }
  return null;
}
