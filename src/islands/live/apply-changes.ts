/** Merges what the live socket brings into the state of the page. Pure: old state in, new state out. */

import {
  type ControlChange,
  type DeskLive,
  type HeldNow,
  type History,
  type LiveChanges,
  type Snapshot,
  type SurfaceLive,
  TRAFFIC_KEPT,
  type TrafficEntry,
} from "../../core/live/protocol.ts";
import { type CompiledShow, compileShow } from "../../core/mapping/compile.ts";
import { profilesOf } from "../../core/show/check.ts";
import type { DeskProfile } from "../../core/show/desk-profile.ts";
import { BASE_LAYER, type Show } from "../../core/show/show.ts";
import type { SurfaceProfile } from "../../core/show/surface-profile.ts";
import { Context, type Facts } from "../../core/translate/context.ts";

/** Values of one desk by index. */
export interface DeskValues {
  readonly value: readonly (number | string | null)[];
  readonly source: readonly number[];
  readonly unconfirmed: readonly number[];
}

export interface ControlLive {
  readonly position: number;
  readonly target: number;
  readonly caught: boolean;
  readonly pressed: boolean;
}

export interface LiveState {
  readonly show: Show;
  readonly history: History;
  readonly surfaceProfiles: ReadonlyMap<string, SurfaceProfile>;
  readonly deskProfiles: ReadonlyMap<string, DeskProfile>;
  readonly compiled: CompiledShow;
  /** Which mapping holds where; a new one whenever page, layer or show change. */
  readonly context: Context;
  readonly atMs: number;
  readonly layer: string;
  /** Every layer that is up, the lowest first. */
  readonly layers: readonly string[];
  readonly desks: Readonly<Record<string, DeskLive>>;
  readonly surfaces: Readonly<Record<string, SurfaceLive>>;
  readonly values: Readonly<Record<string, DeskValues>>;
  readonly controls: Readonly<Record<string, readonly (ControlLive | undefined)[]>>;
  /** Newest value of each light by status * 128 + number, as it came by MIDI. */
  readonly lights: Readonly<Record<string, ReadonlyMap<number, number>>>;
  readonly held: readonly HeldNow[];
  readonly line: readonly TrafficEntry[];
  readonly traffic: readonly TrafficEntry[];
  readonly refused: number;
  readonly engineRestarts: number;
}

const NO_VALUES: DeskValues = { value: [], source: [], unconfirmed: [] };

export function fromSnapshot(snapshot: Snapshot): LiveState {
  const { show, history, surfaceProfiles, deskProfiles, live } = snapshot;
  const compiled = compileShow(show, profilesOf(surfaceProfiles, deskProfiles));
  const empty: LiveState = {
    show,
    history,
    surfaceProfiles: new Map(surfaceProfiles.map((p) => [p.id, p])),
    deskProfiles: new Map(deskProfiles.map((p) => [p.id, p])),
    compiled,
    context: newContext({ compiled, desks: {}, values: {}, controls: {}, layers: [] }),
    atMs: live.atMs,
    layer: BASE_LAYER,
    layers: [],
    desks: {},
    surfaces: {},
    values: {},
    controls: {},
    lights: {},
    held: [],
    line: [],
    traffic: [],
    refused: 0,
    engineRestarts: 0,
  };
  return applyChanges(empty, live);
}

/** A new show, with the whole live state that belongs to it. */
export function withShow(state: LiveState, show: Show, history: History, live: LiveChanges): LiveState {
  const compiled = compileShow(show, { surfaces: state.surfaceProfiles, desks: state.deskProfiles });
  const next = { ...state, show, history, compiled, values: {}, controls: {}, lights: {} };
  const applied = applyChanges(next, live);
  return { ...applied, context: newContext(applied) };
}

export function applyChanges(state: LiveState, live: LiveChanges): LiveState {
  const next: Mutable<LiveState> = { ...state, atMs: live.atMs || state.atMs };
  if (live.layer !== undefined) next.layer = live.layer;
  if (live.layers) next.layers = live.layers;
  if (live.desks) next.desks = live.desks;
  if (live.surfaces) next.surfaces = live.surfaces;
  if (live.held) next.held = live.held;
  if (live.line) next.line = live.line;
  if (live.refused !== undefined) next.refused = live.refused;
  if (live.engineRestarts !== undefined) next.engineRestarts = live.engineRestarts;
  if (live.values) next.values = mergeValues(state.values, live.values);
  if (live.controls) next.controls = mergeControls(state.controls, live.controls);
  if (live.lights) next.lights = mergeLights(state.lights, live.lights);
  if (live.traffic) next.traffic = mergeTraffic(state.traffic, live.traffic);
  if (placesOf(next) !== placesOf(state)) next.context = newContext(next);
  else if (next.compiled.followsValues && (next.values !== state.values || next.controls !== state.controls))
    next.context = new Context(next.compiled, factsOf(next), state.context);
  return next;
}

type Mutable<T> = { -readonly [K in keyof T]: T[K] };

type Known = Pick<LiveState, "compiled" | "desks" | "values" | "controls" | "layers">;

function newContext(state: Known): Context {
  const context = new Context(state.compiled, factsOf(state));
  context.refresh(state.layers.flatMap((id) => state.compiled.layerOf.get(id) ?? []));
  return context;
}

/** What bindings and conditions ask for, from what the browser was told. */
function factsOf({ compiled, desks, values, controls }: Known): Facts {
  const number = (desk: number, index: number) => {
    const value = values[compiled.desks[desk]!.id]?.value[index];
    return typeof value === "number" ? value : Number.NaN;
  };
  const house = compiled.desks[compiled.house];
  return {
    page: (d) => desks[compiled.desks[d]!.id]?.page ?? null,
    selection: (d) => {
      const { selection } = compiled.desks[d]!;
      const value = selection ? number(d, selection.base) : Number.NaN;
      return Number.isNaN(value) ? null : value;
    },
    value: number,
    bankFirst: (bank) => {
      const value = house ? number(compiled.house, house.states.get("bank")!.base + bank) : Number.NaN;
      return Number.isNaN(value) ? compiled.show.banks![bank]!.first : value;
    },
    isPressed: (control) => {
      const surface = compiled.surfaces[compiled.controlSurface[control]!]!;
      return controls[surface.id]?.[control - surface.firstControl]?.pressed ?? false;
    },
    messagePart: () => Number.NaN,
  };
}

/** What a context is made of anew for: pages, layers, banks and selections. */
function placesOf(state: LiveState): string {
  const { compiled } = state;
  const facts = factsOf(state);
  const pages = compiled.desks.map((_, d) => `${facts.page(d) ?? ""} ${facts.selection(d) ?? ""}`);
  const banks = (compiled.show.banks ?? []).map((_, b) => facts.bankFirst(b));
  return [...state.layers, "|", ...pages, "|", ...banks].join(" ");
}

function mergeValues(
  before: LiveState["values"],
  changes: NonNullable<LiveChanges["values"]>,
): Record<string, DeskValues> {
  const next: Record<string, DeskValues> = { ...before };
  for (const [desk, list] of Object.entries(changes)) {
    const old = next[desk] ?? NO_VALUES;
    const value = [...old.value];
    const source = [...old.source];
    const unconfirmed = [...old.unconfirmed];
    for (const [i, v, s, u] of list) {
      value[i] = v;
      source[i] = s;
      unconfirmed[i] = u;
    }
    next[desk] = { value, source, unconfirmed };
  }
  return next;
}

function mergeControls(before: LiveState["controls"], changes: Record<string, ControlChange[]>): LiveState["controls"] {
  const next: Record<string, readonly (ControlLive | undefined)[]> = { ...before };
  for (const [surface, list] of Object.entries(changes)) {
    const controls = [...(next[surface] ?? [])];
    for (const [i, position, target, caught, pressed] of list)
      controls[i] = { position, target, caught: caught === 1, pressed: pressed === 1 };
    next[surface] = controls;
  }
  return next;
}

function mergeLights(before: LiveState["lights"], changes: NonNullable<LiveChanges["lights"]>): LiveState["lights"] {
  const next: Record<string, ReadonlyMap<number, number>> = { ...before };
  for (const [surface, list] of Object.entries(changes)) {
    const lights = new Map(next[surface]);
    for (const [status, number, value] of list) lights.set(lampKey(status, number), value);
    next[surface] = lights;
  }
  return next;
}

export function lampKey(status: number, number: number): number {
  return status * 128 + number;
}

// A snapshot brings rows that may be here already.
function mergeTraffic(before: readonly TrafficEntry[], rows: readonly TrafficEntry[]): readonly TrafficEntry[] {
  const first = rows[0];
  if (!first) return before;
  const last = before[before.length - 1];
  // An engine that was restarted counts from 1 again.
  const kept = last && first.seq <= last.seq ? before.filter((r) => r.atMs < first.atMs) : before;
  return [...kept, ...rows].slice(-TRAFFIC_KEPT);
}
