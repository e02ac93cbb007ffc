/** The ports a surface can be given here, as choices of a list. */

import type { PortRef, Show } from "../../core/format/show.ts";
import type { BrowserDevice } from "../../core/live/protocol.ts";
import type { Option } from "../components/Select.tsx";
import type { LiveState } from "../live/apply-changes.ts";
import type { MidiAccessState } from "../live/store.ts";

export function portKey(ref: PortRef): string {
  return JSON.stringify(ref);
}

export function portFrom(key: string): PortRef {
  return JSON.parse(key) as PortRef; // made by `portKey` a moment ago
}

const DMX_WORDS = { sacn: "sACN", "art-net": "Art-Net" } as const;

export function portWords(ref: PortRef, sessions: Show["sessions"] = []): string {
  switch (ref.kind) {
    case "screen":
      return "drawn on the screen";
    case "browser-midi":
      return `${ref.device}${ref.nth > 1 ? ` · number ${ref.nth}` : ""} · in a browser`;
    case "midi-udp":
      return `MIDI over UDP ${ref.host}:${ref.port}`;
    case "cable":
      return `cable “${ref.name}”`;
    case "network-midi":
      return `session “${sessions.find((s) => s.id === ref.session)?.name ?? ref.session}” on the network`;
    case "computer-midi":
      return ref.virtual
        ? `virtual port “${ref.device}” of this computer`
        : `${ref.device}${ref.nth > 1 ? ` · number ${ref.nth}` : ""} · of this computer`;
    case "dmx":
      return `${DMX_WORDS[ref.protocol]} universe ${ref.universe} from channel ${ref.first}`;
    case "none":
      return "none";
    default:
      return ref satisfies never;
  }
}

/** The cables that surfaces and desks of the show are plugged into. */
export function cableNames({ surfaces, desks }: Show): string[] {
  const refs = [...surfaces, ...desks.flatMap((d) => d.midi ?? [])].flatMap((p) => [p.in, p.out]);
  return [...new Set(refs.flatMap((ref) => (ref.kind === "cable" ? [ref.name] : [])))].sort();
}

/** The devices of the computer as ports: of several with one name, the first, the second … */
function computerRefs(names: readonly string[]): PortRef[] {
  return names.map((device, i) => ({
    kind: "computer-midi",
    device,
    nth: names.slice(0, i + 1).filter((n) => n === device).length,
  }));
}

export function freshCable(names: readonly string[]): string {
  let n = 1;
  while (names.includes(`Cable ${n}`)) n++;
  return `Cable ${n}`;
}

/** Choices for one way of a surface: the screen, this browser's devices, sessions, cables, what is chosen, and none. */
export function portOptions(
  chosen: PortRef,
  midi: MidiAccessState,
  way: "input" | "output",
  { show, computerMidi: computer }: Pick<LiveState, "show" | "computerMidi">,
  elsewhere: readonly BrowserDevice[] = [],
): Option[] {
  const refs: PortRef[] = [{ kind: "screen" }];
  if (midi.kind === "open")
    for (const d of midi.devices) if (d[way]) refs.push({ kind: "browser-midi", device: d.name, nth: d.nth });
  for (const { name, nth, ...ways } of elsewhere) {
    const ref: PortRef = { kind: "browser-midi", device: name, nth };
    if (ways[way] && !refs.some((r) => portKey(r) === portKey(ref))) refs.push(ref);
  }
  refs.push(...computerRefs(computer[way === "input" ? "inputs" : "outputs"]));
  for (const { id } of show.sessions ?? []) refs.push({ kind: "network-midi", session: id });
  for (const name of cableNames(show)) refs.push({ kind: "cable", name });
  refs.push({ kind: "none" });
  if (!refs.some((r) => portKey(r) === portKey(chosen))) refs.push(chosen);
  return refs.map((ref) => ({ value: portKey(ref), label: portWords(ref, show.sessions) }));
}
