/** Long messages in pieces, so that none is longer than a datagram may be (RFC 6295, section 3.2, “Segmentation”). */

const START = 0xf0;
const END = 0xf7;
const DROPPED_END = 0xf5;
const CANCEL = 0xf4;
/** Longest message that is put together, in bytes. */
const LONGEST_BYTES = 1 << 20;

/** Cuts a SysEx message (F0 … F7) into segments that carry at most `most` of its bytes each. */
export function segmentsOf(message: Uint8Array, most: number): Uint8Array[] {
  if (message.length <= most + 2) return [message];
  const data = message.subarray(1, message.length - 1);
  const parts: Uint8Array[] = [];
  for (let from = 0; from < data.length; from += most) {
    const part = data.subarray(from, from + most);
    const isLast = from + most >= data.length;
    parts.push(Uint8Array.of(from === 0 ? START : END, ...part, isLast ? END : START));
  }
  return parts;
}

/** Puts segments together again. */
export class SysExGathering {
  #parts: Uint8Array[] = [];
  #length = 0;
  #isOpen = false;

  /** A whole message where this piece is one or completes one, else null. */
  take(piece: Uint8Array): Uint8Array | null {
    const isStart = piece[0] === START;
    const last = piece[piece.length - 1]!;
    if (isStart) this.drop();
    else if (!this.#isOpen) return null; // the middle of something whose beginning is lost
    if (last === CANCEL) {
      this.drop();
      return null;
    }
    const data = piece.subarray(1, piece.length - 1);
    this.#isOpen = true;
    this.#length += data.length;
    if (this.#length > LONGEST_BYTES) {
      this.drop();
      return null;
    }
    this.#parts.push(data);
    if (last !== END && last !== DROPPED_END) return null;
    const whole = new Uint8Array(this.#length + 2);
    whole[0] = START;
    let at = 1;
    for (const part of this.#parts) {
      whole.set(part, at);
      at += part.length;
    }
    whole[at] = END;
    this.drop();
    return whole;
  }

  /** A piece was lost: what is there of the message is worth nothing. */
  drop(): void {
    this.#parts = [];
    this.#length = 0;
    this.#isOpen = false;
  }
}
