import { describe, expect, test } from "vitest";
import { f, i, Rig } from "../../../tests/rig/rig.ts";
import {
  action,
  fixed,
  instrument,
  jump,
  mapping,
  profiles,
  showWith,
  sound,
  vision,
} from "../../../tests/rig/shows.ts";
import type { DeskProfile } from "../format/desk-profile.ts";
import type { Action } from "../format/show.ts";
import { parseHexBytes } from "../midi/hex.ts";

const on = (desk: string, fn: string, bindings: Action["bindings"], more: Partial<Action> = {}) =>
  action(fn, fn, bindings, { desk, ...more });
const take = (input: number) => on("vision", "program.choose", { mix: fixed(1), input: fixed(input) });

describe("a desk of lines", () => {
  const rig = () =>
    new Rig(
      showWith(
        [
          mapping("pad-1", take(1)),
          mapping("pad-2", take(2)),
          mapping("pad-3", on("vision", "key", { key: fixed(3) })),
          mapping("fader-1", on("vision", "audio", { input: fixed(7) }), jump),
          mapping("fader-2", on("vision", "bar", { mix: fixed(2) }), jump),
        ],
        { desks: [vision] },
      ),
      { links: false },
    );

  test("is told in its own words, with values as long as they need to be", () => {
    const r = rig().tap("pad-2").tap("pad-3").move("fader-1", 0).move("fader-1", 127).move("fader-2", 64);
    expect(r.sent()).toEqual(["program 1 2", "key 3 1", "audio 7 -90", "audio 7 10", "bar 2 503.937"]);
  });
  test("of several choices the one that the desk tells is lit, whoever made it", () => {
    const r = rig().line("at program 1 2");
    expect([r.light("pad-1")!.mode, r.light("pad-2")!.mode]).toEqual(["dim", "full"]);
    r.line("at program 1 1").line("at program 2 2");
    expect([r.light("pad-1")!.mode, r.light("pad-2")!.mode]).toEqual(["full", "dim"]);
    r.line("at program 1 8");
    expect([r.light("pad-1")!.mode, r.light("pad-2")!.mode]).toEqual(["dim", "dim"]);
  });
  test("a choice that was sent is confirmed by the desk’s telling it, and pulses while it is not", () => {
    const r = rig().line("at program 1 1").tap("pad-2");
    r.rows();
    r.wait(300);
    expect(r.light("pad-2")!.mode).toBe("pulse");
    r.line("at program 1 2");
    expect([r.light("pad-2")!.mode, r.became()]).toEqual(["full", ["confirmed"]]);
  });
  test("answers belong to commands in their order; a refusal ends the waiting", () => {
    const r = rig().line("at program 1 1").line("at key 3 0");
    r.tap("pad-2").tap("pad-3");
    const commands = r.rows().filter((x) => x.out && x.desk);
    r.line("ok").line("no keyer");
    const answers = r.rows().filter((x) => x.desk && !x.out);
    expect(answers.map((x) => x.cause)).toEqual(commands.map((x) => x.sequence));
    r.wait(300);
    expect(r.light("pad-3")!.mode).toBe("dim"); // it was not done, and it is not waited for
    expect(r.light("pad-2")!.mode).toBe("pulse"); // done, it said, but not told yet
  });
  test("what answers a heartbeat is no news, and each command still gets its own answer", () => {
    const r = new Rig(showWith([mapping("pad-1", take(1))], { desks: [vision] }), {});
    r.wait(20);
    const upkeep = r.sent();
    expect(upkeep).toEqual(["watch", "state", "ping 1"]);
    r.tap("pad-1");
    r.rows();
    r.line("ok").line("ok").line("pong 1").line("ok").line("ok");
    expect(r.became()).toEqual(["pulse", "pulse", "pulse", "pulse", "confirmed"]);
  });
  test("a level follows its law there and back", () => {
    const r = rig().move("fader-1", 95); // a step below three quarters, where 0 dB stands
    expect(Number(r.sent()[0]!.split(" ")[2])).toBeCloseTo(-15 + 15 * ((95 / 127 - 0.5) / 0.25), 4);
    const caught = new Rig(
      showWith([mapping("fader-1", on("vision", "audio", { input: fixed(7) }))], { desks: [vision] }),
      { links: false },
    );
    caught.line("at audio 7 0").move("fader-1", 0);
    expect(caught.translator.world.surfaces[0]!.target(30)).toBeCloseTo(0.75, 9);
  });
});

describe("a desk of bytes", () => {
  const projector: DeskProfile = {
    format: "velvet-hinge/desk-profile",
    version: 2,
    id: "lantern",
    name: "Lantern",
    kind: "vision",
    about: "",
    wire: { kind: "lines", port: 9000, lineEnd: "none", lineBytes: true, checkAtDesk: [] },
    parameters: [{ id: "lens", name: "Lens", from: 1, to: 4, wireFrom: 0 }],
    states: [
      {
        id: "level",
        name: "Level",
        parameters: ["lens"],
        value: { kind: "number", range: { from: 0, to: 1000, unit: "none" } },
        heard: { line: "\\02L{lens:8}{value:16}\\03" },
      },
    ],
    functions: [
      {
        id: "level",
        name: "Level",
        words: [],
        parameters: ["lens"],
        acts: "level",
        range: { from: 0, to: 1000, unit: "none" },
        state: "level",
        send: [{ line: "\\02V{lens:8}{value:16}\\03" }],
      },
    ],
    query: [{ line: "\\02Q\\03" }],
  };
  const desk = {
    id: "lantern",
    name: "Lantern",
    profile: "lantern",
    host: "127.0.0.1",
    port: 9000,
    listenPort: 0,
  };

  test("numbers go out as bytes, and are heard as bytes", () => {
    const level = (lens: number) => on("lantern", "level", { lens: fixed(lens) });
    const r = new Rig(
      showWith([mapping("fader-1", level(1), jump), mapping("fader-2", level(4), jump), mapping("fader-3", level(4))], {
        desks: [desk],
        profiles: { surfaces: [], desks: [projector] },
      }),
      { links: false },
    );
    r.move("fader-1", 127).move("fader-2", 0);
    expect(r.sent()).toEqual(["\\02V\\00\\03\\E8\\03", "\\02V\\03\\00\\00\\03"]);
    r.line("\\02L\\03\\01A\\03"); // 0141h = 321
    expect(r.translator.world.surfaces[0]!.target(32)).toBeCloseTo(0.321, 6);
  });
});

describe("an instrument", () => {
  const rig = new Rig(
    showWith(
      [1, 2, 3].map((k) => mapping(`pad-${k}`, on("bell", "kit.choose", { kit: fixed(k) }))),
      { desks: [instrument] },
    ),
    { links: false },
  );
  test("is asked by numbers that start where its own do, and tells its own changes by them", () => {
    expect(rig.tap("pad-2").sent()).toEqual(["C9 09"]);
    rig.datagram(parseHexBytes("C9 0A")!);
    expect([1, 2, 3].map((k) => rig.light(`pad-${k}`)!.mode)).toEqual(["dim", "dim", "full"]);
  });
  test("tells colours by SysEx, in any pieces", () => {
    const bytes = parseHexBytes("F0 7D 42 02 08 23 65 32 35 37 34 63 F7")!; // kit 1, "#e2574c"
    rig.datagram(bytes.slice(0, 5)).datagram(bytes.slice(5));
    expect(rig.light("pad-1")!.colour).toBe("#e2574c");
  });
  test("rule 10: a kit that it does not have is not asked for", () => {
    const r = new Rig(
      showWith([mapping("pad-1", on("bell", "kit.choose", { kit: { from: "message", part: "number", offset: 0 } }))], {
        desks: [instrument],
      }),
      { links: false },
    );
    expect([r.press("pad-1").sent(), r.became()]).toEqual([[], ["outOfRange"]]); // note 36
  });
});

describe("rule 20: while a desk does not answer", () => {
  const show = (whenSilent?: "keep" | "drop" | "send") =>
    showWith(
      [
        mapping("fader-1", on("sound", "channel.level", { channel: fixed(1) }), jump),
        mapping("fader-2", on("sound", "channel.level", { channel: fixed(2) }), jump),
        mapping("pad-1", on("sound", "channel.mute", { channel: fixed(1) })),
        mapping("pad-2", on("sound", "channel.cough", { channel: fixed(3) })),
      ],
      { desks: [{ ...sound, ...(whenSilent ? { whenSilent } : {}) }] },
    );
  /** Commands that left, without upkeep. */
  const commands = (r: Rig) => r.sent().filter((t) => t.startsWith("/do/"));
  function silent(whenSilent?: "keep" | "drop" | "send"): Rig {
    const r = new Rig(show(whenSilent), {});
    r.desk("/beat/back", i(1)).press("pad-2").wait(3000);
    expect(commands(r)).toEqual(["/do/channel/3/mute 1"]);
    r.rows();
    return r;
  }

  test("of each level the newest is kept and sent on its return, presses are not, and it is said", () => {
    const r = silent();
    r.move("fader-1", 10).move("fader-2", 20).move("fader-1", 127).tap("pad-1");
    expect(commands(r)).toEqual([]);
    expect(r.became()).toEqual(["keptForDesk", "keptForDesk", "keptForDesk", "deskSilent", "released"]);
    r.desk("/beat/back", i(4));
    expect(commands(r).map((t) => t.replace(/-.*/, "low"))).toEqual([
      "/do/channel/2/level low",
      "/do/channel/1/level 10",
    ]);
    r.wait(100).desk("/beat/back", i(5));
    expect(commands(r)).toEqual([]); // once
  });
  test("what was held before it fell silent is let go on its return", () => {
    const r = silent("drop");
    r.release("pad-2").move("fader-1", 10);
    expect([commands(r), r.became()]).toEqual([[], ["sent", "deskSilent"]]);
    expect(commands(r.desk("/beat/back", i(4)))).toEqual(["/do/channel/3/mute 0"]);
  });
  test("what waits for a desk is taken over by an engine that follows a dead one, and the newest still wins", () => {
    const dead = silent();
    dead.move("fader-1", 10).move("fader-2", 20).move("fader-1", 127);
    const r = new Rig(show(), {});
    r.translator.world.desks[0]!.restoreKept(dead.translator.world.desks[0]!.kept.list());
    // It has not been heard by this engine, and is still as silent as it was.
    r.move("fader-2", 127).tap("pad-1");
    expect([commands(r), r.became().slice(0, 2)]).toEqual([[], ["keptForDesk", "deskSilent"]]);
    expect(commands(r.desk("/beat/back", i(1)))).toEqual(["/do/channel/1/level 10", "/do/channel/2/level 10"]);
  });
  test("“send” sends into the dark", () => {
    expect(commands(silent("send").move("fader-1", 127))).toEqual(["/do/channel/1/level 10"]);
  });
  test("refused by the network is the same", () => {
    const r = new Rig(show(), {});
    r.desk("/beat/back", i(1));
    r.translator.deskRefused(0, r.nowMs);
    expect(commands(r.tap("pad-1"))).toEqual([]);
  });
  test("a desk that has not been heard yet is not silent before its time", () => {
    const r = new Rig(show(), {});
    expect(commands(r.wait(100).tap("pad-1"))).toEqual(["/do/channel/1/mute 1"]);
  });
  test("a change of the setting holds at once", () => {
    const r = silent("drop");
    r.edit((s) => ({ ...s, desks: [{ ...s.desks[0]!, whenSilent: "send" }] })).move("fader-1", 127);
    expect(commands(r)).toEqual(["/do/channel/1/level 10"]);
  });
  test("a level that the desk tells moves in its own law", () => {
    const mappings = show().mappings.map((m) => ({ ...m, takeover: "catch" as const }));
    const r = new Rig(showWith(mappings, { desks: show().desks }), {});
    r.desk("/is/channel/1/level", f(-15)).move("fader-1", 0);
    expect(r.translator.world.surfaces[0]!.target(30)).toBeCloseTo(0.5, 9);
  });
});

describe("a desk that nobody asks whether it is there", () => {
  const { heartbeat: _, subscribe: __, ...quay } = profiles.desks.get("quay-lights")!;
  const kind: DeskProfile = { ...quay, id: "unasked", query: [] };
  const show = showWith([mapping("pad-1", action("g", "cue.go"))], {
    profiles: { surfaces: [], desks: [kind] },
    desks: [{ id: "lights", name: "Lights", profile: "unasked", host: "127.0.0.1", port: 9, listenPort: 10 }],
  });
  test("is sent to though it was refused, because it would never be heard to be back", () => {
    const rig = new Rig(show, {});
    rig.translator.deskRefused(0, rig.nowMs);
    expect(rig.translator.world.desks[0]!.link.state.health).toBe("refusing");
    expect(rig.tap("pad-1").sent()).toHaveLength(1);
  });
  test("a refusal stands as long as it is news", () => {
    const rig = new Rig(show, {});
    rig.translator.deskRefused(0, rig.nowMs);
    rig.wait(2500);
    expect(rig.translator.world.desks[0]!.link.state.health).toBe("refusing");
    rig.wait(1000);
    expect(rig.translator.world.desks[0]!.link.state.health).toBe("waiting");
  });
});
