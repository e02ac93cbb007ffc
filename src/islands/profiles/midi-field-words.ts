/** What the fields of a MIDI message take, in the words of its standard. */
import type { FieldRule, MidiField } from "../../core/desk/midi-fields.ts";

/** Names of fields that need more than one word. */
export const FIELD_NAMES: Partial<Record<MidiField, string>> = { close: "null at the end" };

export const FIELD_HINTS: Partial<Record<MidiField, string>> = {
  channel: "MIDI channel",
  bank: "bank select, both halves",
  device: "device number; 127 is all-call, 112 to 126 are groups",
  cue: "cue number",
  list: "cue list",
  path: "cue path",
  point: "stored locate point",
  frames: "frames, below the rate",
  close: "names no parameter after the value (MIDI 1.0, null function)",
};

const SECONDS_A_DAY = 86_400;

/** True where a field of a message takes this text, names in braces included. */
export function takes(rule: FieldRule, text: string): boolean {
  switch (rule.is) {
    case "number":
      if (/^\{[a-z0-9][a-z0-9.-]*\}$/.test(text)) return true;
      return /^\d+$/.test(text) && Number(text) >= rule.from && Number(text) <= rule.to;
    case "cue":
      return /^([0-9.]|\{[a-z0-9][a-z0-9.-]*\})+$/.test(text);
    default:
      return true;
  }
}

/** "device number; 127 is all-call …: 0 to 127, or a name such as {device}". */
export function takesWords(field: MidiField, rule: FieldRule): string {
  const isOfDay = field === "value" && rule.is === "number" && rule.to === SECONDS_A_DAY;
  const what = isOfDay ? "seconds since midnight, or {clock} for the time of day" : (FIELD_HINTS[field] ?? field);
  switch (rule.is) {
    case "number":
      return `${what}: ${rule.from} to ${rule.to}, or a name such as {${field}}`;
    case "cue":
      return `${what}: digits and points such as 12.5, or with names such as {cue}`;
    case "bytes":
      return "hexadecimal pairs from F0 to F7; {name} is one byte, {name:14} two";
    default:
      return what;
  }
}
