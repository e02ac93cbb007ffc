/**
 * What hands do to a control. One table; everything else that knows of gestures follows from it: the schema of the show,
 * the tables of the running show, what a light shows, the fields of the interface.
 */
import type { Control } from "./surface-profile.ts";

export interface GestureFacts {
  /** Its number in the tables of a compiled show; each number once, from 0 without gaps. */
  readonly code: number;
  /** True where what it starts lasts until the release. */
  readonly holds: boolean;
  /** True where time decides it (rule 7), so that its times can be set. */
  readonly timed: boolean;
  /** Its turn when several mappings of a control decide what its light shows, 0 = the first; null = it never does. */
  readonly shown: number | null;
  readonly madeBy: {
    /** Behaviours of controls that make it; left out, all of them. */
    readonly behaviours?: readonly Control["behaviour"][];
    /** What such a control must send beside its own message. */
    readonly with?: "touch" | "pressure";
    /** Messages by which a control of another behaviour makes it too. */
    readonly messages?: readonly Control["sends"]["kind"][];
    /** True where a whole range of messages makes it as well; of those no single one can be waited for. */
    readonly ranges: boolean;
  };
}

const SWITCHES = ["springs-back", "latches", "latches-both-on", "one-shot"] as const;
const SPRINGS = { behaviours: ["springs-back"], ranges: false } as const;
/** Parameter numbers carry steps as well as levels (MIDI 1.0, "Data Increment" and "Data Decrement"). */
const TURNS = { behaviours: ["relative"], messages: ["nrpn", "rpn"], ranges: false } as const;

/** In the order in which people are offered them, the usual one first. */
export const GESTURE = {
  press: {
    code: 0,
    holds: true,
    timed: false,
    shown: 0,
    madeBy: { behaviours: SWITCHES, ranges: true },
  },
  move: { code: 1, holds: false, timed: false, shown: 1, madeBy: { behaviours: ["absolute"], ranges: true } },
  release: { code: 2, holds: false, timed: false, shown: 9, madeBy: { behaviours: ["springs-back"], ranges: true } },
  tap: { code: 3, holds: false, timed: true, shown: 4, madeBy: SPRINGS },
  hold: { code: 4, holds: true, timed: true, shown: 5, madeBy: SPRINGS },
  double: { code: 5, holds: true, timed: true, shown: 6, madeBy: SPRINGS },
  "while-held": {
    code: 6,
    holds: true,
    timed: false,
    shown: 3,
    madeBy: { behaviours: ["springs-back"], ranges: true },
  },
  turn: { code: 7, holds: false, timed: false, shown: 2, madeBy: TURNS },
  "turn-left": { code: 8, holds: false, timed: false, shown: 8, madeBy: TURNS },
  "turn-right": { code: 9, holds: false, timed: false, shown: 7, madeBy: TURNS },
  pressure: {
    code: 10,
    holds: false,
    timed: false,
    shown: null,
    madeBy: { behaviours: SWITCHES, with: "pressure", ranges: false },
  },
  touch: { code: 11, holds: false, timed: false, shown: null, madeBy: { with: "touch", ranges: false } },
  untouch: { code: 12, holds: false, timed: false, shown: null, madeBy: { with: "touch", ranges: false } },
} as const satisfies Record<string, GestureFacts>;

export type Gesture = keyof typeof GESTURE;
export const ALL_GESTURES = Object.keys(GESTURE) as Gesture[];

/** Gestures a control can have: the stride of the tables by control and gesture. */
export const GESTURES = ALL_GESTURES.length;

export const PRESS = GESTURE.press.code;
export const MOVE = GESTURE.move.code;
export const RELEASE = GESTURE.release.code;
export const WHILE_HELD = GESTURE["while-held"].code;
export const TURN = GESTURE.turn.code;
export const TURN_LEFT = GESTURE["turn-left"].code;
export const TURN_RIGHT = GESTURE["turn-right"].code;
export const TOUCH = GESTURE.touch.code;
export const UNTOUCH = GESTURE.untouch.code;
export const PRESSURE = GESTURE.pressure.code;

/** Those that time decides. */
export type TimedGesture = { [G in Gesture]: (typeof GESTURE)[G]["timed"] extends true ? G : never }[Gesture];
export const TIMED_GESTURES = ALL_GESTURES.filter((g): g is TimedGesture => GESTURE[g].timed);

/** Codes of those that decide what a light shows, in their order. */
export const SHOWN_GESTURES: readonly number[] = ALL_GESTURES.flatMap((g) => {
  const { code, shown } = GESTURE[g];
  return shown === null ? [] : [{ code, shown }];
})
  .sort((a, b) => a.shown - b.shown)
  .map((g) => g.code);

/** Gestures a control can make, the usual one first. */
export function gesturesOf(control: Control): readonly Gesture[] {
  return ALL_GESTURES.filter((g) => makes(control, GESTURE[g].madeBy));
}

function makes(control: Control, { behaviours, with: also, messages, ranges }: GestureFacts["madeBy"]): boolean {
  if (control.sends.kind === "any" && !ranges) return false;
  if (also !== undefined && control[also] === undefined) return false;
  if (messages?.includes(control.sends.kind)) return true;
  return behaviours === undefined || behaviours.includes(control.behaviour);
}
