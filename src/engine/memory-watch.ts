/**
 * An engine that takes more and more memory ends while it still can say so and leave its ports: the next one goes on at
 * once and nothing is lost. One that runs into its limit stands still for the better part of a second before it ends.
 */

/** How often it is looked, in ms. */
const LOOK_EVERY_MS = 250;
/** Parts of what it may take. */
const TOO_MUCH = 0.3;
/** A large show takes much from the beginning on; what grows to so many times that is a fault. */
const GROWN = 3;
/** What it takes for its show is settled by then, in ms. */
const SETTLED_MS = 1000;

export interface Memory {
  readonly used: number;
  readonly limit: number;
}

export class MemoryWatch {
  readonly #memory: () => Memory;
  #nextMs = 0;
  #sinceMs = -1;
  #atFirst = 0;

  /** `memory`: what is used now and what may be, in bytes. */
  constructor(memory: () => Memory) {
    this.#memory = memory;
  }

  /** There is another show: what it takes is found out anew. */
  begin(atMs: number): void {
    this.#sinceMs = atMs;
    this.#atFirst = 0;
  }

  /** True where the engine should end. To be asked at every tick. */
  isTooMuch(atMs: number): boolean {
    if (atMs < this.#nextMs || this.#sinceMs < 0) return false;
    this.#nextMs = atMs + LOOK_EVERY_MS;
    const { used, limit } = this.#memory();
    if (atMs - this.#sinceMs < SETTLED_MS) {
      this.#atFirst = Math.max(this.#atFirst, used);
      return false;
    }
    return used > TOO_MUCH * limit && used > GROWN * this.#atFirst;
  }
}
