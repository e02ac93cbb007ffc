/** What a field has to be, in English: the rest of a sentence that begins with its place. */
import type { Language } from "../language.ts";
import { oneOf } from "./lists.ts";
import { BEHAVIOURS, MESSAGES, WIRES } from "./names.ts";

const TYPES: Readonly<Record<string, string>> = {
  string: "a text",
  number: "a number",
  int: "a whole number",
  boolean: "true or false",
  array: "a list",
  object: "an object with fields",
  record: "an object with fields",
  tuple: "a list",
};

export const EXPECTED: Language["expected"] = {
  type: (e) => `expected ${TYPES[e.type] ?? e.type}`,
  "one-of": (e) => `expected ${oneOf(e.values.map((v) => JSON.stringify(v)))}`,
  "at-least": (e) => `expected at least ${counted(e)}`,
  "more-than": (e) => `expected more than ${counted(e)}`,
  "at-most": (e) => `expected at most ${counted(e)}`,
  "less-than": (e) => `expected less than ${counted(e)}`,
  "no-field": (e) => `there is no field ${e.fields.map((f) => `“${f}”`).join(", ")} here`,
  known: (e) => `this “${e.field}” is not known`,
  form: () => "this has none of the forms that can stand here",
  rule: (e) => RULES[e.rule],
  carrier: (e) =>
    e.carriers.length === 0
      ? "nothing carries this kind of desk"
      : `this kind of desk is carried by ${oneOf(e.carriers)}`,
  behaviour: (e) => `a control with this message ${oneOf(e.behaviours.map((b) => BEHAVIOURS[b]))}`,
  "time-not-before": (e) => `the time must not lie before ${e.ms} ms, the time of the line above`,
  some: (e) => `this show has no ${e.parameter}; add one first`,
  "message-of-wire": (e) =>
    e.wire === "inside"
      ? "nothing is sent to this kind of desk"
      : `this kind of desk speaks in another way: expected ${WIRES[e.wire]}`,
  message: (e) => `expected ${MESSAGES[e.message]} for this ${e.to}`,
  "no-text": (e) => `${e.function} takes no text`,
  "no-target": (e) => `${e.function} acts on nothing else, so it needs no target`,
};

const ONE = { characters: "character", entries: "entry" } as const;

function counted({ limit, of }: { limit: number; of: "characters" | "entries" | "number" }): string {
  if (of === "number") return String(limit);
  return `${limit} ${limit === 1 ? ONE[of] : of}`;
}

export const RULES: Language["rules"] = {
  id: "an id is made of small letters, digits, dots and dashes",
  name: "a name must not be empty",
  colour: "a colour is written as #e9b44c",
  "colour-with-alpha": "a colour is written as #e9b44cff",
  "one-line": "a text must stand on one line",
  "hex-bytes": "bytes are written as hexadecimal pairs, such as F0 7D 01",
  "heard-address": "an OSC address starts with “/”",
  "osc-address":
    "an OSC address is “/” and then letters, digits and signs of ASCII, without spaces and # * , ? [ ] { }",
  "whole-digits": "a whole number is written in digits",
  slot: "expected a number, or a name in braces and nothing else, such as {channel}",
  "header-name": "the name of a header field is made of letters, digits and dashes",
  "header-value": "the value of a header field is made of plain characters",
  "login-user": "a user name must not have a colon",
  "login-password": "a password must not have control characters",
  "computer-key": "a key is named by its position, such as KeyQ, Digit1 or ArrowUp",
  "text-without-null": "a text of OSC ends at its first null character, so it cannot have one",
  "cue-of-command": "this command of show control does not carry that, so it is never heard with it",
  "cue-slot": "a cue number: digits and points, such as 12.5, with names in braces such as {cue}",
  "cue-number": "a cue is a number such as 12.5",
  "display-bytes": "expected SysEx as hexadecimal pairs from F0 to F7 with one {text}, such as F0 7D 01 {text} F7",
  "range-not-falling": "the end of a range must not lie below its start",
  "range-rising": "the end of a range must lie above its start",
  "range-of-4096": "a range has at most 4,096 numbers",
  "law-rising": "the points must rise, in travel and in value, from the start of the range to its end",
  "two-numbers": "the two ends must differ",
  "channels-1-to-16": "channels are 1 to 16",
  "numbers-0-to-127": "numbers are 0 to 127",
  "ring-rising": "the last value must lie above the first",
  "start-inside": "the start must lie in the range",
  "bank-room": "the last number must leave room for all strips",
  "input-rising": "the end of the travel must lie above its start",
  "exponent-not-0": "the amount must not be 0",
  "curve-points": "the points lead from 0 to 1, each further right than the one before",
  "dmx-off-above-on": "the level for off must not lie above the level for on",
  "dmx-universe": "universes are 1 to 63,999 in sACN and 0 to 32,767 in Art-Net",
  "another-control": "this must be another control than the mapping’s own",
  "order-for-sets": "actions in several sets need an order other than “all of them”",
  "number-or-switch": "only a number or a switch can be followed; this is a text or a colour",
  "ports-of-its-own": "a session takes this port and the next one, and another session has one of them",
  "no-midi-ports": "this kind of desk has a network address and no MIDI ports",
  "its-midi-ports": "this kind of desk needs its MIDI ports",
  "universe-comes-in": "a universe only comes in; choose another port to go out",
  "base-has-no-group": "the base layer covers every control and has no group",
  "speaks-midi": "a route leads from and to surfaces and desks that speak MIDI",
  "needs-banks": "a control is banked only where the surface has banks",
  "motor-of-fader": "only a control that stays where it is put can have a motor",
  "whole-midi": "expected whole MIDI messages as hexadecimal pairs",
  "no-key": "a fader is not pressed: no key can play it",
  "one-key": "one key presses it",
  "two-keys": "two keys turn it: one down, one up",
  "chosen-trigger": "what is chosen needs a function that acts on press, and a state that tells a whole number",
  "free-message-short": "a message has at most 600 characters",
  "free-midi": "this port takes MIDI: whole messages as hexadecimal pairs, such as B0 07 {value}",
  "free-osc": "this desk takes OSC: an address without wildcards and its arguments, such as /level {value}",
  "free-line": "this desk takes lines of text, such as fade {value}; {value} is the only name that can stand in one",
};

const IN = {
  address: "this address",
  line: "this line",
  argument: "this argument",
  message: "this message",
  text: "this text",
} as const;
const STANDARDS = { "show-control": "show control", "machine-control": "machine control" } as const;

export const TEMPLATE_FAULTS: Language["templateFaults"] = {
  "closed-not-opened": (f) => `“${f.text}” has a “}” without a “{” before it; write “}}” for a brace of the text`,
  braces: (f) => `“${f.text}” has a “{” that is not closed; write “{{” for a brace of the text`,
  "two-names": (f) => `“${f.text}” has two names with nothing between them`,
  "not-a-name": (f) => `“{${f.name}}” in “${f.text}” is not a name; write “{{” and “}}” for braces of the text`,
  "unknown-name": (f) => `“${f.name}” cannot stand in ${IN[f.in]}: it is none of the parameters`,
  "needs-bytes": (f) => `“{${f.name}:${f.bits}}” needs lines with bytes; switch them on for this kind of desk`,
  "pulse-as-bytes": () => "“{pulse}” is said in digits: it counts on without end",
  "missing-field": (f) => `a ${f.message} message needs its ${f.field}`,
  "no-such-field": (f) => `a ${f.message} message has no ${f.field}`,
  "needs-field": (f) => `a ${f.field} is sent only behind a ${f.needs}, and there is none`,
  "either-field": (f) => `the time is given by its ${f.other} already: leave out its ${f.field}`,
  "field-out-of-range": (f) =>
    f.name === ""
      ? `${f.field} ${f.hasFrom} is not ${f.from} to ${f.to}`
      : `“{${f.name}}” goes from ${f.hasFrom} to ${f.hasTo}, and this ${f.field} only from ${f.from} to ${f.to}`,
  "not-a-cue": (f) => `“${f.text}” is not a cue number, such as 12 or 12.5`,
  "not-sysex": (f) => `“${f.text}” is not hexadecimal pairs from F0 to F7`,
  "unknown-command": (f) => `${STANDARDS[f.standard]} has no command “${f.command}”`,
};
