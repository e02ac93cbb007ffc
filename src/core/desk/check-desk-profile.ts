/** What Zod cannot see in a desk profile: names that lead nowhere, names twice, patterns that hear the same. */
import {
  CARRIERS,
  type DeskProfile,
  type DeskState,
  type HeardLine,
  type MessageTemplate,
} from "../show/desk-profile.ts";
import type { Problem } from "../show/problem.ts";
import { ANY, exampleLine, linePattern, matchLine, parseLinePattern } from "./line-pattern.ts";
import { midiPatternFaults } from "./midi-pattern.ts";
import { midiTemplateFaults } from "./midi-template.ts";
import { parseTemplate, type Template, wholeName } from "./template.ts";
import { wireText } from "./wire-numbers.ts";

/** Values one desk may keep, over all its states and their parameters. */
export const MAX_DESK_VALUES = 65_536;

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
  profile.states.forEach((s, i) => {
    const path = ["states", i] as const;
    const sizes = s.parameters.map((id, k) => {
      needParameter(id, [...path, "parameters", k]);
      const p = profile.parameters.find((q) => q.id === id);
      return p ? p.to - p.from + 1 : 1;
    });
    values += sizes.reduce((a, b) => a * b, 1);
    if (s.heard) checkHeard(s.heard, s.parameters, [...path, "heard"]);
  });
  checkOverlaps();
  checkCarrier();
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
    if (f.chosen !== undefined) {
      if (!f.parameters.includes(f.chosen)) unknown("parameter of this function", f.chosen, [...path, "chosen"]);
      else if (states.get(f.state ?? "")?.value.kind !== "whole" || f.acts !== "trigger")
        problems.push({
          code: "not-valid",
          path: [...path, "chosen"],
          expected: "a function that acts on press, with a state that tells a whole number",
        });
    }
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
  if (profile.heartbeat) checkHeard(profile.heartbeat.heard, ["pulse"], ["heartbeat", "heard"]);
  for (const key of ["done", "refused"] as const)
    if (profile.replies) checkLine(profile.replies[key], ["reason"], ["replies", key]);
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
  function checkLine(text: string, allowed: readonly string[], path: Problem["path"]): void {
    const parsed = parseLinePattern(text);
    if (parsed.ok) checkLineNames(parsed.pattern, [...allowed, ANY], path);
    else problems.push({ code: "template", path, detail: parsed.detail });
  }
  function checkLineToSend(text: string, allowed: readonly string[], path: Problem["path"]): void {
    const parsed = parseTemplate(text, true);
    if (parsed.ok) checkLineNames(parsed.template, allowed, path);
    else problems.push({ code: "template", path, detail: parsed.detail });
  }
  function checkLineNames({ names, bits }: Template, allowed: readonly string[], path: Problem["path"]): void {
    names.forEach((name, i) => {
      if (!allowed.includes(name)) unknown("name that can stand in this line:", name, path);
      else if (bits[i] === 0) return;
      else if (!profile.wire.lineBytes)
        problems.push({ code: "template", path, detail: `“{${name}:${bits[i]}}” needs lines with bytes as \\02.` });
      // A pulse counts on for ever, and bytes do not.
      else if (name === "pulse") problems.push({ code: "template", path, detail: "“{pulse}” is said in digits." });
    });
  }
  function checkHeard(
    heard: NonNullable<DeskState["heard"]>,
    parameters: readonly string[],
    path: Problem["path"],
  ): void {
    const allowed = [...parameters, "value"];
    if (!fitsWire(heard)) wrongWire(path);
    else if ("address" in heard) checkTemplate(heard.address, parameters, [...path, "address"]);
    else if ("line" in heard) checkLine(heard.line, allowed, [...path, "line"]);
    else
      for (const { field, detail } of midiPatternFaults(heard, allowed))
        problems.push({ code: "template", path: [...path, field], detail });
  }
  function checkCarrier(): void {
    const { kind, over } = profile.wire;
    if (over === undefined || CARRIERS[kind].includes(over)) return;
    const expected = CARRIERS[kind].join(" or ") || "nothing, for this kind of desk";
    problems.push({ code: "not-valid", path: ["wire", "over"], expected });
  }
  function fitsWire(message: object): boolean {
    const { kind } = profile.wire;
    return kind === "inside" || (kind === "midi" ? "midi" : kind === "line-tcp" ? "line" : "address") in message;
  }
  function wrongWire(path: Problem["path"]): void {
    const expected = { midi: "a MIDI message", "line-tcp": "a line", "osc-udp": "an OSC address", inside: "nothing" };
    problems.push({ code: "not-valid", path, expected: `${expected[profile.wire.kind]}, as this desk speaks` });
  }
  /** Two states that hear the same message, told by an example of one that the other takes too. */
  function checkOverlaps(): void {
    const heard = profile.states.flatMap((s, i) => (s.heard ? [{ s, i, heard: s.heard, says: saying(s) }] : []));
    heard.forEach((x, k) => {
      const other = heard.slice(0, k).find((y) => y.says === x.says || hearsToo(x, y) || hearsToo(y, x));
      if (!other) return;
      const field = "address" in x.heard ? "address" : "line" in x.heard ? "line" : "midi";
      problems.push({
        code: "template",
        path: ["states", x.i, "heard", field],
        detail: `“${textOf(x.heard)}” is already heard by the state “${other.s.id}”.`,
      });
    });
  }
  /** True where x's example is taken by y. Of lines with other values, only what stands before the value counts. */
  function hearsToo(x: { s: DeskState; heard: object }, y: { s: DeskState; heard: object }): boolean {
    const sample = (name: string) => {
      const p = profile.parameters.find((q) => q.id === name);
      return p ? wireText(p, p.from) : "1";
    };
    if ("line" in x.heard && "line" in y.heard) {
      const [a, b] = [x, y].map(({ heard }) => linePattern((heard as HeardLine).line, profile.wire.lineBytes ?? false));
      return !!a && !!b && matchLine(b, exampleLine(a, sample)) !== null;
    }
    if (!("address" in x.heard && "address" in y.heard)) return false;
    const [a, b] = [x.heard, y.heard] as { address: string; argument: number }[];
    if (a!.argument !== b!.argument) return false;
    const theirs = b!.address.split("/");
    const ours = a!.address.split("/");
    return (
      theirs.length === ours.length &&
      theirs.every((part, k) => {
        const filled = ours[k]!.replaceAll(/\{([^}]*)\}/g, (_, name: string) => sample(name));
        return part === filled || takes(part, filled);
      })
    );
  }
  /** True where a part that is one whole name can be this number. */
  function takes(part: string, said: string): boolean {
    const p = profile.parameters.find((q) => q.id === wholeName(part));
    if (!p || !/^-?\d+$/.test(said)) return false;
    const n = Number(said) - (p.wireFrom ?? p.from) + p.from;
    return n >= p.from && n <= p.to;
  }
  function checkMessage(message: MessageTemplate, allowed: readonly string[], path: Problem["path"]): void {
    if (!fitsWire(message)) {
      wrongWire(path);
      return;
    }
    if ("line" in message) {
      checkLineToSend(message.line, allowed, [...path, "line"]);
      return;
    }
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
      if (typeof a.value !== "string") return;
      if (a.type === "s") {
        checkTemplate(
          a.value,
          allowed.filter((n) => n !== "value"),
          [...path, "arguments", k, "value"],
        );
        return;
      }
      const name = wholeName(a.value);
      if (name === null || !allowed.includes(name))
        unknown("name that can stand in this argument:", a.value, [...path, "arguments", k, "value"]);
    });
  }
}

/** A pattern as people read it, with names left open: the same for two that hear the same. */
function saying(state: DeskState): string {
  const open = (text: string) => text.replaceAll(/\{[a-z0-9.:-]+\}/g, "{}");
  const { heard } = state;
  if (!heard) return "";
  if ("address" in heard) return `${open(heard.address)} ${heard.argument}`;
  return "line" in heard ? open(heard.line) : open(JSON.stringify({ ...heard, scale: undefined }));
}

function textOf(heard: NonNullable<DeskState["heard"]>): string {
  if ("address" in heard) return heard.address;
  return "line" in heard ? heard.line : (heard.bytes ?? `${heard.midi} ${heard.number ?? ""}`.trim());
}
