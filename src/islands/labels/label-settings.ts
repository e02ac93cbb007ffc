/** How labels are wanted, as this browser keeps it. */
import { z } from "zod";
import { BASE_LAYER } from "../../core/format/givens.ts";
import type { LabelSize } from "../../core/labels/label-blocks.ts";
import type { LiveState } from "../live/apply-changes.ts";

export type PaperName = "a4" | "letter" | "tape" | "own";

const Mm = z.number().min(2).max(1500);
const Kept = z.object({
  sizes: z.record(z.string(), z.object({ padWidthMm: Mm, padHeightMm: Mm, stripMm: Mm })),
  paper: z.enum(["a4", "letter", "tape", "own"]),
  ownWidthMm: Mm,
  ownHeightMm: Mm,
  textMm: z.number().min(2).max(8),
  colours: z.boolean(),
  cutMarks: z.boolean(),
  numbers: z.boolean(),
  empty: z.boolean(),
  list: z.boolean(),
});

export interface LabelSettings extends z.infer<typeof Kept> {
  readonly surfaces: readonly string[];
  readonly pages: readonly number[];
  readonly layers: readonly string[];
}

const FIRST: z.infer<typeof Kept> = {
  sizes: {},
  paper: "a4",
  ownWidthMm: 300,
  ownHeightMm: 200,
  textMm: 4.1,
  colours: true,
  cutMarks: true,
  numbers: true,
  empty: true,
  list: false,
};
const FIRST_SIZE: LabelSize = { padWidthMm: 22, padHeightMm: 18.5, stripMm: 15 };
const KEY = "labels";

/** What was wanted last, for the surfaces of this show and the page that is up. */
export function settingsOf(live: LiveState): LabelSettings {
  const desk = live.compiled.desks.find((d) => d.page);
  const page = (desk && live.desks[desk.id]?.page) ?? desk?.pageParameter?.from ?? 1;
  return {
    ...kept(),
    surfaces: live.compiled.surfaces.slice(0, 2).map((s) => s.id),
    pages: [page],
    layers: [live.show.layers.some((l) => l.id === live.layer) ? live.layer : BASE_LAYER],
  };
}

function kept(): z.infer<typeof Kept> {
  try {
    const read = Kept.safeParse(JSON.parse(localStorage.getItem(KEY) ?? "null"));
    return read.success ? read.data : FIRST;
  } catch {
    return FIRST;
  }
}

export function keepSettings({
  surfaces: _surfaces,
  pages: _pages,
  layers: _layers,
  ...settings
}: LabelSettings): void {
  try {
    localStorage.setItem(KEY, JSON.stringify(settings));
  } catch {
    // A browser that keeps nothing prints all the same.
  }
}

export function sizeOf({ sizes }: Pick<LabelSettings, "sizes">, profile: string): LabelSize {
  return sizes[profile] ?? FIRST_SIZE;
}
