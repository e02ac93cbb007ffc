/** Controls of one surface that were chosen together: what is done to one is done to all of them. Pure. */
import type { Control } from "../../core/format/surface-profile.ts";
import { alikeOf, spanned, within } from "../../core/mapping/series.ts";
import type { LiveState } from "./apply-changes.ts";

export interface Many {
  readonly surface: string;
  /** In the order in which they were chosen. */
  readonly controls: readonly string[];
}

/** What of the page decides about it. */
interface Page {
  readonly live: Pick<LiveState, "compiled">;
  readonly chosen: { readonly surface: string; readonly control: string } | null;
  readonly many: Many | null;
}

function controlsOf({ live }: Page, surface: string): readonly Control[] {
  return live.compiled.surfaces.find((s) => s.id === surface)?.profile.controls ?? [];
}

/** Those that are chosen on this surface now: many, or the one. */
function before({ many, chosen }: Page, surface: string): readonly string[] {
  if (many?.surface === surface) return many.controls;
  return chosen?.surface === surface && chosen.control !== "" ? [chosen.control] : [];
}

/** One is no series: then it is simply the chosen one. */
function manyOf(surface: string, controls: readonly string[]): Many | null {
  return controls.length > 1 ? { surface, controls } : null;
}

/** One more, or one less. */
export function toggled(page: Page, surface: string, control: string): Many | null {
  const now = before(page, surface);
  return manyOf(surface, now.includes(control) ? now.filter((c) => c !== control) : [...now, control]);
}

/** As a touch does: one more, where it is none of them yet. */
export function joined(page: Page, surface: string, control: string): Many | null {
  const now = before(page, surface);
  return manyOf(surface, now.includes(control) ? now : [...now, control]);
}

/** All from the chosen one to this, corner to corner. */
export function reached(page: Page, surface: string, control: string): Many | null {
  const controls = controlsOf(page, surface);
  const [anchor] = before(page, surface);
  const from = controls.find((c) => c.id === anchor);
  const to = controls.find((c) => c.id === control);
  if (!from || !to) return toggled(page, surface, control);
  return manyOf(
    surface,
    spanned(controls, from, to).map((c) => c.id),
  );
}

/** All that are like the chosen one. */
export function allAlike(page: Page): Many | null {
  if (!page.chosen) return null;
  const { surface, control } = page.chosen;
  const controls = controlsOf(page, surface);
  const like = controls.find((c) => c.id === control);
  return like
    ? manyOf(
        surface,
        alikeOf(controls, like).map((c) => c.id),
      )
    : null;
}

/** All of the surface that the chosen one is of, in the bank of the surface that it lies in. */
export function wholeSurface(page: Page): Many | null {
  if (!page.chosen) return null;
  const { surface, control } = page.chosen;
  const controls = controlsOf(page, surface);
  const { bank } = controls.find((c) => c.id === control) ?? {};
  const all = controls.filter((c) => c.sends.kind !== "any" && c.bank === bank);
  return manyOf(
    surface,
    all.map((c) => c.id),
  );
}

/** All in a part of the surface, in pads. */
export function framed(page: Page, surface: string, area: Control["box"]): Many | null {
  return manyOf(
    surface,
    within(controlsOf(page, surface), area).map((c) => c.id),
  );
}
