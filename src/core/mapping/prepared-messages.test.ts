import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { encodeMessage } from "../desk/message-template.ts";
import { midiFields } from "../desk/midi-fields.ts";
import { saysFor } from "../desk/wire-numbers.ts";
import { type MessageTemplate, MIDI_TEMPLATES, type MidiTemplate, type Parameter } from "../format/desk-profile.ts";
import { SHOW_COMMANDS } from "../midi/show-control.ts";
import type { ActionTable } from "./action-table.ts";
import type { CompiledAction } from "./compile-actions.ts";
import { PreparedMessages } from "./prepared-messages.ts";

const PARAMETERS: Parameter[] = [
  { id: "a", name: "a", from: 1, to: 12, wireFrom: 0, digits: 2 },
  { id: "long", name: "long", from: 0, to: 1000 },
];
const numberOrName = fc.oneof(fc.nat(12), fc.constantFrom("{value}", "{value}", "{a}", "{long}"));
const cue = fc
  .array(fc.constantFrom("1", "20", "{a}", "{value}", "{long}"), { minLength: 1, maxLength: 3 })
  .map((p) => p.join("."));
const sysex = fc
  .array(fc.constantFrom("7D", "01", "{value}", "{value:14}", "{a}", "{long:14}"), { minLength: 1, maxLength: 6 })
  .map((parts) => `F0 ${parts.join(" ")} F7`);

/** Every MIDI template there can be: each field that the kind has, filled with a number or with any name. */
const midi: fc.Arbitrary<MessageTemplate> = fc
  .record({
    kind: fc.constantFrom(...MIDI_TEMPLATES),
    command: fc.constantFrom(...Object.keys(SHOW_COMMANDS)),
    machine: fc.constantFrom("play", "locate"),
    rate: fc.constantFrom("24", "25", "30-drop", "30"),
    close: fc.boolean(),
    bytes: sysex,
    fields: fc.dictionary(
      fc.constantFrom("channel", "number", "value", "bank", "device", "point", "hours", "minutes", "seconds", "frames"),
      numberOrName,
    ),
    cues: fc.array(cue, { maxLength: 3 }),
    clock: fc.boolean(),
  })
  .map(({ kind, command, machine, rate, close, bytes, fields, cues, clock }) => {
    const begun = {
      midi: kind,
      format: "all",
      command: kind === "machine-control" ? machine : command,
    } as MidiTemplate;
    const has = midiFields(begun);
    const said: Record<string, unknown> = { midi: kind };
    for (const [field, rule] of Object.entries(has)) {
      if (field === "format" || field === "command") said[field] = begun[field];
      else if (field === "rate") said.rate = rate;
      else if (rule.is === "bytes") said.bytes = bytes;
      else if (rule.is === "yes-no") said.close = close;
      else if (rule.is === "number" && (fields[field] !== undefined || rule.needed)) said[field] = fields[field] ?? 1;
    }
    const places = ["cue", "list", "path"].filter((f) => f in has);
    const least = places.filter((f) => has[f as "cue"]?.needed).length;
    for (const [i, text] of [...cues, "1"].slice(0, Math.max(least, Math.min(places.length, cues.length))).entries())
      said[places[i]!] = text;
    if (clock && (kind === "full-frame" || kind === "quarter-frames")) said.value = "{clock}";
    return said as unknown as MidiTemplate;
  });
const words = fc.array(fc.constantFrom("cue", "/", "é", "{value}", "{a}", "{long}"), { minLength: 1, maxLength: 6 });
const line: fc.Arbitrary<MessageTemplate> = fc
  .array(fc.constantFrom("set ", "é ", "{value}", "{value:8}", "{value:16}", "{a}", "{long} "), {
    minLength: 1,
    maxLength: 6,
  })
  .map((parts) => ({ line: parts.join("") }));
const osc: fc.Arbitrary<MessageTemplate> = fc.record({
  address: fc
    .array(fc.constantFrom("a", "level", "{a}", "{long}", "{value}"), { minLength: 1, maxLength: 4 })
    .map((p) => `/${p.join("/")}`),
  arguments: fc.array(
    fc.oneof(
      fc.record({ type: fc.constantFrom("i" as const, "f" as const, "bool" as const), value: numberOrName }),
      fc.record({ type: fc.constant("s" as const), value: words.map((w) => w.join("")) }),
    ),
    { maxLength: 5 },
  ),
});
const value = fc.oneof(
  fc.integer({ min: -3, max: 300 }),
  fc.double({ min: 0, max: 20_000, noNaN: true }),
  fc.constantFrom(0, 1, 127),
);

describe("prepared messages", () => {
  test("say the same as plain encoding, for every template there can be and every value", () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(midi, midi, osc, line), { minLength: 1, maxLength: 3 }),
        fc.array(fc.tuple(fc.integer({ min: 1, max: 12 }), fc.nat(1000), value), { minLength: 1, maxLength: 4 }),
        (send, steps) => {
          const action = {
            desk: { inside: false },
            fn: { parameters: PARAMETERS, fn: { send } },
          } as unknown as CompiledAction;
          let first = -1;
          const table = {
            setMessages: (_: number, at: number) => {
              first = at;
            },
            firstMessage: () => first,
            sends: () => send.length,
            offs: () => 0,
          } as unknown as ActionTable;
          const prepared = new PreparedMessages(table, () => 3661.5);
          for (const [a, long, v] of steps) {
            prepared.encode(0, action, [a, long]);
            send.forEach((message, k) => {
              prepared.setValue(k, v);
              const at = prepared.offset(k);
              const made = prepared.bytes.slice(at, at + prepared.length(k));
              expect([message, v, [...made]]).toEqual([
                message,
                v,
                [...encodeMessage(message, saysFor(PARAMETERS, [a, long], v, 3661.5))],
              ]);
            });
            // No message has run over into the room of another.
            send.forEach((message, k) => {
              const at = prepared.offset(k);
              expect([...prepared.bytes.slice(at, at + prepared.length(k))]).toEqual([
                ...encodeMessage(message, saysFor(PARAMETERS, [a, long], v, 3661.5)),
              ]);
            });
          }
        },
      ),
      { numRuns: 2000 },
    );
  });
});
