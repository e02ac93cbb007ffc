/**
 * Lines of text in a stream: heard with any line end, said with the one that is asked for. Where a desk has none, every
 * piece of the stream is a message. With `bytes` the lines are bytes, and the text has them as `byte-text.ts` says.
 */
import { bytesOfText, textOfBytes } from "./byte-text.ts";
import { type Framing, Gathered } from "./framing.ts";

export type LineEnd = "lf" | "crlf" | "cr" | "none";

/** A line that is longer than this is no line: it is thrown away, and so is the rest of it. */
export const MAX_LINE_BYTES = 8192;

const LF = 10;
const CR = 13;
const ENDS: Record<LineEnd, readonly number[]> = { lf: [LF], crlf: [CR, LF], cr: [CR], none: [] };
const LINE_FEED = Uint8Array.of(LF);

export class LineFraming implements Framing {
  readonly isLost = false;
  readonly #end: readonly number[];
  readonly #isWhole: boolean;
  readonly #isBytes: boolean;
  readonly #gathered = new Gathered(MAX_LINE_BYTES);
  readonly #encoder = new TextEncoder();
  readonly #decoder = new TextDecoder();

  constructor(end: LineEnd, bytes = false) {
    this.#end = ENDS[end];
    this.#isWhole = end === "none";
    this.#isBytes = bytes;
  }

  read(piece: Uint8Array, message: (bytes: Uint8Array) => void): number {
    if (this.#isWhole) return this.#whole(piece, message);
    let thrown = 0;
    let from = 0;
    for (let i = 0; i < piece.length; i++) {
      if (piece[i] !== LF && piece[i] !== CR) continue;
      this.#gathered.add(piece.subarray(from, i));
      if (this.#gathered.isOverfull) thrown++;
      else if (this.#gathered.length > 0) message(this.#heard(this.#gathered.bytes)); // between CR and LF there is nothing
      this.#gathered.clear();
      from = i + 1;
    }
    this.#gathered.add(piece.subarray(from));
    return thrown;
  }

  /** As `read`, for a datagram: its end is the end of its last line, whether that says so or not. */
  readWhole(datagram: Uint8Array, message: (bytes: Uint8Array) => void): number {
    this.reset();
    return this.read(datagram, message) + (this.#isWhole ? 0 : this.read(LINE_FEED, message));
  }

  write(text: Uint8Array): Uint8Array {
    const bytes = this.#isBytes ? bytesOfText(this.#decoder.decode(text)) : text;
    const out = new Uint8Array(bytes.length + this.#end.length);
    out.set(bytes);
    out.set(this.#end, bytes.length);
    return out;
  }

  reset(): void {
    this.#gathered.clear();
  }

  #whole(piece: Uint8Array, message: (bytes: Uint8Array) => void): number {
    if (piece.length > MAX_LINE_BYTES) return 1;
    if (piece.length > 0) message(this.#heard(piece));
    return 0;
  }

  #heard(bytes: Uint8Array): Uint8Array {
    return this.#isBytes ? this.#encoder.encode(textOfBytes(bytes)) : bytes;
  }
}
