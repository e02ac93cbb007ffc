/** What Zod cannot see in a show: names that lead nowhere, names twice, numbers outside the desk's ranges. */
import { checkDeskProfile } from "../desk/check-desk-profile.ts";
import { checkMapping } from "./check-mapping.ts";
import { type ShowNames, showNames, twice } from "./check-names.ts";
import { checkSurfaceProfile } from "./check-surface-profile.ts";
import { CARRIERS, type DeskProfile } from "./desk-profile.ts";
import { HOUSE } from "./ids.ts";
import type { Path, Problem } from "./problem.ts";
import { BASE_LAYER, type PortRef, type Show } from "./show.ts";
import type { SurfaceProfile } from "./surface-profile.ts";

/** Every profile at hand, by id. */
export interface Profiles {
  readonly surfaces: ReadonlyMap<string, SurfaceProfile>;
  readonly desks: ReadonlyMap<string, DeskProfile>;
}

export function profilesOf(surfaces: readonly SurfaceProfile[], desks: readonly DeskProfile[]): Profiles {
  return { surfaces: new Map(surfaces.map((p) => [p.id, p])), desks: new Map(desks.map((p) => [p.id, p])) };
}

/** The profiles at hand for a show: those given, and its own beside them. */
export function profilesWith(given: Profiles, { profiles }: Pick<Show, "profiles">): Profiles {
  if (!profiles) return given;
  return {
    surfaces: new Map([...given.surfaces, ...profiles.surfaces.map((p) => [p.id, p] as const)]),
    desks: new Map([...given.desks, ...profiles.desks.map((p) => [p.id, p] as const)]),
  };
}

/** A profile of one's own has a name of its own, and no faults. */
function checkOwnProfiles({ profiles }: Show, given: Profiles, problems: Problem[]): void {
  if (!profiles) return;
  const own = <P extends { id: string }>(
    key: "surfaces" | "desks",
    list: readonly P[],
    shipped: ReadonlyMap<string, unknown>,
    check: (p: P) => Problem[],
  ) => {
    const what = key === "desks" ? "desk profile" : "surface profile";
    twice(list, what, ["profiles", key], problems);
    list.forEach((p, i) => {
      if (shipped.has(p.id)) problems.push({ code: "twice", path: ["profiles", key, i, "id"], what, id: p.id });
      for (const fault of check(p)) problems.push({ ...fault, path: ["profiles", key, i, ...fault.path] });
    });
  };
  own("surfaces", profiles.surfaces, given.surfaces, checkSurfaceProfile);
  own("desks", profiles.desks, given.desks, checkDeskProfile);
}

/** All problems of a show; none means that it compiles. `given` are the profiles that ship. */
export function checkShow(show: Show, given: Profiles): Problem[] {
  const problems: Problem[] = [];
  checkOwnProfiles(show, given, problems);
  if (problems.length > 0) return problems; // what stands on faulty profiles cannot be judged
  const profiles = profilesWith(given, show);
  twice(show.surfaces, "surface", ["surfaces"], problems);
  twice(show.desks, "desk", ["desks"], problems);
  twice(show.layers, "layer", ["layers"], problems);
  twice(show.mappings, "mapping", ["mappings"], problems);
  twice(show.groups ?? [], "group", ["groups"], problems);
  twice(show.banks ?? [], "bank", ["banks"], problems);
  twice(show.variables ?? [], "variable", ["variables"], problems);
  twice(show.routes ?? [], "route", ["routes"], problems);
  checkSessions(show, problems);
  if (!show.layers.some((l) => l.id === BASE_LAYER))
    problems.push({ code: "unknown-id", path: ["layers"], what: "layer", id: BASE_LAYER });

  const names = showNames(show, profiles);
  show.surfaces.forEach((s, i) => {
    if (!profiles.surfaces.has(s.profile))
      problems.push({ code: "unknown-id", path: ["surfaces", i, "profile"], what: "surface profile", id: s.profile });
  });
  show.desks.forEach((d, i) => {
    const profile = profiles.desks.get(d.profile);
    if (d.id === HOUSE) problems.push({ code: "twice", path: ["desks", i, "id"], what: "desk", id: HOUSE });
    // Takes, routes and messages of one's own name surfaces and desks alike.
    if (names.surfaces.has(d.id))
      problems.push({ code: "twice", path: ["desks", i, "id"], what: "surface or desk", id: d.id });
    if (!profile)
      problems.push({ code: "unknown-id", path: ["desks", i, "profile"], what: "desk profile", id: d.profile });
    else if ((profile.wire.kind === "midi") !== (d.midi !== undefined))
      problems.push({
        code: "not-valid",
        path: ["desks", i, "midi"],
        expected: d.midi ? "no MIDI ports: this kind of desk has a network address" : "the MIDI ports of this desk",
      });
    else if (d.over !== undefined && !CARRIERS[profile.wire.kind].includes(d.over))
      problems.push({
        code: "not-valid",
        path: ["desks", i, "over"],
        expected: CARRIERS[profile.wire.kind].join(" or ") || "nothing, for this kind of desk",
      });
  });
  checkParts(show, names, problems);
  show.mappings.forEach((m, i) => {
    checkMapping(m, ["mappings", i], names, problems);
  });
  checkRuns(show, problems);
  return problems;
}

/** MIDI sessions on the network have ports of their own; a port that leads to one names one that is there. */
function checkSessions({ sessions = [], surfaces, desks }: Show, problems: Problem[]): void {
  twice(sessions, "session", ["sessions"], problems);
  const taken = new Set<number>();
  sessions.forEach(({ port }, i) => {
    // Each has this port and the next one.
    if (taken.has(port) || taken.has(port + 1))
      problems.push({
        code: "not-valid",
        path: ["sessions", i, "port"],
        expected: "a port that is not one of the two of another session",
      });
    taken.add(port).add(port + 1);
  });
  const check = (ref: PortRef, path: Path) => {
    if (ref.kind === "network-midi" && !sessions.some((s) => s.id === ref.session))
      problems.push({ code: "unknown-id", path, what: "session", id: ref.session });
    if (ref.kind === "dmx" && path.at(-1) === "out")
      problems.push({ code: "not-valid", path, expected: "a port that goes out: a universe only comes in" });
  };
  for (const way of ["in", "out"] as const) {
    surfaces.forEach((s, i) => {
      check(s[way], ["surfaces", i, way]);
    });
    desks.forEach(({ midi }, i) => {
      if (midi) check(midi[way], ["desks", i, "midi", way]);
    });
  }
}

/** Groups, layers and routes: what mappings and the house stand on. */
function checkParts(show: Show, names: ShowNames, problems: Problem[]): void {
  const groups = new Set((show.groups ?? []).map((g) => g.id));
  show.layers.forEach((l, i) => {
    if (l.group === undefined) return;
    const path = ["layers", i, "group"];
    if (!groups.has(l.group)) problems.push({ code: "unknown-id", path, what: "group", id: l.group });
    else if (l.id === BASE_LAYER)
      problems.push({ code: "not-valid", path, expected: "no group: the base covers every control" });
  });
  show.groups?.forEach((g, i) => {
    const controls = names.surfaces.get(g.surface);
    if (!controls)
      problems.push({ code: "unknown-id", path: ["groups", i, "surface"], what: "surface", id: g.surface });
    else
      g.controls.forEach((id, k) => {
        if (!controls.has(id))
          problems.push({ code: "unknown-id", path: ["groups", i, "controls", k], what: "control", id });
      });
  });
  show.routes?.forEach((r, i) => {
    for (const end of ["from", "to"] as const) {
      const path = ["routes", i, end];
      const desk = names.desks.get(r[end]);
      if (!names.surfaces.has(r[end]) && !desk)
        problems.push({ code: "unknown-id", path, what: "surface or desk", id: r[end] });
      else if (desk && desk.profile.wire.kind !== "midi")
        problems.push({ code: "not-valid", path, expected: "a surface or a desk that speaks MIDI" });
    }
    twice(
      (r.channels ?? []).map((c) => ({ id: String(c.from) })),
      "channel",
      ["routes", i, "channels"],
      problems,
    );
  });
}

/** A mapping that runs itself, over others or at once, would never end. */
function checkRuns(show: Show, problems: Problem[]): void {
  const runs = new Map<string, { target: string; path: Path }[]>();
  show.mappings.forEach((m, i) => {
    m.actions.forEach((a, k) => {
      if (a.desk !== HOUSE || !a.function.startsWith("mapping.") || a.target === undefined) return;
      const list = runs.get(m.id) ?? [];
      list.push({ target: a.target, path: ["mappings", i, "actions", k, "target"] });
      runs.set(m.id, list);
    });
  });
  const done = new Set<string>();
  const visit = (id: string, way: readonly string[]): void => {
    if (done.has(id)) return;
    for (const { target, path } of runs.get(id) ?? []) {
      const at = [...way, id].indexOf(target);
      if (at >= 0) problems.push({ code: "cycle", path, way: [...[...way, id].slice(at), target] });
      else visit(target, [...way, id]);
    }
    done.add(id);
  };
  for (const id of runs.keys()) visit(id, []);
}

export { checkDeskProfile, checkSurfaceProfile };
