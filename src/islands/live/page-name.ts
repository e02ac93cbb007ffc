/** What pages are called: by people first, then by their desk. */
import type { CompiledDesk } from "../../core/desk/compile-desk.ts";
import type { LiveState } from "./apply-changes.ts";

type Known = Pick<LiveState, "compiled" | "values">;

/** The first desk that has pages. */
export function pagedDesk({ compiled }: Pick<LiveState, "compiled">): CompiledDesk | undefined {
  return compiled.desks.find((d) => d.page && d.pageParameter);
}

/** "" = nobody has named it. */
export function pageName({ values }: Known, desk: CompiledDesk, page: number): string {
  const own = desk.desk.pages?.[String(page)]?.name;
  const parameter = desk.pageParameter;
  const names = parameter && desk.states.get(parameter.names ?? "");
  const told = names ? values[desk.id]?.value[names.base + page - parameter.from] : "";
  return own ?? (typeof told === "string" ? told : "");
}

export function pageNote(desk: CompiledDesk, page: number): string {
  return desk.desk.pages?.[String(page)]?.note ?? "";
}
