/** What a series would make of each control that was chosen, line by line, and the edits that it comes to. Pure but for new ids. */
import type { OneEdit } from "../../core/edit/edit-kinds.ts";
import type { DeskFunction, Parameter } from "../../core/format/desk-profile.ts";
import type { Binding } from "../../core/format/shape.ts";
import type { Mapping } from "../../core/format/show.ts";
import { numberAt, type SeriesCount, type SeriesPlace } from "../../core/mapping/series.ts";
import { arm } from "../live/armed.ts";
import type { PageState } from "../live/store.ts";
import { give } from "./arming.ts";
import { choiceOf } from "./choice.ts";

/** A number counts on from control to control, or comes from the same place for all. */
export type SeriesNumber =
  | { readonly kind: "counts"; readonly count: SeriesCount }
  | { readonly kind: "same"; readonly binding: Binding };

export type SeriesNumbers = Readonly<Record<string, SeriesNumber>>;

/** What becomes of a control that does something already. */
export type ClashAnswer = "keep" | "replace" | "leave";

export interface SeriesLine {
  readonly place: SeriesPlace;
  readonly bindings: Readonly<Record<string, Binding>>;
  /** What it does already, where this would hold. */
  readonly taken: Mapping | null;
  /** The parameter whose number the desk does not have. */
  readonly outOf: Parameter | null;
}

export interface SeriesFunction {
  readonly desk: string;
  readonly fn: DeskFunction;
  readonly parameters: readonly Parameter[];
  readonly page: string | undefined;
}

/** As likely meant: the last number counts on from 1, or from where it begins; the others are as for one control. */
export function firstNumbers({ desk, fn, parameters, page }: SeriesFunction, count: (first: number) => SeriesCount) {
  const armed = arm(desk, fn, parameters, page);
  return Object.fromEntries(
    fn.parameters.map((id): [string, SeriesNumber] => [
      id,
      id === armed.counts?.parameter
        ? { kind: "counts", count: count(armed.number) }
        : { kind: "same", binding: armed.bindings[id]! },
    ]),
  );
}

function bindingsAt(numbers: SeriesNumbers, place: SeriesPlace): Record<string, Binding> {
  return Object.fromEntries(
    Object.entries(numbers).map(([id, n]) => [
      id,
      n.kind === "counts" ? { from: "fixed", value: numberAt(n.count, place) } : n.binding,
    ]),
  );
}

export function seriesLines(
  state: PageState,
  surface: string,
  series: SeriesFunction,
  numbers: SeriesNumbers,
  places: readonly SeriesPlace[],
): SeriesLine[] {
  return places.map((place) => {
    const bindings = bindingsAt(numbers, place);
    const choice = choiceOf({ ...state, chosen: { surface, control: place.control.id }, chosenMapping: null });
    const outOf = series.parameters.find((p) => {
      const binding = bindings[p.id];
      return binding?.from === "fixed" && (binding.value < p.from || binding.value > p.to);
    });
    return {
      place,
      bindings,
      taken: choice?.mappings.find((m) => m.id === choice.holds) ?? null,
      outOf: outOf ?? null,
    };
  });
}

/** The edits of these lines; a control that is taken keeps what it does too, loses it, or is left out. */
export function seriesEdits(
  state: PageState,
  surface: string,
  { desk, fn, parameters, page }: SeriesFunction,
  lines: readonly SeriesLine[],
  answers: Readonly<Record<string, ClashAnswer>>,
): OneEdit[] {
  const armed = { ...arm(desk, fn, parameters, page), counts: null };
  return lines.flatMap(({ place, bindings, taken }) => {
    const control = place.control.id;
    const answer = taken ? (answers[control] ?? "keep") : "keep";
    if (answer === "leave") return [];
    const given = give(state, { ...armed, bindings }, { surface, control }, answer);
    return given.kind === "makes" ? given.edits : [];
  });
}
