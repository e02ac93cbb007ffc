/** How far a peer's clock is from ours, out of three times that went to and fro. */

export interface ClockReading {
  /** What the peer's clock shows minus what ours shows, in ticks. */
  readonly offset: number;
  /** Half of the way to and fro, in ticks. */
  readonly latency: number;
}

/** Readings that are looked at: of these the one with the shortest way is the truest. */
const KEPT = 8;

export class ClockSync {
  #readings: ClockReading[] = [];

  /** `theirs` was read by the peer between our `sent` and our `came`, each by its own clock. */
  add(sent: number, theirs: number, came: number): void {
    if (came < sent) return; // no such times
    this.#readings = [...this.#readings, { offset: theirs - (sent + came) / 2, latency: (came - sent) / 2 }].slice(
      -KEPT,
    );
  }

  /** The best of the last readings; null = none yet. */
  get best(): ClockReading | null {
    let best: ClockReading | null = null;
    for (const r of this.#readings) if (!best || r.latency <= best.latency) best = r;
    return best;
  }
}
