/** Lines of text in a stream: heard with any line end, said with the one that is asked for. */
import { type Framing, Gathered } from "./framing.ts";

export type LineEnd = "lf" | "crlf" | "cr";

/** A line that is longer than this is no line: it is thrown away, and so is the rest of it. */
export const MAX_LINE_BYTES = 8192;

const LF = 10;
const CR = 13;
const ENDS: Record<LineEnd, readonly number[]> = { lf: [LF], crlf: [CR, LF], cr: [CR] };
const LINE_FEED = Uint8Array.of(LF);

export class LineFraming implements Framing {
  readonly isLost = false;
  readonly #end: readonly number[];
  readonly #gathered = new Gathered(MAX_LINE_BYTES);

  constructor(end: LineEnd) {
    this.#end = ENDS[end];
  }

  read(piece: Uint8Array, message: (bytes: Uint8Array) => void): number {
    let thrown = 0;
    let from = 0;
    for (let i = 0; i < piece.length; i++) {
      if (piece[i] !== LF && piece[i] !== CR) continue;
      this.#gathered.add(piece.subarray(from, i));
      if (this.#gathered.isOverfull) thrown++;
      else if (this.#gathered.length > 0) message(this.#gathered.bytes); // between CR and LF there is nothing
      this.#gathered.clear();
      from = i + 1;
    }
    this.#gathered.add(piece.subarray(from));
    return thrown;
  }

  /** As `read`, for a datagram: its end is the end of its last line, whether that says so or not. */
  readWhole(datagram: Uint8Array, message: (bytes: Uint8Array) => void): number {
    this.reset();
    return this.read(datagram, message) + this.read(LINE_FEED, message);
  }

  write(bytes: Uint8Array): Uint8Array {
    const out = new Uint8Array(bytes.length + this.#end.length);
    out.set(bytes);
    out.set(this.#end, bytes.length);
    return out;
  }

  reset(): void {
    this.#gathered.clear();
  }
}
