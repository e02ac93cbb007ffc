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
  return typeof name === "string" && name !== "" ? name : action.fn.fn.name;
}
