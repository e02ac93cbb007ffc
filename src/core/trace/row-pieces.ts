/** Rows of traffic in the pieces in which they came, numbered through: the newest, for the server and for browsers. */

import { OUTCOME } from "./outcome.ts";
import type { TrafficEntry } from "./traffic-entry.ts";
import type { TrafficHead } from "./traffic-frame.ts";

/** Rows that are kept; a list that is held keeps more, so that nothing that is looked at goes away. */
export const ROWS_KEPT = 200_000;
/** Bytes of what the rows had no room for that are kept; the oldest go first. */
export const REST_BYTES_KEPT = 32 * 1024 * 1024;

export type RefusedRow = NonNullable<TrafficHead["refused"]>;

/** A block as the engine wrote it, or one row of a browser's message that was refused. */
export interface RowPiece {
  readonly first: number;
  readonly count: number;
  /** Under which load of the show it was written. */
  readonly load: number;
  readonly block: Uint8Array | null;
  /** What its rows had no room for (traffic-rests.ts). */
  readonly rests: ArrayBuffer | null;
  readonly refused: RefusedRow | null;
}

export class RowPieces {
  #pieces: RowPiece[] = [];
  #end = 0;
  #restBytes = 0;
  /** Index of the oldest piece that may have rests. */
  #restsFrom = 0;
  readonly #gone: (piece: RowPiece) => void;

  /** `gone` is told of each piece that is forgotten. */
  constructor(gone: (piece: RowPiece) => void = () => {}) {
    this.#gone = gone;
  }

  /** Number of the oldest row. */
  get first(): number {
    return this.#pieces[0]?.first ?? this.#end;
  }
  /** Number of the row that comes next. */
  get end(): number {
    return this.#end;
  }
  get all(): readonly RowPiece[] {
    return this.#pieces;
  }

  push(piece: RowPiece): void {
    if (piece.count === 0) return;
    this.#pieces.push(piece);
    this.#end = piece.first + piece.count;
    this.#restBytes += piece.rests?.byteLength ?? 0;
    while (this.#restBytes > REST_BYTES_KEPT) this.#dropRests(this.#restsFrom++);
  }

  #dropRests(at: number): void {
    const piece = this.#pieces[at]!;
    this.#restBytes -= piece.rests?.byteLength ?? 0;
    this.#pieces[at] = { ...piece, rests: null };
  }

  /** Forgets the oldest pieces as long as `most` rows are left. Answers whether any went. */
  evict(most: number): boolean {
    let gone = 0;
    while (gone < this.#pieces.length - 1 && this.#end - this.#pieces[gone + 1]!.first >= most) gone++;
    if (gone === 0) return false;
    for (const piece of this.#pieces.splice(0, gone)) {
      this.#restBytes -= piece.rests?.byteLength ?? 0;
      this.#gone(piece);
    }
    this.#restsFrom = Math.max(0, this.#restsFrom - gone);
    return true;
  }

  /** Index in `all` of the piece that has row `n`, or of the one before it. */
  indexOf(n: number): number {
    let low = 0;
    let high = this.#pieces.length - 1;
    while (low < high) {
      const middle = (low + high + 1) >> 1;
      if (this.#pieces[middle]!.first <= n) low = middle;
      else high = middle - 1;
    }
    return low;
  }

  /** Loads that rows still belong to. */
  loads(): Set<number> {
    return new Set(this.#pieces.map((p) => p.load));
  }
}

/** A refused message as a row of the list. */
export function refusedEntry(seq: number, row: RefusedRow): TrafficEntry {
  return { seq, out: false, side: "browser", device: "", code: OUTCOME.refused, a: 0, b: 0, cause: 0, ...row };
}
