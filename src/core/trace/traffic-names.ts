/** Names for the numbers in rows of traffic, as they were in the show under which the rows were written. */
import type { TrafficEntry } from "../live/protocol.ts";
import type { MiddleC } from "../midi/numbers.ts";
import { describeMidi, hexPairs } from "../midi/words.ts";
import { describeOsc } from "../osc/words.ts";
import type { Profiles } from "../show/check.ts";
import { profilesWith } from "../show/check.ts";
import type { Show } from "../show/show.ts";
import { expandBanks } from "../surface/internal-banks.ts";
import type { TrafficRow } from "./traffic-ring.ts";

export interface TrafficNames {
  readonly middleC: MiddleC;
  readonly surfaces: readonly {
    id: string;
    name: string;
    controls: readonly (readonly [id: string, name: string])[];
  }[];
  readonly desks: readonly { id: string; name: string; wire: string }[];
  /** A mapping's name, or else its control; and its actions that are on. */
  readonly mappings: readonly { id: string; name: string; actions: readonly string[] }[];
}

export function trafficNames(show: Show, shipped: Profiles): TrafficNames {
  const profiles = profilesWith(shipped, show);
  return {
    middleC: show.settings.middleC,
    surfaces: show.surfaces.map((s) => {
      const profile = profiles.surfaces.get(s.profile);
      const controls = profile ? expandBanks(profile).controls.map((c) => [c.id, c.name] as const) : [];
      return { id: s.id, name: s.name, controls };
    }),
    desks: show.desks.map((d) => ({
      id: d.id,
      name: d.name,
      wire: profiles.desks.get(d.profile)?.wire.kind ?? "osc-udp",
    })),
    mappings: show.mappings.map((m) => ({
      id: m.id,
      name: m.name || m.control,
      actions: m.actions.filter((a) => a.on).map((a) => a.id),
    })),
  };
}

/** A row as the protocol tells it. */
export function entryOf(row: TrafficRow, names: TrafficNames): TrafficEntry {
  const mapping = names.mappings[row.mapping];
  const part = row.desk ? mapping?.actions[row.part] : names.surfaces[row.device]?.controls[row.part]?.[0];
  return {
    seq: row.sequence,
    atMs: row.atMs,
    out: row.out,
    side: row.desk ? "desk" : "surface",
    device: (row.desk ? names.desks : names.surfaces)[row.device]?.id ?? "",
    code: row.code,
    ...(mapping ? { mapping: mapping.id } : {}),
    ...(row.part >= 0 && part !== undefined ? { part } : {}),
    a: row.a,
    b: row.b,
    cause: row.cause,
    hex: hexPairs(row.bytes),
    length: row.length,
  };
}

/** What was sent or heard, e.g. "note 50 · D2 = 127, ch 1" or an address with its arguments. */
export function readsAs(bytes: Uint8Array, length: number, wire: string, middleC: MiddleC): string {
  switch (wire) {
    case "osc-udp":
      return describeOsc(bytes, length);
    case "line-tcp":
      return new TextDecoder().decode(bytes);
    default:
      return describeMidi(bytes, middleC);
  }
}
