/**
 * When something last came from and went to each MIDI device of this browser. It is no part of the page's store: a fader
 * sends hundreds of messages a second, and every view would be asked each time. Whoever watches is told once a frame.
 */
import { useSyncExternalStore } from "react";

/** By the page's clock, in ms; 0 = never. */
export interface DeviceTimes {
  readonly heardAtMs: number;
  readonly sentAtMs: number;
}

const NEVER: DeviceTimes = { heardAtMs: 0, sentAtMs: 0 };

export class DeviceActivity {
  readonly #times = new Map<string, DeviceTimes>();
  readonly #watchers = new Set<() => void>();
  readonly #nextFrame: (work: () => void) => unknown;
  #isDue = false;

  /** `nextFrame` calls back when the next picture is drawn. */
  constructor(nextFrame: (work: () => void) => unknown = (work) => requestAnimationFrame(work)) {
    this.#nextFrame = nextFrame;
  }

  heard(name: string, nth: number, atMs: number): void {
    this.#set(name, nth, { ...this.times(name, nth), heardAtMs: atMs });
  }

  sent(name: string, nth: number, atMs: number): void {
    this.#set(name, nth, { ...this.times(name, nth), sentAtMs: atMs });
  }

  times(name: string, nth: number): DeviceTimes {
    return this.#times.get(keyOf(name, nth)) ?? NEVER;
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
