/**
 * Messages in a stream, each after its length as a 32-bit number, most significant byte first: OSC 1.0, "OSC Packets".
 */
import { type Framing, Gathered, MAX_FRAME_BYTES } from "./framing.ts";

const PREFIX_BYTES = 4;

export class LengthFraming implements Framing {
  readonly #gathered = new Gathered(PREFIX_BYTES + MAX_FRAME_BYTES);
  #isLost = false;

  get isLost(): boolean {
    return this.#isLost;
  }

  read(piece: Uint8Array, message: (bytes: Uint8Array) => void): number {
    if (this.#isLost) return 0;
    let thrown = 0;
    let at = 0;
    while (at < piece.length) {
      const wanted = this.#wanted();
      const part = piece.subarray(at, at + wanted - this.#gathered.length);
      this.#gathered.add(part);
      at += part.length;
      if (this.#gathered.length < PREFIX_BYTES) continue;
      const length = this.#announced();
      if (length > MAX_FRAME_BYTES) {
        // What follows cannot be told from what would be skipped: whoever sends this speaks something else.
        this.#isLost = true;
        return thrown + 1;
      }
      if (this.#gathered.length < PREFIX_BYTES + length) continue;
      if (length === 0) thrown++;
      else message(this.#gathered.bytes.subarray(PREFIX_BYTES));
      this.#gathered.clear();
    }
    return thrown;
  }

  write(bytes: Uint8Array): Uint8Array {
    const out = new Uint8Array(PREFIX_BYTES + bytes.length);
    new DataView(out.buffer).setUint32(0, bytes.length);
    out.set(bytes, PREFIX_BYTES);
    return out;
  }

  reset(): void {
    this.#gathered.clear();
    this.#isLost = false;
  }

  /** Bytes up to the end of what is being read: the length, or the message after it. */
  #wanted(): number {
    return this.#gathered.length < PREFIX_BYTES ? PREFIX_BYTES : PREFIX_BYTES + this.#announced();
  }

  #announced(): number {
    const { bytes } = this.#gathered;
    return new DataView(bytes.buffer, bytes.byteOffset).getUint32(0);
  }
}
