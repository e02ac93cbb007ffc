/** Which controls of a surface do something on which page of a desk. Pure. */
import type { LiveState } from "../../live/apply-changes.ts";
import { holdsOnPage, placesOn } from "./table-rows.ts";

export type Cell = "mapped" | "free" | "clashing";

export interface CoverageBlock {
  /** The page; 0 where no desk has pages. */
  readonly page: number;
  /** For each control as it lies. */
  readonly cells: readonly Cell[];
}

export interface Coverage {
  readonly surface: string;
  readonly name: string;
  readonly blocks: readonly CoverageBlock[];
  /** Over all pages. */
  readonly counts: Readonly<Record<Cell, number>>;
}

/** Of how many pages at the most a strip is drawn. */
const MOST_PAGES = 24;

export function coverageOf({ show, compiled }: Pick<LiveState, "show" | "compiled">): Coverage[] {
  const parameter = compiled.desks.find((d) => d.page)?.pageParameter;
  const pages = parameter
    ? Array.from({ length: Math.min(MOST_PAGES, parameter.to - parameter.from + 1) }, (_, i) => parameter.from + i)
    : [0];
  const clashing = new Set(compiled.clashes.flat());
  const byControl = new Map<string, number[]>();
  show.mappings.forEach((m, i) => {
    if (m.actions.length === 0) return;
    const key = `${m.surface} ${m.control}`;
    byControl.set(key, [...(byControl.get(key) ?? []), i]);
  });
  return compiled.surfaces.map((surface) => {
    const counts = { mapped: 0, free: 0, clashing: 0 };
    const controls = placesOn(surface).map((c) => byControl.get(`${surface.id} ${c.id}`) ?? []);
    const blocks = pages.map((page) => ({
      page,
      cells: controls.map((mappings): Cell => {
        const here = mappings.filter((m) => page === 0 || holdsOnPage(show.mappings[m]!, page));
        const cell = here.some((m) => clashing.has(m)) ? "clashing" : here.length > 0 ? "mapped" : "free";
        counts[cell]++;
        return cell;
      }),
    }));
    return { surface: surface.id, name: surface.surface.name, blocks, counts };
  });
}
