/**
 * Messages in a stream between END bytes, with END and ESC inside of them replaced: SLIP, RFC 1055, as OSC 1.1 asks for,
 * with an END at both ends of a message.
 */
import { type Framing, Gathered, MAX_FRAME_BYTES } from "./framing.ts";

const END = 0xc0;
const ESC = 0xdb;
const ESC_END = 0xdc;
const ESC_ESC = 0xdd;

export class SlipFraming implements Framing {
  readonly isLost = false; // the next END is always a beginning
  readonly #gathered = new Gathered(MAX_FRAME_BYTES);
  #isEscaped = false;
  /** The message that is being read broke the rules; it is skipped up to its END. */
  #isBroken = false;

  read(piece: Uint8Array, message: (bytes: Uint8Array) => void): number {
    let thrown = 0;
    for (const byte of piece) {
      if (byte === END) {
        if (this.#isBroken || this.#isEscaped || this.#gathered.isOverfull) thrown++;
        else if (this.#gathered.length > 0) message(this.#gathered.bytes);
        this.reset();
      } else if (this.#isEscaped) {
        this.#isEscaped = false;
        if (byte === ESC_END) this.#gathered.addByte(END);
        else if (byte === ESC_ESC) this.#gathered.addByte(ESC);
        else this.#isBroken = true;
      } else if (byte === ESC) this.#isEscaped = true;
      else this.#gathered.addByte(byte);
    }
    return thrown;
  }

  write(bytes: Uint8Array): Uint8Array {
    let replaced = 0;
    for (const byte of bytes) if (byte === END || byte === ESC) replaced++;
    const out = new Uint8Array(bytes.length + replaced + 2);
    let at = 0;
    out[at++] = END;
    for (const byte of bytes) {
      if (byte === END || byte === ESC) {
        out[at++] = ESC;
        out[at++] = byte === END ? ESC_END : ESC_ESC;
      } else out[at++] = byte;
    }
    out[at] = END;
    return out;
  }

  reset(): void {
    this.#gathered.clear();
    this.#isEscaped = false;
    this.#isBroken = false;
  }
}
