/** The names of a show at hand, for the checks: surfaces with their controls, desks with their functions. */

import type { DeskFunction, DeskProfile, DeskState, Parameter } from "../format/desk-profile.ts";
import { HOUSE } from "../format/givens.ts";
import type { Path, Problem, Thing } from "../format/problem.ts";
import type { Profiles } from "../format/profiles.ts";
import type { Show } from "../format/show.ts";
import type { Control } from "../format/surface-profile.ts";
import { houseProfile } from "../house/house-profile.ts";
import { expandBanks } from "../surface/internal-banks.ts";

export interface DeskNames {
  readonly profile: DeskProfile;
  readonly functions: ReadonlyMap<string, DeskFunction>;
  readonly states: ReadonlyMap<string, DeskState>;
  readonly parameters: ReadonlyMap<string, Parameter>;
}

export interface ShowNames {
  readonly show: Show;
  readonly surfaces: ReadonlyMap<string, ReadonlyMap<string, Control>>;
  readonly desks: ReadonlyMap<string, DeskNames>;
  readonly layers: ReadonlySet<string>;
  readonly bundles: ReadonlySet<string>;
  readonly mappings: ReadonlySet<string>;
  /** Names that mappings give to ranges of messages: surface and name to the range as text. */
  readonly ranges: Map<string, string>;
}

export function showNames(show: Show, profiles: Profiles): ShowNames {
  const controls = new Map<string, ReadonlyMap<string, Control>>();
  const surfaces = new Map<string, ReadonlyMap<string, Control>>();
  for (const s of show.surfaces) {
    const profile = profiles.surfaces.get(s.profile);
    if (!profile) continue;
    let own = controls.get(s.profile);
    if (!own) {
      own = new Map(expandBanks(profile).controls.map((c) => [c.id, c]));
      controls.set(s.profile, own);
    }
    surfaces.set(s.id, own);
  }
  const desks = new Map<string, DeskNames>();
  for (const d of show.desks) {
    const profile = profiles.desks.get(d.profile);
    if (profile) desks.set(d.id, deskNames(profile));
  }
  const house = profiles.desks.get(HOUSE);
  if (house) desks.set(HOUSE, deskNames(houseProfile(house, show)));
  return {
    show,
    surfaces,
    desks,
    layers: new Set(show.layers.map((l) => l.id)),
    bundles: new Set(show.bundles?.map((b) => b.id)),
    mappings: new Set(show.mappings.map((m) => m.id)),
    ranges: new Map(),
  };
}

function deskNames(profile: DeskProfile): DeskNames {
  return {
    profile,
    functions: new Map(profile.functions.map((f) => [f.id, f])),
    states: new Map(profile.states.map((s) => [s.id, s])),
    parameters: new Map(profile.parameters.map((p) => [p.id, p])),
  };
}

export function duplicates(list: readonly { id: string }[], what: Thing, path: Path, problems: Problem[]): void {
  const seen = new Set<string>();
  list.forEach((item, i) => {
    if (seen.has(item.id)) problems.push({ code: "duplicate-id", path: [...path, i, "id"], what, id: item.id });
    seen.add(item.id);
  });
}
