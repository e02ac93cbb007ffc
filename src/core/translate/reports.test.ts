import { describe, expect, test } from "vitest";
import { colour, f, i, Rig, s } from "../../../tests/rig/rig.ts";
import { action, fixed, flash, level, mapping, shift, showWith, toggle } from "../../../tests/rig/shows.ts";
import { encodeOsc } from "../osc/encode.ts";
import { MOST_WAITING } from "../osc/later-bundles.ts";
import { IMMEDIATELY } from "../osc/types.ts";
import { OUTCOME } from "../trace/outcome.ts";

const AMBER = "#e9b44c";
const BLUE = "#4fa3c7";
const twelve = showWith(Array.from({ length: 12 }, (_, k) => mapping(`pad-${k + 1}`, toggle(k + 1))));

describe("rule 13: looks come from what the desk says", () => {
  test("off, on and off again in the playback's colour, whoever changed it", () => {
    const rig = Rig.onPage(1, twelve).desk("/now/playback/1/2/colour", colour(BLUE)).desk("/now/playback/1/2/on", i(0));
    expect(rig.light("pad-2")).toEqual({ mode: "dim", colour: BLUE });
    rig.desk("/now/playback/1/2/on", i(1));
    expect(rig.light("pad-2")).toEqual({ mode: "full", colour: BLUE });
    rig.desk("/now/playback/1/2/on", i(0));
    expect(rig.light("pad-2")).toEqual({ mode: "dim", colour: BLUE });
  });
  test("a press alone lights nothing: the desk has to say so", () => {
    const rig = Rig.onPage(1, twelve).desk("/now/playback/1/1/on", i(0)).tap("pad-1");
    expect(rig.light("pad-1")?.mode).toBe("dim");
    rig.desk("/now/playback/1/1/on", i(1));
    expect(rig.light("pad-1")?.mode).toBe("full");
  });
  test("sent and not confirmed in time is a look of its own, until the desk answers", () => {
    const rig = Rig.onPage(1, twelve).desk("/now/playback/1/1/on", i(0)).tap("pad-1").wait(100);
    expect(rig.light("pad-1")?.mode).toBe("dim");
    rig.wait(300);
    expect(rig.light("pad-1")?.mode).toBe("pulse");
    rig.desk("/now/playback/1/1/on", i(1));
    expect(rig.light("pad-1")?.mode).toBe("full");
  });
  test("a desk that decides otherwise is believed", () => {
    const rig = Rig.onPage(1, twelve).tap("pad-1").wait(20).desk("/now/playback/1/1/on", i(0)).wait(1000);
    expect(rig.light("pad-1")?.mode).toBe("dim");
  });
  test("where the desk reports nothing the control shows that it is pressed", () => {
    const rig = Rig.onPage(1, showWith([mapping("pad-1", action("g", "cue.go"))])).press("pad-1");
    expect(rig.light("pad-1")?.mode).toBe("full");
    rig.release("pad-1");
    expect(rig.light("pad-1")?.mode).toBe("dim");
  });
  test("a free control is dark", () => {
    const rig = new Rig(twelve);
    rig.translator.surfaceOpened(0, 1000);
    expect(rig.light("pad-30")?.mode).toBe("off");
  });
  test("the mapping's own colour goes before the desk's", () => {
    const rig = Rig.onPage(1, showWith([mapping("pad-1", toggle(1), { look: { colour: AMBER } })]));
    rig.desk("/now/playback/1/1/colour", colour(BLUE)).desk("/now/playback/1/1/on", i(1));
    expect(rig.light("pad-1")?.colour).toBe(AMBER);
  });
});

describe("rule 14: only differences are sent", () => {
  test("the same report twice draws once", () => {
    const rig = Rig.onPage(1, twelve).desk("/now/playback/1/1/on", i(1));
    expect(rig.drawn()).toHaveLength(1);
    rig.desk("/now/playback/1/1/on", i(1)).wait(100);
    expect(rig.drawn()).toEqual([]);
  });
  test("a change that looks the same is not sent", () => {
    const rig = Rig.onPage(1, twelve).desk("/now/playback/1/1/on", i(1)).desk("/now/playback/1/1/colour", colour(BLUE));
    rig.drawn();
    rig.desk("/now/playback/1/1/colour", colour("#4fa3c8")); // the nearest colour here is the same
    expect(rig.drawn()).toEqual([]);
  });
  test("an edit that changes nothing draws nothing", () => {
    const rig = Rig.onPage(1, twelve);
    rig.edit((show) => ({ ...show, name: "Another name" })).wait(100);
    expect(rig.drawn()).toEqual([]);
  });
  test("when the surface is opened again, everything is, once", () => {
    const rig = Rig.onPage(1, twelve);
    rig.translator.surfaceOpened(0, rig.nowMs);
    expect(new Set(rig.drawn()).size).toBe(31); // thirty pads and the shift button
    rig.wait(100);
    expect(rig.drawn()).toEqual([]);
  });
  test("a redraw keeps to the port's budget, with what is under the hands first", () => {
    const show = showWith(twelve.mappings, {
      surfaces: [
        {
          id: "deck",
          name: "Deck grid",
          profile: "deck-grid",
          in: { kind: "screen" },
          out: { kind: "browser-midi", device: "Deck", nth: 1 },
        },
      ],
    });
    const rig = Rig.onPage(1, show).wait(100).tap("pad-9").wait(10).tap("pad-4").wait(500).wait(500);
    rig.drawn();
    rig.translator.redraw(rig.nowMs);
    const first = rig.drawn();
    expect(first).toHaveLength(31); // 32 at once, 1,000 a second over such a cable
    expect(first.slice(0, 2).map((t) => Number(t.split(" ")[1]) - 35)).toEqual([4, 9]);
    rig.translator.redraw(rig.nowMs);
    expect(rig.drawn().length).toBeLessThan(3);
    rig.wait(16);
    const later = rig.drawn().length;
    expect(later).toBeGreaterThan(10);
    expect(later).toBeLessThan(18);
    rig.wait(30);
    rig.drawn();
    expect(rig.wait(100).drawn()).toEqual([]); // the redraw is over
  });
});

describe("rule 18: a change of page changes everything together", () => {
  const show = showWith([...twelve.mappings, mapping("fader-1", level(1))]);
  function twoPages(): Rig {
    const rig = Rig.onPage(1, show);
    for (let p = 1; p <= 12; p++) {
      rig.desk(`/now/playback/1/${p}/colour`, colour(AMBER)).desk(`/now/playback/2/${p}/colour`, colour(BLUE));
      rig.desk(`/now/playback/2/${p}/on`, i(p % 2)).desk(`/now/playback/1/${p}/on`, i(1 - (p % 2)));
    }
    rig.desk("/now/playback/2/1/level", f(0.75));
    rig.drawn();
    return rig;
  }
  test("lights, meanings and takeover, in one redraw and nothing twice", () => {
    const rig = twoPages();
    rig.move("fader-1", 0).move("fader-1", 5);
    rig.sent();
    rig.desk("/now/page", i(2));
    const drawn = rig.drawn();
    expect(drawn).toHaveLength(12);
    expect(new Set(drawn.map((t) => t.split(" ")[1])).size).toBe(12);
    expect(rig.light("pad-1")).toEqual({ mode: "full", colour: BLUE });
    expect(rig.light("pad-2")).toEqual({ mode: "dim", colour: BLUE });
    rig.tap("pad-2");
    expect(rig.sent()).toEqual(["/set/playback/2/2/on 1"]);
    expect(rig.translator.world.surfaces[0]!.target(30)).toBeCloseTo(0.75);
    rig.move("fader-1", 10);
    expect(rig.sent()).toEqual([]); // it has to catch the other page's level
  });
  test("the way back draws the old page again", () => {
    const rig = twoPages();
    const before = Array.from({ length: 12 }, (_, k) => rig.light(`pad-${k + 1}`));
    rig.desk("/now/page", i(2)).desk("/now/page", i(1));
    expect(Array.from({ length: 12 }, (_, k) => rig.light(`pad-${k + 1}`))).toEqual(before);
  });
  test("a layer does the same", () => {
    const rig = Rig.onPage(
      1,
      showWith([
        mapping("pad-1", toggle(1), { layers: ["base"] }),
        mapping("pad-1", toggle(2), { id: "m-2", layers: ["shift"] }),
        mapping("shift", shift()),
      ]),
    );
    rig.desk("/now/playback/1/1/on", i(1)).desk("/now/playback/1/2/on", i(0));
    expect(rig.light("pad-1")?.mode).toBe("full");
    rig.press("shift");
    expect(rig.light("pad-1")?.mode).toBe("dim");
    expect(rig.light("shift")?.mode).toBe("full");
    rig.release("shift");
    expect(rig.light("pad-1")?.mode).toBe("full");
  });
  test("a mapping that belongs to one page is dark on the others", () => {
    const rig = Rig.onPage(1, showWith([mapping("pad-1", flash(1, fixed(2)), { pages: { desk: "lights", in: [2] } })]));
    rig.translator.surfaceOpened(0, rig.nowMs);
    expect(rig.light("pad-1")?.mode).toBe("off");
    rig.desk("/now/page", i(2));
    expect(rig.light("pad-1")?.mode).toBe("dim");
  });
});

function pageUp({ translator }: Rig): number | null {
  const { desks, context } = translator.world;
  return desks[0]!.pageUp(context.compiled.desks[0]!);
}

describe("what a desk says", () => {
  test("a bundle is one report, and all of it counts", () => {
    const rig = Rig.onPage(1, twelve);
    rig.rows();
    rig.datagram(
      encodeOsc({
        kind: "bundle",
        timeTag: IMMEDIATELY,
        elements: [
          { kind: "message", address: "/now/playback/1/1/on", args: [i(1)] },
          { kind: "message", address: "/now/playback/1/2/on", args: [i(1)] },
        ],
      }),
    );
    expect([rig.light("pad-1")?.mode, rig.light("pad-2")?.mode]).toEqual(["full", "full"]);
    expect(rig.rows().find((r) => r.code === OUTCOME.reported)).toMatchObject({ a: 2 });
  });
  test("a bundle with a time tag holds at its time, its parts together, and the list says when", () => {
    const rig = Rig.onPage(1, twelve);
    rig.rows();
    const inMs = (ms: number) => BigInt(Math.round(((rig.nowMs + ms) / 1000 + 2_208_988_800) * 2 ** 32));
    const bundle = (timeTag: bigint, playback: number, value: number) =>
      encodeOsc({
        kind: "bundle",
        timeTag,
        elements: [
          { kind: "message", address: `/now/playback/1/${playback}/on`, args: [i(value)] },
          { kind: "message", address: "/now/page", args: [i(value + 1)] },
        ],
      });
    rig.datagram(bundle(inMs(300), 1, 1));
    expect(rig.rows().map((r) => [r.code, Math.round(r.a)])).toEqual([[OUTCOME.dueLater, 300]]);
    expect([rig.wait(200).light("pad-1")?.mode, pageUp(rig)]).toEqual(["dim", 1]);
    rig.wait(150);
    expect([rig.light("pad-1")?.mode, pageUp(rig)]).toEqual(["dim", 2]); // off on the page that is up now
    // When its time comes it stands in the list once more, beside what brought it.
    const [cause, row] = [rig.rows().filter((r) => r.code === OUTCOME.reported), rig.became()];
    expect([cause.length, cause[0]?.a, row]).toEqual([1, 2, []]);
    // One that comes late, or by another clock, holds at once.
    expect(pageUp(rig.datagram(bundle(inMs(-50), 1, 0)))).toBe(1);
    expect(pageUp(rig.datagram(bundle(inMs(7_200_000), 2, 1)))).toBe(2);
    expect(rig.rows().map((r) => r.code)).toEqual([OUTCOME.reported, OUTCOME.otherClock]);
    // A minute ahead is waited for.
    rig.datagram(bundle(inMs(60_000), 1, 0));
    expect([pageUp(rig.wait(59_000)), pageUp(rig.wait(1500))]).toEqual([2, 1]);
  });
  test("only so many bundles wait: one more is carried out as it comes, and that is said", () => {
    const rig = Rig.onPage(1, twelve);
    const inMs = (ms: number) => BigInt(Math.round(((rig.nowMs + ms) / 1000 + 2_208_988_800) * 2 ** 32));
    const page = (n: number) =>
      encodeOsc({
        kind: "bundle",
        timeTag: inMs(1000),
        elements: [{ kind: "message", address: "/now/page", args: [i(n)] }],
      });
    for (let n = 0; n < MOST_WAITING; n++) rig.datagram(page(3));
    rig.rows();
    rig.datagram(page(2));
    expect([pageUp(rig), rig.became()]).toEqual([2, ["noRoomToWait"]]);
    expect(pageUp(rig.wait(1100))).toBe(3);
  });
  test.each([
    ["not closed", "/now/playback/[1/1/on"],
    ["too long", `/now/${"?".repeat(300)}`],
  ])("an address pattern that is %s is told, and nothing happens", (_, address) => {
    const rig = Rig.onPage(1, twelve);
    rig.rows();
    expect(rig.desk(address, i(1)).became()).toEqual(["badPattern"]);
  });
  test("an address pattern speaks of every address it fits", () => {
    const rig = Rig.onPage(1, twelve);
    rig.rows();
    rig.desk("/now/playback/1/[1-3]/on", i(1));
    expect([1, 2, 3, 4].map((n) => rig.light(`pad-${n}`)?.mode)).toEqual(["full", "full", "full", "dim"]);
    expect(rig.rows().find((r) => r.code === OUTCOME.reported)).toMatchObject({ a: 3 });
    rig.desk("/now/playback/1/{2,4}/on", i(0)).desk("/now/playback/*/on", i(0)).desk("/now/playback/[1/1/on", i(0));
    expect([1, 2, 3, 4].map((n) => rig.light(`pad-${n}`)?.mode)).toEqual(["full", "dim", "full", "dim"]);
  });
  test("a bundle that waits for its time is forgotten with its desk", () => {
    const rig = Rig.onPage(1, twelve);
    const timeTag = BigInt(Math.round(((rig.nowMs + 300) / 1000 + 2_208_988_800) * 2 ** 32));
    rig.datagram(
      encodeOsc({ kind: "bundle", timeTag, elements: [{ kind: "message", address: "/now/page", args: [i(2)] }] }),
    );
    rig.edit((show) => ({ ...show, desks: [{ ...show.desks[0]!, port: show.desks[0]!.port + 7 }] })).wait(400);
    expect(pageUp(rig)).toBeNull();
  });
  test.each<[string, Uint8Array, string]>([
    ["bytes that are no OSC", Uint8Array.of(1, 2, 3), "malformed"],
    ["an address nobody knows", encodeOsc({ kind: "message", address: "/now/weather", args: [] }), "unheard"],
    [
      "an argument of the wrong type",
      encodeOsc({ kind: "message", address: "/now/page", args: [s("two")] }),
      "unchanged",
    ],
    ["a message without its argument", encodeOsc({ kind: "message", address: "/now/page", args: [] }), "unheard"],
  ])("%s: nothing happens, and the list says why", (_name, bytes, wanted) => {
    const rig = Rig.onPage(1, twelve);
    rig.rows();
    rig.datagram(bytes);
    expect(rig.became()).toEqual([wanted]);
    expect(rig.drawn()).toEqual([]);
  });
  test("the answer to a command is told with the time it took and the row that asked", () => {
    const rig = Rig.onPage(1, twelve);
    rig.rows();
    rig.press("pad-1");
    rig.nowMs += 9;
    rig.desk("/now/playback/1/1/on", i(1));
    const rows = rig.rows();
    const out = rows.find((r) => r.out && r.desk)!;
    expect(rows.find((r) => r.code === OUTCOME.confirmed)).toMatchObject({ a: 9, cause: out.sequence });
    expect(out.cause).toBe(rows[0]!.sequence);
  });
});

describe("rule 20: the link to the desk", () => {
  const links = {};
  test("at the start it subscribes, asks for the state and sends a heartbeat", () => {
    const rig = new Rig(twelve, links).wait(0);
    expect(rig.sent()).toEqual(["/listen", "/ask", "/pulse 1"]);
  });
  test("the subscription is renewed before it runs out", () => {
    const rig = new Rig(twelve, links).wait(0);
    let renewed = 0;
    for (let n = 0; n < 500; n++)
      renewed += rig
        .wait(20)
        .sent()
        .filter((t) => t === "/listen").length;
    expect(renewed).toBe(3); // 10 s, every 4 s
  });
  test("a desk that stops answering turns silent, and its lights say so", () => {
    const rig = new Rig(twelve, links).wait(0).desk("/now/page", i(1)).desk("/now/playback/1/1/on", i(1)).wait(20);
    expect(rig.light("pad-1")?.mode).toBe("full");
    for (let n = 0; n < 150; n++) rig.wait(20);
    expect(rig.translator.world.desks[0]!.link.state.health).toBe("silent");
    expect(rig.light("pad-1")?.mode).toBe("pulse");
  });
  test("when it returns it is asked for everything, and everything is drawn from the answer", () => {
    const rig = new Rig(twelve, links).wait(0).desk("/now/page", i(1)).desk("/now/playback/1/1/on", i(1)).wait(20);
    for (let n = 0; n < 150; n++) rig.wait(20);
    rig.sent();
    rig.desk("/pulse/back", i(1));
    expect(rig.sent()).toEqual(["/listen", "/ask"]);
    rig.desk("/now/playback/1/1/on", i(0)).wait(20);
    expect(rig.light("pad-1")?.mode).toBe("dim");
  });
  test("an answer that says nothing new is upkeep; what the desk says by itself, or what is new, is not", () => {
    const rig = new Rig(twelve, links).wait(0).desk("/now/page", i(1)).desk("/now/playback/1/1/on", i(1)).wait(20);
    const asksForOne = (texts: string[]) => texts.some((t) => t.includes("/playback/1/1/on"));
    const untilAsked = () => {
      for (let n = 0; n < 2000; n++) {
        rig.wait(20);
        if (n % 40 === 0) rig.desk("/pulse/back", i(0));
        if (asksForOne(rig.sent())) return;
      }
      throw new Error("it was not asked for in 40 s");
    };
    const said = (value: number) => {
      rig.rows();
      rig.wait(10).desk("/now/playback/1/1/on", i(value));
      return rig.rows().find((r) => r.desk && !r.out)?.code;
    };
    untilAsked();
    expect(said(1)).toBe(OUTCOME.answer);
    expect(said(1)).toBe(OUTCOME.unchanged);
    untilAsked();
    expect(said(0)).toBe(OUTCOME.reported);
    expect(said(0)).toBe(OUTCOME.unchanged);
  });
  test("a refusal by the network is told as such, until the desk is heard", () => {
    const rig = new Rig(twelve, links).wait(0);
    rig.translator.deskRefused(0, rig.nowMs);
    expect(rig.translator.world.desks[0]!.link.state.health).toBe("refusing");
    rig.wait(500).desk("/now/page", i(1));
    expect(rig.translator.world.desks[0]!.link.state.health).toBe("answering");
  });
  test("an answer to the heartbeat gives the round trip; one to an old heartbeat does not", () => {
    const rig = new Rig(twelve, links).wait(0);
    rig.nowMs += 3;
    rig.desk("/pulse/back", i(1));
    expect(rig.translator.world.desks[0]!.link.state.roundTripMs).toBe(3);
    rig.desk("/pulse/back", i(1));
    expect(rig.translator.world.desks[0]!.link.state.roundTripMs).toBe(3);
  });
  test("“Try it” asks at once", () => {
    const rig = new Rig(twelve, links).wait(0);
    rig.sent();
    rig.translator.tryDesk(0, rig.nowMs + 5);
    expect(rig.sent()).toEqual(["/listen", "/ask", "/pulse 2"]);
  });
});
