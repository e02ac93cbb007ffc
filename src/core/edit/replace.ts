/**
 * Another kind in the place of a surface or a desk: a proposal of what becomes what, and the change itself. Nothing
 * changes before somebody has seen the two side by side.
 */

import type { DeskFunction, DeskProfile } from "../format/desk-profile.ts";
import type { Binding } from "../format/shape.ts";
import type { Show, Surface } from "../format/show.ts";
import type { Control, SurfaceProfile } from "../format/surface-profile.ts";
import { WIRES } from "../format/wires.ts";
import { expandBanks } from "../surface/internal-banks.ts";

/** What an old control or function becomes: the id of a new one, or null where it goes. */
export type Becomes = Readonly<Record<string, string | null>>;

export interface ReplaceRow {
  readonly id: string;
  readonly name: string;
  /** Mappings, or actions, that stand on it. */
  readonly uses: number;
  readonly to: string | null;
}

/** Controls stand for each other only where hands do the same with them. */
function way(c: Control): string {
  return c.behaviour === "absolute" || c.behaviour === "relative" ? c.behaviour : "press";
}

/** The controls of a surface that something stands on, each with the one that is most like it. */
export function proposeControls(show: Show, surface: string, old: SurfaceProfile, next: SurfaceProfile): ReplaceRow[] {
  const uses = controlUses(show, surface);
  const used = expandBanks(old).controls.filter((c) => uses.has(c.id));
  const fresh = byPosition(expandBanks(next).controls.filter((c) => c.sends.kind !== "any"));
  const taken = new Set<string>();
  const to = new Map<string, string>();
  const give = (from: Control, found: Control | undefined) => {
    if (!found || to.has(from.id)) return;
    to.set(from.id, found.id);
    taken.add(found.id);
  };
  const free = (c: Control, fits: (x: Control) => boolean) =>
    fresh.find((x) => !taken.has(x.id) && way(x) === way(c) && fits(x));
  for (const c of used)
    give(
      c,
      free(c, (x) => x.id === c.id),
    );
  for (const c of used)
    give(
      c,
      free(c, (x) => x.name.toLowerCase() === c.name.toLowerCase()),
    );
  for (const c of byPosition(used))
    give(
      c,
      free(c, (x) => x.kind === c.kind),
    );
  for (const c of byPosition(used))
    give(
      c,
      free(c, () => true),
    );
  return used.map((c) => ({ id: c.id, name: c.name, uses: uses.get(c.id)!, to: to.get(c.id) ?? null }));
}

/** As people count them: row by row. */
function byPosition(controls: readonly Control[]): Control[] {
  return [...controls].sort((a, b) => a.box.y - b.box.y || a.box.x - b.box.x);
}

function controlUses(show: Show, surface: string): Map<string, number> {
  const uses = new Map<string, number>();
  const use = (id: string) => uses.set(id, (uses.get(id) ?? 0) + 1);
  for (const m of show.mappings) {
    if (m.surface === surface && !m.message) use(m.control);
    if (m.whileHeld?.surface === surface) use(m.whileHeld.control);
  }
  for (const g of show.groups ?? []) if (g.surface === surface) for (const c of g.controls) use(c);
  return uses;
}

/** The functions of a desk that something stands on, each with the one that is most like it. */
export function proposeFunctions(show: Show, desk: string, old: DeskProfile, next: DeskProfile): ReplaceRow[] {
  const uses = new Map<string, number>();
  for (const m of show.mappings)
    for (const a of m.actions) if (a.desk === desk) uses.set(a.function, (uses.get(a.function) ?? 0) + 1);
  return old.functions
    .filter((f) => uses.has(f.id))
    .map((f) => ({ id: f.id, name: f.name, uses: uses.get(f.id)!, to: likest(f, next.functions)?.id ?? null }));
}

/** The function that acts the same and shares most words with this one; none where not a single word is the same. */
function likest(f: DeskFunction, list: readonly DeskFunction[]): DeskFunction | undefined {
  const same = list.find((x) => x.id === f.id && x.acts === f.acts);
  if (same) return same;
  const words = wordsOf(f);
  let best: DeskFunction | undefined;
  let most = 0;
  for (const x of list) {
    if (x.acts !== f.acts) continue;
    const shared = [...wordsOf(x)].filter((w) => words.has(w)).length;
    if (shared > most) {
      most = shared;
      best = x;
    }
  }
  return best;
}

const PLAIN_WORDS = new Set(["on", "or", "off", "of", "to", "a", "an", "the", "in", "and"]);

function wordsOf(f: DeskFunction): Set<string> {
  const all = [f.name, ...f.words]
    .join(" ")
    .toLowerCase()
    .split(/[^a-z0-9]+/);
  return new Set(all.filter((w) => w !== "" && !PLAIN_WORDS.has(w)));
}

/** Where none sleeps, there is no list. */
export function keepAsleep(surface: Surface, asleep: string[] | undefined): void {
  if (asleep && asleep.length > 0) surface.asleep = asleep;
  else delete surface.asleep;
}

/** Carries out the replacement of a surface on a draft of the show. What becomes nothing is unmapped. */
export function replaceSurface(draft: Show, id: string, profile: string, becomes: Becomes): void {
  const surface = draft.surfaces.find((s) => s.id === id)!;
  surface.profile = profile;
  const next = (control: string) => (control in becomes ? becomes[control]! : control);
  draft.mappings = draft.mappings.filter((m) => m.surface !== id || m.message || next(m.control) !== null);
  for (const m of draft.mappings) {
    if (m.surface === id && !m.message) m.control = next(m.control)!;
    if (m.whileHeld?.surface === id) {
      const held = next(m.whileHeld.control);
      if (held === null) delete m.whileHeld;
      else m.whileHeld.control = held;
    }
    for (const a of m.actions) {
      const by = a.shape.fine?.while;
      if (!by || !("control" in by) || by.surface !== id) continue;
      const held = next(by.control);
      if (held === null) delete a.shape.fine;
      else by.control = held;
    }
  }
  const asleep = surface.asleep?.map(next).filter((c) => c !== null);
  keepAsleep(surface, asleep && [...new Set(asleep)]);
  const words = Object.entries(surface.controls ?? {}).flatMap(([control, own]) => {
    const to = next(control);
    return to === null ? [] : [[to, own] as const];
  });
  if (words.length > 0) surface.controls = Object.fromEntries(words);
  else delete surface.controls;
  if (!draft.groups) return;
  for (const g of draft.groups)
    if (g.surface === id) g.controls = [...new Set(g.controls.map(next).filter((c) => c !== null))];
  const empty = new Set(draft.groups.filter((g) => g.controls.length === 0).map((g) => g.id));
  draft.groups = draft.groups.filter((g) => !empty.has(g.id));
  for (const layer of draft.layers) if (layer.group !== undefined && empty.has(layer.group)) delete layer.group;
}

/** Carries out the replacement of a desk on a draft of the show. Actions whose function becomes nothing are removed. */
export function replaceDesk(draft: Show, id: string, next: DeskProfile, old: DeskProfile, becomes: Becomes): void {
  const desk = draft.desks.find((d) => d.id === id)!;
  desk.profile = next.id;
  if (WIRES[next.wire.kind].reachedBy === "midi-ports") desk.midi ??= { in: { kind: "none" }, out: { kind: "none" } };
  else delete desk.midi;
  delete desk.over;
  delete desk.login;
  const functions = new Map(next.functions.map((f) => [f.id, f]));
  const states = new Set(next.states.map((s) => s.id));
  for (const m of draft.mappings) {
    m.actions = m.actions.filter((a) => a.desk !== id || functions.has(becomes[a.function] ?? ""));
    for (const a of m.actions) {
      if (a.desk !== id) continue;
      const before = old.functions.find((f) => f.id === a.function);
      const after = functions.get(becomes[a.function]!)!;
      a.function = after.id;
      a.bindings = rebound(a.bindings, before?.parameters ?? [], after, next);
      delete a.shape.output; // another function counts in another unit
    }
    if (m.pages?.desk === id && !next.page) delete m.pages;
    if (m.when) {
      m.when = m.when.filter((c) => c.desk !== id || states.has(c.state));
      if (m.when.length === 0) delete m.when;
    }
  }
}

/** Numbers go to the parameter of the same name, or else at the same index; what is out of its range starts anew. */
function rebound(
  bindings: Readonly<Record<string, Binding>>,
  before: readonly string[],
  after: DeskFunction,
  profile: DeskProfile,
): Record<string, Binding> {
  const made: Record<string, Binding> = {};
  after.parameters.forEach((id, k) => {
    const parameter = profile.parameters.find((p) => p.id === id)!;
    const binding = bindings[id] ?? bindings[before[k] ?? ""];
    made[id] = fits(binding, parameter.from, parameter.to, id, profile)
      ? binding!
      : { from: "fixed", value: parameter.from };
  });
  return made;
}

function fits(b: Binding | undefined, from: number, to: number, parameter: string, profile: DeskProfile): boolean {
  switch (b?.from) {
    case undefined:
      return false;
    case "fixed":
      return b.value >= from && b.value <= to;
    case "list":
      return b.values.every((v) => v >= from && v <= to);
    case "page":
      return profile.page?.parameter === parameter;
    case "selection":
      return profile.selection?.parameter === parameter;
    case "state":
      return false; // the state may have gone with the old kind
    default:
      return true;
  }
}
