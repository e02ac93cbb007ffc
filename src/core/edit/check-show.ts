/** What Zod cannot see in a show: names that lead nowhere, names twice, numbers outside the desk's ranges. */

import { BASE_LAYER, HOUSE } from "../format/givens.ts";
import { PORT_KINDS } from "../format/port-kinds.ts";
import { type Path, type Problem, problemsOf } from "../format/problem.ts";
import { type Profiles, profilesWith } from "../format/profiles.ts";
import { Bank, type Mapping, type PortRef, type Show, Variable } from "../format/show.ts";
import { carriersOf, WIRES } from "../format/wires.ts";
import { checkDeskProfile } from "./check-desk-profile.ts";
import { checkMapping } from "./check-mapping.ts";
import { duplicates, type ShowNames, showNames } from "./check-names.ts";
import { checkSurfaceProfile } from "./check-surface-profile.ts";

/** A profile of one's own has a name of its own, and no faults. */
function checkOwnProfiles({ profiles }: Show, given: Profiles, problems: Problem[]): void {
  if (!profiles) return;
  const own = <P extends { id: string }>(
    key: "surfaces" | "desks",
    list: readonly P[],
    shipped: ReadonlyMap<string, unknown>,
    check: (p: P) => Problem[],
  ) => {
    const what = key === "desks" ? "desk-profile" : "surface-profile";
    duplicates(list, what, ["profiles", key], problems);
    list.forEach((p, i) => {
      if (shipped.has(p.id)) problems.push({ code: "duplicate-id", path: ["profiles", key, i, "id"], what, id: p.id });
      for (const fault of check(p)) problems.push({ ...fault, path: ["profiles", key, i, ...fault.path] });
    });
  };
  own("surfaces", profiles.surfaces, given.surfaces, checkSurfaceProfile);
  own("desks", profiles.desks, given.desks, checkDeskProfile);
}

/** What of a show a mapping that stands alone is judged by, beside the surfaces; the house is what its parts make of it. */
const judgedBy = (show: Show, given: Profiles): readonly unknown[] => [
  given,
  show.desks,
  show.layers,
  show.groups,
  show.banks,
  show.variables,
  show.bundles,
  show.profiles,
];
const judged = new WeakMap<Show["surfaces"], { readonly by: readonly unknown[]; readonly inOrder: WeakSet<Mapping> }>();

/**
 * Mappings that were found to be in order beside the very same surfaces, desks and parts: they are not looked at again, so
 * that an edit of one mapping does not wait for ten thousand others. Neither they nor those lists change, others take their
 * place.
 */
function foundInOrder(show: Show, given: Profiles): WeakSet<Mapping> {
  const by = judgedBy(show, given);
  const known = judged.get(show.surfaces);
  if (known?.by.every((part, i) => part === by[i])) return known.inOrder;
  const inOrder = new WeakSet<Mapping>();
  judged.set(show.surfaces, { by, inOrder });
  return inOrder;
}

/** It names no other mapping, and shares the name of a range with none. */
function standsAlone({ message, actions }: Mapping): boolean {
  return message === undefined && actions.every((a) => a.target === undefined);
}

/** All problems of a show; none means that it compiles. `given` are the profiles that ship. */
export function checkShow(show: Show, given: Profiles): Problem[] {
  const problems: Problem[] = [];
  checkOwnProfiles(show, given, problems);
  if (problems.length > 0) return problems; // what stands on faulty profiles cannot be judged
  const profiles = profilesWith(given, show);
  duplicates(show.surfaces, "surface", ["surfaces"], problems);
  duplicates(show.desks, "desk", ["desks"], problems);
  duplicates(show.layers, "layer", ["layers"], problems);
  duplicates(show.mappings, "mapping", ["mappings"], problems);
  duplicates(show.groups ?? [], "group", ["groups"], problems);
  duplicates(show.banks ?? [], "bank", ["banks"], problems);
  duplicates(show.variables ?? [], "variable", ["variables"], problems);
  duplicates(show.routes ?? [], "route", ["routes"], problems);
  duplicates(show.bundles ?? [], "bundle", ["bundles"], problems);
  checkSessions(show, problems);
  if (!show.layers.some((l) => l.id === BASE_LAYER))
    problems.push({ code: "unknown-id", path: ["layers"], what: "layer", id: BASE_LAYER });

  const names = showNames(show, profiles);
  show.surfaces.forEach((s, i) => {
    if (!profiles.surfaces.has(s.profile))
      problems.push({ code: "unknown-id", path: ["surfaces", i, "profile"], what: "surface-profile", id: s.profile });
  });
  show.desks.forEach((d, i) => {
    const profile = profiles.desks.get(d.profile);
    if (d.id === HOUSE) problems.push({ code: "duplicate-id", path: ["desks", i, "id"], what: "desk", id: HOUSE });
    // Takes, routes and messages of one's own name surfaces and desks alike.
    if (names.surfaces.has(d.id))
      problems.push({ code: "duplicate-id", path: ["desks", i, "id"], what: "surface-or-desk", id: d.id });
    if (!profile)
      problems.push({ code: "unknown-id", path: ["desks", i, "profile"], what: "desk-profile", id: d.profile });
    else if ((WIRES[profile.wire.kind].reachedBy === "midi-ports") !== (d.midi !== undefined))
      problems.push({
        code: "not-valid",
        path: ["desks", i, "midi"],
        expected: { is: "rule", rule: d.midi ? "no-midi-ports" : "its-midi-ports" },
      });
    else if (d.over !== undefined && !carriersOf(profile.wire.kind).includes(d.over))
      problems.push({
        code: "not-valid",
        path: ["desks", i, "over"],
        expected: { is: "carrier", carriers: carriersOf(profile.wire.kind) },
      });
  });
  checkParts(show, names, problems);
  const inOrder = foundInOrder(show, given);
  show.mappings.forEach((m, i) => {
    if (inOrder.has(m)) return;
    const before = problems.length;
    checkMapping(m, ["mappings", i], names, problems);
    if (problems.length === before && standsAlone(m)) inOrder.add(m);
  });
  checkRuns(show, problems);
  return problems;
}

/** MIDI sessions on the network have ports of their own; a port that leads to one names one that is there. */
function checkSessions({ sessions = [], surfaces, desks }: Show, problems: Problem[]): void {
  duplicates(sessions, "session", ["sessions"], problems);
  const taken = new Set<number>();
  sessions.forEach(({ port }, i) => {
    // Each has this port and the next one.
    if (taken.has(port) || taken.has(port + 1))
      problems.push({
        code: "not-valid",
        path: ["sessions", i, "port"],
        expected: { is: "rule", rule: "ports-of-its-own" },
      });
    taken.add(port).add(port + 1);
  });
  const check = (ref: PortRef, path: Path) => {
    if (ref.kind === "network-midi" && !sessions.some((s) => s.id === ref.session))
      problems.push({ code: "unknown-id", path, what: "session", id: ref.session });
    if (!PORT_KINDS[ref.kind].goesOut && path.at(-1) === "out")
      problems.push({ code: "not-valid", path, expected: { is: "rule", rule: "universe-comes-in" } });
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
      problems.push({ code: "not-valid", path, expected: { is: "rule", rule: "base-has-no-group" } });
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
  // What hangs together between their fields: an edit may have changed one of them.
  checkForm(show.banks ?? [], Bank, "banks", problems);
  checkForm(show.variables ?? [], Variable, "variables", problems);
  show.surfaces.forEach((s, i) => {
    const controls = names.surfaces.get(s.id);
    s.asleep?.forEach((id, k) => {
      if (controls && !controls.has(id))
        problems.push({ code: "unknown-id", path: ["surfaces", i, "asleep", k], what: "control", id });
    });
    for (const id of Object.keys(s.controls ?? {}))
      if (controls && !controls.has(id))
        problems.push({ code: "unknown-id", path: ["surfaces", i, "controls", id], what: "control", id });
  });
  show.routes?.forEach((r, i) => {
    for (const end of ["from", "to"] as const) {
      const path = ["routes", i, end];
      const desk = names.desks.get(r[end]);
      if (!names.surfaces.has(r[end]) && !desk)
        problems.push({ code: "unknown-id", path, what: "surface-or-desk", id: r[end] });
      else if (desk && WIRES[desk.profile.wire.kind].reachedBy !== "midi-ports")
        problems.push({ code: "not-valid", path, expected: { is: "rule", rule: "speaks-midi" } });
    }
    duplicates(
      (r.channels ?? []).map((c) => ({ id: String(c.from) })),
      "channel",
      ["routes", i, "channels"],
      problems,
    );
  });
}

function checkForm(
  list: readonly unknown[],
  form: typeof Bank | typeof Variable,
  name: string,
  problems: Problem[],
): void {
  list.forEach((item, i) => {
    const read = form.safeParse(item);
    if (!read.success) for (const p of problemsOf(read.error)) problems.push({ ...p, path: [name, i, ...p.path] });
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
