/** What an engine is sent of the show, and when it is the whole. */
import { beforeEach, describe, expect, test } from "vitest";
import { mapping, showWith, toggle } from "../../tests/rig/shows.ts";
import type { Show } from "../core/format/show.ts";
import type { ToEngine } from "../engine/messages.ts";
import { EngineLoads } from "./engine-loads.ts";

const patches = [{ op: "replace" as const, path: ["name"], value: "Another" }];
let sent: string[];
let loads: EngineLoads;
let revision: number;
let show: Show;
let hasSpare: boolean;
let isHandingOver: boolean;
/** Loads that a spare was to get ready for. */
let handed: number[];

beforeEach(() => {
  show = showWith([]);
  hasSpare = true;
  isHandingOver = false;
  handed = [];
  sent = [];
  revision = 0;
  const told = (m: ToEngine) => {
    if (m.kind === "load") return `load ${m.load}${m.profiles ? " with profiles" : ""}`;
    if (m.kind === "patch" || m.kind === "load-warm") return `${m.kind} ${m.from} to ${m.load}`;
    return m.kind;
  };
  loads = new EngineLoads({
    send: (message) => sent.push(told(message)),
    show: () => show,
    revision: () => revision,
    passwords: () => ({}),
    profiles: () => ({ surfaces: [], desks: [] }),
    handOver: () => {
      handed.push(loads.warm().load);
      isHandingOver = hasSpare;
      return hasSpare;
    },
    isHandingOver: () => isHandingOver,
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

describe("a large show", () => {
  const large = showWith(Array.from({ length: 1000 }, (_, n) => mapping("pad-1", toggle(1), { id: `m-${n}` })));
  beforeEach(() => loads.started(-1, null));

  test("is put in by the spare, in the place of a small one and of a large one, and so is what follows it", () => {
    show = large;
    loads.changed(null);
    loads.changed(patches); // while the spare is at it
    expect([handed, sent]).toEqual([[2, 3], ["load 1 with profiles"]]);
    isHandingOver = false;
    loads.started(3, null);
    loads.changed(patches);
    show = showWith([]);
    loads.changed(null);
    expect([handed, sent.slice(1)]).toEqual([
      [2, 3, 6],
      ["load-warm 3 to 4", "patch 4 to 5"],
    ]);
  });
  test("is changed in place where a few mappings change, and by the spare where others hang on what changes", () => {
    show = large;
    loads.changed(null);
    isHandingOver = false;
    loads.started(2, null);
    loads.changed([{ op: "replace", path: ["mappings", 3, "name"], value: "A" }]);
    loads.changed([{ op: "replace", path: ["surfaces", 0, "name"], value: "B" }]);
    expect([handed, sent.slice(1)]).toEqual([
      [2, 5],
      ["load-warm 2 to 3", "patch 3 to 4"],
    ]);
  });
  test("goes to the engine as a whole where there is no spare, or none that gets ready", () => {
    hasSpare = false;
    show = large;
    loads.changed(null);
    hasSpare = true;
    loads.changed(null);
    isHandingOver = false;
    loads.notHandedOver();
    expect(sent.slice(1)).toEqual(["load 3", "load 5"]);
  });
});
