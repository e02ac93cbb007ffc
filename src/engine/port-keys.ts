/** What tells whether an open port is still the one that the show wants: another key opens another port. */
import type { CompiledDesk } from "../core/desk/compile-desk.ts";
import { carrierOf } from "../core/format/wires.ts";
import { topicsOf } from "../core/stream/topic-line.ts";
import type { CompiledSurface } from "../core/surface/compile-surface.ts";
import type { OpenPort } from "./reports.ts";

/** Closes those that are not wanted any more, or not as they are. */
export function closeOthers(open: Map<string, OpenPort>, wanted: ReadonlyMap<string, string>): void {
  for (const [id, port] of open)
    if (wanted.get(id) !== port.key) {
      void port.port?.close();
      open.delete(id);
    }
}

/** A universe is read by what the surface's controls are: others make another port of it. */
export function inputKey({ surface, profile }: CompiledSurface): string {
  const key = JSON.stringify(surface.in);
  return surface.in.kind === "dmx" ? `${key} ${JSON.stringify(profile.controls.map((c) => c.sends))}` : key;
}

/** `password`: what it is signed in with; another one opens another port. */
export function deskKey({ desk, profile }: CompiledDesk, password = ""): string {
  const { host, port, listenPort, midi, over, login } = desk;
  if (midi) return `${desk.profile} ${JSON.stringify(midi.out)}`;
  // A profile that is changed while it is in use may be carried otherwise, or be heard at other topics.
  const topics = carrierOf(profile, over) === "mqtt" ? topicsOf(profile) : [];
  return `${desk.profile} ${host} ${port} ${listenPort} ${over} ${JSON.stringify([profile.wire, topics, login, password])}`;
}
