/**
 * “Any desk” by typing: from an address or a line that somebody typed, or that was heard, to a function of a profile with the
 * numbers in it as parameters, and with what hears the same back.
 */
import type {
  DeskFunction,
  DeskProfile,
  DeskState,
  MessageArgument,
  MessageTemplate,
  Parameter,
} from "../format/desk-profile.ts";
import { freeId } from "../format/free-id.ts";
import { DESK_PROFILE_FORMAT, NEWEST } from "../format/versions.ts";
import { isOscAddress } from "../osc/address.ts";
import { textFaults } from "./action-text.ts";
import { type HeardExample, type HeardPart, type Marks, newParameters, shapeKey, suggestMarks } from "./listen.ts";
import { escapeBraces } from "./template.ts";
import { TEXT } from "./wire-numbers.ts";

/** What a typed message is to do with the value of a control. */
export type TypedAs = "level" | "switch" | "press" | "text";
/** The OSC type of its value. */
export type TypedType = "f" | "i" | "bool" | "s";

export interface TypedOptions {
  readonly as: TypedAs;
  /** Names of the parts that are parameters; null = it stays as it is. */
  readonly marks: Marks;
  /** Of OSC: the type of the value. */
  readonly type: TypedType;
  /** Of a level: what the ends of the way of a control send. */
  readonly range: readonly [from: number, to: number];
}

const MOST_PARAMETERS = 3;
const WHOLE = /^-?\d{1,5}$/;
const part = (text: string): HeardPart => ({ text, counts: WHOLE.test(text) });

/**
 * What was typed, as if it had been heard: of OSC an address with arguments behind it, of lines every word. Null = it is
 * neither.
 */
export function readTyped(text: string, wire: "osc" | "lines"): HeardExample | null {
  const words = text.trim().match(/"[^"]*"|\S+/g) ?? [];
  const [first, ...rest] = words;
  if (first === undefined) return null;
  if (wire === "lines") return { wire: "line", parts: words.map(part), values: [] };
  if (!first.startsWith("/") || !isOscAddress(first)) return null;
  const parts = first.split("/").slice(1).map(part);
  if (parts.some((p) => p.text === "")) return null;
  return {
    wire: "osc",
    parts,
    values: rest.map((word) => {
      const value = word.replaceAll('"', "");
      const isNumber = value !== "" && Number.isFinite(Number(value)) && !word.startsWith('"');
      return { kind: !isNumber ? "text" : WHOLE.test(value) ? "whole" : "number", text: value };
    }),
  };
}

/**
 * What is likely meant: a switch where 0 or 1 was seen, a level where a number was, a press where nothing comes with it.
 * `isPressed`: it is for a control that is pressed, which moves no level.
 */
export function likelyUse(examples: readonly HeardExample[], isPressed = false): TypedOptions {
  const first = examples[0]!;
  const marks = fewer(suggestMarks([first]));
  const seen = examples.flatMap((e) => e.values[0] ?? []);
  const numbers = seen.map((v) => Number(v.text)).filter(Number.isFinite);
  const isText = seen.some((v) => v.kind === "text" || v.kind === "colour");
  const isWhole = seen.every((v) => v.kind === "whole");
  const high = Math.max(1, ...numbers);
  const base = { marks, range: [Math.min(0, ...numbers), high] as const };
  // Of a line the last word may be its value; that is for whoever typed it to say.
  if (seen.length === 0)
    return first.wire !== "osc"
      ? { ...base, as: "press", type: "f" }
      : isPressed
        ? { ...base, as: "switch", type: "i" }
        : { ...base, as: "level", type: "f" };
  if (isText) return { ...base, as: "text", type: "s" };
  if (isWhole && high <= 1) return { ...base, as: "switch", type: "i" };
  return { ...base, as: "level", type: isWhole ? "i" : "f" };
}

/** As many parameters as a function may have: the numbers at the end of an address say more than those before them. */
function fewer(marks: Marks): Marks {
  const names = [...new Set(marks.filter((m) => m !== null))].slice(-MOST_PARAMETERS);
  return marks.map((m) => (m !== null && names.includes(m) ? m : null));
}

export interface TypedFunction {
  readonly parameters: readonly Parameter[];
  readonly state: DeskState | null;
  readonly fn: DeskFunction;
  /** The numbers that stood in the newest example, by parameter. */
  readonly numbers: Readonly<Record<string, number>>;
}

/** The function, the state that hears the same back, and the parameters that the profile does not have yet. */
export function typedFunction(
  examples: readonly HeardExample[],
  { as, marks, type, range }: TypedOptions,
  profile: DeskProfile,
): TypedFunction {
  const first = examples[0]!;
  const names = [...new Set(marks.filter((m) => m !== null))];
  const name = nameOf(first, as);
  const id = freeId(idOf(name), [...profile.functions, ...profile.states]);
  const isLevel = as === "level";
  const unit = range[0] === 0 && range[1] === 1 ? "%" : "none";
  const common = { id, name, parameters: names };
  const hears = (as === "level" || as === "switch") && heardBack(first, marks);
  const state: DeskState | null = hears
    ? {
        ...common,
        value: isLevel ? { kind: "number", range: { from: range[0], to: range[1], unit } } : { kind: "switch" },
        heard: hears,
      }
    : null;
  const fn: DeskFunction = {
    ...common,
    words: [],
    acts: as === "level" ? "level" : as === "switch" ? "toggle" : "trigger",
    ...(isLevel ? { range: { from: range[0], to: range[1], unit } } : {}),
    ...(state ? { state: id } : {}),
    ...(as === "text" ? { text: textIn(first) } : {}),
    send: [says(first, marks, as, type)],
  };
  const newest = examples.at(-1)!;
  const numbers = Object.fromEntries(marks.flatMap((m, i) => (m === null ? [] : [[m, Number(newest.parts[i]!.text)]])));
  return { parameters: newParameters(examples, marks, profile), state, fn, numbers };
}

/** The profile with it. */
export function withTyped(profile: DeskProfile, { parameters, state, fn }: TypedFunction): DeskProfile {
  return {
    ...profile,
    parameters: [...profile.parameters, ...parameters],
    states: state ? [...profile.states, state] : profile.states,
    functions: [...profile.functions, fn],
  };
}

function says(example: HeardExample, marks: Marks, as: TypedAs, type: TypedType): MessageTemplate {
  const filled = filledOf(example, marks);
  const carries = as === "level" || as === "switch";
  if (example.wire === "line") {
    const value = example.values.map((v) => escapeBraces(v.text));
    if (as === "text") return { line: lineWithText(example, filled) };
    return { line: [...filled, ...(carries ? ["{value}"] : value)].join(" ") };
  }
  const constant = (text: string): MessageArgument["value"] => (type === "s" ? escapeBraces(text) : Number(text));
  const args: MessageArgument[] = carries
    ? [{ type, value: "{value}" }]
    : as === "text"
      ? [{ type: "s", value: `{${TEXT}}` }]
      : example.values.map((v) => ({
          type: v.kind === "text" || v.kind === "colour" ? "s" : v.kind === "whole" ? "i" : "f",
          value: v.kind === "text" || v.kind === "colour" ? escapeBraces(v.text) : constantOf(v.text, constant),
        }));
  return { address: `/${filled.join("/")}`, arguments: args };
}

/** What a text function says by itself: what was typed or heard, with `{name}` and the like where they stand in it. */
function textIn({ wire, parts, values }: HeardExample): string {
  const last = wire === "line" && values.length === 0 ? parts.at(-1)?.text : values[0]?.text;
  const text = (last ?? "text").replaceAll('"', "");
  return textFaults(text).length === 0 ? text : escapeBraces(text);
}

/** The last word of a line is its text; one in quotation marks keeps them. */
function lineWithText({ parts, values }: HeardExample, filled: readonly string[]): string {
  const text = `{${TEXT}}`;
  if (values.length > 0 || filled.length < 2) return [...filled, text].join(" ");
  const isQuoted = parts.at(-1)!.text.startsWith('"');
  return [...filled.slice(0, -1), isQuoted ? `"${text}"` : text].join(" ");
}

function constantOf(text: string, constant: (text: string) => MessageArgument["value"]): MessageArgument["value"] {
  const value = Number(text);
  return Number.isFinite(value) ? value : constant(text);
}

function filledOf({ parts }: HeardExample, marks: Marks): string[] {
  return parts.map((p, i) => (marks[i] ? `{${marks[i]}}` : escapeBraces(p.text)));
}

function heardBack(example: HeardExample, marks: Marks): NonNullable<DeskState["heard"]> {
  const filled = filledOf(example, marks);
  return example.wire === "line"
    ? { line: [...filled, "{value}"].join(" ") }
    : { address: `/${filled.join("/")}`, argument: 0 };
}

/** "fan level" of /quay/fan/3/level; of a line its words. */
function nameOf({ parts, wire }: HeardExample, as: TypedAs): string {
  const words = parts.filter((p) => !p.counts && p.text !== "").map((p) => p.text.replaceAll('"', ""));
  const name = (wire === "osc" ? words.slice(-2) : words.slice(0, 4)).join(" ").slice(0, 60);
  return name === "" ? as : name;
}

function idOf(name: string): string {
  const id = name
    .toLowerCase()
    .replaceAll(/[^a-z0-9]+/g, "-")
    .replaceAll(/^-+|-+$/g, "");
  return id === "" ? "typed" : id.slice(0, 40);
}

/** True where a function or state of the profile says or hears such messages. */
export function isKnown(profile: DeskProfile, example: HeardExample): boolean {
  const key = shapeKey(example);
  return [...profile.functions.flatMap((f) => f.send), ...profile.states.flatMap((s) => s.heard ?? [])].some(
    (m) => keyOfTemplate(m, example.wire) === key,
  );
}

function keyOfTemplate(template: object, wire: HeardExample["wire"]): string | null {
  const slots = (text: string) => text.replaceAll(/\{(?!value\})[a-z0-9.-]+\}/g, "#");
  if (wire === "osc" && "address" in template) {
    const parts = slots(String(template.address)).split("/").slice(1);
    return `osc  ${parts.map((p) => (WHOLE.test(p) ? "#" : p)).join("/")}`;
  }
  if (wire === "line" && "line" in template) {
    const words = slots(String(template.line))
      .split(" ")
      .filter((w) => w !== "{value}");
    return `line  ${words.map((w) => (WHOLE.test(w) ? "#" : w)).join("/")}`;
  }
  return null;
}

/** A kind of desk of which nothing is known but how it is spoken to. */
export function unknownDesk(id: string, name: string, wire: "osc" | "lines"): DeskProfile {
  return {
    format: DESK_PROFILE_FORMAT,
    version: NEWEST[DESK_PROFILE_FORMAT],
    id,
    name,
    kind: "lighting",
    about: "",
    wire: {
      kind: wire,
      port: wire === "osc" ? 9000 : 9110,
      checkAtDesk: ["remote control over the network is switched on", "it listens on the port shown here"],
    },
    parameters: [],
    states: [],
    functions: [],
    query: [],
  };
}
