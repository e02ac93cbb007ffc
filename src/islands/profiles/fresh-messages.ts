/** Messages that an editor begins with, by what the kind of desk speaks. */
import { type FieldRule, type MidiField, midiFields } from "../../core/desk/midi-fields.ts";
import type { DeskProfile, DeskState, MessageTemplate, MidiTemplate } from "../../core/format/desk-profile.ts";
import type { Wire } from "../../core/format/wires.ts";

interface Fresh {
  readonly message: MessageTemplate;
  /** A harmless question and its answer. */
  readonly heartbeat: Pick<NonNullable<DeskProfile["heartbeat"]>, "send" | "heard">;
  heard(state: DeskState): NonNullable<DeskState["heard"]>;
}

/** Commands to begin with, of the kinds that have one. */
const FIRST_COMMAND: Partial<Record<MidiTemplate["midi"], string>> = {
  "show-control": "go",
  "machine-control": "play",
};

/** A message of this kind with all that it needs; `from` keeps what another one has of it already. */
export function freshMidi(
  midi: MidiTemplate["midi"],
  command = FIRST_COMMAND[midi],
  from?: MidiTemplate,
): MidiTemplate {
  const begun = (command === undefined ? { midi } : { midi, command }) as MidiTemplate;
  const said: Record<string, unknown> = { ...begun };
  for (const [name, rule] of Object.entries(midiFields(begun))) {
    const field = name as MidiField;
    if (field === "command") continue;
    if (from?.[field] !== undefined) said[field] = from[field];
    else if (rule.needed || (field === "value" && midi === "full-frame")) said[field] = firstOf(field, rule);
  }
  return said as unknown as MidiTemplate;
}

function firstOf(field: MidiField, rule: FieldRule): unknown {
  if (field === "value") return "{value}";
  if (field === "device") return 127;
  switch (rule.is) {
    case "number":
      return rule.from;
    case "cue":
      return 1;
    case "bytes":
      return "F0 7D {value} F7";
    case "word":
      return field === "rate" ? "25" : rule.words[0];
    case "yes-no":
      return false;
    default:
      return rule satisfies never;
  }
}

const namesOf = (state: DeskState) => state.parameters.map((p) => `{${p}}`);

const OSC: Fresh = {
  message: { address: "/", arguments: [] },
  heartbeat: {
    send: [{ address: "/ping", arguments: [{ type: "i", value: "{pulse}" }] }],
    heard: { address: "/ping", argument: 0 },
  },
  heard: (state) => ({ address: `/${[state.id, ...namesOf(state)].join("/")}`, argument: 0 }),
};

export const FRESH: Readonly<Record<Wire, Fresh>> = {
  osc: OSC,
  lines: {
    message: { line: "hello" },
    heartbeat: { send: [{ line: "ping {pulse}" }], heard: { line: "pong {pulse}" } },
    heard: (state) => ({ line: [state.id, ...namesOf(state), "{value}"].join(" ") }),
  },
  midi: {
    message: { midi: "controller", channel: 1, number: 0, value: "{value}" },
    // MIDI 1.0, "Identity Request" and "Identity Reply".
    heartbeat: {
      send: [{ midi: "sysex", bytes: "F0 7E 7F 06 01 F7" }],
      heard: { midi: "sysex", bytes: "F0 7E {any} 06 02 {any:text} F7" },
    },
    heard: () => ({ midi: "controller", channel: 1, number: 0, value: "{value}" }),
  },
  inside: OSC,
};
