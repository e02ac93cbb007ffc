/** Messages of a desk profile for given numbers, made at once: OSC, MIDI or a line of text. */

import type { MessageTemplate, OscTemplate } from "../format/desk-profile.ts";
import { encodeOsc, int32 } from "../osc/encode.ts";
import type { OscArgument } from "../osc/types.ts";
import { numberText } from "../stream/byte-text.ts";
import { encodeMidiTemplate } from "./midi-template.ts";
import { type Bits, fillTemplate, parseTemplate, wholeName } from "./template.ts";
import type { Says } from "./wire-numbers.ts";

const utf8 = new TextEncoder();

/** The bytes of a message; `says` answers for each name that stands in it, "value" among them. A line has no end yet. */
export function encodeMessage(message: MessageTemplate, says: Says): Uint8Array {
  if ("midi" in message) return encodeMidiTemplate(message, says);
  if ("line" in message) return utf8.encode(filled(message.line, says, true));
  return encodeOsc({
    kind: "message",
    address: filled(message.address, says),
    args: message.arguments.map((a) => oscArgument(a, says)),
  });
}

/** One argument: a constant, or the number of the name that stands in its place. A text may have names within. */
export function oscArgument(a: OscTemplate["arguments"][number], says: Says): OscArgument {
  if (a.type === "s") return { type: "s", value: filled(String(a.value), says) };
  const name = typeof a.value === "string" ? wholeName(a.value) : null;
  const value = typeof a.value === "number" ? a.value : name === null ? 0 : says.number(name);
  if (a.type === "bool") return { type: value > 0 ? "T" : "F" };
  return { type: a.type, value: a.type === "i" ? int32(value) : value };
}

/** A text with every name filled in; one that is no template stays as it is. */
function filled(text: string, says: Says, isLine = false): string {
  const parsed = parseTemplate(text, isLine);
  return parsed.ok ? fillTemplate(parsed.template, (name, bits) => saidIn(says, name, bits)) : text;
}

/** What stands in the place of a name, as text or as the bytes of a number. */
export function saidIn(says: Says, name: string, bits: Bits): string {
  return bits === 0 ? says.text(name) : numberText(says.number(name), bits);
}
