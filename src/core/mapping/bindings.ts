/**
 * Bindings as numbers (rule 10): where each parameter of an action comes from, as four whole numbers, resolved at the
 * moment of the action.
 */
import { type CompiledDesk, stateIndex } from "../desk/compile-desk.ts";
import type { Binding } from "../format/shape.ts";
import { partNumber } from "../midi/message-parts.ts";

export const B_FIXED = 0;
export const B_PAGE = 1;
export const B_SELECTION = 2;
/** a = bank, b = strip counted from 0. */
export const B_STRIP = 3;
/** a = part of the message (midi/message-parts.ts). */
export const B_MESSAGE = 4;
export const B_LAYER = 5;
/** a = desk, b = index of the value. */
export const B_STATE = 6;

/** Numbers of one binding: kind, a, b, offset. */
export const BINDING_INTS = 4;
/** Parameters a function can have. */
export const MAX_PARAMETERS = 3;

/** Bindings that may differ from one message to the next, and so are resolved for each. */
export function isDynamic(binding: Binding): boolean {
  return binding.from === "message" || binding.from === "state";
}

export interface BindingNames {
  readonly bankOf: ReadonlyMap<string, number>;
  readonly deskOf: ReadonlyMap<string, number>;
  readonly desks: readonly CompiledDesk[];
}

/** Writes a binding that `checkShow` has accepted. A list has been taken apart before. */
export function writeBinding(table: Int32Array, at: number, binding: Binding, names: BindingNames): void {
  switch (binding.from) {
    case "fixed":
      write(table, at, B_FIXED, binding.value, 0, 0);
      return;
    case "page":
      write(table, at, B_PAGE, 0, 0, 0);
      return;
    case "selection":
      write(table, at, B_SELECTION, 0, 0, 0);
      return;
    case "strip":
      write(table, at, B_STRIP, names.bankOf.get(binding.bank)!, binding.strip - 1, 0);
      return;
    case "message":
      write(table, at, B_MESSAGE, partNumber(binding.part), 0, binding.offset);
      return;
    case "layer":
      write(table, at, B_LAYER, 0, 0, binding.offset);
      return;
    case "state": {
      const d = names.deskOf.get(binding.desk)!;
      write(table, at, B_STATE, d, fixedStateIndex(names.desks[d]!, binding.state, binding.parameters), binding.offset);
      return;
    }
    case "list":
      write(table, at, B_FIXED, binding.values[0]!, 0, 0);
      return;
    default:
      binding satisfies never;
  }
}

function write(table: Int32Array, at: number, kind: number, a: number, b: number, offset: number): void {
  table[at] = kind;
  table[at + 1] = a;
  table[at + 2] = b;
  table[at + 3] = offset;
}

/** Index of a state's value for fixed parameters; those that are left out are the lowest. */
export function fixedStateIndex(desk: CompiledDesk, id: string, parameters: Record<string, number> = {}): number {
  const state = desk.states.get(id)!;
  return stateIndex(
    state,
    state.parameters.map((p) => parameters[p.id] ?? p.from),
  );
}

/** Every way to take one number of each list: the bindings of the actions that one action with lists stands for. */
export function withoutLists(bindings: Record<string, Binding>): Record<string, Binding>[] {
  let all: Record<string, Binding>[] = [{}];
  for (const [id, binding] of Object.entries(bindings)) {
    const choices: Binding[] =
      binding.from === "list" ? binding.values.map((value) => ({ from: "fixed", value })) : [binding];
    all = all.flatMap((one) => choices.map((choice) => ({ ...one, [id]: choice })));
  }
  return all;
}
