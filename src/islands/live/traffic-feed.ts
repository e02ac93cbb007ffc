/** Rows of traffic as they come over the live socket, for everybody on the page who wants them. */

import type { ClientMessage } from "../../core/live/protocol.ts";
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import { decodeTrafficFrame } from "../../core/trace/traffic-frame.ts";
import { entryOf, type TrafficNames } from "../../core/trace/traffic-names.ts";
import { readRow, rowCount } from "../../core/trace/traffic-ring.ts";

type FrameListener = (frame: ArrayBuffer) => void;

export class TrafficFeed {
  readonly #send: (message: ClientMessage) => void;
  readonly #listeners = new Map<FrameListener, boolean>();

  constructor(send: (message: ClientMessage) => void) {
    this.#send = send;
  }

  /** Calls back with every message; with `history` also for the rows before. Answers how to stop. */
  watch(listener: FrameListener, history: boolean): () => void {
    const was = this.#asked();
    this.#listeners.set(listener, history);
    if (was === null || history) this.#ask();
    return () => {
      this.#listeners.delete(listener);
      if (this.#listeners.size === 0) this.#send({ kind: "watch-traffic", on: false, history: false });
    };
  }

  frame(frame: ArrayBuffer): void {
    for (const listener of [...this.#listeners.keys()]) listener(frame);
  }

  /** The connection is there again: what is watched is asked for anew. */
  opened(): void {
    if (this.#listeners.size > 0) this.#ask();
  }

  #ask(): void {
    this.#send({ kind: "watch-traffic", on: true, history: this.#asked() === true });
  }

  /** Null = nobody watches. */
  #asked(): boolean | null {
    return this.#listeners.size === 0 ? null : [...this.#listeners.values()].some((history) => history);
  }
}

/** Reads frames one after the other into entries; rows that were told before are left out. */
export class EntryReader {
  readonly #names = new Map<number, TrafficNames>();
  #next = 0;
  #log = 0;

  read(frame: ArrayBuffer): TrafficEntry[] {
    const decoded = decodeTrafficFrame(frame);
    if (!decoded) return [];
    const { head, rows, rests } = decoded;
    if (head.log !== this.#log) {
      this.#log = head.log;
      this.#next = 0;
      this.#names.clear();
    }
    if (head.names) this.#names.set(head.load, head.names as TrafficNames);
    const names = this.#names.get(head.load);
    if (!names || head.refused) return [];
    const out: TrafficEntry[] = [];
    for (let i = Math.max(0, this.#next - head.first); i < rowCount(rows); i++)
      out.push({ ...entryOf(readRow(rows, i, rests), names), seq: head.first + i });
    this.#next = Math.max(this.#next, head.first + rowCount(rows));
    return out;
  }
}
