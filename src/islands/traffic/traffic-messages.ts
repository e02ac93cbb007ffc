/** What the page and the worker that keeps the list say to each other. */
import type { TrafficEntry } from "../../core/live/protocol.ts";
import type { TakeWire } from "../../core/show/take.ts";
import type { Rate, TrafficFilter } from "../../core/trace/traffic-store.ts";

/** What the page asks once and is answered once. `only`: numbers of the rows that are meant; null = all that pass. */
export interface Questions {
  /** Rows, to be copied. */
  rows: { ask: { only: number[] | null }; answer: TrafficEntry[] };
  /** Rows as a take, with the kind of wire of each device, and how many rows are not in it. */
  take: { ask: { only: number[] | null; wires: Map<string, TakeWire> }; answer: { text: string; left: number } };
  /** Numbers of the rows that pass, from one to another. */
  between: { ask: { from: number; to: number }; answer: number[] };
}
export type Question = keyof Questions;

export type ToWorker =
  | { kind: "frame"; frame: ArrayBuffer }
  | { kind: "filter"; filter: TrafficFilter }
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
