/**
 * Memory for rows that stay for a while: a few large blocks that are used again and again. Blocks as they come would
 * each live long enough to be garbage of the costly kind, thirty times a second.
 */
import { ROW_BYTES } from "./traffic-ring.ts";

/** Rows of one slab; longer blocks get one of their own. */
export const SLAB_ROWS = 4096;

export class RowSlabs {
  #current: Uint8Array | null = null;
  #used = 0;
  /** Views that still lie in each slab. */
  readonly #views = new Map<ArrayBufferLike, number>();
  readonly #free: Uint8Array[] = [];

  /** Slabs that hold rows or wait for some. */
  get count(): number {
    return this.#views.size + this.#free.length;
  }

  /** A copy of these rows. It stays until it is given back. */
  keep(rows: Uint8Array): Uint8Array {
    if (rows.length > SLAB_ROWS * ROW_BYTES) return rows.slice();
    let slab = this.#current;
    if (!slab || this.#used + rows.length > slab.length) {
      const full = slab;
      slab = this.#current = this.#free.pop() ?? new Uint8Array(SLAB_ROWS * ROW_BYTES);
      this.#used = 0;
      this.#views.set(slab.buffer, 0);
      if (full && this.#views.get(full.buffer) === 0) this.#reuse(full.buffer);
    }
    const view = slab.subarray(this.#used, this.#used + rows.length);
    view.set(rows);
    this.#used += rows.length;
    this.#views.set(slab.buffer, this.#views.get(slab.buffer)! + 1);
    return view;
  }

  /** These rows, as `keep` answered them, are not wanted any more. */
  giveBack(view: Uint8Array): void {
    const left = this.#views.get(view.buffer);
    if (left === undefined) return; // one of its own
    this.#views.set(view.buffer, left - 1);
    if (left === 1 && view.buffer !== this.#current?.buffer) this.#reuse(view.buffer);
  }

  #reuse(buffer: ArrayBufferLike): void {
    this.#views.delete(buffer);
    this.#free.push(new Uint8Array(buffer));
  }
}
