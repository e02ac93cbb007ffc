/** The newest rows of traffic on the server's side, for browsers that watch: each is sent what it has not had yet. */

import { type RefusedRow, ROWS_KEPT, RowPieces, refusedEntry } from "../../core/trace/row-pieces.ts";
import { type RowsInSlab, SlabReader } from "../../core/trace/row-slabs.ts";
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import { encodeTrafficFrame, type TrafficHead } from "../../core/trace/traffic-frame.ts";
import { entryOf, type TrafficNames } from "../../core/trace/traffic-names.ts";
import { readRow, rowCount } from "../../core/trace/traffic-ring.ts";

/** Rows of neighbours are sent in one message up to this many. */
const ROWS_A_FRAME = 4096;

/** How far a browser has been told. */
export interface TrafficCursor {
  next: number;
  /** Loads whose names it has. */
  readonly named: Set<number>;
}

export class TrafficLog {
  readonly #slabs: SlabReader;
  readonly #rows = new RowPieces(({ block }) => {
    if (block) this.#slabs.giveBack(block);
  });
  readonly #log: number;
  readonly #namesOf: (load: number) => TrafficNames | undefined;

  /**
   * `log` names the list, so that a browser tells it from that of a server that ran before. `freed` is told of each slab
   * whose rows have all been forgotten.
   */
  constructor(namesOf: (load: number) => TrafficNames | undefined, log = 0, freed: (slab: number) => void = () => {}) {
    this.#namesOf = namesOf;
    this.#log = log;
    this.#slabs = new SlabReader(freed);
  }

  /** Rows that were written under a load of the show. Answers them as they lie; null = of an engine that is gone. */
  append(load: number, rows: RowsInSlab, rests: ArrayBuffer | null = null): Uint8Array | null {
    const block = this.#slabs.take(rows);
    if (!block) return null;
    this.#rows.push({ first: this.#rows.end, count: rows.count, load, block, rests, refused: null });
    this.#rows.evict(ROWS_KEPT);
    return block;
  }

  /** The next rows come from another engine, with slabs of its own. */
  forgetEngine(): void {
    this.#slabs.forgetWriter();
  }

  appendRefused(refused: RefusedRow): void {
    this.#rows.push({ first: this.#rows.end, count: 1, load: 0, block: null, rests: null, refused });
    this.#rows.evict(ROWS_KEPT);
  }

  /** A cursor before everything that is kept, or behind it. */
  cursor(history: boolean): TrafficCursor {
    return { next: history ? this.#rows.first : this.#rows.end, named: new Set() };
  }

  /** Loads that rows still belong to. */
  loads(): Set<number> {
    return this.#rows.loads();
  }

  /** The next message for a browser; null where it has everything. */
  next(cursor: TrafficCursor): Uint8Array | null {
    const pieces = this.#rows.all;
    cursor.next = Math.max(cursor.next, this.#rows.first); // it may have been too slow for some
    if (cursor.next >= this.#rows.end) return null;
    let at = this.#rows.indexOf(cursor.next);
    const piece = pieces[at]!;
    const head: TrafficHead = { log: this.#log, first: piece.first, load: piece.load };
    if (piece.refused) {
      cursor.next = piece.first + 1;
      return encodeTrafficFrame({ ...head, refused: piece.refused }, [], []);
    }
    const blocks: Uint8Array[] = [];
    const rests: ArrayBuffer[] = [];
    let rows = 0;
    for (
      let p = pieces[at];
      p?.block && p.load === piece.load && (rows === 0 || rows + p.count <= ROWS_A_FRAME);
      p = pieces[++at]
    ) {
      blocks.push(p.block);
      if (p.rests) rests.push(p.rests);
      rows += p.count;
    }
    cursor.next = piece.first + rows;
    if (!cursor.named.has(piece.load)) {
      cursor.named.add(piece.load);
      head.names = this.#namesOf(piece.load);
    }
    return encodeTrafficFrame(head, blocks, rests);
  }

  /** The newest rows as the protocol tells them, oldest first; for tests and for what wants only a few. */
  newest(count: number): TrafficEntry[] {
    const out: TrafficEntry[] = [];
    const pieces = this.#rows.all;
    for (let i = pieces.length - 1; i >= 0 && out.length < count; i--) {
      const { block, load, refused, first } = pieces[i]!;
      const names = this.#namesOf(load);
      if (block && names)
        for (let r = rowCount(block) - 1; r >= 0 && out.length < count; r--)
          out.unshift(entryOf(readRow(block, r), names));
      else if (refused) out.unshift(refusedEntry(first, refused));
    }
    return out;
  }
}
