import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { enter, keepLayers, layerStack, leave, lock, NO_LAYERS, step, unlock } from "./layers.ts";
import { GestureRecogniser, type PressPlan } from "./recogniser.ts";

const NONE: PressPlan = { tap: -1, hold: -1, double: -1, holdMs: 400, doubleMs: 250 };

/** Plays downs and ups at their times; what fired, with its time. */
function play(
  plan: Partial<PressPlan>,
  events: readonly (readonly ["down" | "up", number])[],
  endMs: number,
): string[] {
  const fired: string[] = [];
  let atMs = 0;
  const reader = new GestureRecogniser((gesture) => fired.push(`${gesture} ${atMs}`));
  const until = (ms: number) => {
    for (; atMs < ms; atMs++) reader.due(atMs);
    atMs = ms;
  };
  for (const [what, ms] of events) {
    until(ms);
    if (what === "down") reader.press(1, { ...NONE, ...plan }, 1, 0, atMs);
    else reader.release(1, atMs);
  }
  until(endMs);
  reader.due(atMs);
  return fired;
}

describe("rule 7: a tap waits for hold only where a hold is mapped", () => {
  const short = [
    ["down", 10],
    ["up", 90],
  ] as const;
  const long = [
    ["down", 10],
    ["up", 900],
  ] as const;
  const twice = [...short, ["down", 200], ["up", 260]] as const;
  test.each<[string, Partial<PressPlan>, readonly (readonly ["down" | "up", number])[], string[]]>([
    ["a tap alone fires as the finger comes down", { tap: 1 }, short, ["tap 10"]],
    ["with a hold it fires as the finger leaves", { tap: 1, hold: 2 }, short, ["tap 90"]],
    ["a hold fires when its time is over, and the release is no tap", { tap: 1, hold: 2 }, long, ["hold 410"]],
    ["a hold of another length", { hold: 2, holdMs: 600 }, long, ["hold 610"]],
    ["with a double tap it waits for the second", { tap: 1, double: 3 }, short, ["tap 340"]],
    ["the second press in time is a double tap and no tap", { tap: 1, double: 3 }, twice, ["double 200"]],
    ["the second press too late is another tap", { tap: 1, double: 3, doubleMs: 60 }, twice, ["tap 150", "tap 320"]],
    ["all three: tap", { tap: 1, hold: 2, double: 3 }, short, ["tap 340"]],
    ["all three: hold", { tap: 1, hold: 2, double: 3 }, long, ["hold 410"]],
    [
      "all three: double, held long",
      { tap: 1, hold: 2, double: 3 },
      [...short, ["down", 200], ["up", 900]],
      ["double 200"],
    ],
    ["a press too long for a tap, with no hold mapped, is nothing", { tap: 1, double: 3 }, long, []],
    ["with nothing mapped nothing is waited for", {}, short, []],
  ])("%s", (_name, plan, events, wanted) => {
    expect(play(plan, events, 2000)).toEqual(wanted);
  });
  test("however fingers play, a press fires at most one of the three, and nothing is left waiting", () => {
    const flag = fc.constantFrom(-1, 1);
    fc.assert(
      fc.property(
        flag,
        flag,
        flag,
        fc.array(fc.integer({ min: 1, max: 700 }), { maxLength: 30 }),
        (tap, hold, double, gaps) => {
          let fired = 0;
          const reader = new GestureRecogniser(() => fired++);
          let atMs = 0;
          gaps.forEach((gap, i) => {
            atMs += gap;
            reader.due(atMs);
            if (i % 2 === 0) reader.press(1, { ...NONE, tap, hold, double }, 1, 0, atMs);
            else reader.release(1, atMs);
          });
          reader.release(1, atMs + 1);
          reader.due(atMs + 5000);
          expect(fired).toBeLessThanOrEqual(Math.ceil(gaps.length / 2));
          expect(reader.isWaiting).toBe(false);
        },
      ),
    );
  });
  test("a change of the show leaves what is not decided as it was, and calls off what is no mapping any more", () => {
    const fired: string[] = [];
    const reader = new GestureRecogniser((g, key, mapping) => fired.push(`${g} ${key} ${mapping}`));
    reader.press(1, { ...NONE, hold: 2, tap: 3 }, 1, 0, 0);
    reader.press(2, { ...NONE, hold: 4, tap: 3 }, 1, 0, 0);
    reader.press(3, { ...NONE, hold: 4 }, 1, 0, 0);
    reader.renumber((m) => (m === 2 || m === 3 ? m + 10 : -1));
    reader.due(1000);
    for (const key of [1, 2, 3]) reader.release(key, 1001);
    expect(fired).toEqual(["hold 1 12"]); // the second was down too long for a tap
    reader.press(2, { ...NONE, hold: 4, tap: 3 }, 1, 0, 2000);
    reader.renumber((m) => (m === 3 ? 0 : -1));
    reader.release(2, 2100);
    expect(fired.slice(1)).toEqual(["tap 2 0"]);
    expect(reader.isWaiting).toBe(false);
  });
});

describe("layers", () => {
  const layers = [{ id: "base" }, { id: "shift" }, { id: "more" }, { id: "select", group: "row" }];
  test("held ones lie over each other, and the one below comes back", () => {
    const two = enter(enter(NO_LAYERS, "shift"), "more");
    expect([layerStack(two), layerStack(leave(two, "more")), layerStack(leave(two, "shift"))]).toEqual([
      ["shift", "more"],
      ["shift"],
      ["more"],
    ]);
  });
  test("a locked one stays until another takes its place; one for a group stays beside it", () => {
    const locked = lock(lock(NO_LAYERS, "select", layers, "base"), "shift", layers, "base");
    expect(layerStack(locked)).toEqual(["select", "shift"]);
    expect(layerStack(lock(locked, "more", layers, "base"))).toEqual(["select", "more"]);
    expect(layerStack(lock(locked, "base", layers, "base"))).toEqual(["select"]);
    expect(layerStack(unlock(locked, "select"))).toEqual(["shift"]);
  });
  test("stepping goes around the layers that cover everything", () => {
    let up = NO_LAYERS;
    const seen: string[] = [];
    for (let n = 0; n < 4; n++) {
      up = step(up, 1, layers, "base");
      seen.push(layerStack(up).join());
    }
    expect(seen).toEqual(["shift", "more", "", "shift"]);
    expect(layerStack(step(NO_LAYERS, -1, layers, "base"))).toEqual(["more"]);
  });
  test("layers that were removed are up no longer", () => {
    const up = enter(lock(NO_LAYERS, "shift", layers, "base"), "more");
    expect(layerStack(keepLayers(up, [{ id: "base" }, { id: "more" }]))).toEqual(["more"]);
  });
});
