/**
 * Desk messages made ready: for every action its datagrams stand encoded in one block of memory, with the
 * place where the value goes. An action gets its room when it is fired for the first time, and when the page or a
 * binding changes its messages are encoded anew at their next use; per event only the value is written.
 *
 * One block, not a buffer per action: with ten thousand actions the bytes of neighbours share cache lines
 * and pages (bench row `core.scale`).
 */

import { TEXT_BYTES } from "../desk/action-text.ts";
import { encodeMessage, oscArgument, saidIn } from "../desk/message-template.ts";
import { encodeMidiTemplate, midiValuePlace } from "../desk/midi-template.ts";
import { type Bits, fillTemplate, parseTemplate, type Template, templatePart } from "../desk/template.ts";
import { type Says, saysFor, TEXT, valueText, wireText } from "../desk/wire-numbers.ts";
import type { MessageTemplate, MidiTemplate, OscTemplate, Parameter } from "../format/desk-profile.ts";
import { encodeOsc, int32, paddedStringBytes } from "../osc/encode.ts";
import { numberText } from "../stream/byte-text.ts";
import type { ActionTable } from "./action-table.ts";
import type { CompiledAction } from "./compile-actions.ts";

/** A record: where the message starts, its length, where its value goes, and how the value is written. */
export const P_RECORD = 5;
const OFFSET = 0;
export const P_LENGTH = 1;
export const P_VALUE_AT = 2;
export const P_VALUE_TYPE = 3;
/** Of a 14-bit MIDI value: where its upper half goes. */
const UPPER_AT = 4;
/** Of a line: the text behind its value. */
const TAIL = 4;

const NO_VALUE = 0;
export const P_FLOAT = 1;
const WHOLE = 2;
const TRUTH = 3;
const MIDI_7 = 4;
const MIDI_14 = 5;
const LINE = 6;
/** Of a line: the value stands as one byte, or as two. */
const LINE_8 = 7;
const LINE_16 = 8;
/** The value stands in several places, or as text in the middle: the message is encoded for each value. */
const ANEW = 9;
const LINE_TYPES: Record<Bits, number> = { 0: LINE, 8: LINE_8, 16: LINE_16 };
/** Room for a value as text, in bytes, with what fills it up to a word. */
const VALUE_BYTES = 28;
const MAX_7 = 127;
const MAX_14 = 16_383;

type Plan =
  | { readonly kind: "osc"; readonly template: Template; readonly message: OscTemplate }
  | {
      readonly kind: "midi";
      readonly message: MidiTemplate;
      readonly place: { upperAt: number; lowerAt: number } | null;
    }
  | { readonly kind: "line"; readonly template: Template }
  | { readonly kind: "anew"; readonly message: MessageTemplate };

/** Of a message that is encoded for each value: what it says besides. */
interface Anew {
  readonly message: MessageTemplate;
  readonly parameters: readonly Parameter[];
  readonly values: readonly number[];
  readonly text: ((value: number) => string) | null;
}

const utf8 = new TextEncoder();

/** Room that is made at first: messages, and bytes. It doubles whenever it is used up. */
const FIRST_MESSAGES = 256;
const FIRST_BYTES = 16 * 1024;

export class PreparedMessages {
  /** The block; another one, with the same content and more room, whenever more actions were made ready than it holds. */
  bytes = new Uint8Array(FIRST_BYTES);
  /** The same block in words of four bytes, the unit OSC is aligned to. */
  words = new Int32Array(this.bytes.buffer);
  /** The block and the records themselves, for the one path that cannot afford a call for each field. */
  view = new DataView(this.bytes.buffer);
  records = new Int32Array(FIRST_MESSAGES * P_RECORD);
  #table: ActionTable;
  readonly #plans: Plan[] = [];
  readonly #planOf = new Map<MessageTemplate, { plan: Plan; room: number }>();
  #used = 0;
  /** Texts behind the value of a line, by their index. */
  readonly #tails: Uint8Array[] = [];
  readonly #tailOf = new Map<string, number>();

  readonly #anew = new Map<number, Anew>();
  readonly #clockS: () => number;

  /** `clockS` tells the time of day, in seconds. */
  constructor(table: ActionTable, clockS: () => number = () => 0) {
    this.#table = table;
    this.#clockS = clockS;
  }

  /** The table is another one, in which the same actions have the same messages. */
  goOnWith(table: ActionTable): void {
    this.#table = table;
  }

  /** Room for the messages of an action, when it is made ready for the first time. Answers the first of them. */
  #allocate(a: number, action: CompiledAction): number {
    const { send, off = [] } = action.fn.fn;
    const first = this.#plans.length;
    this.#table.setMessages(a, first, send.length, off.length);
    for (const message of [...send, ...off]) {
      let entry = this.#planOf.get(message);
      if (!entry) {
        entry = planOf(message, action);
        this.#planOf.set(message, entry);
      }
      this.#grow(entry.room);
      this.records[this.#plans.length * P_RECORD + OFFSET] = this.#used;
      this.#plans.push(entry.plan);
      this.#used += entry.room;
    }
    return first;
  }

  #grow(room: number): void {
    if ((this.#plans.length + 1) * P_RECORD > this.records.length) {
      const records = new Int32Array(this.records.length * 2);
      records.set(this.records);
      this.records = records;
    }
    let size = this.bytes.length;
    while (this.#used + room > size) size *= 2;
    if (size === this.bytes.length) return;
    const bytes = new Uint8Array(size);
    bytes.set(this.bytes);
    this.bytes = bytes;
    this.words = new Int32Array(bytes.buffer);
    this.view = new DataView(bytes.buffer);
  }

  /** Where message m starts in the block, in bytes. */
  offset(m: number): number {
    return this.records[m * P_RECORD + OFFSET]!;
  }

  /** Length of message m in bytes. */
  length(m: number): number {
    return this.records[m * P_RECORD + P_LENGTH]!;
  }

  /** Encodes all messages of an action for these parameter numbers; `text` is what it says in words for a value. */
  encode(
    a: number,
    action: CompiledAction,
    values: readonly number[],
    text: ((value: number) => string) | null = null,
  ): void {
    if (action.desk.inside) return;
    const made = this.#table.firstMessage(a);
    const first = made >= 0 ? made : this.#allocate(a, action);
    const last = first + this.#table.sends(a) + this.#table.offs(a);
    for (let m = first; m < last; m++) this.#encodeOne(m, action, values, text);
  }

  /** Writes the value into message m. */
  setValue(m: number, value: number): void {
    const at = this.records[m * P_RECORD + P_VALUE_AT]!;
    switch (this.records[m * P_RECORD + P_VALUE_TYPE]) {
      case P_FLOAT:
        this.view.setFloat32(at, value);
        return;
      case WHOLE:
        this.view.setInt32(at, int32(value));
        return;
      case TRUTH:
        this.bytes[at] = value > 0 ? 84 : 70; // "T" : "F"
        return;
      case MIDI_7:
        this.bytes[at] = clamped(value, MAX_7);
        return;
      case MIDI_14: {
        const v14 = clamped(value, MAX_14);
        this.bytes[at] = v14 & 127;
        this.bytes[this.records[m * P_RECORD + UPPER_AT]!] = v14 >> 7;
        return;
      }
      case LINE:
        this.#lineValue(m, at, valueText(value));
        return;
      case LINE_8:
        this.#lineValue(m, at, numberText(value, 8));
        return;
      case LINE_16:
        this.#lineValue(m, at, numberText(value, 16));
        return;
      case ANEW: {
        const { message, parameters, values, text } = this.#anew.get(m)!;
        const says = saysFor(parameters, values, value, this.#clockS(), text?.(value));
        const encoded = encodeMessage(message, says);
        this.bytes.set(encoded, this.offset(m));
        this.records[m * P_RECORD + P_LENGTH] = encoded.length;
        return;
      }
      default:
        return;
    }
  }

  #lineValue(m: number, at: number, text: string): void {
    const record = m * P_RECORD;
    let end = at;
    for (let i = 0; i < text.length; i++) this.bytes[end++] = text.charCodeAt(i);
    for (const byte of this.#tails[this.records[record + TAIL]!]!) this.bytes[end++] = byte;
    this.records[record + P_LENGTH] = end - this.records[record + OFFSET]!;
  }

  #encodeOne(
    m: number,
    action: CompiledAction,
    values: readonly number[],
    text: ((value: number) => string) | null,
  ): void {
    const plan = this.#plans[m]!;
    const says = saysFor(action.fn.parameters, values); // the value itself is written in later
    if (plan.kind === "anew") {
      this.#anew.set(m, { message: plan.message, parameters: action.fn.parameters, values: [...values], text });
      this.records[m * P_RECORD + P_VALUE_TYPE] = ANEW;
      this.setValue(m, 0);
      return;
    }
    if (plan.kind === "midi") {
      this.#encodeMidi(m, plan, says);
      return;
    }
    if (plan.kind === "line") {
      this.#encodeLine(m, plan.template, says);
      return;
    }
    const { template, message } = plan;
    const address = fillTemplate(template, (name) => says.text(name));
    const args = message.arguments.map((a) => oscArgument(a, says));
    const encoded = encodeOsc({ kind: "message", address, args });
    const record = m * P_RECORD;
    const offset = this.offset(m);
    this.bytes.set(encoded, offset);
    this.records[record + P_LENGTH] = encoded.length;
    this.records[record + P_VALUE_TYPE] = NO_VALUE;
    const tagsAt = offset + paddedStringBytes(utf8.encode(address).length);
    let at = tagsAt + paddedStringBytes(args.length + 1);
    message.arguments.forEach((a, k) => {
      if (a.value === "{value}" && a.type !== "s") {
        this.records[record + P_VALUE_TYPE] = a.type === "f" ? P_FLOAT : a.type === "i" ? WHOLE : TRUTH;
        this.records[record + P_VALUE_AT] = a.type === "bool" ? tagsAt + 1 + k : at;
      }
      const arg = args[k]!;
      if (arg.type === "s") at += paddedStringBytes(utf8.encode(arg.value).length);
      else if (a.type !== "bool") at += 4;
    });
  }

  #encodeLine(m: number, template: Template, says: Says): void {
    const { names, bits } = template;
    const record = m * P_RECORD;
    const offset = this.offset(m);
    const valueAt = names.indexOf("value");
    const part = (from: number, to: number) =>
      utf8.encode(fillTemplate(templatePart(template, from, to), (name, b) => saidIn(says, name, b)));
    const head = part(0, valueAt < 0 ? names.length : valueAt);
    this.bytes.set(head, offset);
    this.records[record + P_LENGTH] = head.length;
    this.records[record + P_VALUE_TYPE] = valueAt < 0 ? NO_VALUE : LINE_TYPES[bits[valueAt]!];
    this.records[record + P_VALUE_AT] = offset + head.length;
    if (valueAt < 0) return;
    const tail = part(valueAt + 1, names.length);
    const key = String(tail);
    let index = this.#tailOf.get(key);
    if (index === undefined) {
      index = this.#tails.push(tail) - 1;
      this.#tailOf.set(key, index);
    }
    this.records[record + TAIL] = index;
    this.setValue(m, 0);
  }

  #encodeMidi(m: number, { message, place }: Extract<Plan, { kind: "midi" }>, says: Says): void {
    const bytes = encodeMidiTemplate(message, says);
    const record = m * P_RECORD;
    const offset = this.offset(m);
    this.bytes.set(bytes, offset);
    this.records[record + P_LENGTH] = bytes.length;
    this.records[record + P_VALUE_TYPE] = !place ? NO_VALUE : place.upperAt < 0 ? MIDI_7 : MIDI_14;
    if (!place) return;
    this.records[record + P_VALUE_AT] = offset + place.lowerAt;
    this.records[record + UPPER_AT] = offset + place.upperAt;
  }
}

function clamped(value: number, max: number): number {
  return Math.min(max, Math.max(0, Math.round(value)));
}

/** Room in whole words: rows of traffic copy messages by words. */
function words(bytes: number): number {
  return (bytes + 3) & ~3;
}

/** How a message is made ready, and the room it needs for the longest numbers its parameters and its value can have. */
function planOf(message: MessageTemplate, action: CompiledAction): { plan: Plan; room: number } {
  const { parameters } = action.fn;
  const says = saysFor(parameters, parameters.map(widest));
  const bytes = encodeMessage(message, says).length;
  const texts = textsIn(message);
  const room = words(bytes + valuesIn(message) * VALUE_BYTES + texts * TEXT_BYTES);
  const anew = { plan: { kind: "anew", message }, room } as const;
  if (texts > 0) return anew;
  if ("midi" in message) {
    const at = midiValuePlace(message);
    if (at === "anew") return anew;
    return { plan: { kind: "midi", message, place: at === "none" ? null : at }, room: words(bytes) };
  }
  const parsed = "line" in message ? parseTemplate(message.line, true) : parseTemplate(message.address);
  if (!parsed.ok) throw new Error(parsed.fault.fault); // `checkDeskProfile` has refused such a profile before
  const { template } = parsed;
  if ("line" in message) {
    if (valuesIn(message) > 1) return anew;
    return { plan: { kind: "line", template }, room: words(bytes + VALUE_BYTES) };
  }
  const asText = template.names.includes("value") || message.arguments.some((a) => a.type === "s" && valuesIn(a) > 0);
  if (asText || valuesIn(message) > 1) return anew;
  return { plan: { kind: "osc", template, message }, room: bytes };
}

/** How often the value stands in a message. */
function valuesIn(message: object): number {
  return JSON.stringify(message).match(/\{value(?::\d+)?\}/g)?.length ?? 0;
}

/** How often the text of an action stands in it. */
function textsIn(message: object): number {
  return JSON.stringify(message).split(`{${TEXT}}`).length - 1;
}

function widest(p: Parameter): number {
  return wireText(p, p.from).length > wireText(p, p.to).length ? p.from : p.to;
}
