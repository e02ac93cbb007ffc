import type { DeskFunction, Parameter } from "../format/desk-profile.ts";
import type { Action } from "../format/show.ts";

/** Numbers a new action starts with: pages follow the desk, the last counts with the control, others begin at 1. */
export function firstBindings(
  fn: DeskFunction,
  parameters: readonly Parameter[],
  pageParameter: string | undefined,
  controlNumber: number,
): Action["bindings"] {
  const bindings: Action["bindings"] = {};
  fn.parameters.forEach((id, k) => {
    const p = parameters.find((x) => x.id === id)!;
    const last = k === fn.parameters.length - 1;
    const counts = last && p.from >= 0 && controlNumber >= p.from && controlNumber <= p.to;
    if (id === pageParameter && fn.parameters.length > 1) bindings[id] = { from: "page" };
    else bindings[id] = { from: "fixed", value: counts ? controlNumber : Math.min(p.to, Math.max(p.from, 1)) };
  });
  return bindings;
}
