/** Gestures as numbers, and which of them each behaviour of a control has. */
import type { Gesture } from "../show/show.ts";
import type { Control } from "../show/surface-profile.ts";

export const PRESS = 0;
export const MOVE = 1;
export const RELEASE = 2;
export const TAP = 3;
export const HOLD = 4;
export const DOUBLE = 5;
export const WHILE_HELD = 6;
export const TURN = 7;
export const TURN_LEFT = 8;
export const TURN_RIGHT = 9;
export const TOUCH = 10;
export const UNTOUCH = 11;
export const PRESSURE = 12;
/** Gestures a control can have: the stride of the tables by control and gesture. */
export const GESTURES = 13;

export const GESTURE_OF: Record<Gesture, number> = {
  press: PRESS,
  move: MOVE,
  release: RELEASE,
  tap: TAP,
  hold: HOLD,
  double: DOUBLE,
  "while-held": WHILE_HELD,
  turn: TURN,
  "turn-left": TURN_LEFT,
  "turn-right": TURN_RIGHT,
  touch: TOUCH,
  untouch: UNTOUCH,
  pressure: PRESSURE,
};

export const GESTURE_WORDS: Record<Gesture, string> = {
  press: "Press",
  move: "Move",
  release: "Release",
  tap: "Tap",
  hold: "Hold",
  double: "Double tap",
  "while-held": "While held",
  turn: "Turn",
  "turn-left": "Turn left",
  "turn-right": "Turn right",
  touch: "Touch",
  untouch: "Let go",
  pressure: "Pressure",
};

/** The order in which a control's mappings decide what its light shows. */
export const SHOWN_GESTURES = [PRESS, MOVE, TURN, WHILE_HELD, TAP, HOLD, DOUBLE, TURN_RIGHT, TURN_LEFT, RELEASE];

const SPRINGY: readonly Gesture[] = ["press", "release", "tap", "hold", "double", "while-held"];

/** Gestures a control can make, the usual one first. */
export function gesturesOf(control: Control): readonly Gesture[] {
  const touch: readonly Gesture[] = control.touch ? ["touch", "untouch"] : [];
  const pressure: readonly Gesture[] = control.pressure ? ["pressure"] : [];
  switch (control.behaviour) {
    case "springs-back":
      // Of a whole range of messages no single one can be waited for.
      return control.sends.kind === "any" ? ["press", "release", "while-held"] : [...SPRINGY, ...pressure, ...touch];
    case "latches":
    case "latches-both-on":
    case "one-shot":
      return ["press", ...pressure, ...touch];
    case "absolute":
      return control.sends.kind === "nrpn" || control.sends.kind === "rpn"
        ? ["move", "turn", "turn-left", "turn-right", ...touch]
        : ["move", ...touch];
    case "relative":
      return ["turn", "turn-left", "turn-right", ...touch];
    default:
      return control.behaviour satisfies never;
  }
}
