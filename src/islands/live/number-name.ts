/** What a number of a desk is called, where the desk or the show has a name for it. */

import { stateIndex } from "../../core/desk/compile-desk.ts";
import type { Parameter } from "../../core/format/desk-profile.ts";
import { HOUSE } from "../../core/format/givens.ts";
import type { Action, Show } from "../../core/format/show.ts";
import type { LiveState } from "./apply-changes.ts";

/** "Lightning" for playback 7; undefined where nobody has named it. */
export function numberName(
  { show, compiled, values }: Pick<LiveState, "show" | "compiled" | "values">,
  deskId: string,
  parameter: Parameter,
  value: number,
): string | undefined {
  const ours = houseName(show, deskId, parameter.id, value);
  if (ours !== undefined) return ours;
  const names = compiled.desks.find((d) => d.id === deskId)?.states.get(parameter.names ?? "");
  const name = names ? values[deskId]?.value[names.base + value - parameter.from] : undefined;
  return typeof name === "string" && name !== "" ? name : undefined;
}

/** What the house counts has its names in the show. */
function houseName(show: Show, desk: string, parameter: string, value: number): string | undefined {
  if (desk !== HOUSE) return undefined;
  const lists: Record<string, readonly { name: string }[] | undefined> = {
    layer: show.layers,
    bank: show.banks,
    variable: show.variables,
    group: show.groups,
  };
  return lists[parameter]?.[value - 1]?.name;
}

/** What a function with these numbers acts on is called: "Lightning" for playback 7 of the page that is up. */
export function numbersName(
  live: Pick<LiveState, "show" | "compiled" | "values" | "desks">,
  deskId: string,
  functionId: string,
  bindings: Action["bindings"],
  counted: string,
): string | undefined {
  const fn = live.compiled.desks.find((d) => d.id === deskId)?.functions.get(functionId);
  const parameter = fn?.parameters.find((p) => p.id === counted);
  const numberOf = (id: string) => {
    const binding = bindings[id];
    if (binding?.from === "fixed") return binding.value;
    return binding?.from === "page" ? (live.desks[deskId]?.page ?? Number.NaN) : Number.NaN;
  };
  const label = fn?.label;
  if (label) {
    const numbers = label.state.parameters.map(numberOf);
    const index = numbers.some(Number.isNaN) ? -1 : stateIndex(label, numbers);
    const name = index < 0 ? null : live.values[deskId]?.value[index];
    if (typeof name === "string" && name !== "") return name;
  }
  return parameter && numberName(live, deskId, parameter, numberOf(counted));
}
