/**
 * Which mapping holds where, right now: pages, layers, chords and conditions resolved to one mapping per control and
 * gesture. What pages and layers decide is made anew when they change; per event it is one look-up.
 */

import { actionText } from "../desk/action-text.ts";
import { stateIndex } from "../desk/compile-desk.ts";
import { GESTURES } from "../format/gestures.ts";
import type { ActionTable } from "../mapping/action-table.ts";
import {
  B_FIXED,
  B_LAYER,
  B_MESSAGE,
  B_PAGE,
  B_SELECTION,
  B_STATE,
  B_STRIP,
  BINDING_INTS,
  MAX_PARAMETERS,
} from "../mapping/bindings.ts";
import type { CompiledShow } from "../mapping/compile.ts";
import type { CompiledAction } from "../mapping/compile-actions.ts";
import type { MappingChange } from "../mapping/recompile.ts";
import { CHORD, NOT_KNOWN } from "../trace/outcome.ts";

export const READY = 0;
export const OUT_OF_RANGE = 1;
export const PAGE_UNKNOWN = 2;
export const SELECTION_UNKNOWN = 3;
/** Its numbers come from the message, and there is none. */
export const NO_MESSAGE = 4;
export const VALUE_UNKNOWN = 5;

/** In the table of what holds: chords or conditions decide. */
export const CONDITIONAL = -2;

/** In the place of a condition that fails: none does. */
const HOLDS = -2;

/** What bindings and conditions ask for while the show runs. */
export interface Facts {
  /** The page that is up at a desk, or null where the desk has not said. */
  page(desk: number): number | null;
  /** What is selected at a desk, or null. */
  selection(desk: number): number | null;
  /** A value of a desk as far as it is known, or NaN. */
  value(desk: number, index: number): number;
  /** Number of the desk's strip at the bank's first. */
  bankFirst(bank: number): number;
  /** True while a control, counted among all of the show, is pressed. */
  isPressed(control: number): boolean;
  /** Channel, number or value of the message in hand, or NaN. */
  messagePart(part: number): number;
  /** The time of day, in seconds since midnight. */
  clockS(): number;
}

/** Where messages are made ready. Whoever only shows what is, as browsers do, makes none: NO_MESSAGES. */
export interface MessageRoom {
  goOnWith(table: ActionTable): void;
  encode(a: number, action: CompiledAction, values: readonly number[], text?: ((value: number) => string) | null): void;
}

export const NO_MESSAGES: MessageRoom = { goOnWith: () => {}, encode: () => {} };

/** What a context is made of beside its show. */
interface ContextTables<M> {
  readonly table: ActionTable;
  readonly messages: M;
  readonly active: Int32Array;
  readonly lookedIn: Int32Array;
  readonly controlLayers: Int16Array;
  readonly layers: readonly number[];
  readonly generation: number;
}

export class Context<M extends MessageRoom = MessageRoom> {
  readonly compiled: CompiledShow;
  readonly messages: M;
  /**
   * For control * GESTURES + gesture: the mapping that holds by page and layer alone; -1 = none, CONDITIONAL = chords
   * or conditions decide, see `mappingAt`.
   */
  readonly active: Int32Array;
  readonly table: ActionTable;
  readonly facts: Facts;
  /** Layers that are up, the lowest first; the base, which is always there, is not among them. */
  layers: readonly number[] = [];
  /** Counts refreshes: what was resolved in an earlier one is stale. */
  generation = 1;
  readonly #layerOf: Int16Array;
  /** For each action the generation in which its numbers were looked at last, without its messages being made. */
  readonly #lookedIn: Int32Array;
  readonly #values: number[] = [0, 0, 0];

  /**
   * `messages` makes the room for messages of its actions. `from`: another context of the same show whose tables it shares,
   * with facts of its own.
   */
  constructor(compiled: CompiledShow, facts: Facts, messages: (table: ActionTable) => M, from?: ContextTables<M>) {
    this.compiled = compiled;
    this.facts = facts;
    this.table = from?.table ?? compiled.actionTable.copy();
    this.messages = from?.messages ?? messages(this.table);
    this.active = from?.active ?? new Int32Array(compiled.controlCount * GESTURES).fill(-1);
    this.#lookedIn = from?.lookedIn ?? new Int32Array(this.table.count);
    this.#layerOf = from?.controlLayers ?? new Int16Array(compiled.controlCount);
    if (!from) return;
    this.layers = from.layers;
    this.generation = from.generation; // what page, layer and bank decided still holds
  }

  /**
   * The context of a show of which a few mappings changed. What was resolved and made ready of all others still holds; the
   * controls of those that changed are resolved anew.
   */
  goingOn(compiled: CompiledShow, change: MappingChange): Context<M> {
    const { from, before, after, actionsFrom, actionsBefore, actionsAfter } = change;
    const moved = after - before;
    const table = change.inPlace
      ? this.table.take(actionsFrom, actionsAfter, compiled.actionTable)
      : this.table.goingOn(compiled.actionTable, actionsFrom, actionsBefore, actionsAfter, moved);
    this.messages.goOnWith(table);
    const lookedIn = change.inPlace ? this.#lookedIn : new Int32Array(table.count);
    if (change.inPlace) lookedIn.fill(0, actionsFrom, actionsFrom + actionsAfter);
    else {
      lookedIn.set(this.#lookedIn.subarray(0, actionsFrom));
      lookedIn.set(this.#lookedIn.subarray(actionsFrom + actionsBefore), actionsFrom + actionsAfter);
    }
    const active = this.active.slice();
    if (moved !== 0)
      for (let slot = 0; slot < active.length; slot++) if (active[slot]! >= from + before) active[slot]! += moved;
    const next = new Context<M>(compiled, this.facts, () => this.messages, {
      table,
      messages: this.messages,
      active,
      lookedIn,
      controlLayers: this.#layerOf,
      layers: this.layers,
      generation: this.generation,
    });
    for (const control of change.controls) next.#refreshControl(control);
    return next;
  }

  /** Takes over the layers that are up, and resolves every control again. */
  refresh(layers: readonly number[]): void {
    this.layers = layers;
    this.generation++;
    for (let control = 0; control < this.compiled.controlCount; control++) {
      this.#layerOf[control] = this.#topLayer(control);
      this.#refreshControl(control);
    }
  }

  #refreshControl(control: number): void {
    const { candidateStart, candidates, mappingOn, mappingChord, mappingWhen } = this.compiled;
    for (let slot = control * GESTURES; slot < (control + 1) * GESTURES; slot++) {
      let found = -1;
      let conditional = false;
      for (let k = candidateStart[slot]!; k < candidateStart[slot + 1]! && found < 0; k++) {
        const m = candidates[k]!;
        if (!mappingOn[m] || !this.#holds(m)) continue;
        if (mappingChord[m]! >= 0 || mappingWhen[m]) conditional = true;
        else found = m;
      }
      this.active[slot] = conditional ? CONDITIONAL : found;
    }
  }

  /** The mapping that holds at a slot now, with chords and conditions; -1 = none. */
  mappingAt(slot: number): number {
    const m = this.active[slot]!;
    return m === CONDITIONAL ? this.#conditionalAt(slot) : m;
  }

  #conditionalAt(slot: number): number {
    const { candidateStart, candidates, mappingOn } = this.compiled;
    for (let k = candidateStart[slot]!; k < candidateStart[slot + 1]!; k++) {
      const m = candidates[k]!;
      if (mappingOn[m] && this.#holds(m) && this.conditionsHold(m)) return m;
    }
    return -1;
  }

  /** True while the chord and the conditions of a mapping hold. */
  conditionsHold(m: number): boolean {
    return this.failedCondition(m) === HOLDS;
  }

  /** Which of the conditions of a mapping does not hold; CHORD: its other control is not held. HOLDS: all of them do. */
  failedCondition(m: number): number {
    const chord = this.compiled.mappingChord[m]!;
    if (chord >= 0 && !this.facts.isPressed(chord)) return CHORD;
    const when = this.compiled.mappingWhen[m];
    if (!when) return HOLDS;
    for (let i = 0; i < when.length; i++) {
      const { desk, index, from, to } = when[i]!;
      const value = this.facts.value(desk, index);
      if (!(value >= from && value <= to)) return i; // which a value that is not known never is
    }
    return HOLDS;
  }

  /** The value that a condition of a mapping finds, or NOT_KNOWN. */
  conditionValue(m: number, i: number): number {
    const condition = this.compiled.mappingWhen[m]?.[i];
    const value = condition ? this.facts.value(condition.desk, condition.index) : Number.NaN;
    return Number.isNaN(value) ? NOT_KNOWN : value;
  }

  get lookedIn(): Int32Array {
    return this.#lookedIn;
  }

  get controlLayers(): Int16Array {
    return this.#layerOf;
  }

  /** Index of the layer that is up for a control of the show. */
  layerAt(control: number): number {
    return this.#layerOf[control]!;
  }

  /**
   * Where action a leads with the present pages, for who shows it: its status, and in the table its state. Its messages are
   * not made ready, because most of what is shown is not fired before the next change.
   */
  look(a: number): number {
    const isKnown = this.table.resolvedIn(a) === this.generation || this.#lookedIn[a] === this.generation;
    if (!isKnown || this.table.dynamic(a)) this.#lookAnew(a);
    return this.table.status(a);
  }

  /** Makes action a ready to fire with the present pages; only the first call after a change does any work. */
  resolve(a: number): number {
    if (this.table.resolvedIn(a) !== this.generation || this.table.dynamic(a)) this.#resolveAnew(a);
    return this.table.status(a);
  }

  /** The numbers of action a, by its parameters; only after `resolve` said READY. */
  numbers(a: number): number[] {
    const { parameters } = this.compiled.actions[a]!.fn;
    this.#bind(a);
    return parameters.map((_, k) => this.#values[k]!);
  }

  /** The number that action a chooses at its desk, where its state tells what is chosen; else null. */
  chosen(a: number): number | null {
    const { chosenAt } = this.compiled.actions[a]!.fn;
    return chosenAt >= 0 && this.#bind(a) === READY ? this.#values[chosenAt]! : null;
  }

  /** Why nothing holds at this slot: a mapping of it that is off, or one that holds elsewhere; -1 = none at all. */
  nearest(slot: number): { mapping: number; off: boolean } {
    const { candidateStart, candidates, mappingOn } = this.compiled;
    let elsewhere = -1;
    for (let k = candidateStart[slot]!; k < candidateStart[slot + 1]!; k++) {
      const m = candidates[k]!;
      if (this.#holds(m)) {
        if (!mappingOn[m]) return { mapping: m, off: true };
        if (!this.conditionsHold(m)) return { mapping: m, off: false };
      }
      if (elsewhere < 0) elsewhere = m;
    }
    return { mapping: elsewhere, off: false };
  }

  #topLayer(control: number): number {
    for (let i = this.layers.length - 1; i >= 0; i--) {
      const covers = this.compiled.layerCovers[this.layers[i]!];
      if (!covers || covers.has(control)) return this.layers[i]!;
    }
    return 0;
  }

  #holds(m: number): boolean {
    const layers = this.compiled.mappingLayers[m]!;
    if (layers !== 0 && (layers & (1 << this.#layerOf[this.compiled.mappingControl[m]!]!)) === 0) return false;
    const pages = this.compiled.mappingPages[m];
    if (!pages) return true;
    const page = this.facts.page(this.compiled.mappingPageDesk[m]!);
    return page !== null && pages.has(page);
  }

  #resolveAnew(a: number): void {
    const isReady = this.#lookAnew(a) === READY;
    this.table.setResolvedIn(a, this.generation);
    if (isReady) this.messages.encode(a, this.compiled.actions[a]!, this.#values, this.textOf(a));
  }

  /** What action a says in words for a value, with the page that is up now; null = its function takes no text. */
  textOf(a: number): ((value: number) => string) | null {
    const { action, fn } = this.compiled.actions[a]!;
    if (fn.fn.text === undefined) return null;
    const { text = fn.fn.text } = action;
    const facts = { name: this.#nameOf(this.table.mapping(a)), page: this.facts.page(this.table.desk(a)) };
    return (value) => actionText(text, facts, value);
  }

  #nameOf(m: number): string {
    const { name, surface, control } = this.compiled.show.mappings[m]!;
    if (name) return name;
    const { profile } = this.compiled.surfaces.find((s) => s.id === surface)!;
    return profile.controls.find((c) => c.id === control)?.name ?? control;
  }

  #lookAnew(a: number): number {
    this.#lookedIn[a] = this.generation;
    const status = this.#bind(a);
    const { fn } = this.compiled.actions[a]!;
    const { state } = fn;
    const index =
      status === READY && state ? stateIndex(state, this.#valuesFor(fn.fn.parameters, state.state.parameters)) : -1;
    this.table.setLooked(a, status, index);
    return status;
  }

  /** Numbers of action a into `#values`; a status other than READY where one of them is not to be had. */
  #bind(a: number): number {
    const { parameters } = this.compiled.actions[a]!.fn;
    const { facts } = this;
    const table = this.compiled.actionBindings;
    for (let k = 0; k < parameters.length; k++) {
      const at = (a * MAX_PARAMETERS + k) * BINDING_INTS;
      const offset = table[at + 3]!;
      let value: number;
      let missing = READY;
      switch (table[at]) {
        case B_FIXED:
          value = table[at + 1]!;
          break;
        case B_PAGE:
          value = facts.page(this.table.desk(a)) ?? Number.NaN;
          missing = PAGE_UNKNOWN;
          break;
        case B_SELECTION:
          value = facts.selection(this.table.desk(a)) ?? Number.NaN;
          missing = SELECTION_UNKNOWN;
          break;
        case B_STRIP:
          value = facts.bankFirst(table[at + 1]!) + table[at + 2]!;
          break;
        case B_MESSAGE:
          value = facts.messagePart(table[at + 1]!);
          if (Number.isNaN(value)) this.table.setWrong(a, k, table[at + 1]!);
          missing = NO_MESSAGE;
          break;
        case B_LAYER:
          value = this.layerAt(this.compiled.mappingControl[this.table.mapping(a)]!) + 1;
          break;
        case B_STATE:
          value = facts.value(table[at + 1]!, table[at + 2]!);
          missing = VALUE_UNKNOWN;
          break;
        default:
          value = Number.NaN;
      }
      if (Number.isNaN(value)) return missing;
      value = Math.round(value + offset);
      const parameter = parameters[k]!;
      if (value < parameter.from || value > parameter.to) {
        this.table.setWrong(a, k, value);
        return OUT_OF_RANGE;
      }
      this.#values[k] = value;
    }
    return READY;
  }

  /** Numbers of the function's parameters, in the order a state counts them. */
  #valuesFor(own: readonly string[], wanted: readonly string[]): number[] {
    return wanted.map((id) => this.#values[own.indexOf(id)]!);
  }

  /** Index of another state with the parameters of action a: its colour or name. -1 where there is none. */
  sibling(a: number, which: "colour" | "label"): number {
    const fn = this.compiled.actions[a]!.fn;
    const state = fn[which];
    if (!state || this.#bind(a) !== READY) return -1;
    return stateIndex(state, this.#valuesFor(fn.fn.parameters, state.state.parameters));
  }
}
