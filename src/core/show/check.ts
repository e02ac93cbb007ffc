/** What Zod cannot see in a show: names that lead nowhere, names twice, numbers outside the desk's ranges. */
import { checkDeskProfile } from "../desk/compile-desk.ts";
import type { DeskFunction, DeskProfile } from "./desk-profile.ts";
import type { Path, Problem } from "./problem.ts";
import { type Action, BASE_LAYER, type Mapping, type Show } from "./show.ts";
import type { SurfaceProfile } from "./surface-profile.ts";

/** Every profile at hand, by id. */
export interface Profiles {
  readonly surfaces: ReadonlyMap<string, SurfaceProfile>;
  readonly desks: ReadonlyMap<string, DeskProfile>;
}

/** The desk that is always there: Velvet Hinge itself. */
export const HOUSE = "house";

export function profilesOf(surfaces: readonly SurfaceProfile[], desks: readonly DeskProfile[]): Profiles {
  return { surfaces: new Map(surfaces.map((p) => [p.id, p])), desks: new Map(desks.map((p) => [p.id, p])) };
}

export function checkSurfaceProfile(profile: SurfaceProfile): Problem[] {
  const problems: Problem[] = [];
  twice(profile.controls, "control", ["controls"], problems);
  twice(profile.palettes, "palette", ["palettes"], problems);
  const palettes = new Set(profile.palettes.map((p) => p.id));
  const messages = new Map<string, string>();
  profile.controls.forEach((c, i) => {
    const key =
      c.sends.kind === "bend" ? `bend ${c.sends.channel}` : `${c.sends.kind} ${c.sends.channel} ${c.sends.number}`;
    const other = messages.get(key);
    if (other !== undefined)
      problems.push({
        code: "template",
        path: ["controls", i, "sends"],
        detail: `the control “${other}” already sends ${key.replace(" ", " on channel ")}.`,
      });
    messages.set(key, c.id);
    if (c.light && !palettes.has(c.light.palette))
      problems.push({
        code: "unknown-id",
        path: ["controls", i, "light", "palette"],
        what: "palette",
        id: c.light.palette,
      });
  });
  return problems;
}

/** All problems of a show; none means that it compiles. */
export function checkShow(show: Show, profiles: Profiles): Problem[] {
  const problems: Problem[] = [];
  twice(show.surfaces, "surface", ["surfaces"], problems);
  twice(show.desks, "desk", ["desks"], problems);
  twice(show.layers, "layer", ["layers"], problems);
  twice(show.mappings, "mapping", ["mappings"], problems);
  if (!show.layers.some((l) => l.id === BASE_LAYER))
    problems.push({ code: "unknown-id", path: ["layers"], what: "layer", id: BASE_LAYER });

  const surfaces = new Map<string, ReadonlyMap<string, SurfaceProfile["controls"][number]>>();
  show.surfaces.forEach((s, i) => {
    const profile = profiles.surfaces.get(s.profile);
    if (!profile)
      problems.push({ code: "unknown-id", path: ["surfaces", i, "profile"], what: "surface profile", id: s.profile });
    else surfaces.set(s.id, new Map(profile.controls.map((c) => [c.id, c])));
  });
  const desks = new Map<string, DeskContext>();
  show.desks.forEach((d, i) => {
    const profile = profiles.desks.get(d.profile);
    if (d.id === HOUSE) problems.push({ code: "twice", path: ["desks", i, "id"], what: "desk", id: HOUSE });
    else if (!profile)
      problems.push({ code: "unknown-id", path: ["desks", i, "profile"], what: "desk profile", id: d.profile });
    else desks.set(d.id, contextOf(profile));
  });
  const house = profiles.desks.get(HOUSE);
  if (house) desks.set(HOUSE, contextOf(house));

  const layers = new Set(show.layers.map((l) => l.id));
  show.mappings.forEach((m, i) => {
    checkMapping(m, ["mappings", i], show, surfaces, desks, layers, problems);
  });
  return problems;
}

interface DeskContext {
  readonly profile: DeskProfile;
  readonly functions: ReadonlyMap<string, DeskFunction>;
}

function contextOf(profile: DeskProfile): DeskContext {
  return { profile, functions: new Map(profile.functions.map((f) => [f.id, f])) };
}

function checkMapping(
  m: Mapping,
  path: Path,
  show: Show,
  surfaces: ReadonlyMap<string, ReadonlyMap<string, SurfaceProfile["controls"][number]>>,
  desks: ReadonlyMap<string, DeskContext>,
  layers: ReadonlySet<string>,
  problems: Problem[],
): void {
  const controls = surfaces.get(m.surface);
  const control = controls?.get(m.control);
  if (!controls) problems.push({ code: "unknown-id", path: [...path, "surface"], what: "surface", id: m.surface });
  else if (!control) problems.push({ code: "unknown-id", path: [...path, "control"], what: "control", id: m.control });
  else {
    const expected = control.behaviour === "absolute" ? "move" : "press";
    if (m.gesture !== expected)
      problems.push({
        code: "wrong-gesture",
        path: [...path, "gesture"],
        gesture: m.gesture,
        control: control.kind,
        expected,
      });
  }
  m.layers.forEach((id, k) => {
    if (!layers.has(id)) problems.push({ code: "unknown-id", path: [...path, "layers", k], what: "layer", id });
  });
  if (m.pages) {
    const desk = desks.get(m.pages.desk);
    if (!desk) problems.push({ code: "unknown-id", path: [...path, "pages", "desk"], what: "desk", id: m.pages.desk });
    else if (!desk.profile.page)
      problems.push({ code: "no-page", path: [...path, "pages", "desk"], desk: m.pages.desk });
  }
  twice(m.actions, "action", [...path, "actions"], problems);
  m.actions.forEach((a, k) => {
    checkAction(a, [...path, "actions", k], show, desks, problems);
  });
}

function checkAction(
  a: Action,
  path: Path,
  show: Show,
  desks: ReadonlyMap<string, DeskContext>,
  problems: Problem[],
): void {
  const desk = desks.get(a.desk);
  if (!desk) {
    problems.push({ code: "unknown-id", path: [...path, "desk"], what: "desk", id: a.desk });
    return;
  }
  const fn = desk.functions.get(a.function);
  if (!fn) {
    problems.push({ code: "unknown-id", path: [...path, "function"], what: "function", id: a.function });
    return;
  }
  for (const id of Object.keys(a.bindings))
    if (!fn.parameters.includes(id))
      problems.push({ code: "unknown-id", path: [...path, "bindings", id], what: "parameter", id });
  for (const id of fn.parameters) {
    const parameter = desk.profile.parameters.find((p) => p.id === id)!;
    const binding = a.bindings[id];
    const place = [...path, "bindings", id];
    if (!binding) problems.push({ code: "missing-binding", path: place, parameter: parameter.name });
    else if (binding.from === "page") {
      if (desk.profile.page?.parameter !== id) problems.push({ code: "no-page", path: place, desk: a.desk });
    } else {
      const to = a.desk === HOUSE && id === "layer" ? show.layers.length : parameter.to;
      if (binding.value < parameter.from || binding.value > to)
        problems.push({
          code: "out-of-range",
          path: [...place, "value"],
          what: parameter.name,
          value: binding.value,
          from: parameter.from,
          to,
        });
    }
  }
  if (a.shape.output && fn.range)
    a.shape.output.forEach((value, k) => {
      if (value < fn.range!.from || value > fn.range!.to)
        problems.push({
          code: "out-of-range",
          path: [...path, "shape", "output", k],
          what: fn.name,
          value,
          from: fn.range!.from,
          to: fn.range!.to,
        });
    });
}

function twice(list: readonly { id: string }[], what: string, path: Path, problems: Problem[]): void {
  const seen = new Set<string>();
  list.forEach((item, i) => {
    if (seen.has(item.id)) problems.push({ code: "twice", path: [...path, i, "id"], what, id: item.id });
    seen.add(item.id);
  });
}

export { checkDeskProfile };
