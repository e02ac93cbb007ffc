/** Hands on a drawn control, as the bytes a unit would send: nothing hangs, and nothing is said twice. */
import { describe, expect, test } from "vitest";
import { profiles } from "../../../tests/rig/shows.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import { hexBytes } from "../../core/midi/hex.ts";
import { FADER_MARGIN_PX, moveHandlers, pressHandlers, turnHandlers } from "./play.ts";

const grid = profiles.surfaces.get("deck-grid")!;
const control = (id: string) => grid.controls.find((c) => c.id === id)!;
const pad = control("pad-1");
const fader = control("fader-1");
const endless: Control = {
  ...control("pad-2"),
  kind: "knob",
  behaviour: "relative",
  sends: { kind: "relative", channel: 1, number: 20, encoding: "twos-complement" },
};

function hands() {
  const said: string[] = [];
  return { said, send: (bytes: Uint8Array) => void said.push(hexBytes(bytes)), touched: () => {} };
}

/** A pointer over a control of 128 px of travel. */
function pointer(y: number, more: object = {}) {
  const box = { top: 0, height: 128 + 2 * FADER_MARGIN_PX };
  return {
    button: 0,
    pointerId: 1,
    clientY: y,
    currentTarget: { setPointerCapture: () => {}, getBoundingClientRect: () => box },
    ...more,
  } as never;
}
const key = (name: string, more: object = {}) => ({ key: name, preventDefault: () => {}, ...more }) as never;

describe("a pad", () => {
  test("is pressed and let go once, however its release is told", () => {
    const { said, ...h } = hands();
    const on = pressHandlers(pad, h);
    on.onPointerDown(pointer(0));
    on.onPointerUp();
    on.onLostPointerCapture();
    expect(said).toHaveLength(2);
    expect(said[0]).toMatch(/ 7F$/);
    expect(said[1]).toMatch(/^80 /);
  });

  test("another button of the mouse is no press", () => {
    const { said, ...h } = hands();
    pressHandlers(pad, h).onPointerDown(pointer(0, { button: 2 }));
    expect(said).toEqual([]);
  });

  test("a key that repeats presses once, and is let go when the focus goes", () => {
    const { said, ...h } = hands();
    const on = pressHandlers(pad, h);
    on.onKeyDown(key("Enter"));
    on.onKeyDown(key("Enter", { repeat: true }));
    on.onBlur();
    on.onKeyUp(key("Enter"));
    expect(said).toHaveLength(2);
  });

  test("a finger keeps it down while the focus goes elsewhere", () => {
    const { said, ...h } = hands();
    const on = pressHandlers(pad, h);
    on.onPointerDown(pointer(0));
    on.onBlur();
    expect(said).toHaveLength(1);
    on.onPointerCancel();
    expect(said).toHaveLength(2);
  });
});

describe("a fader", () => {
  test("says a position once, and clamps a pointer that leaves it", () => {
    const { said, ...h } = hands();
    const on = moveHandlers(fader, h, () => 0);
    on.onPointerDown(pointer(FADER_MARGIN_PX));
    on.onPointerMove(pointer(FADER_MARGIN_PX));
    on.onPointerMove(pointer(-500));
    const moved = said.filter((s) => s !== "");
    expect(moved).toHaveLength(1);
    expect(moved[0]).toMatch(/ 7F$/);
    on.onPointerMove(pointer(9999));
    expect(said.at(-1)).toMatch(/ 00$/);
    on.onPointerUp();
    on.onPointerMove(pointer(40));
    expect(said.at(-1) === "" || said.at(-1)!.endsWith(" 00")).toBe(true);
  });

  test("goes by one step with an arrow, to the ends with Home and End, and by a tenth with a page", () => {
    let at = 0.5;
    const { said, ...h } = hands();
    const on = moveHandlers(fader, h, () => at);
    for (const name of ["Home", "End", "ArrowUp", "PageDown", "x"]) on.onKeyDown(key(name));
    expect(said.map((s) => Number.parseInt(s.slice(-2), 16))).toEqual([0, 127, 65, 51]);
    at = -1; // not known where it stands
    on.onKeyDown(key("ArrowUp"));
    expect(said.at(-1)).toMatch(/ 01$/);
  });
});

describe("an endless knob", () => {
  test("turns by the way of the pointer, by the wheel and by keys", () => {
    const { said, ...h } = hands();
    const on = turnHandlers(endless, h);
    on.onPointerMove(pointer(60));
    expect(said).toEqual([]);
    on.onPointerDown(pointer(60));
    on.onPointerMove(pointer(57)); // half a step
    on.onPointerMove(pointer(48)); // two steps in all
    on.onPointerUp();
    on.onWheel({ deltaY: 1 } as never);
    on.onKeyDown(key("ArrowUp"));
    on.onKeyDown(key("Home"));
    expect(said).toEqual(["B0 14 02", "B0 14 7F", "B0 14 01"]);
  });
});
