import { beforeEach, describe, expect, test } from "vitest";
import { Rig } from "../../tests/rig/rig.ts";
import { level, mapping, shift, showWith } from "../../tests/rig/shows.ts";
import type { Stranger } from "../core/live/protocol.ts";
import { SlabReader } from "../core/trace/row-slabs.ts";
import { readRow, rowCount } from "../core/trace/traffic-ring.ts";
import { Batches } from "./batches.ts";
import { HoldingNews } from "./holding-news.ts";

describe("what the server is told", () => {
  let rig: Rig;
  let batches: Batches;
  let nobody: Stranger[] = [];
  beforeEach(() => {
    rig = new Rig(showWith([mapping("pad-1", shift()), mapping("fader-1", level(1))]));
    const nothing = new Map();
    const computerMidi = { state: "not-looked" as const, detail: "", inputs: [], outputs: [], hasVirtual: false };
    const strangers = { list: () => nobody };
    const ports = {
      inputs: nothing,
      outputs: nothing,
      desks: nothing,
      midi: { sessions: {}, computerMidi },
      strangers,
    };
    batches = new Batches(ports, new HoldingNews(() => {}));
  });
  const next = () => batches.next(rig.translator, 1, rig.nowMs);
  /** Until there is nothing to tell any more. */
  const settle = () => {
    let told = 0;
    while (next()) expect(++told).toBeLessThan(5);
  };

  test("first everything, then nothing while nothing changes", () => {
    const first = next()!;
    expect(first).toMatchObject({ load: 1, status: { layer: "base", layers: [], held: [] } });
    expect(Object.keys(first.surfaces)).toEqual(["deck"]);
    settle();
    expect([next(), next()]).toEqual([null, null]);
    batches.tellAll();
    expect(next()).toMatchObject({ status: { layer: "base" } });
  });

  test("who is a stranger is told whenever it is another list", () => {
    settle();
    const stranger = {
      kind: "universe",
      protocol: "sacn",
      reach: "network",
      universe: 3,
      name: "Harbour office",
      slots: [],
      in: 1,
    } satisfies Stranger;
    nobody = [stranger];
    expect(next()?.status?.strangers).toEqual([stranger]);
    settle();
    nobody = [{ ...stranger, in: 2 }];
    expect(next()?.status?.strangers).toEqual(nobody);
  });

  test("a move: where its rows lie and where the fader stands, and not what it left as it was", () => {
    settle();
    rig.move("fader-1", 64);
    const batch = next()!;
    expect([batch.rows?.slab, batch.status, batch.holding]).toEqual([1, undefined, undefined]);
    expect(batch.controls.deck).toHaveLength(1);
  });

  test("rows lie in memory that is told of with the first of them", () => {
    const reader = new SlabReader(() => {});
    const rows = (batch: ReturnType<typeof next>) => reader.take(batch!.rows!)!;
    rig.move("fader-1", 64);
    const first = rows(next());
    rig.move("fader-1", 65);
    const second = rows(next());
    const values = [first, second].flatMap((block) =>
      Array.from({ length: rowCount(block) }, (_, k) => readRow(block, k)).filter((r) => !r.out && !r.desk),
    );
    expect([values.map((r) => r.bytes[2]), second.buffer === first.buffer]).toEqual([[64, 65], true]);
  });

  test("a layer that comes up is told with what holds it", () => {
    settle();
    rig.press("pad-1");
    expect(next()).toMatchObject({
      status: { layers: ["shift"], held: [{ surface: "deck", control: "pad-1" }] },
      holding: { held: [{ control: "pad-1" }] },
    });
    rig.release("pad-1");
    expect(next()!.status).toMatchObject({ layers: [], held: [] });
  });
});
