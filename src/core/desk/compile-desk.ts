/**
 * A desk profile as tables: every value the desk keeps has one index, and every address it may say is known
 * beforehand, so that hearing a message is one look-up.
 */
import type { DeskFunction, DeskProfile, DeskState, Parameter } from "../format/desk-profile.ts";
import type { Desk } from "../format/show.ts";
import { AddressTree } from "../osc/address-tree.ts";
import { type LineHearing, lineHearings, type MidiHearing, midiHearings } from "./hearing.ts";
import { linePattern } from "./line-pattern.ts";
import { compileMidiPattern, type MidiPattern } from "./midi-pattern.ts";
import { fillTemplate, parseTemplate, type Template } from "./template.ts";
import { wireText } from "./wire-numbers.ts";

export interface CompiledState {
  readonly state: DeskState;
  readonly parameters: readonly Parameter[];
  /** Index of the value for the lowest parameters. */
  readonly base: number;
  readonly count: number;
  /** True where the desk itself tells this state. */
  readonly reported: boolean;
}

export interface CompiledFunction {
  readonly index: number;
  readonly fn: DeskFunction;
  readonly parameters: readonly Parameter[];
  readonly state: CompiledState | null;
  readonly colour: CompiledState | null;
  readonly label: CompiledState | null;
  /** Place of the parameter that its state tells the number of; -1 = none. */
  readonly chosenAt: number;
}

export interface HeardAt {
  readonly state: CompiledState;
  readonly index: number;
}

export interface CompiledDesk {
  readonly id: string;
  readonly desk: Desk;
  readonly profile: DeskProfile;
  readonly inside: boolean;
  readonly states: ReadonlyMap<string, CompiledState>;
  readonly functions: ReadonlyMap<string, CompiledFunction>;
  readonly valueCount: number;
  /** What it says by OSC address, by line and by MIDI message. */
  readonly hears: ReadonlyMap<string, readonly HeardAt[]>;
  /** The same by the parts of their addresses, for patterns. */
  readonly hearsTree: AddressTree<readonly HeardAt[]>;
  readonly hearsLines: readonly LineHearing<CompiledState>[];
  readonly hearsMidi: readonly MidiHearing<CompiledState>[];
  /** Its answer to the heartbeat, where that is a line or a MIDI message; null where there is none. */
  readonly heartLine: Template | null;
  readonly heartMidi: MidiPattern | null;
  /** How it answers each command; null where it does not. */
  readonly replies: { readonly done: Template; readonly refused: Template } | null;
  /** The state that says which page is up; null where the desk has no pages. */
  readonly page: CompiledState | null;
  /** The state that says what is selected; null where the desk has no selection. */
  readonly selection: CompiledState | null;
  readonly pageParameter: Parameter | null;
}

/** The state that the value at `index` belongs to. */
export function stateOfIndex({ states }: CompiledDesk, index: number): CompiledState | null {
  for (const state of states.values()) if (index >= state.base && index < state.base + state.count) return state;
  return null;
}

/** Index of a state's value for these parameter numbers, which the caller has checked against their ranges. */
export function stateIndex(state: CompiledState, values: readonly number[]): number {
  let index = 0;
  for (let i = 0; i < state.parameters.length; i++) {
    const p = state.parameters[i]!;
    index = index * (p.to - p.from + 1) + (values[i]! - p.from);
  }
  return state.base + index;
}

/** The parameter numbers of the value at `index`, the reverse of `stateIndex`. */
export function stateParameters(state: CompiledState, index: number): number[] {
  let rest = index - state.base;
  const values: number[] = new Array<number>(state.parameters.length);
  for (let i = state.parameters.length - 1; i >= 0; i--) {
    const p = state.parameters[i]!;
    const size = p.to - p.from + 1;
    values[i] = p.from + (rest % size);
    rest = Math.floor(rest / size);
  }
  return values;
}

type CompiledProfile = Omit<CompiledDesk, "id" | "desk">;

/** A profile does not change, and its addresses may be tens of thousands: they are made once, not at every edit. */
const compiledProfiles = new WeakMap<DeskProfile, CompiledProfile>();

/** Compiles a profile that `checkDeskProfile` has accepted. */
export function compileDesk(desk: Desk, profile: DeskProfile): CompiledDesk {
  let compiled = compiledProfiles.get(profile);
  if (!compiled) {
    compiled = compileProfile(profile);
    compiledProfiles.set(profile, compiled);
  }
  return { ...compiled, id: desk.id, desk };
}

function compileProfile(profile: DeskProfile): CompiledProfile {
  const parameters = new Map(profile.parameters.map((p) => [p.id, p]));
  const states = new Map<string, CompiledState>();
  const hears = new Map<string, HeardAt[]>();
  let base = 0;
  for (const state of profile.states) {
    const own = state.parameters.map((id) => parameters.get(id)!);
    const count = own.reduce((product, p) => product * (p.to - p.from + 1), 1);
    const compiled: CompiledState = { state, parameters: own, base, count, reported: state.heard !== undefined };
    states.set(state.id, compiled);
    if (state.heard && "address" in state.heard) addAddresses(compiled, state.heard.address, hears);
    base += count;
  }
  const heart = profile.heartbeat?.heard;
  const stateOf = (id: string | undefined) => (id === undefined ? null : (states.get(id) ?? null));
  const functions = new Map(
    profile.functions.map((fn, index): [string, CompiledFunction] => [
      fn.id,
      {
        index,
        fn,
        parameters: fn.parameters.map((id) => parameters.get(id)!),
        state: stateOf(fn.state),
        colour: stateOf(fn.colour),
        label: stateOf(fn.label),
        chosenAt: fn.chosen === undefined ? -1 : fn.parameters.indexOf(fn.chosen),
      },
    ]),
  );
  const isBytes = profile.wire.lineBytes ?? false;
  return {
    profile,
    inside: profile.wire.kind === "inside",
    states,
    functions,
    valueCount: base,
    hears,
    hearsTree: new AddressTree(hears),
    hearsLines: lineHearings(states.values(), isBytes),
    hearsMidi: midiHearings(states.values()),
    heartLine: heart && "line" in heart ? linePattern(heart.line, isBytes) : null,
    heartMidi: heart && "midi" in heart ? compileMidiPattern(heart) : null,
    replies: repliesOf(profile),
    page: stateOf(profile.page?.state),
    selection: stateOf(profile.selection?.state),
    pageParameter: profile.page ? (parameters.get(profile.page.parameter) ?? null) : null,
  };
}

function addAddresses(compiled: CompiledState, text: string, hears: Map<string, HeardAt[]>): void {
  const parsed = parseTemplate(text);
  if (!parsed.ok) return;
  for (let i = 0; i < compiled.count; i++) {
    const index = compiled.base + i;
    const values = stateParameters(compiled, index);
    const address = fillTemplate(parsed.template, (name) => {
      const k = compiled.state.parameters.indexOf(name);
      return wireText(compiled.parameters[k]!, values[k]!);
    });
    const list = hears.get(address);
    if (list) list.push({ state: compiled, index });
    else hears.set(address, [{ state: compiled, index }]);
  }
}

function repliesOf({ replies, wire }: DeskProfile): CompiledDesk["replies"] {
  if (!replies) return null;
  const done = linePattern(replies.done, wire.lineBytes ?? false);
  const refused = linePattern(replies.refused, wire.lineBytes ?? false);
  return done && refused ? { done, refused } : null;
}
