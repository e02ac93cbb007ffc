import type { CompiledAction } from "../../core/mapping/compile-actions.ts";
import type { LiveState } from "./apply-changes.ts";

/** The mapping's own name, or what the desk calls the thing it drives, or the function's name. */
export function mappingLabel(live: Pick<LiveState, "show" | "compiled" | "context" | "values">, m: number): string {
  const mapping = live.show.mappings[m]!;
  if (mapping.name) return mapping.name;
  const a = live.compiled.actionStart[m]!;
  if (a === live.compiled.actionStart[m + 1]) return "no action";
  const action = live.compiled.actions[a]!;
  const index = live.context.sibling(a, "label");
  const name = index >= 0 ? live.values[action.desk.id]?.value[index] : null;
  if (typeof name === "string" && name !== "") return name;
  return index >= 0 ? numbered(action) : action.fn.fn.name;
}

/** Of what the desk has no name for yet: "playback 7". */
function numbered({ fn, action }: CompiledAction): string {
  const counted = fn.parameters.findLast((p) => action.bindings[p.id]?.from === "fixed");
  const binding = counted && action.bindings[counted.id];
  return binding?.from === "fixed" ? `${counted!.name} ${binding.value}` : fn.fn.name;
}
