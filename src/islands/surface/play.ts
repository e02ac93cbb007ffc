/** Hands on an on-screen control: mouse, fingers and keys become the bytes a real unit would send. */
import type { KeyboardEvent, PointerEvent, WheelEvent } from "react";
import type { Control } from "../../core/format/surface-profile.ts";
import { moveBytes, pressBytes, touchBytes, turnBytes } from "../../core/surface/press-bytes.ts";

export interface Hands {
  send(bytes: Uint8Array): void;
  touched(): void;
}

/** Steps of the keys on a fader, as travel 0..1. */
const KEY_STEPS: Record<string, number> = {
  ArrowUp: 1 / 127,
  ArrowRight: 1 / 127,
  ArrowDown: -1 / 127,
  ArrowLeft: -1 / 127,
  PageUp: 0.1,
  PageDown: -0.1,
};

const isPressKey = (key: string) => key === " " || key === "Enter";

const LOUDEST = 127;
const SOFTEST = 20;

/** How hard a key was struck: further down is harder, as on a lever. */
function velocityAt(e: PointerEvent<HTMLElement>): number {
  const { top, height } = e.currentTarget.getBoundingClientRect();
  const part = Math.min(1, Math.max(0, (e.clientY - top) / height));
  return Math.round(SOFTEST + part * (LOUDEST - SOFTEST));
}

/** Handlers for a pad, a button or a key: pressed while the pointer or the key of the computer is down. */
export function pressHandlers(control: Control, hands: Hands) {
  const down = (velocity: number) => {
    hands.touched();
    hands.send(pressBytes(control, true, velocity));
  };
  const up = () => hands.send(pressBytes(control, false));
  /** What holds it: a finger keeps a pad down while the focus goes elsewhere, a key does not. */
  let heldBy: "pointer" | "key" | null = null;
  const end = () => {
    if (heldBy === null) return;
    heldBy = null;
    up();
  };
  const start = (by: "pointer" | "key", velocity = LOUDEST) => {
    if (heldBy !== null) return;
    heldBy = by;
    down(velocity);
  };
  return {
    onPointerDown: (e: PointerEvent<HTMLElement>) => {
      if (e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      start("pointer", control.kind === "key" ? velocityAt(e) : LOUDEST);
    },
    onPointerUp: end,
    onPointerCancel: end,
    onLostPointerCapture: end,
    onKeyDown: (e: KeyboardEvent) => {
      if (!isPressKey(e.key)) return;
      e.preventDefault();
      if (!e.repeat) start("key");
    },
    onKeyUp: (e: KeyboardEvent) => {
      if (isPressKey(e.key)) end();
    },
    onBlur: () => {
      if (heldBy === "key") end();
    },
  };
}

/** Handlers for a fader. `position` tells where it stands, 0..1. */
export function moveHandlers(control: Control, hands: Hands, position: () => number) {
  let dragging = false;
  let last = -1;
  const letGo = () => {
    if (!dragging) return;
    dragging = false;
    hands.send(touchBytes(control, false));
  };
  const to = (value01: number) => {
    const bytes = moveBytes(control, value01);
    const step = bytes[1]! * 128 + bytes[2]!;
    if (step === last) return; // the same position again is no movement
    last = step;
    hands.send(bytes);
  };
  const at = (e: PointerEvent<HTMLElement>) => {
    const box = e.currentTarget.getBoundingClientRect();
    const margin = FADER_MARGIN_PX;
    return 1 - (e.clientY - box.top - margin) / (box.height - 2 * margin);
  };
  return {
    onPointerDown: (e: PointerEvent<HTMLElement>) => {
      if (e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      dragging = true;
      last = -1;
      hands.touched();
      hands.send(touchBytes(control, true));
      to(at(e));
    },
    onPointerMove: (e: PointerEvent<HTMLElement>) => {
      if (dragging) to(at(e));
    },
    onPointerUp: letGo,
    onPointerCancel: letGo,
    onLostPointerCapture: letGo,
    onKeyDown: (e: KeyboardEvent) => {
      const now = Math.max(0, position());
      const next = e.key === "Home" ? 0 : e.key === "End" ? 1 : now + (KEY_STEPS[e.key] ?? Number.NaN);
      if (Number.isNaN(next)) return;
      e.preventDefault();
      last = -1;
      hands.touched();
      to(Math.min(1, Math.max(0, next)));
    },
  };
}

/** Way of the pointer that is one step of an endless control, in px. */
const STEP_PX = 6;

/** Handlers for an endless control: dragged up and down, turned by the wheel, or stepped by keys. */
export function turnHandlers(control: Control, hands: Hands) {
  let last: number | null = null;
  const turn = (steps: number) => {
    if (steps !== 0) hands.send(turnBytes(control, steps));
  };
  return {
    onPointerDown: (e: PointerEvent<HTMLElement>) => {
      if (e.button !== 0) return;
      e.currentTarget.setPointerCapture(e.pointerId);
      last = e.clientY;
      hands.touched();
    },
    onPointerMove: (e: PointerEvent<HTMLElement>) => {
      if (last === null) return;
      const steps = Math.trunc((last - e.clientY) / STEP_PX);
      last -= steps * STEP_PX;
      turn(steps);
    },
    onPointerUp: () => {
      last = null;
    },
    onPointerCancel: () => {
      last = null;
    },
    onWheel: (e: WheelEvent<HTMLElement>) => {
      hands.touched();
      turn(e.deltaY < 0 ? 1 : -1);
    },
    onKeyDown: (e: KeyboardEvent) => {
      const steps = (KEY_STEPS[e.key] ?? 0) === 0 ? 0 : Math.sign(KEY_STEPS[e.key]!);
      if (steps === 0) return;
      e.preventDefault();
      hands.touched();
      turn(steps);
    },
  };
}

/** Room above and below the travel of a drawn fader, in px: half its cap. */
export const FADER_MARGIN_PX = 14;
