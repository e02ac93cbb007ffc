/** What the Map works on: the chosen control, its mappings, and the one the spine shows. */
import { firstBindings } from "../../core/mapping/describe.ts";
import { gesturesOf } from "../../core/mapping/gestures.ts";
import type { DeskFunction, DeskProfile } from "../../core/show/desk-profile.ts";
import { type Action, type Mapping, type Show, WHOLE_TRAVEL } from "../../core/show/show.ts";
import type { Control } from "../../core/show/surface-profile.ts";
import { shownMapping } from "../../core/translate/lights.ts";
import type { LiveState } from "../live/apply-changes.ts";
import type { PageState } from "../live/store.ts";
import { newId } from "./new-ids.ts";

export interface Choice {
  readonly surface: string;
  readonly control: Control;
  readonly controlIndex: number;
  readonly surfaceIndex: number;
  readonly mappings: readonly Mapping[];
  /** The mapping that holds on the page and layer that are up. */
  readonly holds: string | null;
  readonly shown: Mapping | null;
}

export function choiceOf(state: PageState): Choice | null {
  const { chosen, live } = state;
  if (!chosen) return null;
  const surfaceIndex = live.compiled.surfaces.findIndex((s) => s.id === chosen.surface);
  const surface = live.compiled.surfaces[surfaceIndex];
  const controlIndex = surface?.indexOf.get(chosen.control) ?? -1;
  const control = surface?.profile.controls[controlIndex];
  if (!surface || !control) return null;
  const mappings = live.show.mappings.filter((m) => m.surface === chosen.surface && m.control === chosen.control);
  const active = shownMapping(live.context, surface.firstControl + controlIndex);
  const holds = active < 0 ? null : live.show.mappings[active]!.id;
  const shown =
    mappings.find((m) => m.id === state.chosenMapping) ?? mappings.find((m) => m.id === holds) ?? mappings[0] ?? null;
  return { surface: chosen.surface, control, controlIndex, surfaceIndex, mappings, holds, shown };
}

/** A mapping of this control without actions, for everywhere that no other mapping of it is more specific. */
export function newMapping(choice: Choice, takeover?: Show["settings"]["takeover"]): Mapping {
  const [gesture = "press"] = gesturesOf(choice.control);
  const { kind, behaviour } = choice.control;
  return {
    id: newId("m"),
    name: "",
    note: "",
    on: true,
    surface: choice.surface,
    control: choice.control.id,
    gesture,
    layers: [],
    takeover:
      behaviour !== "absolute"
        ? "jump"
        : ((kind === "fader" || kind === "knob" ? takeover?.[kind] : undefined) ?? "catch"),
    look: {},
    actions: [],
  };
}

export function newAction(choice: Choice, desk: string, profile: DeskProfile, fn: DeskFunction): Action {
  const number = Number(choice.control.id.split("-")[1] ?? 1) || 1;
  return {
    id: newId("a"),
    on: true,
    desk,
    function: fn.id,
    bindings: firstBindings(fn, profile.parameters, profile.page?.parameter, number),
    shape: WHOLE_TRAVEL,
  };
}

/** How many controls use each function: "lights playback.level" to 6. */
export function usesOf(live: LiveState): Map<string, number> {
  const uses = new Map<string, Set<string>>();
  for (const m of live.show.mappings)
    for (const a of m.actions) {
      const key = `${a.desk} ${a.function}`;
      const controls = uses.get(key) ?? new Set();
      controls.add(`${m.surface} ${m.control}`);
      uses.set(key, controls);
    }
  return new Map([...uses].map(([key, controls]) => [key, controls.size]));
}
