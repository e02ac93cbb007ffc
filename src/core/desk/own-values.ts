/** Our own values that may still be under way to a desk, or come back from it as echoes: the newest of one value. */

/** So many are remembered of one value: more than two seconds of a fast fader. */
const MOST = 256;
/** Room at the beginning, which most values never need to outgrow. */
const FIRST_ROOM = 4;

export class OwnValues {
  #values = new Float64Array(FIRST_ROOM);
  #atMs = new Float64Array(FIRST_ROOM);
  #seen = new Uint8Array(FIRST_ROOM);
  #room = FIRST_ROOM;
  /** How many were ever pushed; each stands at its number modulo the room. */
  #count = 0;
  /** Those before it are forgotten. */
  #first = 0;

  push(value: number, atMs: number): void {
    if (this.#count - this.#first === this.#room) this.#makeRoom();
    const at = this.#count++ % this.#room;
    this.#values[at] = value;
    this.#atMs[at] = atMs;
    this.#seen[at] = 0;
  }

  #makeRoom(): void {
    if (this.#room === MOST) {
      this.#first++; // the oldest is overwritten
      return;
    }
    const room = this.#room * 2;
    const values = new Float64Array(room);
    const atMs = new Float64Array(room);
    const seen = new Uint8Array(room);
    for (let n = this.#first; n < this.#count; n++) {
      values[n % room] = this.#values[n % this.#room]!;
      atMs[n % room] = this.#atMs[n % this.#room]!;
      seen[n % room] = this.#seen[n % this.#room]!;
    }
    this.#values = values;
    this.#atMs = atMs;
    this.#seen = seen;
    this.#room = room;
  }

  /** Forgets what is older than this, in ms. */
  forgetBefore(atMs: number): void {
    while (this.#first < this.#count && this.#atMs[this.#first % this.#room]! < atMs) this.#first++;
  }

  /** Number of the newest that a report fits within `tolerance` and that was not seen, else of the newest seen; -1 = none. */
  find(value: number, tolerance: number): number {
    let seen = -1;
    for (let n = this.#count - 1; n >= this.#first; n--) {
      const at = n % this.#room;
      const own = this.#values[at]!;
      if (!(Math.abs(own - value) <= tolerance || Math.fround(own) === Math.fround(value))) continue;
      if (this.#seen[at] === 0) return n;
      if (seen < 0) seen = n;
    }
    return seen;
  }

  get newest(): number {
    return this.#count - 1;
  }

  see(n: number): void {
    if (n >= this.#first) this.#seen[n % this.#room] = 1;
  }

  get allSeen(): boolean {
    for (let n = this.#first; n < this.#count; n++) if (this.#seen[n % this.#room] === 0) return false;
    return true;
  }

  /** How long after another value the newest was sent, in ms; infinite where it stands alone. */
  get newestAfterMs(): number {
    const newest = this.#count - 1;
    const value = this.#values[newest % this.#room]!;
    for (let n = newest - 1; n >= this.#first; n--)
      if (this.#values[n % this.#room] !== value) return this.#atMs[newest % this.#room]! - this.#atMs[n % this.#room]!;
    return Number.POSITIVE_INFINITY;
  }
}
