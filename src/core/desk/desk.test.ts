import fc from "fast-check";
import { beforeEach, describe, expect, test } from "vitest";
import { library, showWith } from "../../../tests/rig/shows.ts";
import { compileDesk, stateIndex, stateParameters } from "./compile-desk.ts";
import { DEFAULT_TIMING, DeskLink } from "./link.ts";
import { ASSUMED, CONFIRM_WITHIN_MS, DeskStateStore, REPORTED } from "./state-store.ts";
import { escapeBraces, fillTemplate, parseTemplate, wholeName } from "./template.ts";
import { CONFIRMED, LEVEL_COMMAND, ON_COMMAND, RELEASE_COMMAND } from "./truth-terms.ts";

const profile = library.desks.find((d) => d.id === "quay-lights")!;
const desk = compileDesk(showWith([]).desks[0]!, profile);
const level = desk.states.get("playback.level")!;

describe("templates (RFC 6570, level 1)", () => {
  test.each([
    ["/a/{b}/c", "/a/7/c"],
    ["/{b}{b}", "/77"],
    ["/plain", "/plain"],
    ["{b}", "7"],
    ['PUT /l {{"v":{b}}}', 'PUT /l {"v":7}'],
    ["{{{b}}} {{}}", "{7} {}"],
  ])("%s", (text, filled) => {
    const parsed = parseTemplate(text);
    expect(parsed.ok && fillTemplate(parsed.template, () => 7)).toBe(filled);
  });
  test.each(["/{", "/}", "/{}", "/{a{b}", "/{a}}", "/{A}", "/{a b}", "/}{"])(
    "“%s” is refused with a sentence",
    (text) => {
      const parsed = parseTemplate(text);
      expect(parsed.ok ? "" : parsed.fault.fault).not.toBe("");
    },
  );
  test("any text stands in a template as it is, once its braces are doubled", () => {
    fc.assert(
      fc.property(fc.string(), (text) => {
        expect(parseTemplate(escapeBraces(text))).toEqual({
          ok: true,
          template: { literals: [text], names: [], bits: [] },
        });
      }),
    );
  });
  test("a whole name is told from a part of a text", () => {
    expect([wholeName("{value}"), wholeName("a{value}"), wholeName("value")]).toEqual(["value", null, null]);
  });
});

describe("a compiled desk", () => {
  test("every set of parameters has an index of its own, and back", () => {
    const seen = new Set<number>();
    for (let page = 1; page <= 9; page++)
      for (let playback = 1; playback <= 20; playback++) {
        const index = stateIndex(level, [page, playback]);
        expect(stateParameters(level, index)).toEqual([page, playback]);
        seen.add(index);
      }
    expect(seen.size).toBe(180);
    expect(Math.min(...seen)).toBe(level.base);
    expect(Math.max(...seen)).toBe(level.base + level.count - 1);
  });
  test("every address it may say is one look-up", () => {
    const heard = desk.hears.get("/now/playback/9/20/level")!;
    expect(heard).toEqual([{ state: level, index: stateIndex(level, [9, 20]) }]);
    expect(desk.hears.get("/now/playback/10/1/level")).toBeUndefined();
    expect(desk.hears.get("/now/cue")?.map((h) => h.state.state.id)).toEqual(["cue", "cue.name"]);
  });
});

describe("what is known of a desk", () => {
  let store: DeskStateStore;
  beforeEach(() => {
    store = new DeskStateStore(desk);
    store.setTiming({ ...DEFAULT_TIMING, rtoMs: 120 });
  });
  test("a report is known as reported, and told once", () => {
    store.report(3, 0.5, 0);
    expect([store.number(3), store.source[3], store.isKnown(3), store.isKnown(4)]).toEqual([
      0.5,
      REPORTED,
      true,
      false,
    ]);
    expect(store.takeChanged()).toEqual([3]);
    store.report(3, 0.5, 1);
    expect(store.hasChanged).toBe(false);
  });
  test("where the desk reports nothing, what was sent is assumed", () => {
    store.sent(3, 1, false, 9, 0);
    expect([store.number(3), store.source[3], store.isUnconfirmed(3, 1e6), store.sentRow(3)]).toEqual([
      1,
      ASSUMED,
      false,
      9,
    ]);
  });
  test("what was sent counts until the desk answers, and is unconfirmed when it takes too long", () => {
    store.report(3, 0, 0);
    store.sent(3, 1, true, 1, 100);
    expect(store.effective(3)).toBe(1);
    const unconfirmed = [100 + CONFIRM_WITHIN_MS, 116 + CONFIRM_WITHIN_MS].map((atMs) => {
      store.takeLate(atMs);
      return store.isUnconfirmed(3, atMs);
    });
    expect(unconfirmed).toEqual([false, true]);
    expect([store.report(3, 1, 400) & CONFIRMED, store.confirmedMs]).toEqual([CONFIRMED, 300]);
    expect([store.isUnconfirmed(3, 1000), store.isWaiting(3)]).toEqual([false, false]);
  });
  test("that a value is unconfirmed is told once, and so is that it was sent again", () => {
    store.report(3, 0, 0);
    store.sent(3, 1, true, 1, 100);
    store.takeChanged();
    const late = 101 + CONFIRM_WITHIN_MS;
    const told = [late - 20, late, late + 20, late + 1000].map((atMs) => store.takeLate(atMs));
    expect([told, store.takeChanged()]).toEqual([[[], [3], [], []], [3]]);
    store.sent(3, 0.5, true, 2, 2000);
    expect([store.takeLate(2001), store.takeLate(2020), store.takeChanged()]).toEqual([[3], [], [3]]);
    expect([store.takeLate(2001 + CONFIRM_WITHIN_MS), store.takeLate(9000)]).toEqual([[3], []]);
  });
  test("what was shown as late and comes to rest without a word of the desk is told, so that it is drawn anew", () => {
    store.report(3, 0, 0);
    store.sent(3, 1, true, 1, 100);
    expect(store.takeLate(1000)).toEqual([3]);
    store.takeChanged();
    store.cannotAsk(3, 20_000); // nobody answers, and nobody can be asked
    expect([store.isUnconfirmed(3, 20_000), store.takeLate(20_000), store.takeChanged()]).toEqual([false, [3], [3]]);
    expect(store.takeLate(30_000)).toEqual([]);
  });
  describe("of a desk that nobody can ask, with round trips of 8 ms or more so far", () => {
    beforeEach(() => {
      store.setTiming({ ...DEFAULT_TIMING, rtoMs: 120, minRttMs: 8 });
      store.report(3, 0, 0);
      store.sent(3, 0.5, true, 1, 100);
      store.report(3, 0.5, 110);
      store.sent(3, 0.75, true, 2, 120);
    });
    test("an echo sooner than that has to do", () => {
      store.report(3, 0.75, 123);
      store.cannotAsk(3, 240);
      expect([store.number(3), store.isWaiting(3), store.isUnconfirmed(3, 1000)]).toEqual([0.75, false, false]);
    });
    test("without an echo, what it said before holds in the end", () => {
      store.cannotAsk(3, 240);
      expect([store.effective(3), store.isWaiting(3)]).toEqual([0.75, true]);
      store.cannotAsk(3, 60_000);
      expect([store.number(3), store.isWaiting(3)]).toEqual([0.5, false]);
    });
    test("early echoes of a value that it never told before are no number of nothing", () => {
      store.sent(4, 0.5, true, 3, 100);
      store.sent(4, 0.75, true, 4, 102);
      store.report(4, 0.5, 103);
      expect([store.isKnown(4), store.effective(4)]).toEqual([false, 0.75]);
      store.report(4, 0.75, 104);
      store.cannotAsk(4, 240);
      expect([store.isKnown(4), store.number(4), store.takeChanged().includes(4)]).toEqual([true, 0.75, true]);
    });
    test("an early echo of one value is none of the next", () => {
      store.report(3, 0.75, 123);
      store.sent(3, 0.25, true, 3, 130);
      store.cannotAsk(3, 60_000);
      expect([store.number(3), store.isWaiting(3)]).toEqual([0.5, false]);
    });
  });
  test("what somebody else moved is not unconfirmed while it is looked whether that holds", () => {
    store.sent(3, 1, true, 1, 0);
    store.report(3, 1, 20);
    store.report(3, 0.5, 100); // ours could still be on its way
    const seen = [120, 400].map((atMs) => {
      store.takeLate(atMs);
      return [store.isWaiting(3), store.isUnconfirmed(3, atMs)];
    });
    expect(seen).toEqual([
      [true, false],
      [true, true],
    ]);
  });
  test("a late echo of an earlier value does not settle a later one", () => {
    store.sent(3, 0.25, true, 1, 0);
    store.sent(3, 0.75, true, 2, 10);
    expect([store.report(3, 0.25, 20), store.confirmedMs, store.isWaiting(3)]).toEqual([0, -1, true]);
    store.report(3, 0.75, 30);
    expect([store.confirmedMs, store.isWaiting(3)]).toEqual([20, false]);
  });
  test("values are compared as the wire carries them, in 32 bits", () => {
    store.sent(3, 0.1, true, 1, 0);
    store.report(3, Math.fround(0.1), 5);
    expect(store.confirmedMs).toBe(5);
  });
  test("a desk that was away is asked anew: a level is sent again, a press of then is not", () => {
    store.sent(3, 1, true, 1, 0, LEVEL_COMMAND);
    store.sent(4, 1, true, 1, 0, ON_COMMAND);
    store.sent(5, 0, true, 1, 0, RELEASE_COMMAND);
    expect(store.back(5000)).toEqual([3, 5]);
    store.report(4, 0, 5010);
    expect([store.isWaiting(4), store.number(4)]).toEqual([false, 0]);
  });
  test("texts are told when they change", () => {
    store.reportText(8, "Spray");
    store.reportText(8, "Spray");
    expect([store.takeChanged(), store.texts[8]]).toEqual([[8], "Spray"]);
  });
  test("another store's knowledge is taken over", () => {
    store.restore(3, 0.5, REPORTED);
    store.restore(8, "Spray", REPORTED);
    expect([store.number(3), store.texts[8], store.isKnown(8)]).toEqual([0.5, "Spray", true]);
  });
});

describe("rule 20: health follows from answers and refusals", () => {
  type Step = { kind: "tick" | "heard" | "refused"; ms: number };
  const steps = fc.array(
    fc.record({
      kind: fc.constantFrom("tick" as const, "heard" as const, "refused" as const),
      ms: fc.integer({ min: 0, max: 4000 }),
    }),
    { maxLength: 40 },
  );
  test("whatever happens: heard is answering, refused is refusing, and silence is told only after its time", () => {
    fc.assert(
      fc.property(steps, (all: Step[]) => {
        const link = new DeskLink(profile);
        let atMs = 1000;
        let lastHeard = -1;
        link.tick(atMs);
        for (const { kind, ms } of all) {
          atMs += ms;
          if (kind === "tick") link.tick(atMs);
          if (kind === "heard") {
            link.heard(atMs);
            lastHeard = atMs;
            expect(link.state.health).toBe("answering");
          }
          if (kind === "refused") {
            link.refused(atMs);
            expect(link.state.health).toBe("refusing");
          }
          if (link.state.health === "silent" && lastHeard >= 0)
            expect(atMs - lastHeard).toBeGreaterThan(profile.heartbeat!.silentAfterMs);
          if (link.state.health === "answering") expect(lastHeard).toBeGreaterThanOrEqual(0);
        }
      }),
    );
  });
  test("a refusal without another one for three seconds is silence", () => {
    const link = new DeskLink(profile);
    link.tick(0);
    link.refused(10);
    link.tick(3000);
    expect(link.state.health).toBe("refusing");
    link.tick(3011);
    expect(link.state.health).toBe("silent");
  });
  test("answers without a number are measured right, whichever of them are lost and however long they take", () => {
    const silent = { ...profile, heartbeat: { ...profile.heartbeat!, everyMs: 1000, silentAfterMs: 2500 } };
    fc.assert(
      fc.property(
        fc.integer({ min: 0, max: 1450 }),
        fc.array(fc.boolean(), { minLength: 60, maxLength: 60 }),
        (roundTripMs, lost) => {
          const link = new DeskLink(silent);
          const due: number[] = [];
          const measured: number[] = [];
          let sent = 0;
          for (let atMs = 0; atMs < 60_000; atMs += 10) {
            while (due[0] !== undefined && due[0] <= atMs) measured.push(link.pulseHeard(null, due.shift()!));
            // Every third is lost at most; the subscription and the question are no heartbeats.
            for (const bytes of link.tick(atMs).send)
              if (String.fromCharCode(...bytes).includes("/pulse") && !(lost[sent++ % 60] && sent % 3 === 0))
                due.push(atMs + roundTripMs);
          }
          const told = new Set(measured.filter((ms) => ms >= 0));
          expect([...told]).toEqual([roundTripMs]);
        },
      ),
    );
  });
  test("the house desk needs no link", () => {
    const link = new DeskLink(library.desks.find((d) => d.id === "house")!);
    expect([link.tick(1e6).send, link.state.health]).toEqual([[], "inside"]);
    link.refused(5);
    expect(link.state.health).toBe("inside");
  });
});
