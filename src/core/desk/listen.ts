/**
 * “Listen”: from a message that a desk said to what a profile writes down of it. The parts that vary become parameters,
 * the rest stays as it is, and what it tells becomes a state, or what it does a function.
 */

import type { DeskFunction, DeskProfile, DeskState, HeardMidi, Parameter, StateValue } from "../format/desk-profile.ts";
import type { MessageKind, Wire } from "../format/wires.ts";
import { decodeShort } from "../midi/message.ts";
import { hexDigits } from "../midi/numbers.ts";
import { decodeOsc } from "../osc/decode.ts";
import type { OscArgument } from "../osc/types.ts";
import { escapeBraces } from "./template.ts";

/** One part of what was said, as it stands there. */
export interface HeardPart {
  readonly text: string;
  /** True where it is a whole number, which may count something. */
  readonly counts: boolean;
}

/** A value that came with it. */
export interface HeardArgument {
  readonly kind: "number" | "whole" | "text" | "colour";
  readonly text: string;
}

export interface HeardExample {
  readonly wire: MessageKind;
  readonly parts: readonly HeardPart[];
  /** Of OSC its arguments; of a line its last word; of MIDI its value, where it has one. */
  readonly values: readonly HeardArgument[];
  readonly midi?: HeardMidi["midi"];
}

/** For each part: the name of a parameter, or null where it stays as it is. */
export type Marks = readonly (string | null)[];

const WHOLE = /^-?\d{1,5}$/;

/** What stands in a message; null where there is nothing a profile could hear in it. */
export function exampleOf(bytes: Uint8Array, wire: Wire): HeardExample | null {
  switch (wire) {
    case "osc":
      return fromOsc(bytes);
    case "lines":
      return fromLine(new TextDecoder().decode(bytes));
    case "midi":
      return fromMidi(bytes);
    case "inside":
      return null;
    default:
      return wire satisfies never;
  }
}

const part = (text: string): HeardPart => ({ text, counts: WHOLE.test(text) });

function fromOsc(bytes: Uint8Array): HeardExample | null {
  const read = decodeOsc(bytes);
  if (!read.ok || read.packet.kind !== "message") return null;
  const parts = read.packet.address.split("/").slice(1).map(part);
  return { wire: "osc", parts, values: read.packet.args.map(argumentOf) };
}

function argumentOf(a: OscArgument): HeardArgument {
  switch (a.type) {
    case "i":
      return { kind: "whole", text: String(a.value) };
    case "f":
    case "d":
    case "h":
      return { kind: "number", text: String(Number(Number(a.value).toFixed(4))) };
    case "T":
    case "F":
      return { kind: "whole", text: a.type === "T" ? "1" : "0" };
    case "r":
      return { kind: "colour", text: a.value };
    case "s":
    case "S":
      return { kind: /^#[0-9a-f]{6}/i.test(a.value) ? "colour" : "text", text: a.value };
    default:
      return { kind: "text", text: a.type };
  }
}

/** Words, where what stands in quotation marks is one. */
function fromLine(text: string): HeardExample | null {
  const words = text.match(/"[^"]*"|\S+/g) ?? [];
  const last = words.at(-1);
  if (last === undefined) return null;
  const parts = words.slice(0, -1).map(part);
  const value = last.startsWith('"') ? last.slice(1, -1) : last;
  const kind = WHOLE.test(value)
    ? "whole"
    : value.trim() !== "" && Number.isFinite(Number(value))
      ? "number"
      : /^#[0-9a-f]{6}/i.test(value)
        ? "colour"
        : "text";
  return { wire: "line", parts, values: [{ kind, text: value }] };
}

function fromMidi(bytes: Uint8Array): HeardExample | null {
  if (bytes[0] === 0xf0)
    return { wire: "midi", midi: "sysex", parts: Array.from(bytes, (b) => part(hexDigits(b))), values: [] };
  const m = decodeShort(bytes[0] ?? 0, bytes[1] ?? 0, bytes[2] ?? 0);
  const whole = (n: number): HeardArgument => ({ kind: "whole", text: String(n) });
  switch (m?.kind) {
    case "note-on":
    case "note-off":
      return {
        wire: "midi",
        midi: "note",
        parts: [part(String(m.channel)), part(String(m.note))],
        values: [whole(m.kind === "note-on" ? m.velocity : 0)],
      };
    case "controller":
      return {
        wire: "midi",
        midi: "controller",
        parts: [part(String(m.channel)), part(String(m.number))],
        values: [whole(m.value)],
      };
    case "program":
      return { wire: "midi", midi: "program", parts: [part(String(m.channel))], values: [whole(m.number)] };
    case "bend":
      return { wire: "midi", midi: "bend", parts: [part(String(m.channel))], values: [whole(m.value14)] };
    default:
      return null;
  }
}

/** One name for all messages that differ in their numbers only. */
export function shapeKey(example: HeardExample): string {
  return `${example.wire} ${example.midi ?? ""} ${example.parts.map((p) => (p.counts ? "#" : p.text)).join("/")}`;
}

/**
 * Names for the parts that vary among examples of one shape; of a single one, all that count. Each is called after the
 * word before it, as “playback” in /now/playback/3.
 */
export function suggestMarks(examples: readonly HeardExample[]): (string | null)[] {
  const first = examples[0];
  if (!first || first.midi === "sysex") return first ? first.parts.map(() => null) : [];
  const taken = new Map<string, number>();
  return first.parts.map((p, i) => {
    const varies = examples.some((e) => e.parts[i]?.text !== p.text);
    if (!p.counts || (examples.length > 1 && !varies)) return null;
    const word = first.wire === "midi" ? (i === 0 ? "channel" : "number") : nameBefore(first.parts, i);
    const times = (taken.get(word) ?? 0) + 1;
    taken.set(word, times);
    return times === 1 ? word : `${word}-${times}`;
  });
}

function nameBefore(parts: readonly HeardPart[], at: number): string {
  for (let i = at - 1; i >= 0; i--) {
    const id = parts[i]!.text.toLowerCase().replaceAll(/[^a-z0-9-]+/g, "");
    if (!parts[i]!.counts && id !== "") return id;
  }
  return "number";
}

/** Parameters that the marks name and the profile does not have, with the numbers that were seen. */
export function newParameters(examples: readonly HeardExample[], marks: Marks, profile: DeskProfile): Parameter[] {
  const made: Parameter[] = [];
  marks.forEach((name, i) => {
    if (name === null || profile.parameters.some((p) => p.id === name) || made.some((p) => p.id === name)) return;
    const seen = examples.map((e) => Number(e.parts[i]?.text)).filter(Number.isFinite);
    const from = Math.min(1, ...seen);
    made.push({ id: name, name, from, to: Math.max(from + 7, ...seen) });
  });
  return made;
}

/** What the values of examples are, as the profile says it. */
function valueKind(examples: readonly HeardExample[], argument: number): StateValue {
  const seen = examples.flatMap((e) => e.values[argument] ?? []);
  const numbers = seen.map((v) => Number(v.text)).filter(Number.isFinite);
  if (seen.some((v) => v.kind === "colour")) return { kind: "colour" };
  if (seen.some((v) => v.kind === "text")) return { kind: "text" };
  if (numbers.every((n) => n === 0 || n === 1) && seen.every((v) => v.kind === "whole")) return { kind: "switch" };
  if (examples[0]?.wire === "midi")
    return { kind: "number", range: { from: 0, to: examples[0].midi === "bend" ? 16_383 : 127, unit: "none" } };
  const low = Math.min(0, ...numbers);
  const high = Math.max(1, ...numbers);
  return { kind: "number", range: { from: low, to: high, unit: low === 0 && high === 1 ? "%" : "none" } };
}

/** The state that hears such messages. */
export function stateFrom(
  examples: readonly HeardExample[],
  marks: Marks,
  argument: number,
  id: string,
  name: string,
): DeskState {
  const example = examples[0]!;
  return {
    id,
    name,
    parameters: [...new Set(marks.filter((m) => m !== null))],
    value: valueKind(examples, argument),
    heard: heardOf(example, marks, argument),
  };
}

/** A function that says such messages, for desks that take what they tell. */
export function functionFrom(
  examples: readonly HeardExample[],
  marks: Marks,
  argument: number,
  id: string,
  name: string,
): DeskFunction {
  const example = examples[0]!;
  const value = valueKind(examples, argument);
  const parameters = [...new Set(marks.filter((m) => m !== null))];
  const acts = value.kind === "switch" ? "toggle" : value.kind === "number" ? "level" : "trigger";
  const common: Omit<DeskFunction, "send"> = {
    id,
    name,
    words: [],
    parameters,
    acts,
    ...(value.kind === "number" ? { range: value.range } : {}),
  };
  const filled = texts(example, marks);
  if (example.wire === "osc") {
    const types = { number: "f", whole: "i", text: "s", colour: "s" } as const;
    const args = example.values.map((v, k) =>
      k === argument && acts !== "trigger"
        ? { type: types[v.kind], value: "{value}" }
        : { type: types[v.kind], value: v.kind === "text" || v.kind === "colour" ? v.text : Number(v.text) },
    );
    return { ...common, send: [{ address: `/${filled.join("/")}`, arguments: args }] };
  }
  if (example.wire === "line") {
    const last = acts === "trigger" ? escapeBraces(example.values[0]!.text) : "{value}";
    return { ...common, send: [{ line: [...filled, last].join(" ") }] };
  }
  const { midi, ...rest } = heardOf(example, marks, argument) as HeardMidi;
  return { ...common, send: [{ midi: midi === "note" ? "note-on" : midi, ...rest }] };
}

function texts({ parts }: HeardExample, marks: Marks): string[] {
  return parts.map((p, i) => (marks[i] ? `{${marks[i]}}` : escapeBraces(p.text)));
}

function heardOf(example: HeardExample, marks: Marks, argument: number): NonNullable<DeskState["heard"]> {
  const filled = texts(example, marks);
  if (example.wire === "osc") return { address: `/${filled.join("/")}`, argument };
  if (example.wire === "line") return { line: [...filled, "{value}"].join(" ") };
  const slot = (i: number) => (marks[i] ? `{${marks[i]}}` : Number(example.parts[i]!.text));
  switch (example.midi) {
    case "sysex":
      return { midi: "sysex", bytes: filled.join(" ") };
    case "program":
      return { midi: "program", channel: slot(0), number: "{value}" };
    case "bend":
      return { midi: "bend", channel: slot(0), value: "{value}" };
    default:
      return { midi: example.midi ?? "controller", channel: slot(0), number: slot(1), value: "{value}" };
  }
}
