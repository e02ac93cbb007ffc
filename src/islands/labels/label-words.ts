/** What stands on the labels of a surface, for a page of a desk and a layer. Pure. */

import type { Acts } from "../../core/format/desk-profile.ts";
import { GESTURE } from "../../core/format/gestures.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import { shownAction, shownMapping } from "../../core/from-desk/lights.ts";
import type { LabelWords } from "../../core/labels/label-blocks.ts";
import type { ListGroup } from "../../core/labels/list-sheets.ts";
import type { Context } from "../../core/run-state/context.ts";
import { ENGLISH } from "../../words/english.ts";
import { inSentence, scopeWords } from "../../words/mappings.ts";
import { contextOn, type LiveState } from "../live/apply-changes.ts";
import { mappingLabel } from "../live/mapping-label.ts";
import { pageName as nameOfPage, pagedDesk } from "../live/page-name.ts";

export interface LabelScope {
  /** The desk whose pages they are; null = no desk of the show has pages. */
  readonly desk: string | null;
  readonly page: number;
  readonly layer: string;
}

/** Words by the id of the control; a control that does nothing there has none. */
export function labelWords(
  live: LiveState,
  surfaceIndex: number,
  scope: LabelScope,
): (control: Control) => LabelWords | null {
  const context = contextOn(live, scope.desk, scope.page, scope.layer);
  const surface = live.compiled.surfaces[surfaceIndex]!;
  return (control) => {
    const index = surface.indexOf.get(control.id);
    const m = index === undefined ? -1 : shownMapping(context, surface.firstControl + index);
    if (m < 0) return null;
    return {
      name: mappingLabel({ ...live, context }, m),
      note: noteOf(live, context, m),
      colour: colourOf(live, context, m),
    };
  };
}

const ACTS: Readonly<Record<Acts, string>> = { level: "", trigger: "go", toggle: "on, off", flash: "flash" };

function noteOf({ compiled }: LiveState, context: Context, m: number): string {
  const a = shownAction(context, m);
  const action = compiled.actions[a];
  return action ? ACTS[action.fn.fn.acts] : "";
}

function colourOf({ show, compiled, values }: LiveState, context: Context, m: number): string | null {
  const own = show.mappings[m]!.look.colour;
  if (own !== undefined) return own;
  const a = shownAction(context, m);
  const index = a < 0 ? -1 : context.sibling(a, "colour");
  const value = index < 0 ? null : values[compiled.actions[a]!.desk.id]?.value[index];
  return typeof value === "string" && /^#[0-9a-fA-F]{6}$/.test(value) ? value : null;
}

/** Every mapping in a line, by surface, as controls lie. */
export function listOf(live: LiveState): ListGroup[] {
  const { compiled, show } = live;
  return compiled.surfaces.flatMap((surface): ListGroup[] => {
    const place = (control: string) => surface.indexOf.get(control) ?? Number.MAX_SAFE_INTEGER;
    const mine = show.mappings
      .map((mapping, m) => ({ mapping, m }))
      .filter(({ mapping, m }) => mapping.surface === surface.id && compiled.mappingOn[m] === 1)
      .sort((a, b) => place(a.mapping.control) - place(b.mapping.control) || a.m - b.m);
    const lines = mine.map(({ mapping, m }) => {
      const index = surface.indexOf.get(mapping.control);
      const name = index === undefined ? mapping.control : surface.profile.controls[index]!.name;
      const gesture = inSentence(ENGLISH.gestures[mapping.gesture]);
      const first = compiled.actionStart[m]!;
      const all = compiled.actions.slice(first, compiled.actionStart[m + 1]!);
      const does = all.map((a) => `${a.desk.desk.name}: ${inSentence(a.fn.fn.name)}`).join("; ");
      const label = mappingLabel(live, m);
      return {
        control: GESTURE[mapping.gesture].code === 0 || gesture === "move" ? name : `${name}, ${gesture}`,
        does: does === "" ? "no action" : `${does} ${label === all[0]?.fn.fn.name ? "" : label}`.trim(),
        where: scopeWords(mapping, show),
      };
    });
    return lines.length === 0 ? [] : [{ title: surface.surface.name, lines }];
  });
}

/** What a page is called at the first desk that has pages; "" = nothing. */
export function pageName(live: LiveState, page: number): string {
  const desk = pagedDesk(live);
  return desk ? nameOfPage(live, desk, page) : "";
}
