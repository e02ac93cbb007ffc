/**
 * When something last came from and went to each MIDI device of this browser. It is no part of the page's store: a fader
 * sends hundreds of messages a second, and every view would be asked each time. Whoever watches is told once a frame.
 */
import { useSyncExternalStore } from "react";
import type { HeardMessage } from "../../core/surface/learn.ts";

/** By the page's clock, in ms; 0 = never. */
export interface DeviceTimes {
  readonly heardAtMs: number;
  readonly sentAtMs: number;
}

/** How many messages came and went. */
export interface DeviceCounts {
  readonly heard: number;
  readonly sent: number;
}

/** Messages that are kept of each, for guessing what it is. */
const MOST_KEPT = 64;

const NOTHING: DeviceCounts = { heard: 0, sent: 0 };
const NEVER: DeviceTimes = { heardAtMs: 0, sentAtMs: 0 };

export class DeviceActivity {
  readonly #times = new Map<string, DeviceTimes>();
  readonly #counts = new Map<string, { heard: number; sent: number }>();
  readonly #identities = new Map<string, string>();
  readonly #recent = new Map<string, HeardMessage[]>();
  readonly #watchers = new Set<() => void>();
  readonly #nextFrame: (work: () => void) => unknown;
  #isDue = false;

  /** `nextFrame` calls back when the next picture is drawn. */
  constructor(nextFrame: (work: () => void) => unknown = (work) => requestAnimationFrame(work)) {
    this.#nextFrame = nextFrame;
  }

  /** `bytes`: one message as it came. */
  heard(name: string, nth: number, atMs: number, bytes?: Uint8Array): void {
    this.#count(name, nth).heard++;
    // Clocks and the like (MIDI 1.0, "System Real Time Messages") say nothing about what it is.
    if (bytes && bytes[0]! < 0xf8) {
      const kept = [...this.recent(name, nth), { source: name, atMs, bytes: bytes.slice() }];
      this.#recent.set(keyOf(name, nth), kept.slice(-MOST_KEPT));
    }
    this.#set(name, nth, { ...this.times(name, nth), heardAtMs: atMs });
  }

  sent(name: string, nth: number, atMs: number): void {
    this.#count(name, nth).sent++;
    this.#set(name, nth, { ...this.times(name, nth), sentAtMs: atMs });
  }

  times(name: string, nth: number): DeviceTimes {
    return this.#times.get(keyOf(name, nth)) ?? NEVER;
  }

  counted(name: string, nth: number): DeviceCounts {
    return this.#counts.get(keyOf(name, nth)) ?? NOTHING;
  }

  /** The newest of what it said, the newest last. */
  recent(name: string, nth: number): readonly HeardMessage[] {
    return this.#recent.get(keyOf(name, nth)) ?? [];
  }

  identified(name: string, nth: number, identity: string): void {
    this.#identities.set(keyOf(name, nth), identity);
  }

  /** What it answered to an identity request; undefined = nothing yet. */
  identity(name: string, nth: number): string | undefined {
    return this.#identities.get(keyOf(name, nth));
  }

  #count(name: string, nth: number): { heard: number; sent: number } {
    const key = keyOf(name, nth);
    const counts = this.#counts.get(key) ?? { heard: 0, sent: 0 };
    this.#counts.set(key, counts);
    return counts;
  }

  /** Answers how to stop. */
  watch = (told: () => void): (() => void) => {
    this.#watchers.add(told);
    return () => this.#watchers.delete(told);
  };

  #set(name: string, nth: number, times: DeviceTimes): void {
    this.#times.set(keyOf(name, nth), times);
    if (this.#isDue || this.#watchers.size === 0) return;
    this.#isDue = true;
    this.#nextFrame(() => {
      this.#isDue = false;
      for (const told of [...this.#watchers]) told();
    });
  }
}

function keyOf(name: string, nth: number): string {
  return `${nth} ${name}`;
}

export function useDeviceTimes(activity: DeviceActivity, name: string, nth: number): DeviceTimes {
  const times = () => activity.times(name, nth);
  return useSyncExternalStore(activity.watch, times, times);
}
