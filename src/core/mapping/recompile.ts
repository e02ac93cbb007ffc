/**
 * A show of which a few mappings changed, compiled from the tables of the show before: what lies before and behind them is
 * taken over, and only they are compiled. It is what `compileShow` makes of it, byte for byte (recompile.test.ts), in a
 * small part of the time, so that an edit does not hold up the presses that come meanwhile.
 */
import { GESTURE, GESTURES } from "../format/gestures.ts";
import type { Profiles } from "../format/profiles.ts";
import type { Mapping, Show } from "../format/show.ts";
import { BINDING_INTS, MAX_PARAMETERS } from "./bindings.ts";
import type { CompiledShow } from "./compile.ts";
import type { ActionCompiler } from "./compile-actions.ts";
import { MappingIndexes } from "./mapping-indexes.ts";
import { clashesOfSlot, inOrder, MappingTables, type Slots, sortSlot } from "./mapping-tables.ts";
import { ShowIndexes } from "./show-indexes.ts";

/** More mappings than this at once, and the whole show is compiled. */
const MOST_CHANGED = 64;

/** What a compiled show has other than the one before: for who goes on from there. */
export interface MappingChange {
  /** From this mapping on, `before` of the old ones gave way to `after` new ones; those behind them moved. */
  readonly from: number;
  readonly before: number;
  readonly after: number;
  /** The same of their actions. */
  readonly actionsFrom: number;
  readonly actionsBefore: number;
  readonly actionsAfter: number;
  /** Controls, among all of the show, where one of the mappings stands or stood. */
  readonly controls: readonly number[];
  /** The largest tables are those of the show before, with what is new written into them: that one is over. */
  readonly inPlace: boolean;
}

export interface Recompiled {
  readonly compiled: CompiledShow;
  readonly change: MappingChange;
}

/** Which mappings differ: from `from` on, `before` of the old ones gave way to `after` new ones. */
interface Gap {
  readonly from: number;
  readonly before: number;
  readonly after: number;
}

export interface RecompileOptions {
  /** Nobody goes on with the show before, so its largest tables may become those of this one. */
  readonly reuse?: boolean;
  /** Of how many mappings at most. */
  readonly most?: number;
}

/** Null: more than a few mappings changed, or something that others hang on; then the show is to be compiled anew. */
export function recompile(
  old: CompiledShow,
  show: Show,
  given: Profiles,
  { reuse = false, most = MOST_CHANGED }: RecompileOptions = {},
): Recompiled | null {
  if (old.given !== given || !onlyMappingsDiffer(old.show, show)) return null;
  const gap = gapOf(old.show.mappings, show.mappings);
  const left = old.show.mappings.slice(gap.from, gap.from + gap.before);
  const come = show.mappings.slice(gap.from, gap.from + gap.after);
  if (Math.max(gap.before, gap.after) > most || [...left, ...come].some(hangsTogether)) return null;
  const names = new ShowIndexes({ ...show, mappings: [] }, old.surfaces, old.desks);
  const middle = new MappingTables({ ...show, mappings: come }, names);
  come.forEach((m, i) => {
    middle.add(m, i);
  });
  const inPlace =
    reuse &&
    gap.before === gap.after &&
    old.actionStart[gap.from + gap.before]! - old.actionStart[gap.from]! === middle.compiler.actions.length;
  const compiled = joined(old, show, gap, left, come, middle, inPlace);
  const starts = (of: CompiledShow, count: number) => of.actionStart[gap.from + count]! - of.actionStart[gap.from]!;
  const controls = new Set([
    ...old.mappingControl.subarray(gap.from, gap.from + gap.before),
    ...compiled.mappingControl.subarray(gap.from, gap.from + gap.after),
  ]);
  return {
    compiled,
    change: {
      ...gap,
      actionsFrom: old.actionStart[gap.from]!,
      actionsBefore: starts(old, gap.before),
      actionsAfter: starts(compiled, gap.after),
      controls: [...controls],
      inPlace,
    },
  };
}

/** Whether what changed, by the paths in the show, can be put in by `recompile`; of other things it compiles anew. */
export function isOfFewMappings(paths: readonly (readonly (string | number)[])[]): boolean {
  const changed = new Set<unknown>();
  for (const [list, at] of paths) {
    if (list === "name") continue;
    if (list !== "mappings" || at === undefined) return false;
    changed.add(at); // a place, or “length” where the last ones go
  }
  return changed.size <= MOST_CHANGED;
}

/** Everything but the list of mappings is the same, as the same objects. */
function onlyMappingsDiffer(old: Show, show: Show): boolean {
  const keys = new Set([...Object.keys(old), ...Object.keys(show)]) as Set<keyof Show>;
  for (const key of keys) if (key !== "mappings" && key !== "name" && old[key] !== show[key]) return false;
  return true;
}

/** Its control is made by it, or it is one of a group: others change with it. */
function hangsTogether(m: Mapping): boolean {
  return m.message !== undefined || m.radio !== undefined;
}

function gapOf(old: readonly Mapping[], now: readonly Mapping[]): Gap {
  const shorter = Math.min(old.length, now.length);
  let from = 0;
  while (from < shorter && old[from] === now[from]) from++;
  let behind = 0;
  while (behind < shorter - from && old[old.length - 1 - behind] === now[now.length - 1 - behind]) behind++;
  return { from, before: old.length - from - behind, after: now.length - from - behind };
}

function joined(
  old: CompiledShow,
  show: Show,
  gap: Gap,
  left: readonly Mapping[],
  come: readonly Mapping[],
  middle: MappingTables,
  inPlace: boolean,
): CompiledShow {
  const own = middle.tables();
  const { compiler } = middle;
  const moved = gap.after - gap.before;
  const ints = <T extends Int32Array | Int16Array | Uint8Array>(a: T, b: T) => spliced(a, b, gap.from, gap.before);
  const list = <T>(a: readonly T[], b: readonly T[]) => splicedList(a, b, gap.from, gap.before);
  const mappingControl = ints(old.mappingControl, own.mappingControl);
  const mappingWhen = list(old.mappingWhen, own.mappingWhen);
  const mappingChord = ints(old.mappingChord, own.mappingChord);

  const firstAction = old.actionStart[gap.from]!;
  const actionsBefore = old.actionStart[gap.from + gap.before]! - firstAction;
  const perAction = MAX_PARAMETERS * BINDING_INTS;
  const hadPart = hasPart(old, gap); // before anything is written over
  const actionTable = inPlace
    ? old.actionTable.put(firstAction, compiler.table(), gap.from)
    : old.actionTable.spliced(firstAction, actionsBefore, compiler.table(), gap.from, moved);
  const ownBindings = compiler.bindings();
  if (inPlace) old.actionBindings.set(ownBindings, firstAction * perAction);
  const actions = splicedList(old.actions, compiler.actions, firstAction, actionsBefore);

  const sameIds = moved === 0 && left.every((m, i) => m.id === come[i]!.id);
  const mappingOn = ints(old.mappingOn, own.mappingOn);
  const slots = slotsOf(old, show, gap, mappingControl, mappingOn);
  const follows = followsOf(old, compiler, gap, hadPart, { mappingChord, mappingWhen, actions, actionTable });
  return {
    ...old,
    show,
    candidateStart: slots.candidateStart,
    candidates: slots.candidates,
    clashes: slots.clashes,
    mappingControl,
    mappingChord,
    mappingWhen,
    mappingLayers: ints(old.mappingLayers, own.mappingLayers),
    mappingPageDesk: ints(old.mappingPageDesk, own.mappingPageDesk),
    mappingPages: list(old.mappingPages, own.mappingPages),
    mappingTakeover: ints(old.mappingTakeover, own.mappingTakeover),
    mappingOn,
    mappingOrder: ints(old.mappingOrder, own.mappingOrder),
    mappingSets: list(old.mappingSets, own.mappingSets),
    mappingRadio: ints(old.mappingRadio, own.mappingRadio),
    radioGroups:
      moved === 0
        ? old.radioGroups
        : old.radioGroups.map((group) => group.map((m) => (m >= gap.from + gap.before ? m + moved : m))),
    mappingHoldMs: ints(old.mappingHoldMs, own.mappingHoldMs),
    mappingDoubleMs: ints(old.mappingDoubleMs, own.mappingDoubleMs),
    mappingOf: sameIds ? old.mappingOf : new MappingIndexes(show.mappings),
    actionStart: startsOf(old.actionStart, own.actionStart, gap),
    actionBindings: inPlace
      ? old.actionBindings
      : spliced(old.actionBindings, ownBindings, firstAction * perAction, actionsBefore * perAction),
    actionTable,
    actions,
    ...follows,
  };
}

/** The candidates and clashes of all slots; only those are made anew at which one of the mappings stands or stood. */
function slotsOf(
  old: CompiledShow,
  show: Show,
  { from, before, after }: Gap,
  controls: Int32Array,
  isOn: Uint8Array,
): Slots & Pick<CompiledShow, "clashes"> {
  const moved = after - before;
  const behind = from + before;
  /** By slot: those that stand there now, of the ones that came. */
  const touched = new Map<number, number[]>();
  const slotAt = (mappings: readonly Mapping[], own: Int32Array, m: number) =>
    own[m]! * GESTURES + GESTURE[mappings[m]!.gesture].code;
  for (let m = from; m < behind; m++) touched.set(slotAt(old.show.mappings, old.mappingControl, m), []);
  for (let m = from; m < from + after; m++) {
    const slot = slotAt(show.mappings, controls, m);
    const come = touched.get(slot);
    if (come) come.push(m);
    else touched.set(slot, [m]);
  }
  const clashes: [number, number][] = [];
  const shifted = (m: number) => (m >= behind ? m + moved : m);
  for (const [first, m] of old.clashes)
    if (!touched.has(slotAt(old.show.mappings, old.mappingControl, m))) clashes.push([shifted(first), shifted(m)]);
  // One in the place of another at the same slot: nothing moves.
  if (before === 1 && after === 1 && touched.size === 1) {
    const candidates = old.candidates.slice();
    const [slot] = touched.keys();
    settleSlot(show.mappings, isOn, candidates, old.candidateStart[slot!]!, old.candidateStart[slot! + 1]!, clashes);
    return { candidateStart: old.candidateStart, candidates, clashes: inOrder(clashes) };
  }
  const candidateStart = new Int32Array(old.candidateStart.length);
  const candidates = new Int32Array(show.mappings.length);
  let at = 0;
  for (let slot = 0; slot + 1 < candidateStart.length; slot++) {
    candidateStart[slot] = at;
    const come = touched.get(slot);
    for (let k = old.candidateStart[slot]!; k < old.candidateStart[slot + 1]!; k++) {
      const m = old.candidates[k]!;
      if (m < from) candidates[at++] = m;
      else if (m >= behind) candidates[at++] = m + moved;
    }
    if (!come) continue;
    for (const m of come) candidates[at++] = m;
    settleSlot(show.mappings, isOn, candidates, candidateStart[slot]!, at, clashes);
  }
  candidateStart[candidateStart.length - 1] = at;
  return { candidateStart, candidates, clashes: inOrder(clashes) };
}

function settleSlot(
  mappings: readonly Mapping[],
  isOn: Uint8Array,
  candidates: Int32Array,
  from: number,
  to: number,
  clashes: [number, number][],
): void {
  candidates.subarray(from, to).sort();
  sortSlot(mappings, candidates, from, to);
  clashesOfSlot(mappings, isOn, candidates, from, to, clashes);
}

type Follows = Pick<CompiledShow, "modifiers" | "followsValues">;

/** Whether one of the mappings that went lets presses or values change what holds. */
function hasPart({ mappingChord, mappingWhen, actionStart, actionTable, actions }: CompiledShow, gap: Gap): boolean {
  const behind = gap.from + gap.before;
  for (let m = gap.from; m < behind; m++) if (mappingChord[m]! >= 0 || mappingWhen[m] !== null) return true;
  for (let a = actionStart[gap.from]!; a < actionStart[behind]!; a++)
    if (actionTable.dynamic(a) || actions[a]!.fineControl >= 0) return true;
  return false;
}

/** Whether presses and values change what holds. Where the mappings that went had no part in it, the others are not asked. */
function followsOf(
  old: CompiledShow,
  { modifiers, followsValues }: Pick<ActionCompiler, "modifiers" | "followsValues">,
  { from, after }: Gap,
  hadPart: boolean,
  now: Pick<CompiledShow, "mappingChord" | "mappingWhen" | "actions" | "actionTable">,
): Follows {
  if (hadPart) {
    const all = modifiersOf(now.mappingChord, now.actions);
    const isDynamic = now.actionTable.hasDynamic || now.mappingWhen.some((w) => w !== null);
    return { modifiers: all, followsValues: isDynamic || all.size > 0 };
  }
  const all = modifiers.size === 0 ? old.modifiers : new Set([...old.modifiers, ...modifiers]);
  const conditions = now.mappingWhen.slice(from, from + after).some((w) => w !== null);
  return { modifiers: all, followsValues: old.followsValues || followsValues || conditions || all.size > 0 };
}

function modifiersOf(chords: Int32Array, actions: CompiledShow["actions"]): Set<number> {
  const found = new Set<number>();
  for (const control of chords) if (control >= 0) found.add(control);
  for (const { fineControl } of actions) if (fineControl >= 0) found.add(fineControl);
  return found;
}

/** First actions of all mappings, and the number of actions. */
function startsOf(old: Int32Array, middle: Int32Array, { from, before, after }: Gap): Int32Array {
  const made = new Int32Array(old.length - before + after);
  made.set(old.subarray(0, from));
  const first = old[from]!;
  for (let i = 0; i < after; i++) made[from + i] = first + middle[i]!;
  const moved = first + middle[after]! - old[from + before]!;
  for (let i = from + before; i < old.length; i++) made[i - before + after] = old[i]! + moved;
  return made;
}

function spliced<T extends Int32Array | Int16Array | Uint8Array>(old: T, middle: T, from: number, before: number): T {
  const make = old.constructor as new (length: number) => T;
  const made = new make(old.length - before + middle.length);
  made.set(old.subarray(0, from));
  made.set(middle, from);
  made.set(old.subarray(from + before), from + middle.length);
  return made;
}

function splicedList<T>(old: readonly T[], middle: readonly T[], from: number, before: number): readonly T[] {
  const made = old.slice();
  made.splice(from, before, ...middle);
  return made;
}
