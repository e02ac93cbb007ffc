/** Where one message ends and the next begins in a stream of bytes: what every framing offers. */

/** A message that is longer than this is none: it is thrown away. */
export const MAX_FRAME_BYTES = 65_535;

export interface Framing {
  /**
   * Takes the next piece of the stream and calls back with each message that is whole; its bytes are valid during the
   * call. Answers how many were thrown away because they were too long or broke the framing's rules.
   */
  read(piece: Uint8Array, message: (bytes: Uint8Array) => void): number;
  /** One message as it stands in the stream. */
  write(bytes: Uint8Array): Uint8Array;
  /** The connection is a new one: what was begun is forgotten. */
  reset(): void;
  /** True where nobody can say any more where a message begins: the connection must be made anew. */
  readonly isLost: boolean;
}

/** Bytes of a message that is not whole yet. Grows by doubling, up to `most`; what goes beyond makes it overfull. */
export class Gathered {
  readonly #most: number;
  #bytes = new Uint8Array(256);
  #length = 0;
  #isOverfull = false;

  constructor(most: number) {
    this.#most = most;
  }

  get length(): number {
    return this.#length;
  }
  get isOverfull(): boolean {
    return this.#isOverfull;
  }
  get bytes(): Uint8Array {
    return this.#bytes.subarray(0, this.#length);
  }

  add(piece: Uint8Array): void {
    const length = this.#length + piece.length;
    if (this.#isOverfull || length > this.#most) {
      this.#isOverfull = true;
      return;
    }
    this.#grow(length);
    this.#bytes.set(piece, this.#length);
    this.#length = length;
  }

  addByte(byte: number): void {
    if (this.#isOverfull || this.#length >= this.#most) {
      this.#isOverfull = true;
      return;
    }
    this.#grow(this.#length + 1);
    this.#bytes[this.#length++] = byte;
  }

  clear(): void {
    this.#length = 0;
    this.#isOverfull = false;
  }

  #grow(length: number): void {
    if (length <= this.#bytes.length) return;
    const grown = new Uint8Array(Math.min(this.#most, Math.max(length, 2 * this.#bytes.length)));
    grown.set(this.bytes);
    this.#bytes = grown;
  }
}
