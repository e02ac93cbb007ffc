/**
 * Which edits may be put on hold: those of mappings, names, notes, lights and sleep. What a show runs on (its surfaces, desks,
 * layers and all that values are kept for) is the same in the show that runs and in the one that is edited, or what is
 * known while it runs would be shown at the wrong place.
 */
import type { Thing } from "../format/problem.ts";
import type { Show } from "../format/show.ts";

const FOUNDATIONS: readonly (readonly [Thing, (show: Show) => unknown])[] = [
  ["surface", (s) => s.surfaces.map(({ name: _, asleep: __, controls: ___, ...rest }) => rest)],
  ["desk", (s) => s.desks.map(({ name: _, pages: __, ...rest }) => rest)],
  ["layer", (s) => s.layers.map(({ id, group }) => ({ id, group }))],
  ["group", (s) => s.groups],
  ["bank", (s) => s.banks],
  ["variable", (s) => s.variables],
  ["route", (s) => s.routes],
  ["session", (s) => s.sessions],
  ["surface-profile", (s) => s.profiles?.surfaces],
  ["desk-profile", (s) => s.profiles?.desks],
  // A range of messages is a control that the mapping makes.
  ["control", (s) => s.mappings.flatMap((m) => (m.message ? [[m.surface, m.control, m.message]] : []))],
];

/** What would change that the show runs on; null = nothing: the edits that lead from one to the other may wait. */
export function cannotWait(running: Show, edited: Show): Thing | null {
  for (const [thing, of] of FOUNDATIONS)
    if (JSON.stringify(of(running) ?? []) !== JSON.stringify(of(edited) ?? [])) return thing;
  return null;
}
