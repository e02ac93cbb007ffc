/**
 * A set of whole numbers below a fixed size, without hashing and without allocation: a hash set costs a cache miss
 * for each of ten thousand members (bench row `core.scale`). Iteration is in no particular order.
 */
export class IndexSet {
  /** Place of each number in `#members`, counted from 1; 0 = not a member. */
  readonly #slotOf: Int32Array;
  readonly #members: Int32Array;
  #size = 0;

  constructor(below: number) {
    this.#slotOf = new Int32Array(below);
    this.#members = new Int32Array(below);
  }

  get size(): number {
    return this.#size;
  }

  has(index: number): boolean {
    return this.#slotOf[index]! > 0;
  }

  add(index: number): void {
    if (this.#slotOf[index] !== 0) return;
    this.#members[this.#size++] = index;
    this.#slotOf[index] = this.#size;
  }

  delete(index: number): void {
    const slot = this.#slotOf[index]!;
    if (slot === 0) return;
    const last = this.#members[--this.#size]!;
    this.#members[slot - 1] = last;
    this.#slotOf[last] = slot;
    this.#slotOf[index] = 0;
  }

  clear(): void {
    for (let i = 0; i < this.#size; i++) this.#slotOf[this.#members[i]!] = 0;
    this.#size = 0;
  }

  /** The members as they are now; later changes do not touch the answer. */
  list(): number[] {
    return Array.from(this.#members.subarray(0, this.#size));
  }
}
