/**
 * Rows of traffic on their way from the engine to the server, in memory that both see: a few large slabs, written once,
 * read where they lie for as long as they are kept, and then written again. Blocks of their own, thirty times a second,
 * would each live long enough to be garbage of the costly kind (measured at 5,000 messages a second: all garbage of the
 * server collected every four seconds, for 4 to 5 µs a message).
 *
 * Nothing is locked: a message between the threads tells of rows only after they are written, and one the other way
 * gives a slab back only after the last of its rows has been forgotten.
 */
import { ROW_BYTES, type TrafficRing } from "./traffic-ring.ts";

/** Rows of one slab; a ring has no more of them. */
export const SLAB_ROWS = 4096;

/** Where new rows lie. */
export interface RowsInSlab {
  /** Number of the slab, as its writer counts. */
  slab: number;
  /** Place of the first row in the slab. */
  first: number;
  /** Number of rows; 1 and more. */
  count: number;
  /** The slab itself, where the reader does not have it yet. */
  memory?: SharedArrayBuffer;
}

/** The engine's end. */
export class SlabWriter {
  readonly #slabs = new Map<number, Uint8Array<SharedArrayBuffer>>();
  readonly #free: number[] = [];
  #current = 0;
  #used = SLAB_ROWS;
  #newest = 0;

  /** Slabs that hold rows or wait for some. */
  get count(): number {
    return this.#slabs.size;
  }

  /** Moves the rows that wait in the ring into a slab; null = there are none. */
  write(ring: TrafficRing): RowsInSlab | null {
    const count = ring.drainable;
    if (count === 0) return null;
    const isNew = this.#used + count > SLAB_ROWS && this.#next();
    const memory = this.#slabs.get(this.#current)!;
    const first = this.#used;
    ring.drainInto(memory, first);
    this.#used += count;
    const rows = { slab: this.#current, first, count };
    return isNew ? { ...rows, memory: memory.buffer } : rows;
  }

  /** Goes on in a slab that is free, or else in a new one. Answers whether it is new. */
  #next(): boolean {
    this.#used = 0;
    const free = this.#free.pop();
    this.#current = free ?? ++this.#newest;
    if (free !== undefined) return false;
    this.#slabs.set(this.#current, new Uint8Array(new SharedArrayBuffer(SLAB_ROWS * ROW_BYTES)));
    return true;
  }

  /** The reader has forgotten all rows of this slab, one that was told by this writer. */
  free(slab: number): void {
    this.#free.push(slab);
  }
}

interface Slab {
  readonly number: number;
  readonly memory: SharedArrayBuffer;
  /** Pieces of rows that are still wanted. */
  wanted: number;
}

/** The server's end. */
export class SlabReader {
  readonly #byNumber = new Map<number, Slab>();
  readonly #byMemory = new Map<ArrayBufferLike, Slab>();
  #current: Slab | null = null;
  readonly #freed: (slab: number) => void;

  /** `freed` is told of each slab that its writer may write again. */
  constructor(freed: (slab: number) => void) {
    this.#freed = freed;
  }

  /** These rows, as they lie. They stay until they are given back. Null = of a writer that is gone. */
  take({ slab: number, first, count, memory }: RowsInSlab): Uint8Array | null {
    if (memory) this.#add({ number, memory, wanted: 0 });
    const slab = this.#byNumber.get(number);
    if (!slab) return null;
    const before = this.#current;
    this.#current = slab;
    slab.wanted++;
    if (before && before !== slab) this.#look(before);
    return new Uint8Array(slab.memory, first * ROW_BYTES, count * ROW_BYTES);
  }

  #add(slab: Slab): void {
    this.#byNumber.set(slab.number, slab);
    this.#byMemory.set(slab.memory, slab);
  }

  /** Rows as `take` answered them are not wanted any more. */
  giveBack(rows: Uint8Array): void {
    const slab = this.#byMemory.get(rows.buffer);
    if (!slab) return;
    slab.wanted--;
    this.#look(slab);
  }

  /** The writer is gone: its slabs stay as long as their rows are wanted, and go back to nobody. */
  forgetWriter(): void {
    this.#byNumber.clear();
    this.#byMemory.clear();
    this.#current = null;
  }

  /** Nothing is freed that its writer may still be writing into. */
  #look(slab: Slab): void {
    if (slab.wanted === 0 && slab !== this.#current) this.#freed(slab.number);
  }
}
