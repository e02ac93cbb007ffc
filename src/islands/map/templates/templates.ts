/**
 * Templates: what surfaces and desks of a kind are mostly used for, filled for those that are here. Each is a plan of lines that
 * can be read before anything is made. Pure but for new ids.
 */
import type { CompiledDesk } from "../../../core/desk/compile-desk.ts";
import type { OneEdit } from "../../../core/edit/edit-kinds.ts";
import type { DeskFunction } from "../../../core/format/desk-profile.ts";
import type { Control } from "../../../core/format/surface-profile.ts";
import { placesOf, rowsOf, type SeriesPlace } from "../../../core/mapping/series.ts";
import { likelyFunctions, stripsOf } from "../../../core/mapping/strips.ts";
import type { CompiledSurface } from "../../../core/surface/compile-surface.ts";
import type { PageState } from "../../live/store.ts";
import {
  firstNumbers,
  type SeriesFunction,
  type SeriesLine,
  type SeriesNumbers,
  seriesEdits,
  seriesLines,
} from "../series-lines.ts";
import { functionsOf, newBank, planRows, stripEdits, stripParameter } from "../strip-plan.ts";

export type TemplateId = "pads-and-faders" | "strips" | "rows";

/** Some controls that get one function. */
export interface TemplatePart {
  readonly controls: readonly Control[];
  readonly fn: DeskFunction;
  /** The numbers of the first and the last of them; null = the function counts nothing. */
  readonly numbers: readonly [number, number] | null;
}

export interface TemplatePlan {
  readonly parts: readonly TemplatePart[];
  readonly edits: readonly OneEdit[];
  /** How much the desk is of the kind that it is for: 1, or more. */
  readonly fit: number;
}

/** `free`: controls of the surface that nothing was planned for. Null = it does not fit. */
type Planner = (
  state: PageState,
  surface: CompiledSurface,
  desk: CompiledDesk,
  free: readonly Control[],
) => TemplatePlan | null;

const PLANNERS: Readonly<Record<TemplateId, Planner>> = { "pads-and-faders": padsAndFaders, strips, rows };
export const TEMPLATES = Object.keys(PLANNERS) as TemplateId[];

export function planTemplate(
  state: PageState,
  template: TemplateId,
  surfaceId: string,
  deskId: string,
  taken: ReadonlySet<string> = new Set(),
): TemplatePlan | null {
  const { surfaces, desks } = state.live.compiled;
  const surface = surfaces.find((s) => s.id === surfaceId);
  const desk = desks.find((d) => d.id === deskId);
  if (!surface || !desk) return null;
  const free = surface.profile.controls.filter(
    (c) => c.sends.kind !== "any" && c.bank === undefined && !taken.has(`${surfaceId} ${c.id}`),
  );
  const plan = PLANNERS[template](state, surface, desk, free);
  return plan && plan.edits.length > 0 ? plan : null;
}

/** A desk whose playbacks turn with its pages is what pads and faders are for. */
const PAGED_FIT = 4;

/** Pads switch, and faders drive, what the desk counts most: playbacks of the page that is up. */
function padsAndFaders(state: PageState, surface: CompiledSurface, desk: CompiledDesk, free: readonly Control[]) {
  const parameter = stripParameter(desk);
  if (!parameter) return null;
  const own = functionsOf(desk, parameter.id).filter((fn) => fn.parameters.at(-1) === parameter.id);
  const toggle = own.find((fn) => fn.acts === "toggle");
  const level = own.find((fn) => fn.acts === "level");
  const pads = largest(free.filter((c) => (c.kind === "pad" || c.kind === "key") && c.behaviour !== "relative"));
  const faders = largest(free.filter((c) => c.kind === "fader" && c.behaviour === "absolute"));
  if (!toggle || !level || pads.length < 2) return null;
  const page = desk.profile.page?.parameter;
  const fit = page !== undefined && toggle.parameters.includes(page) ? PAGED_FIT : 1;
  return { ...joined([series(state, surface, desk, toggle, pads), series(state, surface, desk, level, faders)]), fit };
}

/** Each column of controls is a channel, through a bank that moves over all of them. */
function strips(
  state: PageState,
  surface: CompiledSurface,
  desk: CompiledDesk,
  free: readonly Control[],
): TemplatePlan | null {
  const found = stripsOf(free);
  const parameter = stripParameter(desk);
  if (!found || !parameter || !found.rows.some((r) => r.controls.some((c) => c?.kind === "fader"))) return null;
  const functions = likelyFunctions(found.rows, functionsOf(desk, parameter.id));
  const bank = newBank(parameter, found.columns);
  if (!bank || functions.filter(Boolean).length < 2) return null;
  const channels = { kind: "bank", bank, isNew: true } as const;
  const plan = planRows(state, surface.id, desk, parameter, found, functions, channels, {});
  return {
    parts: plan.flatMap(({ row, fn }): TemplatePart[] =>
      fn
        ? [{ controls: row.controls.flatMap((c) => c ?? []), fn, numbers: [bank.first, bank.first + bank.size - 1] }]
        : [],
    ),
    edits: stripEdits(state, surface.id, desk, plan, channels, "keep"),
    fit: 1,
  };
}

/** A row for program, one below it for preview, and the transition where there is something left for it. */
function rows(
  state: PageState,
  surface: CompiledSurface,
  desk: CompiledDesk,
  free: readonly Control[],
): TemplatePlan | null {
  const named = (word: string) =>
    desk.profile.functions.find(
      (fn) => fn.acts === "trigger" && wordsOf(fn).includes(word) && fn.parameters.length > 0,
    );
  const [program, preview] = [named("program"), named("preview")];
  const presses = free.filter((c) => c.behaviour !== "absolute" && c.behaviour !== "relative");
  const [first, second, third] = rowsOf(largest(presses)).filter((row) => row.length >= 3);
  if (!program || !preview || program === preview || !first || !second) return null;
  const plain = (acts: DeskFunction["acts"], word: string) =>
    desk.profile.functions.find(
      (fn) => fn.acts === acts && wordsOf(fn).includes(word) && fn !== program && fn !== preview,
    );
  const [cut, auto, bar] = [plain("trigger", "cut"), plain("trigger", "auto"), plain("level", "transition")];
  const fader = free.find((c) => c.kind === "fader" && c.behaviour === "absolute");
  return joined([
    series(state, surface, desk, program, first),
    series(state, surface, desk, preview, second),
    cut && third ? series(state, surface, desk, cut, third.slice(0, 1)) : null,
    auto && third ? series(state, surface, desk, auto, third.slice(1, 2)) : null,
    bar && fader ? series(state, surface, desk, bar, [fader]) : null,
  ]);
}

function wordsOf(fn: DeskFunction): string[] {
  return fn.name.toLowerCase().split(/[^a-z]+/);
}

/** Of controls in several sizes those of which there are most: a grid, and not the keys beside it. */
function largest(controls: readonly Control[]): Control[] {
  const alike = new Map<string, Control[]>();
  for (const c of controls) {
    const key = `${c.kind} ${c.box.width.toFixed(2)} ${c.box.height.toFixed(2)}`;
    alike.set(key, [...(alike.get(key) ?? []), c]);
  }
  return [...alike.values()].reduce<Control[]>((best, list) => (list.length > best.length ? list : best), []);
}

/** One function, counted on without a gap, as far as the desk has numbers. */
function series(
  state: PageState,
  surface: CompiledSurface,
  desk: CompiledDesk,
  fn: DeskFunction,
  controls: readonly Control[],
): TemplatePlan | null {
  const meant: SeriesFunction = {
    desk: desk.id,
    fn,
    parameters: desk.profile.parameters,
    page: desk.profile.page?.parameter,
  };
  const numbers: SeriesNumbers = firstNumbers(meant, (first) => ({ first, along: 1, down: 0 }));
  // One after the other, whatever their rows: a grid of six counts on in sixes.
  const places = placesOf(controls, "as-they-lie").map(
    ({ control }, column): SeriesPlace => ({ control, row: 0, column }),
  );
  const lines = seriesLines(state, surface.id, meant, numbers, places).filter((line) => line.outOf === null);
  const [first, last] = [lines[0], lines.at(-1)];
  if (!first || !last) return null;
  const counted = Object.keys(numbers).find((id) => numbers[id]!.kind === "counts");
  const numberOf = (line: SeriesLine) => {
    const binding = counted === undefined ? undefined : line.bindings[counted];
    return binding?.from === "fixed" ? binding.value : 0;
  };
  return {
    parts: [
      {
        controls: lines.map((l) => l.place.control),
        fn,
        numbers: counted === undefined ? null : [numberOf(first), numberOf(last)],
      },
    ],
    edits: seriesEdits(state, surface.id, meant, lines, {}),
    fit: 1,
  };
}

function joined(plans: readonly (TemplatePlan | null)[]): TemplatePlan {
  const there = plans.filter((p) => p !== null);
  return { parts: there.flatMap((p) => p.parts), edits: there.flatMap((p) => p.edits), fit: 1 };
}
