/** A function that is armed: the next touch is given it, and the number after it arms itself. Pure. */
import type { DeskFunction, Parameter } from "../../core/format/desk-profile.ts";
import type { Action, Mapping } from "../../core/format/show.ts";
import { firstBindings } from "../../core/mapping/first-bindings.ts";

/** What becomes of a control that does something already. */
export type IfTaken = "ask" | "keep" | "replace";

/** One that was made while armed. */
export interface Made {
  readonly surface: string;
  readonly control: string;
  readonly mapping: string;
  readonly action: string;
  /** The number it was given; null = the function counts nothing. */
  readonly number: number | null;
  /** Mappings that it took the place of. */
  readonly replaced: readonly Mapping[];
  /** The action joined a mapping that was there. */
  readonly joined: boolean;
}

export interface Armed {
  readonly desk: string;
  readonly function: string;
  readonly bindings: Action["bindings"];
  /** The parameter whose number counts on, with its range; null = none does. */
  readonly counts: { readonly parameter: string; readonly from: number; readonly to: number } | null;
  /** The number that the next touch is given. */
  readonly number: number;
  /** How far it counts on after each; 0 = the same for all. */
  readonly step: number;
  /** The newest last. */
  readonly made: readonly Made[];
  readonly ifTaken: IfTaken;
  /** A control was touched that does something already, and it is asked what is to become of that. */
  readonly asking: { readonly surface: string; readonly control: string } | null;
}

/** Numbers that stand in view before the next is given. */
const QUEUED = 5;

export function arm(desk: string, fn: DeskFunction, parameters: readonly Parameter[], page: string | undefined): Armed {
  const bindings = firstBindings(fn, parameters, page, 1);
  const last = fn.parameters.findLast((id) => bindings[id]?.from === "fixed");
  const parameter = parameters.find((p) => p.id === last);
  const first = last === undefined ? undefined : bindings[last];
  const counts =
    parameter && parameter.to > parameter.from
      ? { parameter: parameter.id, from: parameter.from, to: parameter.to }
      : null;
  return {
    desk,
    function: fn.id,
    bindings,
    counts,
    number: first?.from === "fixed" ? first.value : 0,
    step: 1,
    made: [],
    ifTaken: "ask",
    asking: null,
  };
}

/** False: it has counted past the end of its range, and there is nothing to give. */
export function isGiving({ counts, number }: Armed): boolean {
  return counts === null || (number >= counts.from && number <= counts.to);
}

/** The numbers that come next, the armed one first. */
export function queue({ counts, number, step }: Armed): number[] {
  if (!counts) return [];
  const all = step === 0 ? [number] : Array.from({ length: QUEUED }, (_, k) => number + k * step);
  return all.filter((n) => n >= counts.from && n <= counts.to);
}

/** The bindings that the next touch is given. */
export function bindingsNow({ bindings, counts, number }: Armed): Action["bindings"] {
  return counts ? { ...bindings, [counts.parameter]: { from: "fixed", value: number } } : bindings;
}

export function gave(armed: Armed, made: Made): Armed {
  return { ...armed, made: [...armed.made, made], number: armed.number + armed.step, asking: null };
}

/** The number is left out. */
export function leftOut(armed: Armed): Armed {
  return armed.counts && armed.asking === null
    ? { ...armed, number: armed.number + (armed.step === 0 ? 1 : armed.step) }
    : { ...armed, asking: null };
}

/** What was made is taken back: its number is armed again. */
export function tookBack(armed: Armed, made: Made): Armed {
  return {
    ...armed,
    made: armed.made.filter((m) => m !== made),
    number: made === armed.made.at(-1) ? (made.number ?? armed.number) : armed.number,
    asking: null,
  };
}
