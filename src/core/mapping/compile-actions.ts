/** The actions of a show as tables: what fires, with which numbers, and the record that the hot path reads. */
import type { CompiledDesk, CompiledFunction } from "../desk/compile-desk.ts";
import { type FreeMessage, type FreeTarget, parseFreeMessage, TO_SURFACE, toDesk } from "../desk/free-message.ts";
import type { Acts, Range } from "../format/desk-profile.ts";
import { HOUSE } from "../format/givens.ts";
import type { Binding } from "../format/shape.ts";
import type { Action, Show } from "../format/show.ts";
import { type BentShape, bentShape, isBent, isTimed } from "../shape/bent.ts";
import { compileShape } from "../shape/linear.ts";
import { A_BENT, A_DELAYED, A_DYNAMIC, A_INSIDE, A_REPORTED, ActionTable } from "./action-table.ts";
import { BINDING_INTS, isDynamic, MAX_PARAMETERS, withoutLists, writeBinding } from "./bindings.ts";

export const ACTS: Record<Acts, number> = { level: 0, trigger: 1, toggle: 2, flash: 3 };
export const LEVEL = 0;
export const TRIGGER = 1;
export const TOGGLE = 2;
export const FLASH = 3;

/**
 * One action; an action with lists of numbers is one for each of them. It knows no index of a mapping, because those move
 * when another mapping comes or goes: the table has it.
 */
export interface CompiledAction {
  readonly action: Action;
  /** Which of its mapping's actions it is, counted from 0 over those that are on. */
  readonly nth: number;
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
}

export interface ActionNames {
  readonly show: Show;
  readonly desks: readonly CompiledDesk[];
  readonly deskIndex: ReadonlyMap<string, number>;
  /** A control among all of the show; -1 = none. */
  controlAt(surface: string, control: string): number;
}

export class ActionCompiler {
  readonly actions: CompiledAction[] = [];
  /** Controls that make moves fine while they are held. */
  readonly modifiers = new Set<number>();
  /** True where the numbers of some action may change with a value of a desk. */
  followsValues = false;
  readonly #names: ActionNames;
  /** The mapping of each action. */
  readonly #mappings: number[] = [];

  constructor(names: ActionNames) {
    this.#names = names;
  }

  /** Adds an action, once for each number of its lists. */
  add(action: Action, mapping: number, nth: number): void {
    if (!hasList(action.bindings)) this.#add(action, mapping, nth, action.bindings);
    else for (const bindings of withoutLists(action.bindings)) this.#add(action, mapping, nth, bindings);
  }

  // Every field in its nth and no spread: a show has tens of thousands of these (bench row `shaped.compile`).
  #add(action: Action, mapping: number, nth: number, bindings: Action["bindings"]): void {
    const { show, desks, deskIndex } = this.#names;
    const desk = desks[deskIndex.get(action.desk)!]!;
    const fn = desk.functions.get(action.function)!;
    const { shape } = action;
    const fine = shape.fine?.while;
    const fineControl = fine && "control" in fine ? this.#names.controlAt(fine.surface, fine.control) : -1;
    if (fineControl >= 0) this.modifiers.add(fineControl);
    const free =
      action.message === undefined ? null : parseFreeMessage(action.message, freeTarget(action, desks, deskIndex));
    const dynamic = anyDynamic(bindings);
    if (dynamic) this.followsValues = true;
    const range = rangeOf(action, fn, show);
    this.#mappings.push(mapping);
    this.actions.push({
      action,
      nth,
      set: action.set ?? 1,
      desk,
      fn,
      bindings,
      dynamic,
      range,
      bends: isBent(shape, range),
      timed: isTimed(shape),
      fineControl,
      message: free?.ok ? free.message : null,
    });
  }

  /** The bindings of all actions, `BINDING_INTS` numbers for each of `MAX_PARAMETERS`. */
  bindings(): Int32Array {
    const { show, deskIndex, desks } = this.#names;
    const names = { bankOf: new Map((show.banks ?? []).map((b, i) => [b.id, i])), deskOf: deskIndex, desks };
    const table = new Int32Array(this.actions.length * MAX_PARAMETERS * BINDING_INTS);
    for (let i = 0; i < this.actions.length; i++) {
      const { fn, bindings } = this.actions[i]!;
      for (let k = 0; k < fn.parameters.length; k++)
        writeBinding(table, (i * MAX_PARAMETERS + k) * BINDING_INTS, bindings[fn.parameters[k]!.id]!, names);
    }
    return table;
  }

  table(): ActionTable {
    const table = new ActionTable(this.actions.length);
    for (let i = 0; i < this.actions.length; i++) {
      const a = this.actions[i]!;
      const { delayMs = 0 } = a.action;
      const flags =
        (a.desk.inside ? A_INSIDE : 0) |
        (a.fn.state?.reported ? A_REPORTED : 0) |
        (a.bends ? A_BENT : 0) |
        (a.dynamic ? A_DYNAMIC : 0) |
        (delayMs > 0 ? A_DELAYED : 0);
      table.set(i, this.#names.deskIndex.get(a.action.desk)!, ACTS[a.fn.fn.acts], this.#mappings[i]!, a.nth, flags);
      compileShape(table.doubles, table.shapeAt(i), a.action.shape, a.range);
    }
    return table;
  }
}

/** What a message of one's own is written for: the desk it goes to, or else a surface. */
export function freeTarget(
  { target = "" }: Action,
  desks: readonly CompiledDesk[],
  deskIndex: ReadonlyMap<string, number>,
): FreeTarget {
  const desk = desks[deskIndex.get(target) ?? -1];
  return desk ? toDesk(desk.profile.wire) : TO_SURFACE;
}

/** A variable that is set has its own range; every other value has its function's. */
function rangeOf(action: Action, fn: CompiledFunction, show: Show): Range | undefined {
  const binding = action.bindings.variable;
  if (action.desk !== HOUSE || fn.fn.id !== "variable.set" || binding?.from !== "fixed") return fn.fn.range;
  const variable = show.variables?.[binding.value - 1];
  return variable ? { from: variable.from, to: variable.to, unit: "none" } : fn.fn.range;
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
