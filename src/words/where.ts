/**
 * Where in a document something is, in the words of the show: "Pad 4, Press, second action". It works on documents as
 * they came in, which may have anything anywhere.
 */
import { GESTURE, type Gesture } from "../core/format/gestures.ts";
import type { Path } from "../core/format/problem.ts";
import type { Profiles } from "../core/format/profiles.ts";
import { ENGLISH } from "./english.ts";

/** The document that a path leads into, and the kinds of surfaces and desks that ship. */
export interface Whereabouts {
  readonly document?: unknown;
  readonly profiles?: Profiles;
}

type Raw = Readonly<Record<string, unknown>>;

/** What one entry of a list is called; its own name, where it has one, stands behind it. */
const ENTRIES: Readonly<Record<string, string>> = {
  surfaces: "surface",
  desks: "desk",
  layers: "layer",
  groups: "group",
  banks: "bank",
  variables: "variable",
  routes: "route",
  sessions: "session",
  mappings: "mapping",
  actions: "action",
  when: "condition",
  controls: "control",
  palettes: "palette",
  colours: "colour",
  displays: "display",
  parameters: "parameter",
  states: "state",
  functions: "function",
  send: "message",
  off: "message for off",
  query: "question",
  arguments: "argument",
  init: "message at the start",
  teardown: "message at the end",
  channels: "channel",
  kinds: "kind",
  keys: "key",
  values: "number",
  points: "point",
  invites: "invited peer",
  allowed: "allowed name",
  checkAtDesk: "check",
  words: "word",
  in: "page",
  lines: "line",
  bytes: "byte",
};

/** Fields whose names in documents are not what people call them. */
const FIELDS: Readonly<Record<string, string>> = {
  version: "version",
  format: "format",
  listenPort: "the port it is heard on",
  whenSilent: "what becomes of commands while it is silent",
  over: "what carries it",
  whileHeld: "the control that has to be held",
  takeover: "how it takes over",
  look: "look",
  order: "order of the actions",
  radio: "group of which one is on",
  desk: "desk",
  function: "function",
  shape: "shape",
  input: "part of the travel",
  output: "range of the value",
  deadBand: "dead band",
  slewPerS: "slew",
  jumpLimitPerS: "jump limit",
  stepSize: "step",
  roundTo: "rounding",
  ratePerS: "rate",
  delayMs: "delay",
  heard: "what is heard",
  from: "start of the range",
  to: "end of the range",
  sends: "what it sends",
  box: "where it lies",
  profile: "kind",
  host: "address",
  port: "port",
  out: "out port",
  midi: "MIDI ports",
  middleC: "name of note 60",
  times: "times",
  holdMs: "hold time",
  doubleMs: "double tap time",
};
/** Levels that say nothing to a person: what lies in them has a name of its own, or the sentence names it. */
const SILENT = new Set(["bindings", "profiles", "settings", "set", "item", "value"]);

/** The whereabouts of a path; empty = the document as a whole. */
export function whereWords(path: Path, { document, profiles }: Whereabouts = {}): string {
  const words: string[] = [];
  let here: unknown = document;
  for (let at = 0; at < path.length; at++) {
    const key = path[at]!;
    const index = path[at + 1];
    const below = child(here, key);
    if (typeof key === "string" && typeof index === "number") {
      words.push(entryWords(key, index, child(below, index), path, at, document, profiles));
      here = child(below, index);
      at++;
      continue;
    }
    here = below;
    if (path[at - 1] === "bindings") words.push(`the number of ${key}`);
    else if (typeof key === "number") words.push(ENGLISH.ordinal(key));
    else if (!SILENT.has(key)) words.push(wordOf(FIELDS, key));
  }
  const last = path.at(-1);
  if (words.length === 0 && typeof last === "string") return spaced(last);
  return words.join(", ");
}

function entryWords(
  list: string,
  index: number,
  entry: unknown,
  path: Path,
  at: number,
  document: unknown,
  profiles: Profiles | undefined,
): string {
  if (list === "mappings" && at === 0) return mappingWords(entry, index, document, profiles);
  if (list === "lines") return `line ${index + 1}`;
  const isKind = path[at - 1] === "profiles";
  const word = isKind ? (list === "desks" ? "kind of desk" : "kind of surface") : wordOf(ENTRIES, list);
  const name = textOf(entry, "name") ?? (list === "controls" ? textOf(entry, "id") : undefined);
  if (name === undefined || name === "") return `${ENGLISH.ordinal(index)} ${word}`;
  return list === "controls" ? name : `${word} “${name}”`;
}

/** A mapping is known by its control and its gesture, and by its own name where it has one. */
function mappingWords(entry: unknown, index: number, document: unknown, profiles: Profiles | undefined): string {
  const control = textOf(entry, "control");
  if (control === undefined) return `${ENGLISH.ordinal(index)} mapping`;
  const gesture = textOf(entry, "gesture");
  const name = textOf(entry, "name");
  return [
    controlName(textOf(entry, "surface"), control, document, profiles),
    ...(gesture !== undefined && Object.hasOwn(GESTURE, gesture) ? [ENGLISH.gestures[gesture as Gesture]] : []),
    ...(name ? [`“${name}”`] : []),
  ].join(", ");
}

/** As the surface's kind calls it: one of the show's own, or one that ships. */
function controlName(
  surface: string | undefined,
  control: string,
  document: unknown,
  profiles: Profiles | undefined,
): string {
  const kind = textOf(
    listOf(document, "surfaces").find((s) => textOf(s, "id") === surface),
    "profile",
  );
  const own = listOf(child(document, "profiles"), "surfaces").find((p) => textOf(p, "id") === kind);
  const controls = listOf(own ?? profiles?.surfaces.get(kind ?? ""), "controls");
  return (
    textOf(
      controls.find((c) => textOf(c, "id") === control),
      "name",
    ) ?? control
  );
}

/** The name of the entity with this id in any list of a document; undefined = it has none. */
export function nameOf(document: unknown, id: string): string | undefined {
  const lists = Object.values(typeof document === "object" && document !== null ? document : {}).filter(Array.isArray);
  const name = textOf(
    lists.flat().find((e: unknown) => textOf(e, "id") === id),
    "name",
  );
  return name === "" ? undefined : name;
}

function child(value: unknown, key: string | number): unknown {
  return typeof value === "object" && value !== null && Object.hasOwn(value, key)
    ? (value as Record<string | number, unknown>)[key]
    : undefined;
}

function listOf(value: unknown, key: string): readonly unknown[] {
  const list = child(value, key);
  return Array.isArray(list) ? list : [];
}

function textOf(value: unknown, key: string): string | undefined {
  const text = child(value as Raw, key);
  return typeof text === "string" ? text : undefined;
}

/** Keys come from documents: "toString" is one as any other. */
function wordOf(words: Readonly<Record<string, string>>, key: string): string {
  return Object.hasOwn(words, key) ? words[key]! : spaced(key);
}

/** "whenSilent" as "when silent". */
function spaced(key: string): string {
  return key.replaceAll(/([a-z])([A-Z])/g, (_, a: string, b: string) => `${a} ${b.toLowerCase()}`);
}
