/**
 * Tap, hold and double tap (rule 7). A press by itself is none of its business: it acts at once. Only where a hold or
 * a double tap is mapped does a tap wait for it, and then no longer than it must.
 *
 *   down ── up before the hold time ──> tap            (at once, unless a double tap may follow)
 *     │                                  └─ down again in time ──> double
 *     └── the hold time is over ──> hold
 */
import { TIMED_GESTURES, type TimedGesture } from "../format/gestures.ts";

const DOWN = 1;
const HELD = 2;
/** Let go once; a second press in time makes it a double tap. */
const BETWEEN = 3;
/** The second press of a double tap. */
const DOWN_AGAIN = 4;

/** Which mapping each gesture of a press would fire, by the press itself; -1 = none. */
export type PlannedMappings = Readonly<Record<TimedGesture, number>>;

export interface PressPlan extends PlannedMappings {
  readonly holdMs: number;
  readonly doubleMs: number;
}

/** Nothing is mapped. */
export const NO_PLAN = Object.fromEntries(TIMED_GESTURES.map((g) => [g, -1])) as Record<TimedGesture, number>;

interface Pending {
  /** DOWN, HELD, BETWEEN or DOWN_AGAIN. */
  phase: number;
  plan: PressPlan;
  value: number;
  row: number;
  /** When the hold is over or the time for a second press, in ms. */
  dueMs: number;
  pressedAtMs: number;
  /** The numbers of the message that pressed it: what is decided later still speaks of that one. */
  parts: readonly number[];
}

export type PendingGesture = Readonly<Pending> & { readonly key: number };

/** `mapping` was decided when the finger came down; `row` is the message that started it. */
export type GestureFired = (
  gesture: TimedGesture,
  key: number,
  mapping: number,
  value: number,
  row: number,
  parts: readonly number[],
) => void;

export class GestureRecogniser {
  readonly #pending = new Map<number, Pending>();
  #fired: GestureFired;
  #changes = 0;

  constructor(fired: GestureFired) {
    this.#fired = fired;
  }

  /** What is not decided yet is told to somebody else from now on. */
  answerTo(fired: GestureFired): void {
    this.#fired = fired;
  }

  /** Grows with each press that begins, ends or is decided. */
  get changes(): number {
    return this.#changes;
  }

  /** What is not over yet, by its control. */
  list(): PendingGesture[] {
    return [...this.#pending].map(([key, pending]) => ({ key, ...pending }));
  }

  /** Goes on with what another recogniser had. */
  restore({ key, ...pending }: PendingGesture): void {
    this.#pending.set(key, pending);
    this.#changes++;
  }

  /** True while a gesture is not decided yet. */
  get isWaiting(): boolean {
    return this.#pending.size > 0;
  }

  /**
   * A finger came down on the control `key`, by a message of these numbers. `holds`: the press itself holds something, so
   * that only its end tells whether it was a tap.
   */
  press(
    key: number,
    plan: PressPlan,
    value: number,
    row: number,
    atMs: number,
    parts: readonly number[] = [],
    holds = false,
  ): void {
    this.due(atMs);
    this.#changes++;
    const before = this.#pending.get(key);
    if (before?.phase === BETWEEN) {
      before.phase = DOWN_AGAIN;
      this.#fired("double", key, before.plan.double, value, row, parts);
      return;
    }
    if (plan.hold < 0 && plan.double < 0 && !holds) {
      if (plan.tap >= 0) this.#fired("tap", key, plan.tap, value, row, parts);
      return;
    }
    const dueMs = plan.hold >= 0 ? atMs + plan.holdMs : Number.POSITIVE_INFINITY;
    this.#pending.set(key, { phase: DOWN, plan, value, row, dueMs, pressedAtMs: atMs, parts });
  }

  /** The finger left. */
  release(key: number, atMs: number): void {
    this.due(atMs);
    const pending = this.#pending.get(key);
    if (!pending) return;
    this.#changes++;
    const { plan } = pending;
    if (pending.phase !== DOWN || atMs - pending.pressedAtMs >= plan.holdMs) {
      this.#pending.delete(key); // too long for a tap, or over
      return;
    }
    if (plan.double >= 0) {
      pending.phase = BETWEEN;
      pending.dueMs = atMs + plan.doubleMs;
      return;
    }
    this.#pending.delete(key);
    if (plan.tap >= 0) this.#fired("tap", key, plan.tap, pending.value, pending.row, pending.parts);
  }

  /** Fires what is decided by the time alone. */
  due(atMs: number): void {
    if (this.#pending.size === 0) return;
    for (const [key, pending] of this.#pending) {
      if (atMs < pending.dueMs) continue;
      this.#changes++;
      const { plan, value, row, parts } = pending;
      if (pending.phase === DOWN) {
        pending.phase = HELD;
        pending.dueMs = Number.POSITIVE_INFINITY;
        this.#fired("hold", key, plan.hold, value, row, parts);
      } else if (pending.phase === BETWEEN) {
        this.#pending.delete(key);
        if (plan.tap >= 0) this.#fired("tap", key, plan.tap, value, row, parts);
      }
    }
  }

  /** When the next of them is decided, in ms; infinity = none. */
  get nextDueMs(): number {
    let next = Number.POSITIVE_INFINITY;
    for (const p of this.#pending.values()) next = Math.min(next, p.dueMs);
    return next;
  }

  /** Forgets what is not decided of one control. */
  forget(key: number): void {
    if (this.#pending.delete(key)) this.#changes++;
  }

  /** Forgets what is not decided: the surface is gone. */
  cancel(): void {
    this.#changes++;
    this.#pending.clear();
  }

  /**
   * The show changed: what is not decided goes on with the mappings as `now` numbers them; -1 = it is none any more. A
   * press of which nothing is left is called off.
   */
  renumber(now: (mapping: number) => number): void {
    this.#changes++;
    for (const [key, pending] of this.#pending) {
      const plan = { ...pending.plan };
      for (const gesture of TIMED_GESTURES) plan[gesture] = now(plan[gesture]);
      pending.plan = plan;
      if (TIMED_GESTURES.every((gesture) => plan[gesture] < 0)) this.#pending.delete(key);
      else if (pending.phase === DOWN && plan.hold < 0) pending.dueMs = Number.POSITIVE_INFINITY;
    }
  }
}
