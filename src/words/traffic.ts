/** Rows of traffic in words, with names that only the show knows. */
import type { Range } from "../core/format/desk-profile.ts";
import { type MessageKind, WIRES, type Wire } from "../core/format/wires.ts";
import { hexBytes, parseHexBytes } from "../core/midi/hex.ts";
import type { MiddleC } from "../core/midi/numbers.ts";
import { valueWords } from "../core/surface/value-words.ts";
import { CHORD, NOT_KNOWN, OUTCOME, outcomeFacts, outcomeOf, type Tone } from "../core/trace/outcome.ts";
import type { TrafficEntry } from "../core/trace/traffic-entry.ts";
import { ENGLISH } from "./english.ts";
import { describeMidi } from "./midi.ts";
import { describeOsc } from "./osc.ts";

/** A condition of a mapping, by the names of its desk. */
export interface ConditionNames {
  readonly state: string;
  readonly from: number;
  readonly to: number;
  /** Of a switch null. */
  readonly range: Range | null;
}

/** An action as it is told: its function, and how its state counts. */
export interface ActionNames {
  readonly function: string;
  /** Index of the state's first value, how many it has, and the range of each of its parameters; null = no state. */
  readonly state: {
    readonly base: number;
    readonly count: number;
    readonly parameters: readonly { readonly from: number; readonly to: number }[];
  } | null;
}

export interface MappingNames {
  /** Its own name, or what the desk calls the thing it drives. */
  readonly label: string;
  /** Names of the parameters of its first action. */
  readonly parameters: readonly string[];
  /** The other control that has to be held; empty = none. */
  readonly chord: string;
  readonly conditions: readonly ConditionNames[];
  readonly actions: Readonly<Record<string, ActionNames>>;
}

export interface DeviceNames {
  readonly name: string;
  readonly wire: Wire;
}

/** What rows are told with. Plain data behind it can go to a worker (`plainNames`). */
export interface RowNames {
  readonly middleC: MiddleC;
  device(id: string): DeviceNames | undefined;
  mapping(id: string): MappingNames | undefined;
}

export interface PlainNames {
  readonly middleC: MiddleC;
  readonly devices: Readonly<Record<string, DeviceNames>>;
  readonly mappings: Readonly<Record<string, MappingNames>>;
}

export function fromPlain({ middleC, devices, mappings }: PlainNames): RowNames {
  return {
    middleC,
    device: (id) => (Object.hasOwn(devices, id) ? devices[id] : undefined),
    mapping: (id) => (Object.hasOwn(mappings, id) ? mappings[id] : undefined),
  };
}

export interface Became {
  readonly text: string;
  readonly tone: Tone;
}

export interface RowWords extends Became {
  readonly clock: string;
  readonly device: string;
  readonly bytes: string;
  readonly reads: string;
}

/** All that a list says of a row. */
export function rowWords(entry: TrafficEntry, names: RowNames): RowWords {
  return {
    clock: clockWords(entry.atMs),
    device: deviceWords(entry, names),
    bytes: bytesWords(entry, names),
    reads: messageWords(entry, names),
    ...becameWords(entry, names),
  };
}

/** The whole row as one line of text, its parts with tabs between. */
export function rowLine(entry: TrafficEntry, names: RowNames): string {
  const { clock, device, bytes, reads, text } = rowWords(entry, names);
  return [clock, entry.out ? "out" : "in", device, bytes, reads, text].join("\t");
}

/** Everything a filter's text may be looked for in: what is seen of the row, the name of its control, and its bytes. */
export function searchWords(entry: TrafficEntry, control: string, names: RowNames): string {
  const bytes = parseHexBytes(entry.hex);
  return `${rowLine(entry, names)}\t${control}\t${bytes ? hexBytes(bytes) : ""}`;
}

/** As it is called now; an id would say nothing. */
export function deviceWords({ side, device }: TrafficEntry, names: RowNames): string {
  return side === "browser" ? "a browser" : (names.device(device)?.name ?? `a ${side} that is gone`);
}

function kindOf({ side, device }: TrafficEntry, names: RowNames): MessageKind {
  return side === "surface" ? "midi" : WIRES[names.device(device)?.wire ?? "osc"].message;
}

/** What was sent or heard, e.g. "note 50 · D2 = 127, ch 1" or an address with its arguments. */
export function messageWords(entry: TrafficEntry, names: RowNames): string {
  const bytes = parseHexBytes(entry.hex) ?? new Uint8Array();
  if (entry.side === "browser") return new TextDecoder().decode(bytes);
  const kind = kindOf(entry, names);
  switch (kind) {
    case "osc":
      return describeOsc(bytes, entry.length);
    case "line":
      return new TextDecoder().decode(bytes);
    case "midi":
      return describeMidi(bytes, names.middleC);
    default:
      return kind satisfies never;
  }
}

const BYTES_WORDS: Readonly<Record<Exclude<MessageKind, "midi">, string>> = { osc: "OSC", line: "line" };

/** The bytes where they are few, or what they are made of. */
function bytesWords(entry: TrafficEntry, names: RowNames): string {
  if (entry.side === "browser") return "socket";
  const kind = kindOf(entry, names);
  if (kind !== "midi") return BYTES_WORDS[kind];
  return entry.length > 4 ? `SysEx ${entry.length}` : hexBytes(parseHexBytes(entry.hex) ?? new Uint8Array());
}

/** What became of it, as a sentence with the reason. */
export function becameWords(entry: TrafficEntry, names: RowNames): Became {
  const outcome = outcomeOf(entry.code);
  if (!outcome) return { text: "", tone: "quiet" }; // written by another version
  const mapping = entry.mapping === undefined ? undefined : names.mapping(entry.mapping);
  const isAction = entry.code === OUTCOME.action || entry.code === OUTCOME.letGo;
  const text = ENGLISH.outcomes[outcome]({
    a: entry.a,
    b: entry.b,
    length: entry.length,
    mapping: (isAction && mapping ? actionWords(entry, mapping) : mapping?.label) ?? "",
    parameter: (nth) => mapping?.parameters[nth] ?? "number",
    condition: mapping ? conditionWords(mapping, entry.b, entry.a) : "",
    reason: entry.reason ?? "",
  });
  return { text, tone: outcomeFacts(entry.code)?.tone ?? "quiet" };
}

/** What was said to the desk: "playback level 3.15". */
function actionWords({ action, b }: TrafficEntry, { actions, label }: MappingNames): string {
  const names = action !== undefined && Object.hasOwn(actions, action) ? actions[action] : undefined;
  if (!names) return label;
  const { state } = names;
  const numbers = state && b >= state.base && b < state.base + state.count ? stateNumbers(state, b).join(".") : "";
  return [names.function.toLowerCase(), numbers].filter(Boolean).join(" ");
}

function stateNumbers({ base, parameters }: NonNullable<ActionNames["state"]>, index: number): number[] {
  let rest = index - base;
  const numbers = new Array<number>(parameters.length);
  for (let i = parameters.length - 1; i >= 0; i--) {
    const { from, to } = parameters[i]!;
    numbers[i] = from + (rest % (to - from + 1));
    rest = Math.floor(rest / (to - from + 1));
  }
  return numbers;
}

/** What is not met: "grand master is 100 %, wanted 0 to 50 %". `nth` as a row of that outcome has it. */
export function conditionWords({ chord, conditions }: MappingNames, nth: number, value: number): string {
  if (nth === CHORD) return chord === "" ? "" : `${chord} is not held`;
  const condition = conditions[nth];
  if (!condition) return "";
  const { state, from, to, range } = condition;
  const said = (n: number) => valueWords(n, range ?? undefined);
  const is = value === NOT_KNOWN ? "not known" : said(value);
  const wanted = range && from !== to ? `${withoutUnit(said(from), said(to))} to ${said(to)}` : said(to);
  return `${state} is ${is}, wanted ${wanted}`;
}

/** "0 %" before "50 %" is "0". */
function withoutUnit(from: string, to: string): string {
  const unit = to.slice(to.indexOf(" "));
  return to.includes(" ") && from.endsWith(unit) ? from.slice(0, -unit.length) : from;
}

function clockWords(atMs: number): string {
  const d = new Date(atMs);
  const two = (n: number) => String(n).padStart(2, "0");
  return `${two(d.getHours())}:${two(d.getMinutes())}:${two(d.getSeconds())}.${String(d.getMilliseconds()).padStart(3, "0")}`;
}
