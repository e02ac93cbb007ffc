/** One row of traffic in words, with the names that only the show knows. */

import { stateParameters } from "../../core/desk/compile-desk.ts";
import type { TrafficEntry } from "../../core/live/protocol.ts";
import { hexBytes, parseHexBytes } from "../../core/midi/words.ts";
import { OUTCOME } from "../../core/trace/outcome.ts";
import { readsAs as bytesRead } from "../../core/trace/traffic-names.ts";
import { type Became, becameWords } from "../../core/trace/words.ts";
import type { LiveState } from "../live/apply-changes.ts";
import { mappingLabel } from "../surface/control-view.ts";
import type { RowWords } from "./row-blocks.ts";

type Names = Pick<LiveState, "show" | "compiled" | "context" | "values">;

/** As it is called now; an id would say nothing. */
export function deviceName(names: Names, entry: TrafficEntry): string {
  if (entry.side === "browser") return "a browser";
  const list = entry.side === "desk" ? names.show.desks : names.show.surfaces;
  return list.find((d) => d.id === entry.device)?.name ?? `a ${entry.side} that is gone`;
}

/** What was sent or heard, e.g. "pad 15 pressed" or "note 50 · D2 = 127, ch 1". */
export function readsAs(names: Names, entry: TrafficEntry): string {
  const bytes = parseHexBytes(entry.hex) ?? new Uint8Array();
  if (entry.side === "browser") return new TextDecoder().decode(bytes);
  return bytesRead(bytes, entry.length, wireOf(names, entry), names.show.settings.middleC);
}

function wireOf(names: Names, entry: TrafficEntry): string {
  if (entry.side === "surface") return "midi";
  return names.compiled.desks.find((d) => d.id === entry.device)?.profile.wire.kind ?? "osc-udp";
}

const WIRE_WORDS: Record<string, string> = { "osc-udp": "OSC", "line-tcp": "line" };

export function bytesWords(names: Names, entry: TrafficEntry): string {
  if (entry.side === "browser") return "socket";
  const wire = WIRE_WORDS[wireOf(names, entry)];
  if (wire) return wire;
  const bytes = parseHexBytes(entry.hex) ?? new Uint8Array();
  return entry.length > 4 ? `SysEx ${entry.length}` : hexBytes(bytes);
}

export function became(live: LiveState, entry: TrafficEntry): Became {
  const m = entry.mapping ? live.show.mappings.findIndex((x) => x.id === entry.mapping) : -1;
  const action = m >= 0 ? live.show.mappings[m]!.actions.find((a) => a.id === entry.part) : undefined;
  const isAction = entry.code === OUTCOME.action || entry.code === OUTCOME.letGo;
  const first = m >= 0 ? live.show.mappings[m]!.actions[0] : undefined;
  return becameWords(entry, {
    mapping: isAction ? actionWords(live, entry, m, action?.function) : m >= 0 ? mappingLabel(live, m) : "",
    parameter: (place) => {
      const desk = live.compiled.desks.find((d) => d.id === first?.desk);
      return desk?.functions.get(first?.function ?? "")?.parameters[place]?.name ?? "number";
    },
  });
}

/** What was said to the desk: "Playback level 3.15". */
function actionWords(live: LiveState, entry: TrafficEntry, m: number, functionId: string | undefined): string {
  const desk = live.compiled.desks.find((d) => d.id === entry.device);
  const fn = desk?.functions.get(functionId ?? "");
  if (!fn) return m >= 0 ? mappingLabel(live, m) : "";
  const state = fn.state;
  const numbers =
    state && entry.b >= state.base && entry.b < state.base + state.count
      ? stateParameters(state, entry.b).join(".")
      : "";
  return [fn.fn.name.toLowerCase(), numbers].filter(Boolean).join(" ");
}

/** All that the list says of a row. */
export function rowWords(live: LiveState, row: TrafficEntry): RowWords {
  const { text, tone } = became(live, row);
  return {
    clock: clockWords(row.atMs),
    device: deviceName(live, row),
    bytes: bytesWords(live, row),
    reads: readsAs(live, row),
    became: text,
    tone,
  };
}

/** The whole row as one line of text, its parts with tabs between. */
export function rowAsText(live: LiveState, row: TrafficEntry): string {
  return [
    clockWords(row.atMs),
    row.out ? "out" : "in",
    deviceName(live, row),
    bytesWords(live, row),
    readsAs(live, row),
    became(live, row).text,
  ].join("\t");
}

/** A control's event in a person's words, for the bottom line: "pad 15 pressed". */
export function eventWords(live: LiveState, entry: TrafficEntry): string {
  const surface = live.compiled.surfaces.find((s) => s.id === entry.device);
  const control = surface?.profile.controls.find((c) => c.id === entry.part);
  if (!control) return readsAs(live, entry);
  const name = control.name.toLowerCase();
  if (control.behaviour === "absolute") return `${name} moved`;
  const bytes = parseHexBytes(entry.hex) ?? new Uint8Array(3);
  const released = (bytes[0]! & 0xf0) === 0x80 || bytes[2] === 0;
  return `${name} ${released ? "released" : "pressed"}`;
}

export function clockWords(atMs: number): string {
  const d = new Date(atMs);
  const two = (n: number) => String(n).padStart(2, "0");
  return `${two(d.getHours())}:${two(d.getMinutes())}:${two(d.getSeconds())}.${String(d.getMilliseconds()).padStart(3, "0")}`;
}
