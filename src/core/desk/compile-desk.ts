/**
 * A desk profile as tables: every value the desk keeps has one index, and every address it may say is known
 * beforehand, so that hearing a message is one look-up.
 */
import type { DeskFunction, DeskProfile, DeskState, Parameter } from "../show/desk-profile.ts";
import type { Problem } from "../show/problem.ts";
import type { Desk } from "../show/show.ts";
import { midiTemplateFaults } from "./midi-template.ts";
import { fillTemplate, parseTemplate, wholeName } from "./template.ts";

/** Values one desk may keep, over all its states and their parameters. */
export const MAX_DESK_VALUES = 65_536;

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
  readonly hears: ReadonlyMap<string, readonly HeardAt[]>;
  /** The state that says which page is up; null where the desk has no pages. */
  readonly page: CompiledState | null;
  /** The state that says what is selected; null where the desk has no selection. */
  readonly selection: CompiledState | null;
  readonly pageParameter: Parameter | null;
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
    if (state.heard) addAddresses(compiled, state.heard.address, hears);
    base += count;
  }
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
      },
    ]),
  );
  return {
    profile,
    inside: profile.wire.kind === "inside",
    states,
    functions,
    valueCount: base,
    hears,
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
    const address = fillTemplate(parsed.template, (name) => values[compiled.state.parameters.indexOf(name)]!);
    const list = hears.get(address);
    if (list) list.push({ state: compiled, index });
    else hears.set(address, [{ state: compiled, index }]);
  }
}

/** Everything in a profile that Zod cannot see: names that lead nowhere, names twice, addresses that overlap. */
export function checkDeskProfile(profile: DeskProfile): Problem[] {
  const problems: Problem[] = [];
  const parameters = new Set(profile.parameters.map((p) => p.id));
  const states = new Map(profile.states.map((s) => [s.id, s]));
  twice(profile.parameters, "parameter", ["parameters"]);
  twice(profile.states, "state", ["states"]);
  twice(profile.functions, "function", ["functions"]);

  profile.parameters.forEach((p, i) => {
    needState(p.names, ["parameters", i, "names"]);
  });
  let values = 0;
  const addresses = new Map<string, string>();
  profile.states.forEach((s, i) => {
    const path = ["states", i] as const;
    const sizes = s.parameters.map((id, k) => {
      needParameter(id, [...path, "parameters", k]);
      const p = profile.parameters.find((q) => q.id === id);
      return p ? p.to - p.from + 1 : 1;
    });
    values += sizes.reduce((a, b) => a * b, 1);
    if (!s.heard) return;
    checkTemplate(s.heard.address, s.parameters, [...path, "heard", "address"]);
    const key = `${s.heard.address.replaceAll(/\{[^}]*\}/g, "{}")} ${s.heard.argument}`;
    const other = addresses.get(key);
    if (other !== undefined)
      problems.push({
        code: "template",
        path: [...path, "heard", "address"],
        detail: `“${s.heard.address}” is already heard by the state “${other}”.`,
      });
    addresses.set(key, s.id);
  });
  if (values > MAX_DESK_VALUES)
    problems.push({
      code: "out-of-range",
      path: ["states"],
      what: "the number of values",
      value: values,
      from: 0,
      to: MAX_DESK_VALUES,
    });

  profile.functions.forEach((f, i) => {
    const path = ["functions", i] as const;
    f.parameters.forEach((id, k) => {
      needParameter(id, [...path, "parameters", k]);
    });
    for (const key of ["state", "colour", "label"] as const) {
      needState(f[key], [...path, key]);
      const state = f[key] === undefined ? undefined : states.get(f[key]);
      state?.parameters.forEach((id) => {
        if (!f.parameters.includes(id)) unknown("parameter of this function", id, [...path, key]);
      });
    }
    f.send.forEach((m, k) => {
      checkMessage(m, [...f.parameters, "value"], [...path, "send", k]);
    });
    f.off?.forEach((m, k) => {
      checkMessage(m, [...f.parameters, "value"], [...path, "off", k]);
    });
  });
  needState(profile.page?.state, ["page", "state"]);
  needState(profile.selection?.state, ["selection", "state"]);
  if (profile.selection) needParameter(profile.selection.parameter, ["selection", "parameter"]);
  const setsPage = profile.page?.set;
  if (setsPage !== undefined && !profile.functions.some((f) => f.id === setsPage && f.parameters.length === 1))
    unknown("function with the page as its only parameter", setsPage, ["page", "set"]);
  if (profile.page) needParameter(profile.page.parameter, ["page", "parameter"]);
  profile.query.forEach((m, k) => {
    checkMessage(m, [], ["query", k]);
  });
  profile.subscribe?.send.forEach((m, k) => {
    checkMessage(m, [], ["subscribe", "send", k]);
  });
  profile.heartbeat?.send.forEach((m, k) => {
    checkMessage(m, ["pulse"], ["heartbeat", "send", k]);
  });
  return problems;

  function unknown(what: string, id: string, path: Problem["path"]): void {
    problems.push({ code: "unknown-id", path, what, id });
  }
  function needParameter(id: string, path: Problem["path"]): void {
    if (!parameters.has(id)) unknown("parameter", id, path);
  }
  function needState(id: string | undefined, path: Problem["path"]): void {
    if (id !== undefined && !states.has(id)) unknown("state", id, path);
  }
  function twice(list: readonly { id: string }[], what: string, path: Problem["path"]): void {
    const seen = new Set<string>();
    list.forEach((item, i) => {
      if (seen.has(item.id)) problems.push({ code: "twice", path: [...path, i, "id"], what, id: item.id });
      seen.add(item.id);
    });
  }
  function checkTemplate(text: string, allowed: readonly string[], path: Problem["path"]): void {
    const parsed = parseTemplate(text);
    if (!parsed.ok) problems.push({ code: "template", path, detail: parsed.detail });
    else
      for (const name of parsed.template.names)
        if (!allowed.includes(name)) unknown("name that can stand in this address:", name, path);
  }
  function checkMessage(
    message: DeskFunction["send"][number],
    allowed: readonly string[],
    path: Problem["path"],
  ): void {
    if ("midi" in message) {
      for (const { field, detail } of midiTemplateFaults(message, allowed))
        problems.push({ code: "template", path: [...path, field], detail });
      return;
    }
    checkTemplate(
      message.address,
      allowed.filter((n) => n !== "value"),
      [...path, "address"],
    );
    message.arguments.forEach((a, k) => {
      if (typeof a.value !== "string" || a.type === "s") return;
      const name = wholeName(a.value);
      if (name === null || !allowed.includes(name))
        unknown("name that can stand in this argument:", a.value, [...path, "arguments", k, "value"]);
    });
  }
}
