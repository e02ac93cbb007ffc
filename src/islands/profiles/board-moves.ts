/** Where a control lies on the board after a hand or a key has moved it. Lengths are in pads. */
import type { Control } from "../../core/format/surface-profile.ts";

/** Controls that are moved snap to halves of a pad. */
export const SNAP = 0.5;

type Box = Control["box"];

/** Steps of the arrow keys. */
export const ARROWS: Readonly<Record<string, readonly [dx: number, dy: number]>> = {
  ArrowLeft: [-SNAP, 0],
  ArrowRight: [SNAP, 0],
  ArrowUp: [0, -SNAP],
  ArrowDown: [0, SNAP],
};

/**
 * After a drag by so much. Along an axis on which it went less than half a step it stays where it was, on the grid or off
 * it; otherwise it goes to the nearest step.
 */
export function dragged(box: Box, dx: number, dy: number): Box {
  return { ...box, x: alongAxis(box.x, dx), y: alongAxis(box.y, dy) };
}

function alongAxis(from: number, by: number): number {
  return Math.abs(by) < SNAP / 2 ? from : Math.max(0, Math.round((from + by) / SNAP) * SNAP);
}

/** After an arrow key: one step from where it is. */
export function stepped(box: Box, [dx, dy]: readonly [number, number]): Box {
  return { ...box, x: Math.max(0, box.x + dx), y: Math.max(0, box.y + dy) };
}
