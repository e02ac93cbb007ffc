/** Messages of a desk profile for given numbers, made at once: OSC or MIDI. */
import { encodeOsc } from "../osc/encode.ts";
import type { OscArgument } from "../osc/types.ts";
import type { MessageTemplate, OscTemplate } from "../show/desk-profile.ts";
import { encodeMidiTemplate } from "./midi-template.ts";
import { fillTemplate, parseTemplate, wholeName } from "./template.ts";

/** The bytes of a message; `number` answers for each name that stands in it, "value" among them. */
export function encodeMessage(message: MessageTemplate, number: (name: string) => number): Uint8Array {
  if ("midi" in message) {
    const { bytes, lowerAt, upperAt } = encodeMidiTemplate(message, number);
    const value = Math.round(number("value"));
    if (upperAt >= 0) bytes[upperAt] = (value >> 7) & 127;
    if (lowerAt >= 0) bytes[lowerAt] = upperAt >= 0 ? value & 127 : Math.min(127, Math.max(0, value));
    return bytes;
  }
  const parsed = parseTemplate(message.address);
  const address = parsed.ok ? fillTemplate(parsed.template, number) : message.address;
  return encodeOsc({ kind: "message", address, args: message.arguments.map((a) => oscArgument(a, number)) });
}

/** One argument: a constant, or the number of the name that stands in its place. */
export function oscArgument(a: OscTemplate["arguments"][number], number: (name: string) => number): OscArgument {
  if (a.type === "s") return { type: "s", value: String(a.value) };
  const name = typeof a.value === "string" ? wholeName(a.value) : null;
  const value = typeof a.value === "number" ? a.value : name === null ? 0 : number(name);
  return a.type === "bool" ? { type: value > 0 ? "T" : "F" } : { type: a.type, value };
}
