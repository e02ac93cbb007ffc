/** Merges what the live socket brings into the state of the page. Pure: old state in, new state out. */

import { type DocumentPatch, patched } from "../../core/edit/patched.ts";
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import { BASE_LAYER } from "../../core/format/givens.ts";
import { type Profiles, profilesOf, profilesWith } from "../../core/format/profiles.ts";
import type { Show } from "../../core/format/show.ts";
import type { SurfaceProfile } from "../../core/format/surface-profile.ts";
import type {
  ComputerMidiLive,
  ControlChange,
  DeskLive,
  FoundPeer,
  HeldNow,
  History,
  LiveChanges,
  SessionLive,
  Snapshot,
  Stranger,
  SurfaceLive,
} from "../../core/live/protocol.ts";
import { type CompiledShow, compileShow } from "../../core/mapping/compile.ts";
import { recompile } from "../../core/mapping/recompile.ts";
import { Context, type Facts, NO_MESSAGES } from "../../core/run-state/context.ts";
import { lightSlot } from "../../core/surface/light-slot.ts";
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";

/** Values of one desk by index. */
export interface DeskValues {
  readonly value: readonly (number | string | null)[];
  readonly source: readonly number[];
  /** When the desk spoke of it last, as far as it was told, in ms; 0 or left out = never. */
  readonly saidAtMs: readonly number[];
  readonly unconfirmed: readonly number[];
}

export interface ControlLive {
  readonly position: number;
  readonly target: number;
  readonly caught: boolean;
  readonly pressed: boolean;
  /** When hands were at it last, in ms by the engine's clock; -1 = never. */
  readonly handAtMs: number;
  /** When its position changed last, by the time of the batch that said so. */
  readonly movedAtMs: number;
}

export interface MotorSeen {
  /** 0..1 of its way. */
  readonly position: number;
  readonly atMs: number;
}

export interface LiveState {
  readonly show: Show;
  readonly history: History;
  /** The profiles that ship; with the show's own ones they are those below. */
  readonly shipped: Profiles;
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
  /** MIDI sessions on the network, by id, and those of others that were found there. */
  readonly sessions: Readonly<Record<string, SessionLive>>;
  readonly found: readonly FoundPeer[];
  readonly computerMidi: ComputerMidiLive;
  /** Who was heard and is used by nobody. */
  readonly strangers: readonly Stranger[];
  readonly values: Readonly<Record<string, DeskValues>>;
  readonly controls: Readonly<Record<string, readonly (ControlLive | undefined)[]>>;
  /** Newest value of each light by status * 128 + number, as it came by MIDI. */
  readonly lights: Readonly<Record<string, ReadonlyMap<number, number>>>;
  /** Texts on displays by surface and the display's place in its profile, as they went out. */
  readonly texts: Readonly<Record<string, ReadonlyMap<number, string>>>;
  /** Where motors were sent and when, by surface and the key of their message. */
  readonly motors: Readonly<Record<string, ReadonlyMap<number, MotorSeen>>>;
  readonly held: readonly HeldNow[];
  /** Hands teach and do not play. */
  readonly teaches: boolean;
  readonly line: readonly TrafficEntry[];
  readonly refused: number;
  readonly engineRestarts: number;
}

const NO_VALUES: DeskValues = { value: [], source: [], saidAtMs: [], unconfirmed: [] };

export function fromSnapshot(snapshot: Snapshot): LiveState {
  const { show, history, surfaceProfiles, deskProfiles, live } = snapshot;
  const shipped = profilesOf(surfaceProfiles, deskProfiles);
  const all = profilesWith(shipped, show);
  const compiled = compileShow(show, shipped);
  const empty: LiveState = {
    show,
    history,
    shipped,
    surfaceProfiles: all.surfaces,
    deskProfiles: all.desks,
    compiled,
    context: newContext({ compiled, desks: {}, values: {}, controls: {}, layers: [] }),
    atMs: live.atMs,
    layer: BASE_LAYER,
    layers: [],
    desks: {},
    surfaces: {},
    sessions: {},
    found: [],
    computerMidi: { state: "not-looked", detail: "", inputs: [], outputs: [], hasVirtual: false },
    strangers: [],
    values: {},
    controls: {},
    lights: {},
    texts: {},
    motors: {},
    held: [],
    teaches: false,
    line: [],
    refused: 0,
    engineRestarts: 0,
  };
  return applyChanges(empty, live);
}

/** A new show, with the whole live state that belongs to it. */
export function withShow(state: LiveState, show: Show, history: History, live: LiveChanges): LiveState {
  return withCompiled(state, compileShow(show, state.shipped), history, live);
}

/** The show as an edit left it: all that did not change stays the same object, and is drawn no second time. */
export function withPatches(
  state: LiveState,
  patches: readonly DocumentPatch[],
  history: History,
  live: LiveChanges,
): LiveState {
  const show = patched(state.show, patches);
  const spliced = recompile(state.compiled, show, state.shipped, { most: show.mappings.length });
  return withCompiled(state, spliced?.compiled ?? compileShow(show, state.shipped), history, live);
}

function withCompiled(state: LiveState, compiled: CompiledShow, history: History, live: LiveChanges): LiveState {
  const { show } = compiled;
  const profiles =
    show.profiles === state.show.profiles
      ? { surfaces: state.surfaceProfiles, desks: state.deskProfiles }
      : profilesWith(state.shipped, show);
  const next = {
    ...state,
    show,
    history,
    compiled,
    surfaceProfiles: profiles.surfaces,
    deskProfiles: profiles.desks,
    values: {},
    controls: {},
    lights: {},
    texts: {},
    motors: {},
  };
  const applied = applyChanges(next, live);
  return { ...applied, context: newContext(applied) };
}

export function applyChanges(state: LiveState, live: LiveChanges): LiveState {
  const next: Mutable<LiveState> = { ...state, atMs: live.atMs || state.atMs };
  if (live.layer !== undefined) next.layer = live.layer;
  if (live.layers) next.layers = live.layers;
  if (live.desks) next.desks = live.desks;
  if (live.surfaces) next.surfaces = live.surfaces;
  if (live.sessions) next.sessions = live.sessions;
  if (live.computerMidi) next.computerMidi = live.computerMidi;
  if (live.found) next.found = live.found;
  if (live.strangers) next.strangers = live.strangers;
  if (live.held) next.held = live.held;
  if (live.teaches !== undefined) next.teaches = live.teaches;
  if (live.line) next.line = live.line;
  if (live.refused !== undefined) next.refused = live.refused;
  if (live.engineRestarts !== undefined) next.engineRestarts = live.engineRestarts;
  if (live.values) next.values = mergeValues(state.values, live.values);
  if (live.controls) next.controls = mergeControls(state.controls, live.controls, next.atMs);
  if (live.lights) {
    next.lights = mergeLights(state.lights, live.lights);
    next.motors = mergeMotors(state.motors, live.lights, next.atMs);
  }
  if (live.texts) next.texts = mergeTexts(state.texts, live.texts);
  if (placesOf(next) !== placesOf(state)) next.context = newContext(next);
  else if (next.compiled.followsValues && (next.values !== state.values || next.controls !== state.controls))
    next.context = new Context(next.compiled, factsOf(next), () => NO_MESSAGES, state.context);
  return next;
}

type Mutable<T> = { -readonly [K in keyof T]: T[K] };

/** Which mapping would hold, with which numbers, on another page of a desk and in another layer. */
export function contextOn(live: LiveState, desk: string | null, page: number, layer: string): Context {
  const known = desk === null ? undefined : live.desks[desk];
  const desks = desk !== null && known ? { ...live.desks, [desk]: { ...known, page } } : live.desks;
  return newContext({ ...live, desks, layers: [layer] });
}

type Known = Pick<LiveState, "compiled" | "desks" | "values" | "controls" | "layers">;

function newContext(state: Known): Context {
  const context = new Context(state.compiled, factsOf(state), () => NO_MESSAGES);
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
    clockS: () => 0, // nothing is sent from here
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
    const saidAtMs = [...old.saidAtMs];
    const unconfirmed = [...old.unconfirmed];
    for (const [i, v, s, u, at] of list) {
      value[i] = v;
      source[i] = s;
      saidAtMs[i] = at ?? 0;
      unconfirmed[i] = u;
    }
    next[desk] = { value, source, saidAtMs, unconfirmed };
  }
  return next;
}

function mergeControls(
  before: LiveState["controls"],
  changes: Record<string, ControlChange[]>,
  atMs: number,
): LiveState["controls"] {
  const next: Record<string, readonly (ControlLive | undefined)[]> = { ...before };
  for (const [surface, list] of Object.entries(changes)) {
    const controls = [...(next[surface] ?? [])];
    for (const [i, position, target, caught, pressed, handAtMs = -1] of list) {
      const old = controls[i];
      const movedAtMs = old?.position === position ? old.movedAtMs : atMs;
      controls[i] = { position, target, caught: caught === 1, pressed: pressed === 1, handAtMs, movedAtMs };
    }
    next[surface] = controls;
  }
  return next;
}

const BEND = 0xe0;

function mergeMotors(
  before: LiveState["motors"],
  changes: NonNullable<LiveChanges["lights"]>,
  atMs: number,
): LiveState["motors"] {
  let next = before;
  for (const [surface, list] of Object.entries(changes))
    for (const [status, lower, upper] of list) {
      if ((status & 0xf0) !== BEND) continue;
      const own = new Map(next[surface]).set(lightSlot(status, 0), { position: ((upper << 7) | lower) / 16_383, atMs });
      next = { ...next, [surface]: own };
    }
  return next;
}

function mergeTexts(before: LiveState["texts"], changes: NonNullable<LiveChanges["texts"]>): LiveState["texts"] {
  const next: Record<string, ReadonlyMap<number, string>> = { ...before };
  for (const [surface, list] of Object.entries(changes)) next[surface] = new Map([...(next[surface] ?? []), ...list]);
  return next;
}

function mergeLights(before: LiveState["lights"], changes: NonNullable<LiveChanges["lights"]>): LiveState["lights"] {
  const next: Record<string, ReadonlyMap<number, number>> = { ...before };
  for (const [surface, list] of Object.entries(changes)) {
    const lights = new Map(next[surface]);
    for (const [status, number, value] of list) lights.set(lightSlot(status, number), value);
    next[surface] = lights;
  }
  return next;
}
