/** Messages that an editor begins with, by what the kind of desk speaks. */
import type { DeskProfile, DeskState, MessageTemplate } from "../../core/format/desk-profile.ts";
import type { Wire } from "../../core/format/wires.ts";

interface Fresh {
  readonly message: MessageTemplate;
  /** A harmless question and its answer. */
  readonly heartbeat: Pick<NonNullable<DeskProfile["heartbeat"]>, "send" | "heard">;
  heard(state: DeskState): NonNullable<DeskState["heard"]>;
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
