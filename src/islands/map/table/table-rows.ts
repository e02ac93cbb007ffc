/** The show as a table: one row for each action of each mapping, and one for each control that is free. Pure. */
import type { Parameter } from "../../../core/format/desk-profile.ts";
import type { Binding } from "../../../core/format/shape.ts";
import type { Action, Bundle, Mapping, Show } from "../../../core/format/show.ts";
import type { Control } from "../../../core/format/surface-profile.ts";
import { rowsOf } from "../../../core/mapping/series.ts";
import type { CompiledSurface } from "../../../core/surface/compile-surface.ts";
import { ENGLISH } from "../../../words/english.ts";
import { bindingWords, inSentence, scopeWords, TAKEOVER_WORDS } from "../../../words/mappings.ts";
import type { LiveState } from "../../live/apply-changes.ts";
import { numbersName } from "../../live/number-name.ts";
import { shapeWords } from "../shape-words.ts";

/** What the rows are made of. */
export type TableSource = Pick<LiveState, "show" | "compiled" | "values" | "desks">;

export interface TableRow {
  readonly id: string;
  readonly surface: string;
  readonly surfaceName: string;
  readonly control: string;
  readonly controlName: string;
  /** The control itself; null where the mapping is of a range of messages. */
  readonly about: Control | null;
  /** In the order of the surfaces, and on each as the controls lie. */
  readonly place: number;
  readonly mapping: Mapping | null;
  readonly action: Action | null;
  /** Further actions of a mapping stand below its first. */
  readonly isFirst: boolean;
  readonly gesture: string;
  readonly holds: string;
  readonly desk: string;
  readonly does: string;
  readonly numbers: string;
  readonly shape: string;
  readonly takeover: string;
  readonly light: string;
  readonly bundle: string;
  readonly isOn: boolean;
  readonly clashes: boolean;
  /** What is searched, in small letters. */
  readonly text: string;
}

/** More than all controls of one surface. */
const PLACES = 100_000;

export function tableRows(live: TableSource): TableRow[] {
  const { show, compiled } = live;
  const bundles = new Map(show.bundles?.map((b) => [b.id, b]));
  const clashing = new Set(compiled.clashes.flat().map((m) => show.mappings[m]!.id));
  const byControl = new Map<string, Mapping[]>();
  for (const m of show.mappings) {
    const key = `${m.surface} ${m.control}`;
    const list = byControl.get(key);
    if (list) list.push(m);
    else byControl.set(key, [m]);
  }
  return compiled.surfaces.flatMap((surface, s) => {
    const lying = [...placesOn(surface)];
    const known = new Set(lying.map((c) => c.id));
    // Mappings of a range of messages have names of their own, and no place.
    const ranges = show.mappings.filter((m) => m.surface === surface.id && !known.has(m.control));
    const controls = lying.flatMap((about, i) =>
      rowsOfControl(
        live,
        surface,
        about.id,
        about,
        s * PLACES + i,
        byControl.get(`${surface.id} ${about.id}`) ?? [],
        clashing,
        bundles,
      ),
    );
    const others = ranges.flatMap((m, i) =>
      rowsOfControl(live, surface, m.control, null, s * PLACES + lying.length + i, [m], clashing, bundles),
    );
    return [...controls, ...others];
  });
}

/** The controls of a surface that can be mapped, as they lie; those of its further banks behind. */
export function placesOn({ profile }: CompiledSurface): Control[] {
  const mappable = profile.controls.filter((c) => c.sends.kind !== "any");
  const banks = [...new Set(mappable.map((c) => c.bank))];
  return banks.flatMap((bank) => rowsOf(mappable.filter((c) => c.bank === bank)).flat());
}

function rowsOfControl(
  live: TableSource,
  surface: CompiledSurface,
  control: string,
  about: Control | null,
  place: number,
  mappings: readonly Mapping[],
  clashing: ReadonlySet<string>,
  bundles: ReadonlyMap<string, Bundle>,
): TableRow[] {
  const base = {
    surface: surface.id,
    surfaceName: surface.surface.name,
    control,
    controlName: about?.name ?? control,
    about,
    place,
  };
  if (mappings.length === 0)
    return [
      searched({
        ...base,
        id: `${surface.id} ${control}`,
        mapping: null,
        action: null,
        isFirst: true,
        gesture: "",
        holds: "",
        desk: "",
        does: "",
        numbers: "",
        shape: "",
        takeover: "",
        light: "",
        bundle: "",
        isOn: true,
        clashes: false,
        text: "",
      }),
    ];
  return mappings.flatMap((mapping) =>
    (mapping.actions.length === 0 ? [null] : mapping.actions).map((action, n) =>
      searched({
        ...base,
        id: `${mapping.id} ${action?.id ?? ""}`,
        mapping,
        action,
        isFirst: n === 0,
        gesture: ENGLISH.gestures[mapping.gesture],
        holds: scopeWords(mapping, live.show),
        ...doesWords(live, action),
        takeover: about?.behaviour === "absolute" ? TAKEOVER_WORDS[mapping.takeover] : "",
        light: mapping.look.colour ?? "",
        bundle: bundles.get(mapping.bundle ?? "")?.name ?? "",
        isOn: mapping.on && bundles.get(mapping.bundle ?? "")?.on !== false && action?.on !== false,
        clashes: clashing.has(mapping.id),
        text: "",
      }),
    ),
  );
}

function doesWords(live: TableSource, action: Action | null) {
  if (!action) return { desk: "", does: "no action yet", numbers: "", shape: "" };
  const compiled = live.compiled.desks.find((d) => d.id === action.desk);
  const fn = compiled?.functions.get(action.function);
  return {
    desk: compiled?.desk.name ?? action.desk,
    does: fn ? inSentence(fn.fn.name) : action.function,
    numbers: fn ? numbersWords(live, action, fn.parameters) : "",
    shape: fn?.fn.acts === "level" ? shapeWords(action.shape, fn.fn.range) : "",
  };
}

/** "up, 7 Lightning": the numbers of an action one after the other, the last with what the desk calls it. */
export function numbersWords(live: TableSource, action: Action, parameters: readonly Parameter[]): string {
  const last = parameters.findLast((p) => action.bindings[p.id]?.from === "fixed");
  const name = last && numbersName(live, action.desk, action.function, action.bindings, last.id);
  return parameters
    .map((p) => {
      const binding = action.bindings[p.id];
      if (!binding) return "";
      const words = typedWords(binding, live.show);
      return p === last && name ? `${words} ${name}` : words;
    })
    .filter((words) => words !== "")
    .join(", ");
}

/** A binding as it can be typed in a cell: "up" for the page that is up. */
export function typedWords(binding: Binding, show: Show): string {
  return binding.from === "page" ? "up" : bindingWords(binding, null, undefined, show);
}

function searched(row: TableRow): TableRow {
  const { surfaceName, controlName, gesture, holds, desk, does, numbers, bundle, mapping } = row;
  const text = [
    surfaceName,
    controlName,
    gesture,
    holds,
    desk,
    does,
    numbers,
    bundle,
    mapping?.name ?? "",
    mapping?.note ?? "",
  ];
  return { ...row, text: text.join(" ").toLowerCase() };
}

/** What a table is filtered to. */
export interface TableFilter {
  readonly text: string;
  readonly only: Only;
  readonly surface: string;
  /** 0 = every page. */
  readonly page: number;
}

export type Only = "all" | "mapped" | "free" | "clashing" | "off";

export const NO_FILTER: TableFilter = { text: "", only: "all", surface: "", page: 0 };

const PASSES: { [O in Only]: (row: TableRow) => boolean } = {
  all: () => true,
  mapped: (r) => r.mapping !== null,
  free: (r) => r.mapping === null,
  clashing: (r) => r.clashes,
  off: (r) => r.mapping !== null && !r.isOn,
};

export const holdsOnPage = (mapping: Mapping, page: number) => !mapping.pages || mapping.pages.in.includes(page);

export function filtered(rows: readonly TableRow[], { text, only, surface, page }: TableFilter): TableRow[] {
  const words = text.toLowerCase().split(/\s+/).filter(Boolean);
  return rows.filter(
    (r) =>
      PASSES[only](r) &&
      (surface === "" || r.surface === surface) &&
      (page === 0 || !r.mapping || holdsOnPage(r.mapping, page)) &&
      words.every((w) => r.text.includes(w)),
  );
}

/** How many rows each choice would leave, of those that the rest of the filter leaves. */
export function countsOf(rows: readonly TableRow[], filter: TableFilter): Record<Only, number> {
  const others = filtered(rows, { ...filter, only: "all" });
  const counts = { all: others.length, mapped: 0, free: 0, clashing: 0, off: 0 };
  for (const r of others)
    for (const only of ["mapped", "free", "clashing", "off"] as const) if (PASSES[only](r)) counts[only]++;
  return counts;
}

export type GroupBy = "surface" | "desk" | "holds" | "bundle" | "none";

export type TableLine =
  | { readonly kind: "head"; readonly group: string; readonly name: string; readonly count: number }
  | { readonly kind: "row"; readonly row: TableRow };

/** The name of the group that a row belongs to. */
export const GROUP_OF: { [G in GroupBy]: (row: TableRow) => string } = {
  surface: (r) => r.surfaceName,
  desk: (r) => r.desk || "Free",
  holds: (r) => r.holds || "Free",
  bundle: (r) => r.bundle || (r.mapping ? "In no bundle" : "Free"),
  none: () => "",
};

/** Rows under the heads of their groups, in the order in which the groups first appear; a folded one keeps its count. */
export function lines(rows: readonly TableRow[], by: GroupBy, folded: ReadonlySet<string>): TableLine[] {
  if (by === "none") return rows.map((row) => ({ kind: "row", row }));
  const groups = new Map<string, TableRow[]>();
  for (const row of rows) {
    const name = GROUP_OF[by](row);
    const list = groups.get(name);
    if (list) list.push(row);
    else groups.set(name, [row]);
  }
  return [...groups].flatMap(([name, list]): TableLine[] => [
    { kind: "head", group: name, name, count: list.length },
    ...(folded.has(name) ? [] : list.map((row): TableLine => ({ kind: "row", row }))),
  ]);
}
