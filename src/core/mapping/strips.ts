/**
 * Strips: controls that stand in columns, of which each column is for one channel of a desk. Each row of them, all mutes or
 * all faders, gets one function; the column says which channel.
 */
import type { DeskFunction } from "../format/desk-profile.ts";
import type { Control } from "../format/surface-profile.ts";
import { rowsOf } from "./series.ts";

export interface StripRow {
  /** What its controls are called without their numbers: "Mute". */
  readonly name: string;
  /** One for each column; null = the row has none there. */
  readonly controls: readonly (Control | null)[];
}

export interface Strips {
  readonly columns: number;
  readonly rows: readonly StripRow[];
  /** Chosen, but in no column of the strips. */
  readonly beside: readonly Control[];
}

const middle = ({ box }: Control) => box.x + box.width / 2;

/**
 * The columns are those of the longest row, and where two are equally long of the lowest, which is that of the faders. Null
 * where there are not at least two rows and two columns.
 */
export function stripsOf(controls: readonly Control[]): Strips | null {
  // What has a kind or size of its own is no part of a row, though it stands in its line.
  const lines = rowsOf(controls).flatMap((row) => {
    const alike = new Map<string, Control[]>();
    for (const control of row) {
      const key = `${control.kind} ${control.box.width.toFixed(2)} ${control.behaviour}`;
      alike.set(key, [...(alike.get(key) ?? []), control]);
    }
    return [...alike.values()];
  });
  const longest = lines.reduce<readonly Control[]>((best, line) => (line.length >= best.length ? line : best), []);
  const beside: Control[] = [];
  const rows = lines.flatMap((line): StripRow[] => {
    const places: (Control | null)[] = longest.map(() => null);
    const inside: Control[] = [];
    for (const control of line) {
      const column = longest.findIndex((c) => Math.abs(middle(c) - middle(control)) < c.box.width / 2);
      if (column >= 0 && places[column] === null) {
        places[column] = control;
        inside.push(control);
      } else beside.push(control);
    }
    if (inside.length === 0) return [];
    return [{ name: nameOf(inside), controls: places }];
  });
  const isStrips = longest.length > 1 && rows.length > 1;
  return isStrips ? { columns: longest.length, rows, beside } : null;
}

function nameOf(controls: readonly Control[]): string {
  const stems = new Set(controls.map((c) => c.name.replace(/\s*\d+\s*$/, "").trim()));
  const [only] = stems;
  return stems.size === 1 && only ? only : `${controls[0]!.name} to ${controls.at(-1)!.name}`;
}

/** What a control of the kind can drive: a level needs one that moves, everything else one that is pressed. */
export function fitsRow({ controls }: StripRow, { acts }: Pick<DeskFunction, "acts">): boolean {
  const first = controls.find((c) => c !== null);
  const moves = first?.kind === "fader" || first?.kind === "knob";
  return moves === (acts === "level");
}

/**
 * The likely function of each row, by what its controls are called and what they are; null where nothing is likely. No
 * function is proposed twice.
 */
export function likelyFunctions(
  rows: readonly StripRow[],
  functions: readonly DeskFunction[],
): (DeskFunction | null)[] {
  const taken = new Set<string>();
  const found = rows.map((): DeskFunction | null => null);
  const pick = (likely: (row: StripRow, fn: DeskFunction) => boolean) => {
    for (const [i, row] of rows.entries()) {
      if (found[i]) continue;
      const fn = functions.find((f) => !taken.has(f.id) && fitsRow(row, f) && likely(row, f));
      if (!fn) continue;
      found[i] = fn;
      taken.add(fn.id);
    }
  };
  const words = (text: string) => text.toLowerCase().split(/[^\p{L}]+/u);
  // By name first, so that a row called “Mute” is never given what was only likely by its kind.
  pick(({ name }, fn) => words(name).some((w) => w.length > 2 && words(fn.name).includes(w)));
  pick(({ controls }, fn) => controls.some((c) => c?.kind === "fader") && words(fn.name).includes("level"));
  pick(({ controls }, fn) => controls.some((c) => c?.kind === "knob") && words(fn.name).includes("pan"));
  return found;
}
