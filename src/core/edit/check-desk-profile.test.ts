import { describe, expect, test } from "vitest";
import { library } from "../../../tests/rig/shows.ts";
import { told } from "../../../tests/rig/told.ts";
import type { DeskProfile } from "../format/desk-profile.ts";
import { readDeskProfile } from "./read.ts";

const profile = (id: string) => structuredClone(library.desks.find((d) => d.id === id)!);

/** What is said of a profile after a change. */
function said(id: string, change: (p: DeskProfile) => void): string[] {
  const p = profile(id);
  change(p);
  const read = readDeskProfile(p);
  return read.ok ? [] : read.problems.map(told);
}

describe("a desk profile with a fault is refused whole, with the place and what was expected", () => {
  test.each<[string, string, (p: DeskProfile) => void, string]>([
    [
      "a name that nothing has",
      "spyglass-vision",
      (p) => Object.assign(p.functions[0]!.send[0]!, { line: "preview {mix} {camera}" }),
      "functions[0].send[0].line: “camera” cannot stand in this line: it is none of the parameters.",
    ],
    [
      "a number as a byte in lines of letters",
      "spyglass-vision",
      (p) => Object.assign(p.functions[0]!.send[0]!, { line: "preview {mix:8}" }),
      "functions[0].send[0].line: “{mix:8}” needs lines with bytes; switch them on for this kind of desk.",
    ],
    [
      "a number as a byte in an address",
      "quay-lights",
      (p) => Object.assign(p.query[0]!, { address: "/state/{page:8}" }),
      "query[0].address: “{page:8}” in “/state/{page:8}” is not a name; write “{{” and “}}” for braces of the text.",
    ],
    [
      "a pulse as a byte",
      "spyglass-vision",
      (p) => {
        Object.assign(p.wire, { lineBytes: true });
        Object.assign(p.heartbeat!.send[0]!, { line: "ping {pulse:8}" });
      },
      "heartbeat.send[0].line: “{pulse}” is said in digits: it counts on without end.",
    ],
    [
      "a question for one state with a name that the state does not have",
      "quay-lights",
      (p) => Object.assign(p.states[0]!.ask![0]!, { address: "/ask/playback/{page}/{direction}/level" }),
      "states[0].ask[0].address: “direction” cannot stand in this address: it is none of the parameters.",
    ],
    [
      "a question in the words of another wire",
      "quay-lights",
      (p) => p.states[0]!.ask!.push({ line: "ask level" }),
      "states[0].ask[1]: this kind of desk speaks in another way: expected an OSC address.",
    ],
    [
      "a line in a desk of OSC",
      "quay-lights",
      (p) => p.query.push({ line: "state" }),
      "query[1]: this kind of desk speaks in another way: expected an OSC address.",
    ],
    [
      "two patterns that hear the same line",
      "spyglass-vision",
      (p) => Object.assign(p.states[6]!, { heard: { line: "at key 2 {value}" } }),
      "states[6].heard.line: “at key 2 {value}” is already heard by the state “key.on”.",
    ],
    [
      "two patterns that hear the same address",
      "quay-lights",
      (p) => Object.assign(p.states[10]!, { heard: { address: "/now/playback/3/{page}/name", argument: 0 } }),
      "states[10].heard.address: “page” cannot stand in this address: it is none of the parameters.",
    ],
    [
      "an address that a name of another can be",
      "quay-lights",
      (p) => Object.assign(p.states[10]!, { heard: { address: "/now/playback/3/7/name", argument: 0 } }),
      "states[10].heard.address: “/now/playback/3/7/name” is already heard by the state “playback.name”.",
    ],
    [
      "a range upside down",
      "undertow-sound",
      (p) => Object.assign(p.parameters[0]!, { from: 32, to: 1 }),
      "parameters[0].to: the end of a range must not lie below its start.",
    ],
    [
      "a law that falls",
      "undertow-sound",
      (p) => {
        const range = { from: -90, to: 10, unit: "dB", law: [[0.5, -20] as [number, number], [0.4, 0]] } as never;
        Object.assign(p.functions[0]!, { range });
      },
      "functions[0].range.law: the points must rise, in travel and in value, from the start of the range to its end.",
    ],
    [
      "a choice among what its state does not count",
      "undertow-sound",
      (p) => Object.assign(p.functions[1]!, { chosen: "channel" }),
      "functions[1].chosen: what is chosen needs a function that acts on press, and a state that tells a whole number.",
    ],
    [
      "SysEx with a name that is not there",
      "bellbuoy",
      (p) => Object.assign(p.states[2]!.heard!, { bytes: "F0 7D {patch} {value:text} F7" }),
      "states[2].heard.bytes: “patch” cannot stand in this message: it is none of the parameters.",
    ],
    [
      "a text in the middle of SysEx",
      "bellbuoy",
      (p) => Object.assign(p.states[2]!.heard!, { bytes: "F0 7D {value:text} {kit} F7" }),
      "states[2].heard.bytes: “F0 7D {value:text} {kit} F7” is not hexadecimal pairs from F0 to F7.",
    ],
  ])("%s", (_name, id, change, sentence) => {
    expect(said(id, change)).toContain(sentence);
  });
  test.each(library.desks.map((d) => [d.id]))("%s, which ships, has none", (id) => {
    expect(said(id, () => {})).toEqual([]);
  });
});
