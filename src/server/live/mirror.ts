/**
 * What the browsers are to know, kept on the server's side of the engine: the newest of everything for a
 * snapshot, and what changed since the last batch. It is also what a restarted engine is given.
 */

import { BASE_LAYER, HOUSE } from "../../core/format/givens.ts";
import type { Profiles } from "../../core/format/profiles.ts";
import type { Show } from "../../core/format/show.ts";
import type { SurfaceProfile } from "../../core/format/surface-profile.ts";
import { NO_LAYERS } from "../../core/gesture/layers.ts";
import { NOTHING_UNFINISHED } from "../../core/hands/unfinished.ts";
import type {
  ControlChange,
  DeskLive,
  FoundPeer,
  LiveChanges,
  SurfaceLive,
  ValueChange,
} from "../../core/live/protocol.ts";
import { compileDisplay, readDisplay } from "../../core/surface/display.ts";
import { lightSlot } from "../../core/surface/light-slot.ts";
import { codesWhere } from "../../core/trace/outcome.ts";
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import { entryOf, isCalledTheSame, type TrafficNames, trafficNames } from "../../core/trace/traffic-names.ts";
import { readRow, rowCount } from "../../core/trace/traffic-ring.ts";
import { type Carried, fitting, type Holding, sameInBoth } from "../../core/translate/taking-over.ts";
import type { EngineBatch, Status } from "../../engine/messages.ts";
import { TrafficLog } from "./traffic-log.ts";

/** Rows that may matter to the bottom line, from the newest of a batch. */
const LINE_ROWS = 12;
/** Of what one movement caused, the newest that stay with it. */
const STORY_ROWS = 4;
/** Longest run of light messages kept for one batch; past it the snapshot's map is sent instead. */
const LIGHTS_PER_BATCH = 2048;

type ShortMidi = [number, number, number];

export class Mirror {
  readonly #loads = new Map<number, Show>();
  /** The show that was given to the engine last. */
  #show: Show | null = null;
  /** The show of which the engine told something last. */
  #toldOf: Show | null = null;
  readonly #profiles: Profiles["surfaces"];
  readonly #deskProfiles: Profiles["desks"];
  #status: Partial<Status> = { layer: BASE_LAYER, layers: [], sessions: {}, held: [] };
  #desks: Record<string, DeskLive> = {};
  #surfaces: Record<string, SurfaceLive> = {};
  #found: FoundPeer[] = [];
  #house = "";
  #holding: Holding = { held: [], layers: NO_LAYERS, kept: [], underWay: {}, unfinished: NOTHING_UNFINISHED };
  readonly #values = new Map<string, Map<number, ValueChange>>();
  readonly #controls = new Map<string, Map<number, ControlChange>>();
  /** Newest message per status and number, for each surface. */
  readonly #lights = new Map<string, Map<number, ShortMidi>>();
  /** Text of each display, for each surface. */
  readonly #texts = new Map<string, Map<number, string>>();
  /** Profile of each surface. */
  #surfaceKinds = new Map<string, SurfaceProfile | undefined>();
  #line: TrafficEntry[] = [];
  #refused = 0;
  engineRestarts = 0;
  // Since the last batch.
  #changed: LiveChanges = { atMs: 0 };
  #dirty = false;
  readonly #onChange: () => void;
  #lineIsNew = false;
  #handMoves = 0;
  readonly #namesOf = new WeakMap<Show, TrafficNames>();
  /** Everything that came and went. */
  readonly log: TrafficLog;

  /**
   * `onChange` is called when there is something to tell for the first time since the last batch, `freed` with each slab
   * of rows that the engine may use again.
   */
  constructor(profiles: Profiles, onChange: () => void = () => {}, freed: (slab: number) => void = () => {}) {
    this.#onChange = onChange;
    this.log = new TrafficLog((load) => this.#names(load), Date.now(), freed);
    this.#profiles = profiles.surfaces;
    this.#deskProfiles = profiles.desks;
  }

  /** The show that the engine is given as load number `load`; rows tell under which load they were written. */
  setShow(load: number, show: Show): void {
    // With another number of layers or banks the values of the house stand at other places; it tells them all anew.
    const house = [show.layers, show.banks, show.variables, show.groups].map((l) => l?.length ?? 0).join();
    if (house !== this.#house) this.#values.delete(HOUSE);
    this.#house = house;
    const same = this.#show && sameInBoth(this.#show, show);
    for (const id of [...this.#values.keys()]) if (same && id !== HOUSE && !same.has(id)) this.#values.delete(id);
    const before = this.#loads.get(load - 1);
    this.#show = show;
    // Of a thousand edits of numbers and lights one show is kept for the rows of traffic, and not a thousand.
    this.#loads.set(load, before && isCalledTheSame(before, show) ? before : show);
    const surfaces = new Set(show.surfaces.map((s) => s.id));
    this.#surfaceKinds = new Map(show.surfaces.map((s) => [s.id, this.#profileOf(show, s.profile)]));
    for (const id of [...this.#texts.keys()]) if (!surfaces.has(id)) this.#texts.delete(id);
    for (const id of [...this.#lights.keys()]) if (!surfaces.has(id)) this.#lights.delete(id);
    for (const id of [...this.#controls.keys()]) if (!surfaces.has(id)) this.#controls.delete(id);
  }

  /** Takes what the engine told; there is something to tell then, and whoever gave it here says so. */
  take(batch: EngineBatch): void {
    const c = this.#changed;
    c.atMs = batch.atMs;
    this.#dirty = true;
    this.#toldOf = this.#loads.get(batch.load) ?? this.#toldOf;
    this.#desks = c.desks = batch.desks;
    this.#surfaces = c.surfaces = batch.surfaces;
    if (batch.status) {
      const { layer, layers, held, teaches, sessions, computerMidi, strangers } = batch.status;
      Object.assign(c, { layer, layers, held, teaches });
      if (JSON.stringify(sessions) !== JSON.stringify(this.#status.sessions)) c.sessions = sessions;
      if (JSON.stringify(computerMidi) !== JSON.stringify(this.#status.computerMidi)) c.computerMidi = computerMidi;
      if (JSON.stringify(strangers) !== JSON.stringify(this.#status.strangers)) c.strangers = [...strangers];
      this.#status = batch.status;
    }
    if (batch.holding) this.#holding = batch.holding;
    for (const [desk, list] of Object.entries(batch.values)) {
      const all = mapOf(this.#values, desk);
      for (const v of list) all.set(v[0], v);
      c.values ??= {};
      listOf(c.values, desk).push(...list);
    }
    for (const [surface, list] of Object.entries(batch.controls)) {
      const all = mapOf(this.#controls, surface);
      for (const v of list) {
        if (v[5] !== undefined && v[5] >= 0 && all.get(v[0])?.[5] !== v[5]) this.#handMoves++;
        if (all.get(v[0])?.[1] !== v[1]) this.#handMoved(surface, v[0]);
        all.set(v[0], v);
      }
      c.controls ??= {};
      listOf(c.controls, surface).push(...list);
    }
    if (!batch.rows) return;
    const names = this.#names(batch.load);
    if (!names) return;
    const rows = this.log.append(batch.load, batch.rows, batch.rests);
    this.#forgetLoads(batch.load);
    if (rows) this.#noteLine(rows, names);
  }

  /** Names are made once for each show, and kept as long as rows of it are. */
  #names(load: number): TrafficNames | undefined {
    const show = this.#loads.get(load);
    if (!show) return undefined;
    let names = this.#namesOf.get(show);
    if (!names) {
      names = trafficNames(show, { surfaces: this.#profiles, desks: this.#deskProfiles });
      this.#namesOf.set(show, names);
    }
    return names;
  }

  #forgetLoads(newest: number): void {
    if (this.#loads.size === 1) return;
    const used = this.log.loads();
    for (const load of [...this.#loads.keys()]) if (load < newest && !used.has(load)) this.#loads.delete(load);
  }

  /** A browser said something that was not understood: it is counted and stands in the list. */
  refuse(atMs: number, reason: string, beginning: string, length: number): void {
    this.#refused++;
    this.#changed.refused = this.#refused;
    this.#touch();
    this.log.appendRefused({ atMs, reason, hex: Buffer.from(beginning).toString("hex"), length });
  }

  #profileOf(show: Show, id: string | undefined): SurfaceProfile | undefined {
    return show.profiles?.surfaces.find((p) => p.id === id) ?? this.#profiles.get(id ?? "");
  }

  #touch(): void {
    if (this.#dirty) return;
    this.#dirty = true;
    this.#onChange();
  }

  /** Bytes that went out to a surface: short messages, and texts for its displays. */
  surfaceOut(surface: string, bytes: Uint8Array): void {
    if (bytes[0] === 0xf0) {
      this.#text(surface, bytes);
      return;
    }
    for (let at = 0; at + 3 <= bytes.length; at += 3)
      this.#light(surface, [bytes[at]!, bytes[at + 1]!, bytes[at + 2]!]);
  }

  #light(surface: string, message: ShortMidi): void {
    mapOf(this.#lights, surface).set(lightSlot(message[0], message[1]), message);
    const c = this.#changed;
    c.lights ??= {};
    const list = listOf(c.lights, surface);
    if (list.length < LIGHTS_PER_BATCH) list.push(message);
    else c.lights[surface] = this.#allLights(surface);
    this.#touch();
  }

  /** Where its motor was sent is no longer where the fader stands. */
  #handMoved(surface: string, control: number): void {
    const motor = this.#surfaceKinds.get(surface)?.controls[control]?.motor;
    if (motor?.kind === "bend") this.#lights.get(surface)?.delete(lightSlot(0xe0 | (motor.channel - 1), 0));
  }

  #text(surface: string, bytes: Uint8Array): void {
    const displays = this.#surfaceKinds.get(surface)?.displays ?? [];
    for (let i = 0; i < displays.length; i++) {
      const text = readDisplay(compileDisplay(displays[i]!, 0), bytes);
      if (text === null) continue;
      mapOf(this.#texts, surface).set(i, text);
      const c = this.#changed;
      c.texts ??= {};
      listOf(c.texts, surface).push([i, text]);
      this.#touch();
      return;
    }
  }

  /** The engine died, and another one will tell of itself. */
  engineDied(): void {
    this.log.forgetEngine();
    this.setEngineRestarts(-1);
  }

  /** It made way for another one, which begins at once: nobody is to be told. */
  engineRetired(): void {
    this.log.forgetEngine();
  }

  /** It failed and goes on; people are told as of one that was started anew. */
  engineRecovered(): void {
    this.setEngineRestarts(Math.max(0, this.engineRestarts) + 1);
  }

  setEngineRestarts(count: number): void {
    this.engineRestarts = this.#changed.engineRestarts = count;
    this.#touch();
  }

  /** MIDI sessions of others that are on the network now. */
  setFound(found: FoundPeer[]): void {
    this.#found = this.#changed.found = found;
    this.#touch();
  }

  /** What changed since the last call, or null. */
  takeChanges(): LiveChanges | null {
    if (!this.#dirty) return null;
    const live = this.#changed;
    if (this.#lineIsNew) live.line = this.#line;
    this.#changed = { atMs: live.atMs };
    this.#lineIsNew = false;
    this.#dirty = false;
    return live;
  }

  /** Everything, for a browser that has just come or has fallen behind. */
  snapshot(): LiveChanges {
    const live: LiveChanges = {
      atMs: this.#changed.atMs,
      ...this.#status,
      strangers: [...(this.#status.strangers ?? [])],
      desks: this.#desks,
      surfaces: this.#surfaces,
      found: this.#found,
      values: {},
      controls: {},
      lights: {},
      texts: {},
      line: this.#line,
      refused: this.#refused,
      engineRestarts: this.engineRestarts,
    };
    for (const [id, all] of this.#values) live.values![id] = [...all.values()];
    for (const [id, all] of this.#controls) live.controls![id] = [...all.values()];
    for (const id of this.#lights.keys()) live.lights![id] = this.#allLights(id);
    for (const [id, all] of this.#texts) live.texts![id] = [...all];
    return live;
  }

  /** What hands hold now, for an engine that follows one that dies before its next batch. */
  setHolding(holding: Holding): void {
    this.#holding = holding;
  }

  /** How often hands were told to be at anything. */
  get handMoves(): number {
    return this.#handMoves;
  }

  /** Whether a hand has anything down. */
  get isAnythingHeld(): boolean {
    return this.#holding.held.length > 0;
  }

  /** An engine has told something of itself: the next one goes on from that. */
  get hasEngine(): boolean {
    return this.#toldOf !== null;
  }

  /** What a new engine is given in the place of one that is gone, as far as it fits the show that runs now. */
  carried(now: Show): Carried {
    return fitting(this.#carried([...this.#values.keys()]), this.#toldOf ?? now, now);
  }

  /** What must outlive the server itself: of the desks only what the house keeps, for the others are asked again. */
  journal(): Carried {
    return this.#carried([HOUSE]);
  }

  #carried(desks: readonly string[]): Carried {
    const listed = <V>(maps: Map<string, Map<number, V>>, ids: Iterable<string>) =>
      Object.fromEntries([...ids].map((id) => [id, [...(maps.get(id)?.values() ?? [])]]));
    return {
      values: listed(this.#values, desks),
      controls: listed(this.#controls, this.#controls.keys()),
      holding: this.#holding,
      missed: "by-sockets",
    };
  }

  #allLights(surface: string): ShortMidi[] {
    return [...mapOf(this.#lights, surface).values()];
  }

  /** The newest message heard that says something to a person, and what it caused. */
  #noteLine(block: Uint8Array, names: TrafficNames): void {
    const found: TrafficEntry[] = [];
    let hasHeard = false;
    for (let i = rowCount(block) - 1; i >= 0 && (found.length < LINE_ROWS || !hasHeard); i--) {
      const row = readRow(block, i);
      if (LINE_SILENT.has(row.code)) continue;
      const entry = entryOf(row, names);
      hasHeard ||= isHeard(entry);
      found.push(entry);
    }
    if (found.length === 0) return;
    this.#line = lineOf([...this.#line, ...found.reverse()]);
    this.#lineIsNew = true;
  }
}

function isHeard({ out, side }: TrafficEntry): boolean {
  return !out && side === "surface";
}

/** The newest rows, and with them what hands did last and what that caused, however much came after it. */
function lineOf(rows: readonly TrafficEntry[]): TrafficEntry[] {
  const heard = rows.findLast(isHeard);
  const caused = heard ? rows.filter((r) => r.cause === heard.seq).slice(-STORY_ROWS) : [];
  const kept = new Set([...(heard ? [heard] : []), ...caused, ...rows.slice(-LINE_ROWS)]);
  return rows.filter((r) => kept.has(r));
}

/** Rows that are no news to a person. */
const LINE_SILENT = codesWhere((o) => o.upkeep === true || o.inListOnly === true);

function mapOf<V>(maps: Map<string, Map<number, V>>, id: string): Map<number, V> {
  let map = maps.get(id);
  if (!map) {
    map = new Map();
    maps.set(id, map);
  }
  return map;
}

function listOf<V>(lists: Record<string, V[]>, id: string): V[] {
  const list = lists[id] ?? [];
  lists[id] = list;
  return list;
}
