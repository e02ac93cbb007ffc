/** One change of many mappings at once, as the edits that it comes to; those that it would not change are left alone. */

import { gesturesOf } from "../format/gestures.ts";
import type { Action, Mapping } from "../format/show.ts";
import type { Control } from "../format/surface-profile.ts";
import type { MappingChange, OneEdit } from "./edit-kinds.ts";

/** The edits that set this on every mapping where it is not so yet. */
export function setOnAll(mappings: readonly Mapping[], set: MappingChange): OneEdit[] {
  return mappings.filter((m) => differs(m, set)).map((m) => ({ kind: "change-mapping", id: m.id, set }));
}

function differs(mapping: Mapping, set: MappingChange): boolean {
  return Object.entries(set).some(([key, value]) => {
    const now = mapping[key as keyof Mapping];
    return value === null ? now !== undefined : JSON.stringify(now) !== JSON.stringify(value);
  });
}

/** A way to take over is for what stays where it is put. */
export function takeOverAll(
  mappings: readonly Mapping[],
  takeover: Mapping["takeover"],
  controlOf: (mapping: Mapping) => Control | undefined,
): OneEdit[] {
  return setOnAll(
    mappings.filter((m) => controlOf(m)?.behaviour === "absolute"),
    { takeover },
  );
}

/** Gestures that every one of these controls can make. */
export function gesturesOfAll(controls: readonly Control[]): Mapping["gesture"][] {
  const [first, ...others] = controls;
  if (!first) return [];
  const rest = others.map((c) => new Set(gesturesOf(c)));
  return gesturesOf(first).filter((g) => rest.every((set) => set.has(g)));
}

/** Fixed numbers counting on, from `first` by `step`, in the order of the actions. */
export function countOn(
  actions: readonly { readonly mapping: string; readonly action: Action }[],
  parameter: string,
  first: number,
  step: number,
): OneEdit[] {
  return actions.flatMap(({ mapping, action }, i): OneEdit[] => {
    const value = first + i * step;
    const now = action.bindings[parameter];
    if (!now || (now.from === "fixed" && now.value === value)) return [];
    const bindings = { ...action.bindings, [parameter]: { from: "fixed" as const, value } };
    return [{ kind: "change-action", mapping, id: action.id, set: { bindings } }];
  });
}
