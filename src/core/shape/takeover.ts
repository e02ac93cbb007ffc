/**
 * Takeover "catch" (rule 9): a fader without a motor sends nothing until it meets or crosses the level the
 * desk stands at. Positions are travel, 0..1.
 */

/** A fader this close to the level has met it: one step of a 7-bit fader. */
export const CATCH_WITHIN = 1 / 127;

export interface CatchState {
  readonly caught: boolean;
  /** Where the fader was heard last; -1 = not yet. */
  readonly position: number;
}

/** True if a fader that moves from `before` (-1 = unknown) to `position` meets or crosses `target`. */
export function meets(before: number, position: number, target: number): boolean {
  if (Math.abs(position - target) <= CATCH_WITHIN) return true;
  // It stood on the level when it began to move.
  if (before >= 0 && Math.abs(before - target) <= CATCH_WITHIN) return true;
  return before >= 0 && (before - target) * (position - target) < 0;
}

/** Where a control stands against the level it has to take over, and how far it is from it, 0..1. */
export interface TakeoverState {
  readonly state: "caught" | "below" | "above";
  readonly away: number;
}

/** `position` and `target` are travel, 0..1; -1 = not known, and then there is nothing to wait for. */
export function takeoverState(position: number, target: number, caught: boolean): TakeoverState {
  if (caught || target < 0 || position < 0 || position === target) return { state: "caught", away: 0 };
  return { state: position < target ? "below" : "above", away: Math.abs(target - position) };
}

/** Which way to move, for the display. */
export function wayToCatch(position: number, target: number): "raise" | "lower" {
  return position < target ? "raise" : "lower";
}
