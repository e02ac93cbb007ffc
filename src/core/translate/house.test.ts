import { describe, expect, test } from "vitest";
import { Rig } from "../../../tests/rig/rig.ts";
import { action, fixed, flash, go, house, jump, mapping, showWith, synth, went } from "../../../tests/rig/shows.ts";
import type { Binding } from "../format/shape.ts";

describe("the house", () => {
  test("pages: to one, to the next and the previous, around the ends", () => {
    const show = showWith([
      mapping("pad-1", house("page.go", { page: fixed(7) }, { target: "lights" })),
      mapping("pad-2", house("page.next", {}, { target: "lights" })),
      mapping("pad-3", house("page.previous", {}, { target: "lights" })),
    ]);
    const rig = Rig.onPage(9, show).tap("pad-1").tap("pad-2").tap("pad-3");
    expect(rig.sent()).toEqual(["/set/page 7", "/set/page 1", "/set/page 8"]);
  });
  test("bypass takes a group out of service and puts it back, with its lights or without", () => {
    const show = showWith([mapping("pad-1", go(1)), mapping("pad-9", house("bypass.both", { group: fixed(1) }))], {
      groups: [{ id: "g", name: "Row", surface: "deck", controls: ["pad-1"] }],
    });
    const rig = Rig.onPage(1, show);
    expect(rig.light("pad-1")!.mode).toBe("dim");
    rig.tap("pad-9");
    rig.rows();
    expect([rig.press("pad-1").sent(), rig.became(), rig.light("pad-1")!.mode]).toEqual([[], ["bypassed"], "off"]);
    rig.release("pad-1").tap("pad-9");
    expect([rig.tap("pad-1").sent(), rig.light("pad-1")!.mode]).toEqual([went(1), "dim"]);
  });
  test("variables: set, stepped, wrapped, read by a binding and by a condition", () => {
    const variables = [{ id: "song", name: "Song", from: 1, to: 3, start: 1, wraps: true }];
    const song: Binding = { from: "state", desk: "house", state: "variable", parameters: { variable: 1 }, offset: 0 };
    const show = showWith(
      [
        mapping("pad-1", house("variable.step", { variable: fixed(1), by: fixed(1) })),
        mapping("pad-2", action("g", "playback.go", { page: fixed(1), playback: song })),
        mapping("pad-3", go(9), {
          when: [{ desk: "house", state: "variable", parameters: { variable: 1 }, from: 3, to: 3 }],
        }),
        mapping("fader-1", house("variable.set", { variable: fixed(1) }), jump),
      ],
      { variables },
    );
    const rig = Rig.onPage(1, show)
      .tap("pad-2")
      .tap("pad-1")
      .tap("pad-2")
      .tap("pad-3")
      .tap("pad-1")
      .tap("pad-2")
      .tap("pad-3");
    expect(rig.sent()).toEqual(went(1, 2, 3, 9));
    expect(rig.tap("pad-1").tap("pad-2").move("fader-1", 127).tap("pad-2").sent()).toEqual(went(1, 3));
  });
  test("variables, banks and layers survive edits, also those that move them in the list", () => {
    const variables = [{ id: "a", name: "A", from: 0, to: 9, start: 0, wraps: false }];
    const show = showWith([mapping("pad-1", house("variable.step", { variable: fixed(1), by: fixed(4) }))], {
      variables,
    });
    const rig = Rig.onPage(1, show).tap("pad-1");
    rig.edit((s) => ({
      ...s,
      variables: [{ id: "b", name: "B", from: 0, to: 9, start: 7, wraps: false }, ...variables],
      mappings: [
        mapping(
          "pad-1",
          action("g", "playback.go", {
            page: fixed(1),
            playback: { from: "state", desk: "house", state: "variable", parameters: { variable: 2 }, offset: 0 },
          }),
        ),
      ],
    }));
    expect(rig.tap("pad-1").sent()).toEqual(went(4));
  });
  test("tap tempo: the mean of the last taps, and a pause starts anew", () => {
    const rig = Rig.onPage(1, showWith([mapping("pad-1", house("tempo.tap"))]));
    const tempo = () => {
      const { desks, context } = rig.translator.world;
      return desks[context.compiled.house]!.store.number(
        context.compiled.desks[context.compiled.house]!.states.get("tempo")!.base,
      );
    };
    rig.tap("pad-1").wait(500).tap("pad-1").wait(500).tap("pad-1");
    expect(tempo()).toBe(120);
    rig.wait(5000).tap("pad-1").wait(1000).tap("pad-1");
    expect(tempo()).toBe(60);
  });
  test("any MIDI or OSC message, with the value in it", () => {
    const show = showWith(
      [
        mapping("fader-1", house("message.send", {}, { target: "synth", message: "B3 07 {value}" }), jump),
        mapping("pad-1", house("message.send", {}, { target: "lights", message: '/mist/3 {value} 2 "quay" true' })),
        mapping("pad-2", house("message.send", {}, { target: "deck", message: "F0 7D 01 F7" })),
      ],
      { desks: [...showWith([]).desks, synth] },
    );
    const rig = Rig.onPage(1, show).move("fader-1", 127).move("fader-1", 0).tap("pad-1");
    expect(rig.sent()).toEqual(["B3 07 7F", "B3 07 00", "/mist/3 1 2 “quay” true"]);
    rig.rows();
    rig.tap("pad-2");
    expect(
      rig
        .rows()
        .filter((r) => r.out && !r.desk)
        .map((r) => [...r.bytes]),
    ).toContainEqual([0xf0, 0x7d, 1, 0xf7]);
  });
  test("running another mapping does what its press does, and lets go", () => {
    const show = showWith([
      mapping("pad-1", [flash(1), go(2)]),
      mapping("pad-2", house("mapping.run", {}, { target: "m-pad-1" })),
    ]);
    expect(Rig.onPage(1, show).tap("pad-2").sent()).toEqual([
      "/set/playback/1/1/flash 1",
      "/set/playback/1/2/go",
      "/set/playback/1/1/flash 0",
    ]);
  });
  test("redraw sends every light again; release everything lets go", () => {
    const show = showWith([
      mapping("pad-1", house("redraw")),
      mapping("pad-2", house("release-all")),
      mapping("pad-3", flash(3)),
    ]);
    const rig = Rig.onPage(1, show);
    rig.drawn();
    rig.tap("pad-1").wait(20);
    expect(rig.drawn().length).toBeGreaterThan(30);
    rig.press("pad-3").tap("pad-2").release("pad-3");
    expect(rig.sent()).toEqual(["/set/playback/1/3/flash 1", "/set/playback/1/3/flash 0"]);
  });
});
