/** What strips would make of each row and column, and the edits that it comes to. Pure but for new ids. */

import type { CompiledDesk } from "../../core/desk/compile-desk.ts";
import type { OneEdit } from "../../core/edit/edit-kinds.ts";
import type { DeskFunction, Parameter } from "../../core/format/desk-profile.ts";
import type { Binding } from "../../core/format/shape.ts";
import type { Bank } from "../../core/format/show.ts";
import { likelyFunctions, type StripRow, type Strips } from "../../core/mapping/strips.ts";
import { newId } from "../documents/new-ids.ts";
import type { LiveState } from "../live/apply-changes.ts";
import type { PageState } from "../live/store.ts";
import {
  type ClashAnswer,
  firstNumbers,
  type SeriesFunction,
  type SeriesLine,
  type SeriesNumbers,
  seriesEdits,
  seriesLines,
} from "./series-lines.ts";

/** The channel of the first strip counts on, or strips look through a bank that moves. */
export type StripChannels =
  | { readonly kind: "fixed"; readonly first: number }
  | { readonly kind: "bank"; readonly bank: Bank; readonly isNew: boolean };

export interface PlannedRow {
  readonly row: StripRow;
  readonly fn: DeskFunction | null;
  readonly lines: readonly SeriesLine[];
}

/** Functions of a desk that have this parameter, which counts its strips. */
export function functionsOf(desk: CompiledDesk, parameter: string): DeskFunction[] {
  return desk.profile.functions.filter((fn) => fn.parameters.includes(parameter));
}

/** The parameter that most functions of the desk have, such as its channel. */
export function stripParameter(desk: CompiledDesk): Parameter | null {
  const page = desk.profile.page?.parameter;
  const counts = desk.profile.parameters
    .filter((p) => p.id !== page)
    .map((p) => ({ p, count: functionsOf(desk, p.id).length }))
    .filter(({ count }) => count > 0);
  return (
    counts.reduce<{ p: Parameter; count: number } | null>((best, c) => (c.count > (best?.count ?? 0) ? c : best), null)
      ?.p ?? null
  );
}

/** The desk whose functions fit the rows best. */
export function likelyDesk({ compiled }: Pick<LiveState, "compiled">, { rows }: Strips): CompiledDesk | null {
  const scored = compiled.desks
    .filter((d) => d !== compiled.desks[compiled.house])
    .map((desk) => {
      const parameter = stripParameter(desk);
      const likely = parameter ? likelyFunctions(rows, functionsOf(desk, parameter.id)) : [];
      return { desk, score: likely.filter(Boolean).length };
    });
  return (
    scored.reduce<{ desk: CompiledDesk; score: number } | null>(
      (best, s) => (s.score > (best?.score ?? -1) ? s : best),
      null,
    )?.desk ?? null
  );
}

/** A bank as wide as the strips, over all that the desk has. */
export function newBank(parameter: Parameter, columns: number): Bank | null {
  const size = Math.min(128, columns);
  if (parameter.from < 0 || parameter.to - parameter.from + 1 < size) return null;
  return {
    id: newId("bank"),
    name: `${size} of ${parameter.to - parameter.from + 1}`,
    first: parameter.from,
    last: parameter.to,
    size,
  };
}

export function planRows(
  state: PageState,
  surface: string,
  desk: CompiledDesk,
  parameter: Parameter,
  strips: Strips,
  functions: readonly (DeskFunction | null)[],
  channels: StripChannels,
  numbers: Readonly<Record<string, number>>,
): PlannedRow[] {
  return strips.rows.map((row, i) => {
    const fn = functions[i] ?? null;
    if (!fn) return { row, fn, lines: [] };
    const meant = seriesFunction(desk, fn);
    const lines = row.controls.flatMap((control, column) => {
      if (!control) return [];
      const usual = firstNumbers(meant, (first) => ({ first, along: 0, down: 0 }));
      const own: SeriesNumbers = Object.fromEntries(
        Object.entries(usual).map(([id, n]) => {
          if (id === parameter.id) return [id, { kind: "same", binding: bindingOf(channels, column) }];
          // Of the others none counts on from strip to strip.
          const value = numbers[`${i} ${id}`];
          if (value !== undefined) return [id, { kind: "same", binding: { from: "fixed", value } }];
          return [id, n.kind === "counts" ? { kind: "same", binding: { from: "fixed", value: n.count.first } } : n];
        }),
      );
      return seriesLines(state, surface, meant, own, [{ control, row: i, column }]);
    });
    return { row, fn, lines };
  });
}

function bindingOf(channels: StripChannels, column: number): Binding {
  return channels.kind === "fixed"
    ? { from: "fixed", value: channels.first + column }
    : { from: "strip", bank: channels.bank.id, strip: column + 1 };
}

function seriesFunction(desk: CompiledDesk, fn: DeskFunction): SeriesFunction {
  return { desk: desk.id, fn, parameters: desk.profile.parameters, page: desk.profile.page?.parameter };
}

export function stripEdits(
  state: PageState,
  surface: string,
  desk: CompiledDesk,
  plan: readonly PlannedRow[],
  channels: StripChannels,
  answer: ClashAnswer,
): OneEdit[] {
  const edits = plan.flatMap(({ fn, lines }) => {
    if (!fn) return [];
    const answers = Object.fromEntries(lines.map((l) => [l.place.control.id, answer]));
    return seriesEdits(state, surface, seriesFunction(desk, fn), lines, answers);
  });
  if (edits.length === 0 || channels.kind === "fixed" || !channels.isNew) return edits;
  return [{ kind: "put-bank", item: channels.bank }, ...edits];
}
