/** Names for the numbers in rows of traffic, as they were in the show under which the rows were written. */

import type { Profiles } from "../format/profiles.ts";
import { profilesWith } from "../format/profiles.ts";
import type { Mapping, Show } from "../format/show.ts";
import type { Wire } from "../format/wires.ts";
import { hexPairs } from "../midi/hex.ts";
import { expandBanks } from "../surface/internal-banks.ts";
import { withOwnNames } from "../surface/own-names.ts";
import type { TrafficEntry } from "./traffic-entry.ts";
import type { TrafficRow } from "./traffic-ring.ts";

export interface TrafficNames {
  readonly surfaces: readonly {
    id: string;
    name: string;
    controls: readonly (readonly [id: string, name: string])[];
  }[];
  readonly desks: readonly { id: string; name: string; wire: Wire }[];
  /** A mapping, and its actions that are on. */
  readonly mappings: readonly { id: string; actions: readonly string[] }[];
}

export function trafficNames(show: Show, shipped: Profiles): TrafficNames {
  const profiles = profilesWith(shipped, show);
  return {
    surfaces: show.surfaces.map((s) => {
      const profile = profiles.surfaces.get(s.profile);
      const controls = profile
        ? withOwnNames(expandBanks(profile), s).controls.map((c) => [c.id, c.name] as const)
        : [];
      return { id: s.id, name: s.name, controls };
    }),
    desks: show.desks.map((d) => ({
      id: d.id,
      name: d.name,
      wire: profiles.desks.get(d.profile)?.wire.kind ?? "osc",
    })),
    mappings: show.mappings.map((m) => ({
      id: m.id,
      actions: m.actions.filter((a) => a.on).map((a) => a.id),
    })),
  };
}

/** Whether rows of traffic would be told with the same names: what changed is at most what mappings do. */
export function isCalledTheSame(before: Show, now: Show): boolean {
  const keys = new Set([...Object.keys(before), ...Object.keys(now)]) as Set<keyof Show>;
  for (const key of keys) if (key !== "mappings" && key !== "name" && before[key] !== now[key]) return false;
  return (
    before.mappings.length === now.mappings.length &&
    now.mappings.every((m, i) => m === before.mappings[i] || isSameMapping(m, before.mappings[i]!))
  );
}

function isSameMapping(a: Mapping, b: Mapping): boolean {
  const actions = (m: Mapping) => m.actions.flatMap((x) => (x.on ? [x.id] : [])).join();
  return a.id === b.id && actions(a) === actions(b);
}

/** A row as the protocol tells it. */
export function entryOf(row: TrafficRow, names: TrafficNames): TrafficEntry {
  const mapping = names.mappings[row.mapping];
  const control = row.desk ? undefined : controlOf(row, names);
  const action = row.desk ? mapping?.actions[row.subject] : undefined;
  return {
    seq: row.sequence,
    atMs: row.atMs,
    out: row.out,
    side: row.desk ? "desk" : "surface",
    device: (row.desk ? names.desks : names.surfaces)[row.device]?.id ?? "",
    code: row.code,
    ...(mapping ? { mapping: mapping.id } : {}),
    ...(control ? { control: control[0] } : {}),
    ...(action === undefined ? {} : { action }),
    a: row.a,
    b: row.b,
    cause: row.cause,
    hex: hexPairs(row.bytes),
    length: row.length,
  };
}

/** Id and name of the control of a row to or from a surface. */
export function controlOf(row: TrafficRow, names: TrafficNames): readonly [id: string, name: string] | undefined {
  return names.surfaces[row.device]?.controls[row.subject];
}
