/**
 * One universe out of all who send it: of the sources with the highest priority the highest level of each slot holds.
 * A source that ends, or is silent for long, is forgotten; where it was the last, its levels stay as they were.
 */

export const SLOTS = 512;
/** Sources that are followed at once. */
const MOST_SOURCES = 16;
/** A packet whose number is this little behind the last is late (E1.31, section 6.7.2). */
const LATE = 20;

export interface Levels {
  /** Tells the source from others. */
  readonly source: string;
  readonly priority: number;
  /** 0..255; null = not numbered. */
  readonly sequence: number | null;
  readonly isTerminated: boolean;
  readonly slots: Uint8Array;
}

interface Source {
  priority: number;
  sequence: number | null;
  heardAtMs: number;
  readonly slots: Uint8Array;
}

export class Universe {
  readonly levels = new Uint8Array(SLOTS);
  readonly #silentMs: number;
  readonly #sources = new Map<string, Source>();

  constructor(silentMs: number) {
    this.#silentMs = silentMs;
  }

  get sourceCount(): number {
    return this.#sources.size;
  }

  /** True: levels may have changed. */
  hear({ source, priority, sequence, isTerminated, slots }: Levels, nowMs: number): boolean {
    let known = this.#sources.get(source);
    if (isTerminated) return this.#sources.delete(source) && this.#merge();
    if (known && isLate(known.sequence, sequence)) return false;
    if (!known) {
      if (this.#sources.size >= MOST_SOURCES) return false;
      known = { priority, sequence, heardAtMs: nowMs, slots: new Uint8Array(SLOTS) };
      this.#sources.set(source, known);
    }
    known.priority = priority;
    known.sequence = sequence;
    known.heardAtMs = nowMs;
    known.slots.fill(0, slots.length);
    known.slots.set(slots);
    return this.#merge();
  }

  /** Forgets sources that are silent. True: levels may have changed. */
  tick(nowMs: number): boolean {
    let isGone = false;
    for (const [name, { heardAtMs }] of this.#sources)
      if (nowMs - heardAtMs > this.#silentMs) isGone = this.#sources.delete(name);
    return isGone && this.#merge();
  }

  #merge(): boolean {
    if (this.#sources.size === 0) return false;
    let highest = 0;
    for (const { priority } of this.#sources.values()) highest = Math.max(highest, priority);
    this.levels.fill(0);
    for (const { priority, slots } of this.#sources.values()) {
      if (priority < highest) continue;
      for (let s = 0; s < SLOTS; s++) if (slots[s]! > this.levels[s]!) this.levels[s] = slots[s]!;
    }
    return true;
  }
}

function isLate(last: number | null, next: number | null): boolean {
  if (last === null || next === null) return false;
  const step = ((next - last + 128) & 0xff) - 128; // -128..127
  return step <= 0 && step > -LATE;
}
