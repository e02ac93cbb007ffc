/** What the page and the worker that keeps the list say to each other. */

import type { MessageKind } from "../../core/format/wires.ts";
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import type { Rate, TrafficFilter } from "../../core/trace/traffic-store.ts";
import type { PlainNames } from "../../words/traffic.ts";

/** What the page asks once and is answered once. `only`: numbers of the rows that are meant; null = all that pass. */
export interface Questions {
  /** Rows, to be copied. */
  rows: { ask: { only: number[] | null }; answer: TrafficEntry[] };
  /** Rows as a take, with what the messages of each desk are made of, and how many rows are not in it. */
  take: { ask: { only: number[] | null; kinds: Map<string, MessageKind> }; answer: { text: string; left: number } };
  /** Numbers of the rows that pass, from one to another. */
  between: { ask: { from: number; to: number }; answer: number[] };
}
export type Question = keyof Questions;

export type ToWorker =
  | { kind: "frame"; frame: ArrayBuffer }
  | { kind: "filter"; filter: TrafficFilter }
  /** What rows are told with now: a filter’s text is looked for in what is seen. */
  | { kind: "names"; names: PlainNames }
  | { kind: "hold"; on: boolean }
  | { kind: "window"; from: number; count: number }
  | { [Q in Question]: { kind: "ask"; id: number; question: Q } & Questions[Q]["ask"] }[Question];

/** How many rows there are. */
export interface Counts {
  kept: number;
  matched: number;
  waiting: number;
}

/** A part of the list, newest first. */
export interface Rows {
  from: number;
  rows: TrafficEntry[];
}

export type FromWorker =
  /** `rows` and `rates` are left out while they are what was told last. */
  { kind: "list"; counts: Counts; rows?: Rows; rates?: Rate[] } | { kind: "answer"; id: number; answer: unknown };
