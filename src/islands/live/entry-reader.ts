import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import { decodeTrafficFrame } from "../../core/trace/traffic-frame.ts";
import { entryOf, type TrafficNames } from "../../core/trace/traffic-names.ts";
import { readRow, rowCount } from "../../core/trace/traffic-ring.ts";

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
