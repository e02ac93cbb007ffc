/**
 * A show and its profiles as flat tables, made once per edit. Per message the work depends on the actions
 * that fire, never on the number of mappings.
 *
 * Hot tables are typed arrays with one entry per control, mapping or action: ten thousand mappings as objects
 * spread over memory and cost a cache miss for each field that is read (bench row `core.scale`).
 */
import { type CompiledDesk, type CompiledFunction, compileDesk } from "../desk/compile-desk.ts";
import { type FreeMessage, parseFreeMessage } from "../desk/free-message.ts";
import { type BentShape, bentShape, isBent, isTimed } from "../shape/bent.ts";
import { compileShape } from "../shape/linear.ts";
import type { Profiles } from "../show/check.ts";
import type { Acts, Range } from "../show/desk-profile.ts";
import { HOUSE } from "../show/ids.ts";
import type { Action, Binding, Mapping, Show } from "../show/show.ts";
import type { Control } from "../show/surface-profile.ts";
import { type CompiledSurface, compileSurface } from "../surface/compile-surface.ts";
import { expandBanks } from "../surface/internal-banks.ts";
import { A_BENT, A_DELAYED, A_DYNAMIC, A_INSIDE, A_REPORTED, ActionTable } from "./action-table.ts";
import { BINDING_INTS, fixedStateIndex, isDynamic, MAX_PARAMETERS, withoutLists, writeBinding } from "./bindings.ts";
import { GESTURE_OF, GESTURES } from "./gestures.ts";
import { houseProfile } from "./house-profile.ts";
import { type CompiledRoute, compileRoutes } from "./routes.ts";

export const ACTS: Record<Acts, number> = { level: 0, trigger: 1, toggle: 2, flash: 3 };
export const LEVEL = 0;
export const TRIGGER = 1;
export const TOGGLE = 2;
export const FLASH = 3;

export const JUMP = 0;
export const CATCH = 1;
export const CONVERGE = 2;
const TAKEOVERS = { jump: JUMP, catch: CATCH, converge: CONVERGE } as const;

export const ALL = 0;
export const IN_TURN = 1;
export const IN_TURN_STOP = 2;
export const RANDOM = 3;
const ORDERS = { all: ALL, "in-turn": IN_TURN, "in-turn-stop": IN_TURN_STOP, random: RANDOM } as const;

export const DEFAULT_HOLD_MS = 400;
export const DEFAULT_DOUBLE_MS = 250;

/** One action; an action with lists of numbers is one for each of them. */
export interface CompiledAction {
  readonly action: Action;
  readonly mapping: number;
  /** Which of its mapping's actions it is, counted from 0 over those that are on. */
  readonly place: number;
  readonly set: number;
  readonly desk: CompiledDesk;
  readonly fn: CompiledFunction;
  /** Its numbers, with lists taken apart. */
  readonly bindings: Record<string, Binding>;
  readonly dynamic: boolean;
  /** The range of its value, which is the variable's own where it sets one. */
  readonly range: Range | undefined;
  /** True where the straight line is not enough; see `bentOf`. */
  readonly bends: boolean;
  readonly timed: boolean;
  /** Control among all of the show that makes moves fine while held; -1 = none. */
  readonly fineControl: number;
  /** What the house's "send a message" sends. */
  readonly message: FreeMessage | null;
  /** The mapping the house runs; -1 = none. */
  readonly targetMapping: number;
}

export interface CompiledCondition {
  readonly desk: number;
  readonly index: number;
  readonly from: number;
  readonly to: number;
}

export interface CompiledShow {
  readonly show: Show;
  readonly surfaces: readonly CompiledSurface[];
  readonly desks: readonly CompiledDesk[];
  /** Place of the house among the desks. */
  readonly house: number;
  readonly controlCount: number;
  readonly controlSurface: Int16Array;
  /** For control * GESTURES + gesture: the mappings that may hold, the most specific first. */
  readonly candidateStart: Int32Array;
  readonly candidates: Int32Array;
  /** For each mapping: its control among all of the show. */
  readonly mappingControl: Int32Array;
  /** The layers it holds in as bits, 0 = every layer. */
  readonly mappingLayers: Int32Array;
  readonly mappingPageDesk: Int16Array;
  readonly mappingPages: readonly (ReadonlySet<number> | null)[];
  /** JUMP, CATCH or CONVERGE. */
  readonly mappingTakeover: Uint8Array;
  readonly mappingOn: Uint8Array;
  /** The control that has to be held, among all of the show; -1 = none. */
  readonly mappingChord: Int32Array;
  readonly mappingWhen: readonly (readonly CompiledCondition[] | null)[];
  readonly mappingOrder: Uint8Array;
  /** The numbers of a mapping's sets in order, where it has more than one. */
  readonly mappingSets: readonly (readonly number[] | null)[];
  /** Its radio group, and the mappings of each group; -1 = none. */
  readonly mappingRadio: Int16Array;
  readonly radioGroups: readonly (readonly number[])[];
  readonly mappingHoldMs: Int32Array;
  readonly mappingDoubleMs: Int32Array;
  readonly mappingOf: ReadonlyMap<string, number>;
  /** Actions of mapping m: from actionStart[m] to actionStart[m + 1]. Those switched off are left out. */
  readonly actionStart: Int32Array;
  readonly actionBindings: Int32Array;
  readonly actionTable: ActionTable;
  readonly actions: readonly CompiledAction[];
  readonly layerOf: ReadonlyMap<string, number>;
  /** For each layer the controls it covers, among all of the show; null = all. */
  readonly layerCovers: readonly (ReadonlySet<number> | null)[];
  /** Controls of each group, among all of the show. */
  readonly groupControls: readonly (readonly number[])[];
  readonly routes: readonly CompiledRoute[];
  /** Controls whose press changes what others mean: those that chords and fine moves name. */
  readonly modifiers: ReadonlySet<number>;
  /** True where what holds, or what a number is, may change with a value of a desk or with a press. */
  readonly followsValues: boolean;
  /** Pairs of mappings that say the same: the first wins. */
  readonly clashes: readonly (readonly [number, number])[];
}

/** Compiles a show that `checkShow` has accepted. */
export function compileShow(show: Show, profiles: Profiles): CompiledShow {
  const surfaces: CompiledSurface[] = [];
  const ranges = rangeControls(show);
  let controlCount = 0;
  for (const s of show.surfaces) {
    const profile = expandBanks(profiles.surfaces.get(s.profile)!);
    const own = ranges.get(s.id);
    const whole = own ? { ...profile, controls: [...profile.controls, ...own] } : profile;
    const compiled = compileSurface(s, whole, controlCount);
    surfaces.push(compiled);
    controlCount += whole.controls.length;
  }
  const controlSurface = new Int16Array(controlCount);
  surfaces.forEach((s, i) => {
    controlSurface.fill(i, s.firstControl, s.firstControl + s.profile.controls.length);
  });
  const desks = show.desks.map((d) => compileDesk(d, profiles.desks.get(d.profile)!));
  const house = profiles.desks.get(HOUSE);
  if (house) desks.push(compileDesk(houseDesk, houseProfile(house, show)));

  const surfaceIndex = new Map(surfaces.map((s, i) => [s.id, i]));
  const deskIndex = new Map(desks.map((d, i) => [d.id, i]));
  const layerOf = new Map(show.layers.map((l, i) => [l.id, i]));
  const mappingOf = new Map(show.mappings.map((m, i) => [m.id, i]));
  const controlAt = (surface: string, control: string) => {
    const s = surfaces[surfaceIndex.get(surface)!];
    const own = s?.indexOf.get(control);
    return s && own !== undefined ? s.firstControl + own : -1;
  };
  const count = show.mappings.length;
  const mappingControl = new Int32Array(count);
  const mappingLayers = new Int32Array(count);
  const mappingPageDesk = new Int16Array(count).fill(-1);
  const mappingPages = new Array<ReadonlySet<number> | null>(count).fill(null);
  const mappingTakeover = new Uint8Array(count);
  const mappingOn = new Uint8Array(count);
  const mappingChord = new Int32Array(count).fill(-1);
  const mappingWhen = new Array<readonly CompiledCondition[] | null>(count).fill(null);
  const mappingOrder = new Uint8Array(count);
  const mappingSets = new Array<readonly number[] | null>(count).fill(null);
  const mappingRadio = new Int16Array(count).fill(-1);
  const mappingHoldMs = new Int32Array(count);
  const mappingDoubleMs = new Int32Array(count);
  const radioOf = new Map<string, number>();
  const radioGroups: number[][] = [];
  const modifiers = new Set<number>();
  const actionStart = new Int32Array(count + 1);
  const actions: CompiledAction[] = [];
  const slots: number[][] = Array.from({ length: controlCount * GESTURES }, () => []);
  const said = new Map<string, number>();
  let followsValues = false;
  const clashes: [number, number][] = [];

  show.mappings.forEach((m, i) => {
    const control = controlAt(m.surface, m.control);
    mappingControl[i] = control;
    for (const layer of m.layers) mappingLayers[i]! |= 1 << layerOf.get(layer)!;
    if (m.pages) {
      mappingPageDesk[i] = deskIndex.get(m.pages.desk)!;
      mappingPages[i] = new Set(m.pages.in);
    }
    mappingTakeover[i] = TAKEOVERS[m.takeover];
    mappingOn[i] = m.on ? 1 : 0;
    if (m.whileHeld) {
      mappingChord[i] = controlAt(m.whileHeld.surface, m.whileHeld.control);
      modifiers.add(mappingChord[i]!);
    }
    mappingWhen[i] =
      m.when?.map((c) => {
        const desk = deskIndex.get(c.desk)!;
        return { desk, index: fixedStateIndex(desks[desk]!, c.state, c.parameters), from: c.from, to: c.to };
      }) ?? null;
    mappingOrder[i] = ORDERS[m.order ?? "all"];
    mappingHoldMs[i] = m.times?.holdMs ?? show.settings.times?.holdMs ?? DEFAULT_HOLD_MS;
    mappingDoubleMs[i] = m.times?.doubleMs ?? show.settings.times?.doubleMs ?? DEFAULT_DOUBLE_MS;
    if (m.radio !== undefined) {
      let group = radioOf.get(m.radio);
      if (group === undefined) {
        group = radioGroups.push([]) - 1;
        radioOf.set(m.radio, group);
      }
      mappingRadio[i] = group;
      radioGroups[group]!.push(i);
    }
    slots[control * GESTURES + GESTURE_OF[m.gesture]]!.push(i);
    const key = identity(m);
    const first = said.get(key);
    if (first === undefined) said.set(key, i);
    else clashes.push([first, i]);
    actionStart[i] = actions.length;
    let place = 0;
    for (const action of m.actions) {
      if (!action.on) continue;
      if (hasList(action.bindings))
        for (const bindings of withoutLists(action.bindings)) compileAction(action, i, place, bindings);
      else compileAction(action, i, place, action.bindings);
      place++;
    }
    if (m.order !== undefined && m.order !== "all") {
      const sets = new Set(m.actions.filter((a) => a.on).map((a) => a.set ?? 1));
      mappingSets[i] = [...sets].sort((a, b) => a - b);
    }
  });
  actionStart[count] = actions.length;

  // Every field in its place and no spread: a show has tens of thousands of these (bench row `shaped.compile`).
  function compileAction(action: Action, mapping: number, place: number, bindings: Action["bindings"]): void {
    const desk = desks[deskIndex.get(action.desk)!]!;
    const fn = desk.functions.get(action.function)!;
    const { shape } = action;
    const fine = shape.fine?.while;
    const fineControl = fine && "control" in fine ? controlAt(fine.surface, fine.control) : -1;
    if (fineControl >= 0) modifiers.add(fineControl);
    const free = action.message === undefined ? null : parseFreeMessage(action.message);
    const dynamic = anyDynamic(bindings);
    if (dynamic) followsValues = true;
    actions.push({
      action,
      mapping,
      place,
      set: action.set ?? 1,
      desk,
      fn,
      bindings,
      dynamic,
      range: rangeOf(action, fn, show),
      bends: isBent(shape),
      timed: isTimed(shape),
      fineControl,
      message: free?.ok ? free.message : null,
      targetMapping: action.target === undefined ? -1 : (mappingOf.get(action.target) ?? -1),
    });
  }

  const candidateStart = new Int32Array(slots.length + 1);
  const candidates = new Int32Array(count);
  let at = 0;
  slots.forEach((slot, k) => {
    candidateStart[k] = at;
    // Array.sort is stable: among equally specific mappings the first in the show stays first (rule 12).
    if (slot.length > 1) slot.sort((a, b) => specificity(show.mappings[b]!) - specificity(show.mappings[a]!));
    for (const m of slot) candidates[at++] = m;
  });
  candidateStart[slots.length] = at;

  const groups = show.groups ?? [];
  const groupControls = groups.map((g) => g.controls.map((c) => controlAt(g.surface, c)).filter((c) => c >= 0));
  const groupOf = new Map(groups.map((g, i) => [g.id, i]));
  const actionBindings = new Int32Array(actions.length * MAX_PARAMETERS * BINDING_INTS);
  const names = { bankOf: new Map((show.banks ?? []).map((b, i) => [b.id, i])), deskOf: deskIndex, desks };
  for (let i = 0; i < actions.length; i++) {
    const { fn, bindings } = actions[i]!;
    for (let k = 0; k < fn.parameters.length; k++)
      writeBinding(actionBindings, (i * MAX_PARAMETERS + k) * BINDING_INTS, bindings[fn.parameters[k]!.id]!, names);
  }

  return {
    show,
    surfaces,
    desks,
    house: deskIndex.get(HOUSE) ?? -1,
    controlCount,
    controlSurface,
    candidateStart,
    candidates,
    mappingControl,
    mappingLayers,
    mappingPageDesk,
    mappingPages,
    mappingTakeover,
    mappingOn,
    mappingChord,
    mappingWhen,
    mappingOrder,
    mappingSets,
    mappingRadio,
    radioGroups,
    mappingHoldMs,
    mappingDoubleMs,
    mappingOf,
    actionStart,
    actionBindings,
    actionTable: tableOf(actions, deskIndex),
    actions,
    layerOf,
    layerCovers: show.layers.map((l) =>
      l.group === undefined ? null : new Set(groupControls[groupOf.get(l.group) ?? -1] ?? []),
    ),
    groupControls,
    routes: compileRoutes(show.routes ?? [], surfaceIndex, deskIndex),
    modifiers,
    followsValues: followsValues || modifiers.size > 0 || mappingWhen.some((w) => w !== null),
    clashes,
  };
}

const houseDesk = { id: HOUSE, name: "House", profile: HOUSE, host: "inside", port: 1, listenPort: 1 };

/** Controls that mappings make for whole ranges of messages, by surface. Two mappings may share one. */
function rangeControls(show: Show): Map<string, Control[]> {
  const bySurface = new Map<string, Map<string, Control>>();
  for (const m of show.mappings) {
    if (!m.message) continue;
    const own = bySurface.get(m.surface) ?? new Map<string, Control>();
    bySurface.set(m.surface, own);
    if (!own.has(m.control)) own.set(m.control, rangeControl(m.control, m.message));
  }
  return new Map([...bySurface].map(([id, own]) => [id, [...own.values()]]));
}

export function rangeControl(id: string, message: NonNullable<Mapping["message"]>): Control {
  return {
    id,
    name: id,
    kind: "pad",
    behaviour: message.of === "note" ? "springs-back" : message.of === "controller" ? "absolute" : "one-shot",
    place: { x: 0, y: 0, width: 1e-6, height: 1e-6 },
    sends: message,
  };
}

/** A mapping for one layer, page, condition or chord goes before one that holds more widely. */
function specificity(m: Mapping): number {
  return (m.whileHeld ? 8 : 0) + (m.when ? 4 : 0) + (m.layers.length > 0 ? 2 : 0) + (m.pages ? 1 : 0);
}

function identity(m: Mapping): string {
  let key = `${m.surface} ${m.control} ${m.gesture}`;
  if (m.layers.length > 0) key += ` layers ${[...m.layers].sort().join(",")}`;
  if (m.pages) key += ` pages ${m.pages.desk} ${[...m.pages.in].sort((a, b) => a - b).join(",")}`;
  if (m.whileHeld) key += ` with ${m.whileHeld.surface} ${m.whileHeld.control}`;
  if (m.when) key += ` when ${JSON.stringify(m.when)}`;
  return key;
}

/** A variable that is set has its own range; every other value has its function's. */
function rangeOf(action: Action, fn: CompiledFunction, show: Show): Range | undefined {
  const binding = action.bindings.variable;
  if (action.desk !== HOUSE || fn.fn.id !== "variable.set" || binding?.from !== "fixed") return fn.fn.range;
  const variable = show.variables?.[binding.value - 1];
  return variable ? { from: variable.from, to: variable.to, unit: "none" } : fn.fn.range;
}

function tableOf(actions: readonly CompiledAction[], deskIndex: ReadonlyMap<string, number>): ActionTable {
  const table = new ActionTable(actions.length);
  for (let i = 0; i < actions.length; i++) {
    const a = actions[i]!;
    const { delayMs = 0 } = a.action;
    const flags =
      (a.desk.inside ? A_INSIDE : 0) |
      (a.fn.state?.reported ? A_REPORTED : 0) |
      (a.bends ? A_BENT : 0) |
      (a.dynamic ? A_DYNAMIC : 0) |
      (delayMs > 0 ? A_DELAYED : 0);
    table.set(i, deskIndex.get(a.action.desk)!, ACTS[a.fn.fn.acts], a.mapping, a.place, flags);
    compileShape(table.doubles, table.shapeAt(i), a.action.shape, a.range);
  }
  return table;
}

const bent = new WeakMap<CompiledAction, BentShape>();

/** The bent shape of an action, made at its first use: most of a large show's actions wait for another page. */
export function bentOf(action: CompiledAction): BentShape {
  let made = bent.get(action);
  if (!made) {
    made = bentShape(action.action.shape, action.range);
    bent.set(action, made);
  }
  return made;
}

function anyDynamic(bindings: Action["bindings"]): boolean {
  for (const id in bindings) if (isDynamic(bindings[id]!)) return true;
  return false;
}

function hasList(bindings: Action["bindings"]): boolean {
  for (const id in bindings) if (bindings[id]!.from === "list") return true;
  return false;
}
