/**
 * The steps of a shape that remember: fine moves, jump limit, threshold, slew and rate. State is plain data and
 * time comes in, so a take gives the same values every time.
 */
import type { Shape } from "../format/shape.ts";
import { CATCH_WITHIN } from "./takeover.ts";

export interface TimedState {
  /** Travel as it counts, while fine has moved it away from the control; -1 = the control's own. */
  counted: number;
  /** Travel of the control at the last move; -1 = none yet. */
  travel: number;
  /** When the last step or move came, in ms; -1 = never. */
  movedAtMs: number;
  /** Direction of the last steps, and a change that was thrown away, for the next to confirm. */
  direction: number;
  doubted: number;
  /** Switched on by the threshold; -1 = not known. */
  switched: number;
  /** Part of the way that was sent, 0..1, and where slew is going; -1 = none yet. */
  part: number;
  goal: number;
  partAtMs: number;
  /** When the last message left, in ms. */
  sentAtMs: number;
  /** A value that waits for the rate, and what caused it. */
  waiting: number;
  cause: number;
}

export function newTimedState(): TimedState {
  return {
    counted: -1,
    travel: -1,
    movedAtMs: -1,
    direction: 0,
    doubted: 0,
    switched: -1,
    part: -1,
    goal: -1,
    partAtMs: -1,
    sentAtMs: Number.NEGATIVE_INFINITY,
    waiting: Number.NaN,
    cause: 0,
  };
}

/** A single step back this soon after steps the other way is a worn contact, in ms. */
const REVERSAL_WITHIN_MS = 40;
/** The shortest time between two changes that is believed, in ms: they may come in one packet. */
const SHORTEST_MS = 4;

/**
 * The jump limit: steps of an endless control, or 0 where they are not plausible. A change that was thrown away is
 * believed when the next one says the same.
 */
export function plausibleSteps(state: TimedState, steps: number, limitPerS: number, atMs: number): number {
  const elapsedMs = state.movedAtMs < 0 ? 1000 : Math.max(SHORTEST_MS, atMs - state.movedAtMs);
  const tooFast = Math.abs(steps) > 1 && (Math.abs(steps) / elapsedMs) * 1000 > limitPerS;
  const reversal =
    state.direction !== 0 && Math.sign(steps) !== state.direction && atMs - state.movedAtMs < REVERSAL_WITHIN_MS;
  if ((tooFast || reversal) && Math.sign(state.doubted) !== Math.sign(steps)) {
    state.doubted = steps;
    return 0;
  }
  state.doubted = 0;
  state.direction = Math.sign(steps);
  state.movedAtMs = atMs;
  // Believed at last, but never further than the limit allows.
  return tooFast ? Math.sign(steps) * Math.max(1, Math.floor((limitPerS * elapsedMs) / 1000)) : steps;
}

/** The same for a control that tells its position: false where the move from the last is not plausible. */
export function plausibleMove(state: TimedState, travel01: number, limitPerS: number, atMs: number): boolean {
  if (state.travel < 0) return true;
  const elapsedMs = Math.max(SHORTEST_MS, atMs - state.movedAtMs);
  const moved = travel01 - state.travel;
  if ((Math.abs(moved) / elapsedMs) * 1000 <= limitPerS) {
    state.doubted = 0;
    return true;
  }
  // Two in a row near each other: it really stands there now.
  const agrees = state.doubted !== 0 && Math.abs(state.doubted - (travel01 + 1)) < 0.05;
  state.doubted = agrees ? 0 : travel01 + 1;
  return agrees;
}

/** Travel as it counts, 0..1: while `fine` is up, moves count `factor` from where the value stands. */
export function fineTravel(state: TimedState, travel01: number, factor: number, fine: boolean): number {
  const before = state.travel;
  state.travel = travel01;
  if (before < 0) return travel01;
  const counted = state.counted < 0 ? before : state.counted;
  if (fine) {
    state.counted = Math.min(1, Math.max(0, counted + (travel01 - before) * factor));
    return state.counted;
  }
  if (state.counted < 0) return travel01;
  // Back at the full way: where fine moves had taken it away, both meet again at the end the hand moves to.
  const drawn = converged(before, travel01, counted);
  const met = Math.abs(drawn - travel01) <= CATCH_WITHIN;
  state.counted = met ? -1 : drawn;
  return met ? travel01 : drawn;
}

/** Rule 9, converge: a level moves in proportion, so that it meets the control at the end it is moved to. */
export function converged(before01: number, travel01: number, level01: number): number {
  if (travel01 > before01) {
    const room = 1 - before01;
    return room <= 0 ? travel01 : Math.min(1, level01 + ((1 - level01) * (travel01 - before01)) / room);
  }
  return before01 <= 0 ? travel01 : Math.max(0, (level01 * travel01) / before01);
}

/** The threshold: 0 or 1, or NaN where it stays what it was. */
export function thresholdPart(state: TimedState, part01: number, threshold: NonNullable<Shape["threshold"]>): number {
  const half = threshold.hysteresis / 2;
  const on = state.switched === 1 ? part01 > threshold.at - half : part01 >= threshold.at + half;
  const next = on ? 1 : 0;
  if (next === state.switched) return Number.NaN;
  state.switched = next;
  return next;
}

/** Slew: where the value is at `atMs` on its way to `goal`, both parts of the way. */
export function slewPart(state: TimedState, goal01: number, perS: number, atMs: number): number {
  if (state.part < 0) {
    state.part = state.goal = goal01; // where it starts from is not known: it starts there
    state.partAtMs = atMs;
    return goal01;
  }
  const reach = (Math.max(0, atMs - state.partAtMs) / 1000) * perS;
  const way = goal01 - state.part;
  state.goal = goal01;
  state.part = Math.abs(way) <= reach ? goal01 : state.part + Math.sign(way) * reach;
  state.partAtMs = atMs;
  return state.part;
}

/** True where the rate lets a message leave now. */
export function rateAllows(state: TimedState, ratePerS: number, atMs: number): boolean {
  if (atMs - state.sentAtMs < 1000 / ratePerS) return false;
  state.sentAtMs = atMs;
  return true;
}
