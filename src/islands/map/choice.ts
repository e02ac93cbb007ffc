/** What the Map works on: the chosen control, its mappings, and the one the spine shows. */

import type { DeskFunction, DeskProfile } from "../../core/format/desk-profile.ts";
import { GESTURE, gesturesOf } from "../../core/format/gestures.ts";
import { WHOLE_TRAVEL } from "../../core/format/givens.ts";
import type { Action, Mapping, Show } from "../../core/format/show.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import { WIRES } from "../../core/format/wires.ts";
import { shownMapping } from "../../core/from-desk/lights.ts";
import { firstBindings } from "../../core/mapping/first-bindings.ts";
import { newId } from "../documents/new-ids.ts";
import type { LiveState } from "../live/apply-changes.ts";
import type { PageState } from "../live/store.ts";
import { firstMessage } from "./own-message.ts";

export interface Choice {
  readonly surface: string;
  readonly control: Control;
  readonly controlIndex: number;
  readonly surfaceIndex: number;
  readonly mappings: readonly Mapping[];
  /** The mapping that holds on the page and layer that are up. */
  readonly holds: string | null;
  readonly shown: Mapping | null;
  /** Its mappings by where they hold, in the order of the show; within each in the order of their gestures. */
  readonly scopes: readonly (readonly Mapping[])[];
  /** Those that hold where the shown one does. */
  readonly beside: readonly Mapping[];
  /** How the faders and knobs of new mappings take over, as the show has it. */
  readonly takeover: Show["settings"]["takeover"];
}

/** Where a mapping holds, so that two of the same scope stand together. */
function scopeKey({ layers, pages, whileHeld, when }: Mapping): string {
  return JSON.stringify([[...layers].sort(), pages ?? null, whileHeld ?? null, when ?? null]);
}

function byScope(mappings: readonly Mapping[]): Mapping[][] {
  const scopes = new Map<string, Mapping[]>();
  for (const m of mappings) {
    const list = scopes.get(scopeKey(m)) ?? [];
    list.push(m);
    scopes.set(scopeKey(m), list);
  }
  return [...scopes.values()].map((list) => list.sort((a, b) => GESTURE[a.gesture].code - GESTURE[b.gesture].code));
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
  const scopes = byScope(mappings);
  const beside = scopes.find((p) => shown && p.includes(shown)) ?? [];
  return {
    surface: chosen.surface,
    control,
    controlIndex,
    surfaceIndex,
    mappings,
    holds,
    shown,
    scopes,
    beside,
    takeover: live.show.settings.takeover,
  };
}

/** A mapping of this control without actions, for everywhere that no other mapping of it is more specific. */
export function newMapping(choice: Pick<Choice, "surface" | "control" | "takeover">): Mapping {
  const [gesture = "press"] = gesturesOf(choice.control);
  const { kind, behaviour } = choice.control;
  return {
    id: newId("m"),
    name: "",
    note: "",
    on: true,
    surface: choice.surface,
    control: choice.control.id,
    ...(choice.control.sends.kind === "any" ? { message: choice.control.sends } : {}),
    gesture,
    layers: [],
    takeover:
      behaviour !== "absolute"
        ? "jump"
        : ((kind === "fader" || kind === "knob" ? choice.takeover?.[kind] : undefined) ?? "catch"),
    look: {},
    actions: [],
  };
}

/** An action with the numbers that are likely meant; null where the show has nothing yet that it could act on. */
export function newAction(
  choice: Pick<Choice, "surface" | "control" | "shown">,
  { show, compiled }: Pick<LiveState, "show" | "compiled">,
  desk: string,
  profile: DeskProfile,
  fn: DeskFunction,
): Action | null {
  const number = Number(choice.control.id.split("-")[1] ?? 1) || 1;
  const action: Action = {
    id: newId("a"),
    on: true,
    desk,
    function: fn.id,
    bindings: firstBindings(fn, profile.parameters, profile.page?.parameter, number),
    shape: WHOLE_TRAVEL,
  };
  if (fn.parameters.some((id) => (profile.parameters.find((p) => p.id === id)?.to ?? 0) < 1 && id !== "by"))
    return null;
  if (fn.target === undefined) return action;
  const target =
    fn.target === "desk"
      ? compiled.desks.find((d) => WIRES[d.profile.wire.kind].reachedBy === "address")?.id
      : fn.target === "mapping"
        ? show.mappings.find((m) => m.id !== choice.shown?.id)?.id
        : (show.desks[0]?.id ?? choice.surface);
  if (target === undefined) return null;
  return fn.target === "port" ? { ...action, target, message: firstMessage(compiled, target) } : { ...action, target };
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
