import { beforeEach, describe, expect, test } from "vitest";
import { BAR_END, VisionDesk } from "./desk.ts";
import { oneState, readRequest, tell, wholeState } from "./protocol.ts";

let desk: VisionDesk;
beforeEach(() => {
  desk = new VisionDesk();
});

/** What the desk tells for a line, and how it answers. */
function said(line: string): string[] {
  const request = readRequest(line);
  if (request.kind === "wrong") return [`no ${request.reason}`];
  if (request.kind !== "command") return [request.kind];
  const result = desk.act(request.command);
  return result.ok ? [...result.changes.map((c) => tell(desk, c)), "ok"] : [`no ${result.reason}`];
}

describe("the stand-in vision desk, as PROTOCOL.md says", () => {
  test.each<[string, string[]]>([
    ["preview 1 3", ["at preview 1 3", "at tally 1 0", "at tally 3 1", "ok"]],
    ["program 1 3", ["at program 1 3", "at tally 3 2", "at tally 5 0", "ok"]],
    ["cut 1", ["at preview 1 5", "at program 1 1", "at tally 1 2", "at tally 5 1", "ok"]],
    ["length 2 50", ["at length 2 50", "ok"]],
    ["key 4 1", ["at key 4 1", "ok"]],
    ["aux 6", ["at aux 6", "ok"]],
    ["audio 7 -12.5", ["at audio 7 -12.5", "ok"]],
    ["  aux   2 ", ["at aux 2", "ok"]],
    ["state", ["state"]],
    ["ping 77", ["ping"]],
    ["preview 3 1", ["no there is no such mix bus"]],
    ["preview 1 9", ["no there is no such input"]],
    ["preview 1 1.5", ["no there is no such input"]],
    ["key 5 1", ["no there is no such keyer"]],
    ["audio 1 11", ["no the level is out of range"]],
    ["length 1 0", ["no the length is out of range"]],
    ["bar 1 1001", ["no the bar ends at 0 and 1000"]],
    ["cut", ["no “cut” takes 1 numbers"]],
    ["cut one", ["no a number is expected"]],
    ["dance 1", ["no this word is not known"]],
  ])("%s", (line, told) => {
    expect(said(line)).toEqual(told);
  });

  test("an auto transition takes its length in frames and puts both sides on air meanwhile", () => {
    said("length 1 4");
    expect(said("auto 1")).toEqual(["at auto 1 1", "ok"]);
    expect(said("auto 1")).toEqual(["no a transition is running"]);
    const frames = Array.from({ length: 4 }, () => desk.frame().map((c) => tell(desk, c)));
    expect(frames[0]).toEqual(["at bar 1 250", "at tally 1 2"]);
    expect(frames[1]).toEqual(["at bar 1 500"]);
    expect(frames[3]).toEqual(["at bar 1 1000", "at preview 1 5", "at program 1 1", "at auto 1 0", "at tally 5 1"]);
    expect([desk.isMoving, desk.frame()]).toEqual([false, []]);
  });
  test("the bar ends a transition at its other end, and starts the next from there", () => {
    said("bar 1 400");
    said(`bar 1 ${BAR_END}`);
    expect(desk.mixes[0]).toMatchObject({ program: 1, preview: 5 });
    said("bar 1 600");
    said("bar 1 1000"); // back where it came from: nothing is done
    expect(desk.mixes[0]).toMatchObject({ program: 1, preview: 5 });
    said("bar 1 0");
    expect(desk.mixes[0]).toMatchObject({ program: 5, preview: 1 });
  });
  test("a hand on the bar takes over from the auto transition", () => {
    said("auto 1");
    desk.frame();
    expect(said("bar 1 500")).toContain("at auto 1 0");
    expect(desk.isMoving).toBe(false);
  });
  test("its whole state tells each thing once", () => {
    const all = wholeState(desk);
    expect(all).toHaveLength(8 * 4 + 2 * 5 + 4 + 1);
    expect(new Set(all).size).toBe(all.length);
    expect(all).toContain('at name 2 "Buoy camera"');
    expect(all).toContain("at tally 5 2");
  });
  test("it tells each thing alone, as it tells it with everything, and nothing that it has not", () => {
    for (const line of wholeState(desk).filter((l) => !l.includes('"'))) {
      const what = line.split(" ").slice(1, -1).join(" ");
      expect(oneState(desk, what)).toBe(line);
      expect(readRequest(`state ${what}`)).toEqual({ kind: "state-of", what });
    }
    for (const what of ["preview", "preview 3", "preview 1 2", "aux 1", "dance"])
      expect(oneState(desk, what)).toBeNull();
  });
});
