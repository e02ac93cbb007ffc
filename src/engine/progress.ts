/**
 * How far an engine has come, in memory that it and the server share: it can be read when the engine is dead. Whole
 * numbers of 32 bits, each written by the engine alone.
 */
const BEGUN = 0;
const DONE = 1;
const TICKS = 2;
const BUSY = 3;
const THREAD = 4;
const FIELDS = 5;

export class Progress {
  readonly #fields: Int32Array;

  /** `shared`: what another thread made; left out, a new one. */
  constructor(readonly shared = new SharedArrayBuffer(FIELDS * Int32Array.BYTES_PER_ELEMENT)) {
    this.#fields = new Int32Array(shared);
  }

  /** Number of the newest message from the server that the engine has taken into its hands. */
  get begun(): number {
    return Atomics.load(this.#fields, BEGUN);
  }
  begin(number: number): void {
    Atomics.store(this.#fields, BEGUN, number);
  }

  /** Number of the newest message from the server that the engine has done with. */
  get done(): number {
    return Atomics.load(this.#fields, DONE);
  }
  end(number: number): void {
    Atomics.store(this.#fields, DONE, number);
  }

  /** Counts the engine's ticks, and so shows that it lives. */
  get ticks(): number {
    return Atomics.load(this.#fields, TICKS);
  }
  tick(): void {
    Atomics.add(this.#fields, TICKS, 1);
  }

  /** It is at a work that may take seconds: it loads a show. */
  get isBusy(): boolean {
    return Atomics.load(this.#fields, BUSY) === 1;
  }
  set isBusy(busy: boolean) {
    Atomics.store(this.#fields, BUSY, busy ? 1 : 0);
  }

  /** The number that the system has for the engine's thread; 0 = it does not tell. */
  get thread(): number {
    return Atomics.load(this.#fields, THREAD);
  }
  set thread(number: number) {
    Atomics.store(this.#fields, THREAD, number);
  }
}
