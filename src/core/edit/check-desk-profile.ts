/** What Zod cannot see in a desk profile: names that lead nowhere, names twice, messages of another wire. */
import { textFaults } from "../desk/action-text.ts";
import { ANY, parseLinePattern } from "../desk/line-pattern.ts";
import { midiPatternFaults } from "../desk/midi-pattern.ts";
import { midiTemplateFaults, type NumberRanges } from "../desk/midi-template.ts";
import { parseTemplate, type Template, wholeName } from "../desk/template.ts";
import { TEXT, wireNumber } from "../desk/wire-numbers.ts";
import type { DeskFunction, DeskProfile, DeskState, MessageTemplate, OscTemplate } from "../format/desk-profile.ts";
import type { Path, Problem, TemplateFault, Thing } from "../format/problem.ts";
import { carriersOf, fitsWire } from "../format/wires.ts";
import { duplicates } from "./check-names.ts";
import { overlaps } from "./heard-twice.ts";

/** Values one desk may keep, over all its states and their parameters. */
const MAX_DESK_VALUES = 65_536;

const VALUE = "value";
const PULSE = "pulse";
const ON_OFF = { from: 0, to: 1 };

export function checkDeskProfile(profile: DeskProfile): Problem[] {
  return new DeskProfileCheck(profile).all();
}

class DeskProfileCheck {
  readonly #profile: DeskProfile;
  readonly #problems: Problem[] = [];
  readonly #parameters: ReadonlySet<string>;
  readonly #states: ReadonlyMap<string, DeskState>;

  constructor(profile: DeskProfile) {
    this.#profile = profile;
    this.#parameters = new Set(profile.parameters.map((p) => p.id));
    this.#states = new Map(profile.states.map((s) => [s.id, s]));
  }

  all(): Problem[] {
    const { parameters, states, functions } = this.#profile;
    duplicates(parameters, "parameter", ["parameters"], this.#problems);
    duplicates(states, "state", ["states"], this.#problems);
    duplicates(functions, "function", ["functions"], this.#problems);
    parameters.forEach((p, i) => {
      this.#needState(p.names, ["parameters", i, "names"]);
    });
    this.#checkStates();
    this.#problems.push(...overlaps(this.#profile));
    this.#checkCarrier();
    functions.forEach((f, i) => {
      this.#checkFunction(f, ["functions", i]);
    });
    this.#checkPageAndSelection();
    this.#checkUpkeep();
    return this.#problems;
  }

  #checkStates(): void {
    let count = 0;
    this.#profile.states.forEach((s, i) => {
      const sizes = s.parameters.map((id, k) => {
        this.#needParameter(id, ["states", i, "parameters", k]);
        const p = this.#profile.parameters.find((q) => q.id === id);
        return p ? p.to - p.from + 1 : 1;
      });
      count += sizes.reduce((a, b) => a * b, 1);
      if (s.heard) this.#checkHeard(s.heard, s.parameters, ["states", i, "heard"]);
      this.#checkMessages(s.ask, s.parameters, ["states", i, "ask"]);
    });
    if (count > MAX_DESK_VALUES)
      this.#problems.push({ code: "too-many-values", path: ["states"], count, most: MAX_DESK_VALUES });
  }

  #checkCarrier(): void {
    const { kind, over } = this.#profile.wire;
    const carriers = carriersOf(kind);
    if (over !== undefined && !carriers.includes(over))
      this.#problems.push({ code: "not-valid", path: ["wire", "over"], expected: { is: "carrier", carriers } });
  }

  #checkFunction(f: DeskFunction, path: Path): void {
    f.parameters.forEach((id, k) => {
      this.#needParameter(id, [...path, "parameters", k]);
    });
    if (f.chosen !== undefined) {
      if (!f.parameters.includes(f.chosen)) this.#unknown("function-parameter", f.chosen, [...path, "chosen"]);
      else if (this.#states.get(f.state ?? "")?.value.kind !== "whole" || f.acts !== "trigger")
        this.#problems.push({
          code: "not-valid",
          path: [...path, "chosen"],
          expected: { is: "rule", rule: "chosen-trigger" },
        });
    }
    for (const key of ["state", "colour", "label"] as const) {
      this.#needState(f[key], [...path, key]);
      for (const id of this.#states.get(f[key] ?? "")?.parameters ?? [])
        if (!f.parameters.includes(id)) this.#unknown("function-parameter", id, [...path, key]);
    }
    for (const key of ["send", "off"] as const)
      this.#checkMessages(
        f[key],
        [...f.parameters, VALUE, ...(f.text === undefined ? [] : [TEXT])],
        [...path, key],
        f.range,
      );
    if (f.text !== undefined) for (const fault of textFaults(f.text)) this.#fault(fault, [...path, "text"]);
  }

  #checkPageAndSelection(): void {
    const { page, selection, functions } = this.#profile;
    this.#needState(page?.state, ["page", "state"]);
    this.#needState(selection?.state, ["selection", "state"]);
    if (selection) this.#needParameter(selection.parameter, ["selection", "parameter"]);
    if (page) this.#needParameter(page.parameter, ["page", "parameter"]);
    if (page?.set !== undefined && !functions.some((f) => f.id === page.set && f.parameters.length === 1))
      this.#unknown("page-function", page.set, ["page", "set"]);
  }

  #checkUpkeep(): void {
    const { query, subscribe, heartbeat, replies } = this.#profile;
    this.#checkMessages(query, [], ["query"]);
    this.#checkMessages(subscribe?.send, [], ["subscribe", "send"]);
    this.#checkMessages(heartbeat?.send, [PULSE], ["heartbeat", "send"]);
    if (heartbeat) this.#checkHeard(heartbeat.heard, [PULSE], ["heartbeat", "heard"]);
    for (const key of ["done", "refused"] as const)
      if (replies) this.#checkLine(replies[key], ["reason"], ["replies", key]);
  }

  #checkHeard(heard: NonNullable<DeskState["heard"]>, parameters: readonly string[], path: Path): void {
    const allowed = [...parameters, VALUE];
    if (!this.#fits(heard, path)) return;
    if ("address" in heard) this.#checkAddress(heard.address, parameters, "address", [...path, "address"]);
    else if ("line" in heard) this.#checkLine(heard.line, allowed, [...path, "line"]);
    else for (const { field, fault } of midiPatternFaults(heard, allowed)) this.#fault(fault, [...path, field]);
  }

  /** `value` is the range of `{value}`; left out, it is on and off. */
  #checkMessages(
    messages: readonly MessageTemplate[] | undefined,
    allowed: readonly string[],
    path: Path,
    value?: DeskFunction["range"],
  ): void {
    messages?.forEach((message, k) => {
      this.#checkMessage(message, allowed, [...path, k], value);
    });
  }

  /** How far the numbers go that may stand in a message, as they are said on the wire. */
  #ranges(names: readonly string[], value: DeskFunction["range"]): NumberRanges {
    return new Map(
      names.map((name) => {
        const p = this.#profile.parameters.find((q) => q.id === name);
        if (p) return [name, { from: wireNumber(p, p.from), to: wireNumber(p, p.to) }];
        return [name, name === VALUE ? (value ?? ON_OFF) : null];
      }),
    );
  }

  #checkMessage(message: MessageTemplate, allowed: readonly string[], path: Path, value?: DeskFunction["range"]): void {
    if (!this.#fits(message, path)) return;
    if ("line" in message) this.#checkLineToSend(message.line, allowed, [...path, "line"]);
    else if ("midi" in message)
      for (const { field, fault } of midiTemplateFaults(message, this.#ranges(allowed, value)))
        this.#fault(fault, [...path, field]);
    else this.#checkOsc(message, allowed, path);
  }

  #checkOsc(message: OscTemplate, allowed: readonly string[], path: Path): void {
    this.#checkAddress(message.address, allowed, "address", [...path, "address"]);
    message.arguments.forEach((a, k) => {
      if (typeof a.value !== "string") return;
      const at = [...path, "arguments", k, "value"];
      if (a.type === "s") {
        this.#checkAddress(a.value, allowed, "argument", at);
        return;
      }
      const name = wholeName(a.value);
      if (name === null || !allowed.includes(name))
        this.#fault({ fault: "unknown-name", name: a.value, in: "argument" }, at);
    });
  }

  #checkAddress(text: string, allowed: readonly string[], where: "address" | "argument", path: Path): void {
    const parsed = parseTemplate(text);
    if (!parsed.ok) this.#fault(parsed.fault, path);
    else if (where === "address" && parsed.template.literals.some((l) => /[{}]/.test(l)))
      this.#problems.push({ code: "not-valid", path, expected: { is: "rule", rule: "osc-address" } });
    else
      for (const name of parsed.template.names)
        if (!allowed.includes(name)) this.#fault({ fault: "unknown-name", name, in: where }, path);
  }

  #checkLine(text: string, allowed: readonly string[], path: Path): void {
    const parsed = parseLinePattern(text);
    if (parsed.ok) this.#checkLineNames(parsed.pattern, [...allowed, ANY], path);
    else this.#fault(parsed.fault, path);
  }

  #checkLineToSend(text: string, allowed: readonly string[], path: Path): void {
    const parsed = parseTemplate(text, true);
    if (parsed.ok) this.#checkLineNames(parsed.template, allowed, path);
    else this.#fault(parsed.fault, path);
  }

  #checkLineNames({ names, bits }: Template, allowed: readonly string[], path: Path): void {
    names.forEach((name, i) => {
      const width = bits[i]!;
      if (!allowed.includes(name)) this.#fault({ fault: "unknown-name", name, in: "line" }, path);
      else if (width === 0) return;
      else if (!this.#profile.wire.lineBytes) this.#fault({ fault: "needs-bytes", name, bits: width }, path);
      // A pulse counts on for ever, and bytes do not.
      else if (name === PULSE) this.#fault({ fault: "pulse-as-bytes" }, path);
    });
  }

  /** True where the message is one of the profile's wire; otherwise that is told. */
  #fits(message: object, path: Path): boolean {
    const { kind } = this.#profile.wire;
    if (fitsWire(message, kind)) return true;
    this.#problems.push({ code: "not-valid", path, expected: { is: "message-of-wire", wire: kind } });
    return false;
  }

  #needParameter(id: string, path: Path): void {
    if (!this.#parameters.has(id)) this.#unknown("parameter", id, path);
  }

  #needState(id: string | undefined, path: Path): void {
    if (id !== undefined && !this.#states.has(id)) this.#unknown("state", id, path);
  }

  #unknown(what: Thing, id: string, path: Path): void {
    this.#problems.push({ code: "unknown-id", path, what, id });
  }

  #fault(fault: TemplateFault, path: Path): void {
    this.#problems.push({ code: "template", path, ...fault });
  }
}
