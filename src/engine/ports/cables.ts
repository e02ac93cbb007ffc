/**
 * Named cables inside the program: what goes in at one end comes out at the other, to everybody who listens there. A
 * message arrives in a turn of its own, so that a ring of cables keeps nobody else waiting.
 */
import { OPEN, type Port, type PortEvents } from "./port.ts";

/** Messages that may be on their way at once; in a ring that never rests the others are dropped and counted. */
const MOST_ON_THEIR_WAY = 4096;

type Listener = (bytes: Uint8Array) => void;

export class Cables {
  readonly #listeners = new Map<string, Set<Listener>>();
  #onTheirWay: [string, Uint8Array][] = [];
  #due: NodeJS.Immediate | null = null;

  listen(name: string, listener: Listener): () => void {
    const all = this.#listeners.get(name) ?? new Set();
    this.#listeners.set(name, all);
    all.add(listener);
    return () => {
      all.delete(listener);
      if (all.size === 0 && this.#listeners.get(name) === all) this.#listeners.delete(name);
    };
  }

  /** False where it was dropped. */
  send(name: string, bytes: Uint8Array): boolean {
    if (this.#onTheirWay.length >= MOST_ON_THEIR_WAY) return false;
    this.#onTheirWay.push([name, bytes]);
    this.#due ??= setImmediate(() => this.#deliver());
    return true;
  }

  #deliver(): void {
    const arriving = this.#onTheirWay;
    this.#onTheirWay = [];
    this.#due = null;
    for (const [name, bytes] of arriving) for (const listener of this.#listeners.get(name) ?? []) listener(bytes);
  }
}

/** One end of a cable: the one that listens, or the one that sends. */
export class CablePort implements Port {
  readonly counted = { in: 0, out: 0, dropped: 0, refused: 0 };
  readonly #cables: Cables;
  readonly #name: string;
  readonly #isInput: boolean;
  readonly #events: PortEvents;
  #stop: (() => void) | null = null;
  #isOpen = false;

  constructor(cables: Cables, end: { name: string; input: boolean }, events: PortEvents) {
    this.#cables = cables;
    this.#name = end.name;
    this.#isInput = end.input;
    this.#events = events;
  }

  open(): void {
    this.#isOpen = true;
    if (this.#isInput)
      this.#stop = this.#cables.listen(this.#name, (bytes) => {
        this.counted.in++;
        this.#events.message(bytes);
      });
    this.#events.state(OPEN);
  }

  send(bytes: Uint8Array, offset: number, length: number): void {
    if (this.#isOpen && !this.#isInput && this.#cables.send(this.#name, bytes.slice(offset, offset + length)))
      this.counted.out++;
    else this.counted.dropped++;
  }

  close(): Promise<void> {
    this.#stop?.();
    this.#stop = null;
    this.#isOpen = false;
    return Promise.resolve();
  }
}
