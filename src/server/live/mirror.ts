/**
 * What the browsers are to know, kept on the server's side of the engine: the newest of everything for a
 * snapshot, and what changed since the last batch. It is also what a restarted engine is given.
 */
import { NO_LAYERS } from "../../core/gesture/layers.ts";
import type {
  ControlChange,
  DeskLive,
  HeldNow,
  LiveChanges,
  SurfaceLive,
  TrafficEntry,
  ValueChange,
} from "../../core/live/protocol.ts";
import { TRAFFIC_KEPT } from "../../core/live/protocol.ts";
import { HOUSE } from "../../core/show/ids.ts";
import { BASE_LAYER, type Show } from "../../core/show/show.ts";
import type { SurfaceProfile } from "../../core/show/surface-profile.ts";
import { OUTCOME } from "../../core/trace/outcome.ts";
import { readRow, rowCount } from "../../core/trace/traffic-ring.ts";
import type { Carried, EngineBatch, Holding } from "../../engine/messages.ts";

/** Rows that may matter to the bottom line, from the newest of a batch. */
const LINE_ROWS = 12;
/** Longest run of light messages kept for one batch; past it the snapshot's map is sent instead. */
const LIGHTS_PER_BATCH = 2048;

type ShortMidi = [number, number, number];

/** Rows as the engine wrote them, and the show their numbers belong to; or one that was refused before the engine. */
type Block = { block: ArrayBuffer; show: Show } | { refused: TrafficEntry };

function rowsIn(entry: Block): number {
  return "refused" in entry ? 1 : rowCount(entry.block);
}

export class Mirror {
  readonly #loads = new Map<number, Show>();
  readonly #profiles: ReadonlyMap<string, SurfaceProfile>;
  #layer: string = BASE_LAYER;
  #layers: string[] = [];
  #desks: Record<string, DeskLive> = {};
  #surfaces: Record<string, SurfaceLive> = {};
  #held: HeldNow[] = [];
  #house = "";
  #holding: Holding = { held: [], layers: NO_LAYERS };
  readonly #values = new Map<string, Map<number, ValueChange>>();
  readonly #controls = new Map<string, Map<number, ControlChange>>();
  /** Newest message per status and number, for each surface. */
  readonly #lights = new Map<string, Map<number, ShortMidi>>();
  /** Blocks of rows with the show they were written under, oldest first. */
  #blocks: Block[] = [];
  #rowsKept = 0;
  #line: TrafficEntry[] = [];
  #refused = 0;
  #newestSeq = 0;
  engineRestarts = 0;
  // Since the last batch.
  #changed: LiveChanges = { atMs: 0 };
  #dirty = false;
  readonly #onChange: () => void;
  #newBlocks: Block[] = [];

  /** `onChange` is called when there is something to tell for the first time since the last batch. */
  constructor(profiles: readonly SurfaceProfile[], onChange: () => void = () => {}) {
    this.#onChange = onChange;
    this.#profiles = new Map(profiles.map((p) => [p.id, p]));
  }

  /** The show that the engine is given as load number `load`; rows tell under which load they were written. */
  setShow(load: number, show: Show): void {
    // With another number of layers or banks the values of the house stand at other places; it tells them all anew.
    const house = [show.layers, show.banks, show.variables, show.groups].map((l) => l?.length ?? 0).join();
    if (house !== this.#house) this.#values.delete(HOUSE);
    this.#house = house;
    this.#loads.set(load, show);
    const surfaces = new Set(show.surfaces.map((s) => s.id));
    for (const id of [...this.#lights.keys()]) if (!surfaces.has(id)) this.#lights.delete(id);
    for (const id of [...this.#controls.keys()]) if (!surfaces.has(id)) this.#controls.delete(id);
  }

  take(batch: EngineBatch): void {
    const c = this.#changed;
    c.atMs = batch.atMs;
    this.#touch();
    this.#layer = c.layer = batch.layer;
    this.#layers = c.layers = batch.layers;
    this.#desks = c.desks = batch.desks;
    this.#surfaces = c.surfaces = batch.surfaces;
    this.#held = c.held = batch.held;
    if (batch.holding) this.#holding = batch.holding;
    for (const [desk, list] of Object.entries(batch.values)) {
      const all = mapOf(this.#values, desk);
      for (const v of list) all.set(v[0], v);
      c.values ??= {};
      listOf(c.values, desk).push(...list);
    }
    for (const [surface, list] of Object.entries(batch.controls)) {
      const all = mapOf(this.#controls, surface);
      for (const v of list) all.set(v[0], v);
      c.controls ??= {};
      listOf(c.controls, surface).push(...list);
    }
    if (!batch.rows) return;
    for (const load of [...this.#loads.keys()]) if (load < batch.load) this.#loads.delete(load);
    const show = this.#loads.get(batch.load);
    if (!show) return;
    this.#keep({ block: batch.rows, show });
    this.#newestSeq = readRow(batch.rows, rowCount(batch.rows) - 1).sequence;
    this.#noteLine(batch.rows, show);
  }

  /** A browser said something that was not understood: it is counted and stands in the list. */
  refuse(atMs: number, reason: string, beginning: string, length: number): void {
    this.#refused++;
    this.#changed.refused = this.#refused;
    this.#touch();
    // Between the rows of the engine, in the order in which things happened.
    this.#newestSeq += 1e-6;
    this.#keep({
      refused: {
        seq: this.#newestSeq,
        atMs,
        out: false,
        side: "browser",
        device: "",
        code: OUTCOME.refused,
        a: 0,
        b: 0,
        cause: 0,
        hex: Buffer.from(beginning).toString("hex"),
        length,
        reason,
      },
    });
  }

  #touch(): void {
    if (this.#dirty) return;
    this.#dirty = true;
    this.#onChange();
  }

  #keep(entry: Block): void {
    this.#blocks.push(entry);
    this.#newBlocks.push(entry);
    this.#rowsKept += rowsIn(entry);
    while (this.#blocks.length > 1 && this.#rowsKept - rowsIn(this.#blocks[0]!) >= TRAFFIC_KEPT)
      this.#rowsKept -= rowsIn(this.#blocks.shift()!);
  }

  /** Bytes that went out to a surface. */
  surfaceOut(surface: string, bytes: Uint8Array): void {
    if (bytes.length !== 3) return;
    const message: ShortMidi = [bytes[0]!, bytes[1]!, bytes[2]!];
    mapOf(this.#lights, surface).set((message[0] << 7) | message[1], message);
    const c = this.#changed;
    c.lights ??= {};
    const list = listOf(c.lights, surface);
    if (list.length < LIGHTS_PER_BATCH) list.push(message);
    else c.lights[surface] = this.#allLights(surface);
    this.#touch();
  }

  setEngineRestarts(count: number): void {
    this.engineRestarts = this.#changed.engineRestarts = count;
    this.#touch();
  }

  /** What changed since the last call, or null. Traffic is worked out only where somebody watches it. */
  takeChanges(withTraffic: boolean): { live: LiveChanges; traffic: TrafficEntry[] } | null {
    if (!this.#dirty) return null;
    const live = this.#changed;
    if (live.line === undefined && this.#newBlocks.length > 0) live.line = this.#line;
    let traffic: TrafficEntry[] = [];
    if (withTraffic) {
      // More than is kept cannot be shown anyway.
      let rows = 0;
      const blocks: Block[] = [];
      for (let i = this.#newBlocks.length - 1; i >= 0 && rows < TRAFFIC_KEPT; i--) {
        blocks.unshift(this.#newBlocks[i]!);
        rows += rowsIn(this.#newBlocks[i]!);
      }
      traffic = blocks.flatMap((b) => this.#entries(b)).slice(-TRAFFIC_KEPT);
    }
    this.#changed = { atMs: live.atMs };
    this.#newBlocks = [];
    this.#dirty = false;
    return { live, traffic };
  }

  /** Everything, for a browser that has just come or has fallen behind. */
  snapshot(withTraffic: boolean): LiveChanges {
    const live: LiveChanges = {
      atMs: this.#changed.atMs,
      layer: this.#layer,
      layers: this.#layers,
      desks: this.#desks,
      surfaces: this.#surfaces,
      values: {},
      controls: {},
      lights: {},
      held: this.#held,
      line: this.#line,
      refused: this.#refused,
      engineRestarts: this.engineRestarts,
    };
    for (const [id, all] of this.#values) live.values![id] = [...all.values()];
    for (const [id, all] of this.#controls) live.controls![id] = [...all.values()];
    for (const id of this.#lights.keys()) live.lights![id] = this.#allLights(id);
    if (withTraffic) live.traffic = this.traffic();
    return live;
  }

  /** The rows that are kept, oldest first. */
  traffic(): TrafficEntry[] {
    return this.#blocks.flatMap((b) => this.#entries(b)).slice(-TRAFFIC_KEPT);
  }

  /** What a new engine is given in the place of a dead one. */
  carried(): Carried {
    const live = this.snapshot(false);
    return { values: live.values!, controls: live.controls!, holding: this.#holding };
  }

  #allLights(surface: string): ShortMidi[] {
    return [...mapOf(this.#lights, surface).values()];
  }

  /** The newest message heard that says something to a person, and what it caused. */
  #noteLine(block: ArrayBuffer, show: Show): void {
    const count = rowCount(block);
    const found: TrafficEntry[] = [];
    for (let i = count - 1; i >= 0 && found.length < LINE_ROWS; i--) {
      const row = readRow(block, i);
      if (LINE_SILENT.has(row.code)) continue;
      found.unshift(this.#entry(row, show));
    }
    if (found.length === 0) return;
    this.#line = [...this.#line, ...found].slice(-LINE_ROWS);
    this.#changed.line = this.#line;
  }

  #entries(entry: Block): TrafficEntry[] {
    if ("refused" in entry) return [entry.refused];
    return Array.from({ length: rowCount(entry.block) }, (_, i) => this.#entry(readRow(entry.block, i), entry.show));
  }

  #entry(row: ReturnType<typeof readRow>, show: Show): TrafficEntry {
    const device = row.desk ? show.desks[row.device] : show.surfaces[row.device];
    const mapping = show.mappings[row.mapping];
    const entry: TrafficEntry = {
      seq: row.sequence,
      atMs: row.atMs,
      out: row.out,
      side: row.desk ? "desk" : "surface",
      device: device?.id ?? "",
      code: row.code,
      a: row.a,
      b: row.b,
      cause: row.cause,
      hex: Buffer.from(row.bytes).toString("hex"),
      length: row.length,
    };
    if (mapping) entry.mapping = mapping.id;
    if (row.part < 0) return entry;
    const part = row.desk
      ? mapping?.actions.filter((a) => a.on)[row.part]?.id
      : this.#profiles.get((device as Show["surfaces"][number] | undefined)?.profile ?? "")?.controls[row.part]?.id;
    if (part !== undefined) entry.part = part;
    return entry;
  }
}

/** Rows that are no news to a person. */
const LINE_SILENT = new Set<number>([
  OUTCOME.pulse,
  OUTCOME.upkeep,
  OUTCOME.light,
  OUTCOME.unchanged,
  OUTCOME.released, // the press before it is what people want to read
]);

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
