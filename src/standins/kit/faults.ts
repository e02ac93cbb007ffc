/**
 * Faults on demand: what a network, a cable or a tired desk does, for tests and for people who train. They lie between
 * a stand-in's wire and the stand-in, in both directions. Nothing is random: one run is like the next.
 */

export interface FaultSettings {
  /** Per cent of the messages that get lost, spread evenly. */
  drop: number;
  /** Per cent of the messages that arrive twice, spread evenly. */
  double: number;
  /** How late every message is, in ms. */
  delayMs: number;
  /** Every second message changes places with the one after it. */
  reorder: boolean;
  /** It hears nothing and says nothing. */
  deaf: boolean;
  /** Its port is closed, so that the network refuses what is sent to it. */
  refuse: boolean;
  /** Messages a second that nobody asked for. */
  flood: number;
}

export const NO_FAULTS: FaultSettings = {
  drop: 0,
  double: 0,
  delayMs: 0,
  reorder: false,
  deaf: false,
  refuse: false,
  flood: 0,
};

const LIMITS = { drop: 100, double: 100, delayMs: 10_000, flood: 5000 } as const;
/** A message that waits to change places goes alone when no other comes, in ms. */
const ALONE_MS = 200;
const FLOOD_EVERY_MS = 10;

/** The settings after a change, or null where it is none. */
export function changedFaults(before: FaultSettings, change: unknown): FaultSettings | null {
  if (typeof change !== "object" || change === null) return null;
  const next: Record<string, unknown> = { ...before };
  for (const [key, value] of Object.entries(change)) {
    if (key in LIMITS) {
      const most = LIMITS[key as keyof typeof LIMITS];
      if (typeof value !== "number" || !(value >= 0 && value <= most)) return null;
    } else if (!(key in NO_FAULTS) || typeof value !== "boolean") return null;
    next[key] = value;
  }
  return next as unknown as FaultSettings;
}

type Run = () => void;

/** One direction of a wire. */
class Way {
  #due = 0;
  #dueTwice = 0;
  /** What waits to change places, for each peer: a message never changes places with somebody else's. */
  readonly #held = new Map<unknown, { run: Run; timer: NodeJS.Timeout }>();

  /** `peer` is who the message comes from or goes to: anything that is the same for all of its messages. */
  pass(settings: FaultSettings, peer: unknown, run: Run): void {
    if (settings.deaf) return;
    this.#due += settings.drop;
    if (this.#due >= 100) {
      this.#due -= 100;
      return;
    }
    this.#dueTwice += settings.double;
    if (this.#dueTwice >= 100) {
      this.#dueTwice -= 100;
      this.#late(settings, run);
    }
    if (!settings.reorder) {
      this.#late(settings, run);
      return;
    }
    const held = this.#held.get(peer);
    if (!held) {
      const timer = setTimeout(() => {
        this.#held.delete(peer);
        this.#late(settings, run);
      }, ALONE_MS);
      this.#held.set(peer, { run, timer });
      return;
    }
    clearTimeout(held.timer);
    this.#held.delete(peer);
    this.#late(settings, run);
    this.#late(settings, held.run);
  }

  #late({ delayMs }: FaultSettings, run: Run): void {
    if (delayMs > 0) setTimeout(run, delayMs);
    else run();
  }
}

export class Faults {
  settings = NO_FAULTS;
  readonly in = new Way();
  readonly out = new Way();
  #flood: NodeJS.Timeout | null = null;
  #owed = 0;

  /** `flood` says one message that nobody asked for. */
  set(settings: FaultSettings, flood: Run): void {
    this.settings = settings;
    if (this.#flood) clearInterval(this.#flood);
    this.#flood = null;
    if (settings.flood === 0) return;
    this.#flood = setInterval(() => {
      this.#owed += (settings.flood * FLOOD_EVERY_MS) / 1000;
      for (; this.#owed >= 1; this.#owed--) flood();
    }, FLOOD_EVERY_MS);
  }

  stop(): void {
    if (this.#flood) clearInterval(this.#flood);
    this.#flood = null;
  }
}
