/**
 * The list of traffic: the newest rows in the blocks in which they came, what of them a filter lets through, and how
 * many a second pass on each device. It runs in a worker of the browser; nothing here knows that.
 */

import { type MessageKind, WIRES } from "../format/wires.ts";
import { codesWhere } from "./outcome.ts";
import { type RefusedRow, ROWS_KEPT, type RowPiece, RowPieces, refusedEntry } from "./row-pieces.ts";
import type { TrafficEntry } from "./traffic-entry.ts";
import { controlOf, entryOf, type TrafficNames } from "./traffic-names.ts";
import { ROW_BYTES, readRow, rowCount, type TrafficRow } from "./traffic-ring.ts";

/** Rows that tell of upkeep only. */
const UPKEEP = codesWhere((o) => o.upkeep === true);

/** Seconds of the chart. */
export const CHART_S = 60;

export const KINDS = ["every", "note", "controller", "program", "bend", "sysex", "osc", "line", "other"] as const;
export type TrafficKind = (typeof KINDS)[number];

export interface TrafficFilter {
  readonly text: string;
  /** An id, or "every". */
  readonly device: string;
  readonly ways: "both" | "in" | "out";
  readonly kind: TrafficKind;
  /** A control's id, or "every". */
  readonly control: string;
  readonly upkeep: boolean;
}

export const NO_FILTER: TrafficFilter = {
  text: "",
  device: "every",
  ways: "both",
  kind: "every",
  control: "every",
  upkeep: false,
};

/** Messages a second of one device in one direction, the newest second last. */
export interface Rate {
  readonly device: string;
  readonly out: boolean;
  readonly perS: readonly number[];
}

/** `control`: the name of the control of a row to or from a surface. */
export type WordsOf = (entry: TrafficEntry, control: string) => string;

export class TrafficStore {
  readonly #rows = new RowPieces();
  readonly #names = new Map<number, TrafficNames>();
  #filter = NO_FILTER;
  /** Numbers of the rows that pass, oldest first. */
  #matches: number[] = [];
  /** While it is held: how many rows there were. */
  #heldAt: number | null = null;
  readonly #rates = new Map<string, { device: string; out: boolean; bySecond: Map<number, number> }>();
  #newestS = 0;
  readonly #wordsOf: WordsOf;

  /** `wordsOf`: what a person reads of a row, in which a filter's text is looked for. */
  constructor(wordsOf: WordsOf) {
    this.#wordsOf = wordsOf;
  }

  setNames(load: number, names: TrafficNames): void {
    this.#names.set(load, names);
  }

  /** Rows `first` and on. Those that are here already, because they were asked for again, are left out. */
  append(first: number, load: number, block: Uint8Array, rests: ArrayBuffer | null = null): void {
    const skip = Math.max(0, this.#rows.end - first);
    const count = rowCount(block);
    if (skip >= count) return;
    const own = skip === 0 ? block : block.slice(skip * ROW_BYTES);
    this.#push({ first: first + skip, count: count - skip, load, block: own, rests, refused: null });
  }

  appendRefused(first: number, refused: RefusedRow): void {
    if (first >= this.#rows.end) this.#push({ first, count: 1, load: 0, block: null, rests: null, refused });
  }

  /** The number of the oldest row; where there is none, of the one that comes next. */
  get first(): number {
    return this.#rows.first;
  }
  get kept(): number {
    return this.#rows.end - this.#rows.first;
  }
  /** Rows that pass the filter; while it is held, of those that were there. */
  get matched(): number {
    return this.#heldAt === null ? this.#matches.length : lowerBound(this.#matches, this.#heldAt);
  }
  /** Rows that pass and came since it was held. */
  get waiting(): number {
    return this.#matches.length - this.matched;
  }

  hold(on: boolean): void {
    this.#heldAt = on ? (this.#heldAt ?? this.#rows.end) : null;
    if (!on) this.#evict();
  }

  setFilter(filter: TrafficFilter): void {
    this.#filter = filter;
    this.#matches = [];
    for (const piece of this.#rows.all) this.#match(piece);
  }

  /** Rows that pass, newest first, from index `from`. */
  window(from: number, count: number): TrafficEntry[] {
    const out: TrafficEntry[] = [];
    const { matched } = this;
    for (let i = from; i < Math.min(matched, from + count); i++) {
      const entry = this.#entry(this.#matches[matched - 1 - i]!);
      if (entry) out.push(entry);
    }
    return out;
  }

  /** Everything that passes, or these rows, oldest first; their bytes are whole where they were kept whole. */
  all(only: readonly number[] | null = null): TrafficEntry[] {
    const numbers = only ? [...only].sort((a, b) => a - b) : this.#matches.slice(0, this.matched);
    return numbers.flatMap((n) => this.#entry(n, true) ?? []);
  }

  /** Numbers of the rows that pass, from row `from` to row `to` in either order, both included. */
  between(from: number, to: number): number[] {
    const { matched } = this;
    const first = lowerBound(this.#matches, Math.min(from, to));
    return this.#matches.slice(first, Math.min(matched, lowerBound(this.#matches, Math.max(from, to) + 1)));
  }

  rates(): Rate[] {
    return [...this.#rates.values()].map(({ device, out, bySecond }) => ({
      device,
      out,
      // The second that is still running would always look like a fall.
      perS: Array.from({ length: CHART_S }, (_, i) => bySecond.get(this.#newestS - CHART_S + i) ?? 0),
    }));
  }

  #push(piece: RowPiece): void {
    this.#rows.push(piece);
    this.#match(piece, true);
    this.#evict();
  }

  #evict(): void {
    if (!this.#rows.evict(this.#heldAt === null ? ROWS_KEPT : 2 * ROWS_KEPT)) return;
    const before = lowerBound(this.#matches, this.#rows.first);
    if (before > 0) this.#matches.splice(0, before);
    const loads = this.#rows.loads();
    const newest = Math.max(...loads);
    for (const load of [...this.#names.keys()]) if (!loads.has(load) && load < newest) this.#names.delete(load);
  }

  /** `isNew`: its rows are counted too, which happens once however often the filter changes. */
  #match(piece: RowPiece, isNew = false): void {
    if (isRefused(piece) && this.#passesRefused(piece)) this.#matches.push(piece.first);
    const names = this.#names.get(piece.load);
    if (!names || !piece.block) return;
    for (let i = 0; i < piece.count; i++) {
      const row = readRow(piece.block, i);
      if (isNew) this.#count(row, names);
      if (this.#passes(row, names, piece.first + i)) this.#matches.push(piece.first + i);
    }
  }

  #count(row: TrafficRow, names: TrafficNames): void {
    const device = (row.desk ? names.desks : names.surfaces)[row.device]?.id ?? "";
    const key = `${device} ${row.out}`;
    let rate = this.#rates.get(key);
    if (!rate) {
      rate = { device, out: row.out, bySecond: new Map() };
      this.#rates.set(key, rate);
    }
    const second = Math.floor(row.atMs / 1000);
    rate.bySecond.set(second, (rate.bySecond.get(second) ?? 0) + 1);
    if (second <= this.#newestS) return;
    this.#newestS = second;
    for (const { bySecond } of this.#rates.values())
      for (const s of bySecond.keys()) if (s < second - CHART_S) bySecond.delete(s);
  }

  #passesRefused(piece: RowPiece & { refused: RefusedRow }): boolean {
    const { device, ways, kind, control } = this.#filter;
    const plain = device === "every" && ways !== "out" && kind === "every" && control === "every";
    return plain && this.#says(refusedEntry(piece.first, piece.refused), "");
  }

  // What costs least is asked first: words are made only for rows that everything else lets through.
  #passes(row: TrafficRow, names: TrafficNames, seq: number): boolean {
    const { device, ways, kind, control, upkeep } = this.#filter;
    if (!upkeep && UPKEEP.has(row.code)) return false;
    if (ways !== "both" && row.out !== (ways === "out")) return false;
    const own = (row.desk ? names.desks : names.surfaces)[row.device];
    if (device !== "every" && own?.id !== device) return false;
    if (control !== "every" && (row.desk || controlOf(row, names)?.[0] !== control)) return false;
    const { message } = WIRES[row.desk ? (names.desks[row.device]?.wire ?? "osc") : "midi"];
    if (kind !== "every" && kindOf(row, message) !== kind) return false;
    if (this.#filter.text.trim() === "") return true;
    return this.#says({ ...entryOf(row, names), seq }, row.desk ? "" : (controlOf(row, names)?.[1] ?? ""));
  }

  #says(entry: TrafficEntry, control: string): boolean {
    const wanted = this.#filter.text.trim().toLowerCase();
    return wanted === "" || this.#wordsOf(entry, control).toLowerCase().includes(wanted);
  }

  #entry(n: number, whole = false): TrafficEntry | null {
    const piece = this.#rows.all[this.#rows.indexOf(n)];
    if (!piece || n < piece.first || n >= piece.first + piece.count) return null;
    if (piece.refused) return refusedEntry(n, piece.refused);
    const names = this.#names.get(piece.load);
    if (!names || !piece.block) return null;
    const row = readRow(piece.block, n - piece.first, whole ? piece.rests : null);
    return { ...entryOf(row, names), seq: n };
  }
}

const STATUS_KINDS: Record<number, TrafficKind> = {
  128: "note",
  144: "note",
  176: "controller",
  192: "program",
  224: "bend",
};

function isRefused(piece: RowPiece): piece is RowPiece & { refused: RefusedRow } {
  return piece.refused !== null;
}

function kindOf(row: TrafficRow, message: MessageKind): TrafficKind {
  if (message !== "midi") return message;
  const status = row.bytes[0] ?? 0;
  return status === 0xf0 ? "sysex" : (STATUS_KINDS[status & 0xf0] ?? "other");
}

/** Index of the first number that is not below `n` in a list that rises. */
function lowerBound(list: readonly number[], n: number): number {
  let low = 0;
  let high = list.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (list[middle]! < n) low = middle + 1;
    else high = middle;
  }
  return low;
}
