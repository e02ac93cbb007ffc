import { beforeEach, describe, expect, test } from "vitest";
import { messages } from "../../../tests/rig/rig.ts";
import { encodeOsc } from "../../core/osc/encode.ts";
import { IMMEDIATELY, type OscArgument } from "../../core/osc/types.ts";
import { type Change, LightingDesk } from "./desk.ts";
import { pulseBack, readRequests, tellBytes, wholeState } from "./protocol.ts";

let desk: LightingDesk;
beforeEach(() => {
  desk = new LightingDesk();
});

const message = (address: string, ...args: OscArgument[]) => encodeOsc({ kind: "message", address, args });
const i = (value: number): OscArgument => ({ type: "i", value });
const f = (value: number): OscArgument => ({ type: "f", value });

/** Carries out what a datagram asks, and tells what the desk would say. */
function told(bytes: Uint8Array): string[] {
  const out: string[] = [];
  for (const request of readRequests(bytes) ?? [])
    if (request.kind === "command")
      for (const change of desk.act(request.command) ?? []) out.push(...messages(tellBytes(desk, change as Change)));
  return out;
}

describe("the stand-in lighting desk, as PROTOCOL.md says", () => {
  test.each<[string, Uint8Array, string[]]>([
    ["a level", message("/set/playback/3/2/level", f(0.5)), ["/now/playback/3/2/level 0.5"]],
    ["a level as a whole number", message("/set/playback/3/2/level", i(1)), ["/now/playback/3/2/level 1"]],
    ["on", message("/set/playback/1/1/on", i(1)), ["/now/playback/1/1/on 1"]],
    ["on by a truth", message("/set/playback/1/1/on", { type: "T" }), ["/now/playback/1/1/on 1"]],
    ["go from dark", message("/set/playback/1/1/go"), ["/now/playback/1/1/on 1", "/now/playback/1/1/level 1"]],
    ["flash", message("/set/playback/9/20/flash", i(1)), ["/now/playback/9/20/flash 1"]],
    ["the grand master", message("/set/grand", f(0.25)), ["/now/grand 0.25"]],
    ["blackout", message("/set/blackout", i(1)), ["/now/blackout 1"]],
    ["a page", message("/set/page", i(4)), ["/now/page 4"]],
    ["the next page", message("/set/page/step", i(1)), ["/now/page 2"]],
    ["the page before the first", message("/set/page/step", i(-1)), ["/now/page 1"]],
    ["the next cue", message("/set/cue/go"), ["/now/cue 2 “Slack water”"]],
    ["the cue before the first", message("/set/cue/back"), ["/now/cue 1 “House open”"]],
    ["a page it does not have", message("/set/page", i(10)), []],
    ["a level beyond full", message("/set/playback/1/1/level", f(1.5)), []],
    ["a level that is no number", message("/set/playback/1/1/level", f(Number.NaN)), []],
    ["a playback it does not have", message("/set/playback/1/21/on", i(1)), []],
    ["half a page", message("/set/playback/1.5/1/on", i(1)), []],
    ["a command without its value", message("/set/playback/1/1/on"), []],
    ["something else", message("/dance", i(1)), []],
  ])("%s", (_name, bytes, wanted) => {
    expect(told(bytes)).toEqual(wanted);
  });

  test("go on a playback that has a level keeps it", () => {
    told(message("/set/playback/1/1/level", f(0.5)));
    expect(told(message("/set/playback/1/1/go"))).toEqual(["/now/playback/1/1/on 1"]);
  });
  test("a reset tells everything that may have changed", () => {
    told(message("/set/playback/2/3/level", f(0.5)));
    told(message("/set/page", i(5)));
    const all = told(message("/set/reset"));
    expect(all).toContain("/now/page 1");
    expect(all).toContain("/now/playback/2/3/level 0");
    expect(all).toHaveLength(4 + 9 * 20 * 3);
  });
  test("a bundle is several commands", () => {
    const bundle = encodeOsc({
      kind: "bundle",
      timeTag: IMMEDIATELY,
      elements: [
        { kind: "message", address: "/set/page", args: [i(2)] },
        { kind: "message", address: "/set/cue/go", args: [] },
      ],
    });
    expect(told(bundle)).toEqual(["/now/page 2", "/now/cue 2 “Slack water”"]);
  });
  test("questions are told from commands, and garbage from both", () => {
    const kinds = (bytes: Uint8Array) => readRequests(bytes)?.map((r) => r.kind);
    expect(["/ask", "/listen", "/leave", "/pulse", "/other"].map((a) => kinds(message(a, i(3))))).toEqual([
      ["ask"],
      ["listen"],
      ["leave"],
      ["pulse"],
      ["unknown"],
    ]);
    expect(kinds(message("/pulse"))).toEqual(["unknown"]);
    expect(readRequests(Uint8Array.of(1, 2, 3))).toBeNull();
    expect(messages(pulseBack(7))).toEqual(["/pulse/back 7"]);
  });
  test("its whole state fits into datagrams of one frame, the page that is up first", () => {
    told(message("/set/page", i(3)));
    const datagrams = wholeState(desk);
    expect(Math.max(...datagrams.map((d) => d.length))).toBeLessThanOrEqual(1472); // Ethernet, less IP and UDP headers
    const all = datagrams.flatMap(messages);
    expect(all).toHaveLength(4 + 9 + 9 * 20 * 5);
    expect(new Set(all).size).toBe(all.length);
    expect(all[0]).toBe("/now/page 3");
    expect(all.findIndex((t) => t.startsWith("/now/playback/3/"))).toBeLessThan(
      all.findIndex((t) => t.startsWith("/now/playback/1/")),
    );
    expect(all).toContain("/now/playback/3/1/colour #4fa3c7ff");
    expect(all).toContain("/now/playback/3/1/name “Sea wall”");
    expect(all).toContain("/now/page/3/name “Breakwater”");
  });
});
