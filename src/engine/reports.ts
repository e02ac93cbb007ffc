/** What the server is told of desks and surfaces in each batch. */
import { type DeskStateStore, UNKNOWN } from "../core/desk/state-store.ts";
import type { ControlChange, PortState, ValueChange } from "../core/live/protocol.ts";
import type { World } from "../core/run-state/world.ts";
import type { EngineBatch } from "./messages.ts";
import { OPEN, type Port, WAITING } from "./ports/port.ts";

export interface OpenPort {
  /** The reference it was opened for; another one opens another port. */
  key: string;
  port: Port | null;
  state: PortState;
  in: number;
  out: number;
  /** Messages that came in and were none. */
  malformed: number;
  /** When something came in last, in ms; -1 = never. */
  heardAtMs: number;
  /** Its device is plugged into the computer of a browser, and reached over the server. */
  readonly inBrowser: boolean;
}

export function notOpenYet(key: string, inBrowser = false): OpenPort {
  return { key, port: null, state: WAITING, in: 0, out: 0, malformed: 0, heardAtMs: -1, inBrowser };
}

type OpenPorts = ReadonlyMap<string, OpenPort>;

/** Health, page and ports of every desk, and the values that changed since the last call. */
export function deskReports(
  world: World,
  ports: OpenPorts,
  inputs: OpenPorts,
  atMs: number,
): Pick<EngineBatch, "desks" | "values"> & { changed: boolean } {
  const { compiled } = world.context;
  const desks: EngineBatch["desks"] = {};
  const values: EngineBatch["values"] = {};
  let changed = false;
  for (let d = 0; d < world.desks.length; d++) {
    const desk = world.desks[d]!;
    const open = ports.get(desk.id);
    const input = inputs.get(desk.id);
    // Field by field: an object that is spread has a shape of its own each time, which cost a tenth of a batch.
    const { health, sinceMs, heardAtMs, roundTripMs } = desk.link.state;
    desks[desk.id] = {
      health,
      sinceMs,
      heardAtMs,
      roundTripMs,
      page: desk.pageUp(compiled.desks[d]!),
      port: open?.state ?? OPEN,
      in: (open?.in ?? 0) + (input?.in ?? 0),
      out: open?.out ?? 0,
      dropped: droppedBy(open) + droppedBy(input),
      tripped: desk.loop?.tripped ?? false,
    };
    if (!desk.store.hasChanged) continue;
    changed = true;
    values[desk.id] = changedValues(desk.store, atMs);
  }
  return { desks, values, changed };
}

function changedValues(store: DeskStateStore, atMs: number): ValueChange[] {
  const { texts, source } = store;
  return store.takeChanged().map((i) => {
    const value = source[i] === UNKNOWN ? null : (texts[i] ?? store.number(i));
    const unconfirmed = store.isUnconfirmed(i, atMs) ? 1 : 0;
    const saidAtMs = Math.round(store.saidAtMs(i));
    return saidAtMs > 0 ? [i, value, source[i]!, unconfirmed, saidAtMs] : [i, value, source[i]!, unconfirmed];
  });
}

function droppedBy(open: OpenPort | undefined): number {
  return (open?.port?.counted.dropped ?? 0) + (open?.malformed ?? 0);
}

/** Ports and guard of every surface, and the controls that changed since the last call. */
export function surfaceReports(
  world: World,
  inputs: OpenPorts,
  outputs: OpenPorts,
): Pick<EngineBatch, "surfaces" | "controls"> & { changed: boolean } {
  const surfaces: EngineBatch["surfaces"] = {};
  const controls: EngineBatch["controls"] = {};
  let changed = false;
  for (const surface of world.surfaces) {
    const inPort = inputs.get(surface.id);
    const outPort = outputs.get(surface.id);
    surfaces[surface.id] = {
      inPort: inPort?.state ?? WAITING,
      outPort: outPort?.state ?? WAITING,
      tripped: surface.loop.tripped,
      in: inPort?.in ?? 0,
      out: outPort?.out ?? 0,
      dropped: droppedBy(inPort) + droppedBy(outPort),
      heardAtMs: inPort?.heardAtMs ?? -1,
    };
    if (surface.moved.size === 0) continue;
    const list: ControlChange[] = [];
    for (const c of surface.moved.list())
      list.push([
        c,
        surface.position(c),
        surface.target(c),
        surface.caught[c]!,
        surface.pressed[c]!,
        surface.touchedAtMs(c),
      ]);
    surface.moved.clear();
    controls[surface.id] = list;
    changed = true;
  }
  return { surfaces, controls, changed };
}
