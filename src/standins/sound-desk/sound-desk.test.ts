import { beforeEach, describe, expect, test } from "vitest";
import { messages } from "../../../tests/rig/rig.ts";
import { encodeOsc } from "../../core/osc/encode.ts";
import type { OscArgument } from "../../core/osc/types.ts";
import { SoundDesk } from "./desk.ts";
import { beatBack, meters, oneState, readRequests, tellBytes, wholeState } from "./protocol.ts";

let desk: SoundDesk;
beforeEach(() => {
  desk = new SoundDesk();
});

const i = (value: number): OscArgument => ({ type: "i", value });
const f = (value: number): OscArgument => ({ type: "f", value });

function told(address: string, ...args: OscArgument[]): string[] | null {
  const [request] = readRequests(encodeOsc({ kind: "message", address, args }))!;
  if (request?.kind !== "command") return [request?.kind ?? ""];
  return desk.act(request.command)?.flatMap((c) => messages(tellBytes(desk, c))) ?? null;
}

describe("the stand-in sound desk, as PROTOCOL.md says", () => {
  test.each<[string, OscArgument[], string[] | null]>([
    ["/do/channel/5/level", [f(-12.5)], ["/is/channel/5/level -12.5"]],
    ["/do/channel/5/level", [i(10)], ["/is/channel/5/level 10"]],
    ["/do/channel/5/level", [f(10.5)], null],
    ["/do/channel/33/level", [f(0)], null],
    ["/do/channel/5/mute", [i(1)], ["/is/channel/5/mute 1"]],
    ["/do/channel/5/solo", [{ type: "T" }], ["/is/channel/5/solo 1"]],
    ["/do/channel/5/gate", [i(1)], ["/is/channel/5/gate 1"]],
    ["/do/channel/5/limiter", [i(1)], ["/is/channel/5/limiter 1"]],
    ["/do/channel/5/pan", [f(-1)], ["/is/channel/5/pan -1"]],
    ["/do/channel/5/pan", [f(-1.5)], null],
    ["/do/channel/5/send/12", [f(-20)], ["/is/channel/5/send/12 -20"]],
    ["/do/channel/5/send/13", [f(-20)], null],
    ["/do/bus/2/level", [f(3)], ["/is/bus/2/level 3"]],
    ["/do/select", [i(32)], ["/is/selected 32"]],
    ["/do/select", [i(0)], null],
    ["/do/layer", [i(4)], ["/is/layer 4"]],
    ["/do/scene", [i(2)], ["/is/scene 2 “House open”"]],
    ["/do/scene", [i(21)], null],
    ["/do/channel/5/level", [], ["unknown"]],
    ["/do/dance", [i(1)], ["unknown"]],
    ["/follow", [], ["listen"]],
    ["/beat", [i(3)], ["pulse"]],
  ])("%s %j", (address, args, wanted) => {
    expect(told(address, ...args)).toEqual(wanted);
  });
  test("a scene sets the levels it has, and leaves the others", () => {
    told("/do/channel/9/level", f(-5));
    expect(told("/do/scene", i(3))).toEqual([
      "/is/scene 3 “Slack Water”",
      "/is/channel/1/level 0",
      "/is/channel/6/level -10",
      "/is/channel/15/level -5",
      "/is/channel/16/level -15",
    ]);
    expect(desk.channels[8]!.level).toBe(-5);
  });
  test("its whole state fits into datagrams of one frame, each thing once", () => {
    const datagrams = wholeState(desk);
    expect(Math.max(...datagrams.map((d) => d.length))).toBeLessThanOrEqual(1472);
    const all = datagrams.flatMap(messages);
    expect(all).toHaveLength(3 + 32 * 8 + 12 * 2 + 20 + 32 * 12);
    expect(new Set(all).size).toBe(all.length);
  });
  test("it tells each thing alone, as it tells it with everything, and nothing that it has not", () => {
    for (const message of wholeState(desk).flatMap(messages)) {
      const what = message.split(" ")[0]!.slice("/is/".length);
      expect(messages(oneState(desk, what)!)).toEqual([message]);
      expect(readRequests(encodeOsc({ kind: "message", address: `/tell/${what}`, args: [] }))).toEqual([
        { kind: "ask-one", what },
      ]);
    }
    for (const what of [
      "",
      "channel",
      "channel/33/level",
      "channel/0/level",
      "channel/1/meter",
      "__proto__",
      "selected/1",
    ])
      expect(oneState(desk, what)).toBeNull();
  });
  test("meters move behind the fader and are still where it is down or muted", () => {
    told("/do/channel/1/level", f(0));
    const at = (ms: number) => meters(desk, ms).flatMap(messages);
    expect(at(0)).toHaveLength(32);
    expect(at(0)[0]).not.toBe(at(500)[0]);
    expect(at(500)[1]).toBe("/is/channel/2/meter -90");
    told("/do/channel/1/mute", i(1));
    expect(at(500)[0]).toBe("/is/channel/1/meter -90");
  });
  test("it answers a beat with its number", () => {
    expect(messages(beatBack(9))).toEqual(["/beat/back 9"]);
  });
});
