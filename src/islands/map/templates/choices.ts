/** Which template goes to which surface and desk: what fits best is proposed, and can be changed. Pure. */
import { emptyShow, type Show } from "../../../core/format/show.ts";
import type { PageState } from "../../live/store.ts";
import { planTemplate, TEMPLATES, type TemplateId, type TemplatePlan } from "./templates.ts";

export interface TemplateChoice {
  readonly template: TemplateId;
  readonly surface: string;
  readonly desk: string;
  readonly isOn: boolean;
}

/** The surfaces and desks of a show, with nothing mapped. */
export function bareShow({ settings, surfaces, desks, sessions, profiles }: Show, name: string): Show {
  return {
    ...emptyShow(name),
    settings,
    surfaces: surfaces.map(({ asleep: _, ...surface }) => surface),
    desks,
    ...(sessions ? { sessions } : {}),
    ...(profiles ? { profiles } : {}),
  };
}

const key = (surface: string, control: string) => `${surface} ${control}`;

/** Each template once, at the surface and desk where it reaches most controls that no other one has. */
export function proposed(state: PageState): TemplateChoice[] {
  const { surfaces, desks } = state.live.compiled;
  const used = new Set<string>();
  return TEMPLATES.flatMap((template): TemplateChoice[] => {
    let best: { surface: string; desk: string; reaches: number } | null = null;
    for (const { id: surface } of surfaces)
      for (const { id: desk } of desks) {
        const plan = planTemplate(state, template, surface, desk);
        if (!plan) continue;
        // One that has a surface for itself is better than one that shares it.
        const reached = plan.parts.reduce((n, p) => n + p.controls.length, 0);
        const reaches = (reached * plan.fit) / (used.has(surface) ? 10 : 1);
        if (!best || reaches > best.reaches) best = { surface, desk, reaches };
      }
    if (!best) return [];
    const isOn = !used.has(best.surface);
    used.add(best.surface);
    return [{ template, surface: best.surface, desk: best.desk, isOn }];
  });
}

/** What each choice comes to, one after the other: a control that one has is not given to the next. Null = it does not fit. */
export function plansOf(state: PageState, choices: readonly TemplateChoice[]): (TemplatePlan | null)[] {
  const taken = new Set<string>();
  return choices.map(({ template, surface, desk, isOn }) => {
    const plan = planTemplate(state, template, surface, desk, taken);
    if (plan && isOn) for (const part of plan.parts) for (const c of part.controls) taken.add(key(surface, c.id));
    return plan;
  });
}
