/** What became of a message, in English. */
import { MESSAGE_PARTS as PARTS } from "../../core/midi/message-parts.ts";
import { MOST_PATTERN_CHARS } from "../../core/osc/address-pattern.ts";
import { wayToCatch } from "../../core/shape/takeover.ts";
import { SHOWN as SHOWN_CODES, type Shown } from "../../core/trace/outcome.ts";
import type { Language } from "../language.ts";

const percent = (value01: number) => `${Math.round(value01 * 100)} %`;
const notValid = (bytes: number) =>
  bytes === 1 ? "one byte that is not a valid message" : `${bytes} bytes that are not a valid message`;
const ms = (value: number) => Math.max(1, Math.round(value));

const WAYS = { raise: "raise", lower: "lower" } as const;

export const SHOWN: Language["shown"] = { light: "light", motor: "motor", ring: "ring", text: "text" };

const shownBy = (code: number): string => {
  const found = (Object.keys(SHOWN_CODES) as Shown[]).find((s) => SHOWN_CODES[s] === code);
  return SHOWN[found ?? "light"];
};

export const OUTCOMES: Language["outcomes"] = {
  sent: (f) => f.mapping || "sent",
  noControl: () => "nothing sent: the surface has no control for this message",
  noMapping: () => "nothing sent: not mapped",
  mappingOff: (f) => `nothing sent: ${f.mapping} is switched off`,
  notHere: (f) => `nothing sent: ${f.mapping} holds on another layer or page`,
  waitingToCatch: (f) => `waiting: ${WAYS[wayToCatch(f.a, f.b)]} to ${percent(f.b)} to catch`,
  released: () => "release: nothing to let go",
  outOfRange: (f) => `nothing sent: the desk has no ${f.parameter(f.b)} ${f.a}`,
  pageUnknown: () => "nothing sent: the desk has not said which page is up",
  noActions: (f) => `nothing sent: ${f.mapping} has no action that is on`,
  looped: () => "stopped: it was hearing itself",
  malformed: (f) => `ignored: ${notValid(f.length === 0 ? f.a : f.length)}`,
  noCrossing: () => "nothing sent: a switch acts where the fader crosses its middle",
  notAControl: () => "not from a control",
  partOfValue: () => "one half of a value; the other decides",
  selectionUnknown: () => "nothing sent: the desk has not said what is selected",
  valueUnknown: () => "nothing sent: the value it follows is not known",
  noSuchPart: (f) => `nothing sent: the message has no ${partWords(f.a)}`,
  bypassed: () => "nothing sent: out of service",
  waitingForGesture: () => "waiting: tap, hold or double tap",
  conditionFalse: (f) =>
    `nothing sent: the condition of ${f.mapping} is not met${f.condition === "" ? "" : `: ${f.condition}`}`,
  shaped: () => "nothing sent: its shape leaves the value as it was",
  delayed: (f) => `${f.mapping}, in ${f.a} ms`,
  endOfList: (f) => `nothing sent: ${f.mapping} is at the end of its list`,
  keptForDesk: (f) => `${f.mapping}: kept until the desk answers`,
  deskSilent: () => "nothing sent: the desk does not answer",
  taught: () => "taught, not played",
  routed: () => "passed on",
  refused: (f) => `refused: ${f.reason || "it was not understood"}`,
  reported: (f) => (f.a === 1 ? "one value changed" : `${f.a} values changed`),
  confirmed: (f) => `answered in ${ms(f.a)} ms`,
  unheard: () => "ignored: the desk’s profile does not know this message",
  pulse: (f) => `heartbeat, ${ms(f.a)} ms`,
  unchanged: () => "nothing new",
  answer: () => "answer to a question: nothing new",
  deskRefused: () => "refused by the desk",
  stream: () => "meters",
  notTaken: () => "the desk did not take it, though it was sent again",
  sentAgain: (f) => `${f.mapping || "action"} sent again, as nothing said that it arrived`,
  patternsTooWide: () => "partly ignored: its address patterns fit more than one datagram may change",
  badPattern: (f) =>
    f.a > MOST_PATTERN_CHARS
      ? `ignored: its address pattern has ${f.a} letters; ${MOST_PATTERN_CHARS} are the most`
      : "ignored: a bracket or brace of its address pattern is not closed",
  otherClock: () => "carried out at once: its time tag is more than an hour ahead, so the clocks do not agree",
  noRoomToWait: (f) => `carried out at once: ${f.a} bundles wait for their time already`,
  dueLater: (f) => `carried out in ${waitWords(f.a)}, as its time tag says`,
  action: (f) => f.mapping || "action",
  letGo: (f) => (f.mapping ? `${f.mapping} let go` : "let go"),
  upkeep: () => "subscription, query or heartbeat",
  passedOn: () => "passed on by a route",
  ownMessage: (f) => f.mapping || "a message of your own",
  light: (f) => shownBy(f.b),
};

export const MESSAGE_PARTS: Language["messageParts"] = {
  channel: "channel",
  number: "number",
  value: "value",
  bank: "bank",
  cue: "whole cue number",
  "cue-before": "cue number before the point",
  "cue-after": "cue number after the point",
  list: "cue list",
  path: "cue path",
  device: "device number",
  command: "command number",
};

/** "300 ms", "12 s", "5 min". */
function waitWords(waitMs: number): string {
  if (waitMs < 2000) return `${Math.round(waitMs)} ms`;
  return waitMs < 120_000 ? `${Math.round(waitMs / 1000)} s` : `${Math.round(waitMs / 60_000)} min`;
}

function partWords(part: number): string {
  const name = PARTS[part];
  return name === undefined ? "such number" : MESSAGE_PARTS[name];
}

export const NEAR_MISSES: Language["nearMisses"] = {
  channel: (wanted) => `it waits for channel ${wanted}`,
  number: (wanted) => `it waits for number ${wanted}`,
  kind: (wanted) => `it waits for a ${wanted}`,
  layer: (wanted) => `it holds on the layer ${wanted}`,
  page: (wanted) => `it holds on page ${wanted}`,
  off: () => "it is switched off",
  bypassed: () => "it is out of service",
  condition: (wanted) => `its condition is not met${wanted === "" ? "" : `: ${wanted}`}`,
};
