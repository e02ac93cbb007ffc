/** What an engine is sent of the show, and when it is the whole. */
import { beforeEach, describe, expect, test } from "vitest";
import { showWith } from "../../tests/rig/shows.ts";
import type { ToEngine } from "../engine/messages.ts";
import { EngineLoads } from "./engine-loads.ts";

const patches = [{ op: "replace" as const, path: ["name"], value: "Another" }];
let sent: string[];
let loads: EngineLoads;
let revision: number;

beforeEach(() => {
  sent = [];
  revision = 0;
  const told = (m: ToEngine) => {
    if (m.kind === "load") return `load ${m.load}${m.profiles ? " with profiles" : ""}`;
    if (m.kind === "patch" || m.kind === "load-warm") return `${m.kind} ${m.from} to ${m.load}`;
    return m.kind;
  };
  loads = new EngineLoads({
    send: (message) => sent.push(told(message)),
    show: () => showWith([]),
    revision: () => revision,
    passwords: () => ({}),
    profiles: () => ({ surfaces: [], desks: [] }),
    begins: () => {},
  });
});

describe("the show, to the engine", () => {
  test("goes as a whole at the start, then by what each edit changed", () => {
    loads.started(-1, null);
    loads.changed(patches);
    loads.changed(patches);
    loads.changed(null);
    loads.changed(patches);
    expect(sent).toEqual(["load 1 with profiles", "patch 1 to 2", "patch 2 to 3", "load 4", "patch 4 to 5"]);
  });
  test("is there already in a spare that was made ready for it, and only for it", () => {
    loads.started(-1, null);
    expect(loads.warm()).toMatchObject({ kind: "warm", load: 1 });
    loads.died();
    loads.started(1, null);
    loads.changed(patches);
    loads.died();
    loads.started(2, null);
    expect(sent).toEqual(["load 1 with profiles", "load-warm 1 to 2", "patch 2 to 3", "load 4 with profiles"]);
  });
  test("where an edit made the engine fail the one before runs, and the next edit goes as a whole", () => {
    revision = 7;
    loads.started(-1, null);
    loads.loaded(1);
    revision = 8;
    loads.changed(patches);
    expect([loads.recovered(), loads.ranRevision]).toEqual([true, 7]);
    loads.changed(patches);
    expect(sent).toEqual(["load 1 with profiles", "patch 1 to 2", "load 3"]);
  });
  test("edits that were under way behind the one that failed are not lost", () => {
    loads.started(-1, null);
    loads.loaded(1);
    for (let n = 0; n < 3; n++) loads.changed(patches);
    expect(loads.recovered()).toBe(true);
    expect(sent.slice(-2)).toEqual(["patch 3 to 4", "load 5"]);
  });
  test("a fault that has nothing to do with an edit changes nothing of what runs", () => {
    loads.started(-1, null);
    loads.loaded(1);
    expect([loads.recovered(), sent]).toEqual([false, ["load 1 with profiles"]]);
  });
});
