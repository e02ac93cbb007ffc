/**
 * A surface of no known kind shows what it is as it is touched: from its messages to controls, each with what speaks for it.
 * Time is told with each message.
 */
import type { Control } from "../format/surface-profile.ts";
import { candidateKey, type HeardMessage, type LearnCandidate, learn } from "../surface/learn.ts";
import { type Evidence, evidenceOf, mostOf } from "./evidence.ts";
import { type Restless, restlessness } from "./restless.ts";

/** Messages that are remembered, and for how long, in ms. */
const MOST_MESSAGES = 1500;
const REMEMBERED_MS = 120_000;
/** A control that is moved is judged once it has moved so far, or so often. */
const MOVED_ENOUGH = 0.05;
const FEWEST_MOVES = 4;
/** Once a hand has rested for so long, in ms, what it has shown has to do. */
export const RESTED_MS = 350;
/** A release that comes later than this, in ms, is the next press of something that latches. */
const LATCHED_MS = 1000;
/** A press without a release has none if it has not come by now, in ms. */
const NO_RELEASE_MS = 1500;

export interface Shown {
  /** Names it among those of its surface. */
  readonly key: string;
  readonly found: LearnCandidate;
  readonly evidence: Evidence;
  readonly behaviour: Control["behaviour"];
  /** Enough was heard to draw it. */
  readonly isReady: boolean;
}

export interface Judgement {
  /** What hands touched, the newest last. */
  readonly shown: readonly Shown[];
  /** What moves by itself and is left out. */
  readonly restless: readonly Restless[];
}

export class Teacher {
  #history: HeardMessage[] = [];
  readonly #allowed = new Set<string>();

  hear(message: HeardMessage): void {
    this.#history.push(message);
    if (this.#history.length > MOST_MESSAGES) this.#history = this.#history.slice(-MOST_MESSAGES);
  }

  /** It moves by itself, and is wanted all the same. */
  allow(key: string): void {
    this.#allowed.add(key);
  }

  judge(nowMs: number): Judgement {
    this.#history = this.#history.filter((m) => nowMs - m.atMs <= REMEMBERED_MS);
    const { best, others } = learn(this.#history);
    const shown: Shown[] = [];
    const restless: Restless[] = [];
    for (const found of best ? [best, ...others] : []) {
      const key = candidateKey(found.source, found.sends);
      const moves = this.#allowed.has(key) ? null : restlessness(found.sends, this.#history, nowMs);
      if (moves) restless.push(moves);
      else shown.push(this.#judged(key, found, nowMs));
    }
    shown.sort((a, b) => a.evidence.lastMs - b.evidence.lastMs);
    return { shown, restless };
  }

  #judged(key: string, found: LearnCandidate, nowMs: number): Shown {
    const evidence = evidenceOf(found.sends, this.#history);
    const behaviour = behaviourOf(found, evidence, nowMs);
    return { key, found, evidence, behaviour, isReady: isReady(found, evidence, nowMs) };
  }
}

function behaviourOf(found: LearnCandidate, evidence: Evidence, nowMs: number): Control["behaviour"] {
  const isPress = found.sends.kind === "note" || found.kind === "button" || found.kind === "pad";
  if (!isPress || found.behaviour === "one-shot") return found.behaviour;
  const { releasedAfterMs, presses } = evidence;
  if (releasedAfterMs !== null) return releasedAfterMs < LATCHED_MS ? "springs-back" : "latches";
  if (nowMs - evidence.lastMs < NO_RELEASE_MS) return "springs-back"; // it may still be held
  return presses > 1 ? "one-shot" : "latches";
}

function isReady(found: LearnCandidate, evidence: Evidence, nowMs: number): boolean {
  switch (found.kind) {
    case "fader": {
      const span = (evidence.high - evidence.low) / mostOf(found.sends);
      return evidence.count >= FEWEST_MOVES && span >= MOVED_ENOUGH && nowMs - evidence.lastMs >= RESTED_MS;
    }
    case "encoder":
      return nowMs - evidence.lastMs >= RESTED_MS;
    case "button":
      // A controller at 127 may be a fader at its end; one more moment tells.
      return found.sends.kind === "note" || evidence.releasedAfterMs !== null || nowMs - evidence.lastMs >= RESTED_MS;
    default:
      return true;
  }
}
