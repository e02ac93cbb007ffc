/** What the page and the worker that keeps the list say to each other. */
import type { TrafficEntry } from "../../core/live/protocol.ts";
import type { Rate, TrafficFilter } from "../../core/trace/traffic-store.ts";

export type ToWorker =
  | { kind: "frame"; frame: ArrayBuffer }
  | { kind: "filter"; filter: TrafficFilter }
  | { kind: "hold"; on: boolean }
  | { kind: "window"; from: number; count: number }
  /** Everything that passes, to be saved or copied. */
  | { kind: "all" };

export type FromWorker =
  | {
      kind: "list";
      kept: number;
      matched: number;
      waiting: number;
      from: number;
      rows: TrafficEntry[];
      /** Left out while the same second is running. */
      rates?: Rate[];
    }
  | { kind: "all"; rows: TrafficEntry[] };
