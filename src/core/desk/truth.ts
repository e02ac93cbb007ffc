/**
 * How one value of a desk is kept true over a network that loses, doubles and reorders (rules 8, 9, 13, 20 to 23). A
 * report has no author and no number, so three things are kept: what the desk said, what we want, and every own value
 * that may still be under way. Where they do not agree the desk is asked, what may be sent twice is sent again, and the
 * answer to a question that was put after everything had its time decides.
 *
 * A step function: time comes in with every call, and what is to be sent or asked comes out of `due`.
 */
import { OwnValues } from "./own-values.ts";

/** What the newest own value is, which decides whether and how it is sent again. */
export const LEVEL_COMMAND = 0;
export const ON_COMMAND = 1;
export const OFF_COMMAND = 2;
/** The end of something that was held: what hangs is worst, so it is sent until the desk has it. */
export const RELEASE_COMMAND = 3;
/** It must not be sent twice: it is only asked for. */
export const ONCE_COMMAND = 4;
export type CommandKind =
  | typeof LEVEL_COMMAND
  | typeof ON_COMMAND
  | typeof OFF_COMMAND
  | typeof RELEASE_COMMAND
  | typeof ONCE_COMMAND;

/** Nothing is under way: the desk's word holds. */
export const REST = 0;
/** Sent, and no word of it yet. */
export const SENT = 1;
/** The desk said it, but the way there was not clean: a question decides. */
export const VERIFY = 2;
/** Somebody else moved it while ours was under way: a question decides. */
export const LOOK = 3;
export type Phase = typeof REST | typeof SENT | typeof VERIFY | typeof LOOK;

/** What a desk's line is known to be like; of the desk, and shared by its values. Times in ms. */
export interface Timing {
  /** Time after which an answer is overdue. */
  readonly rtoMs: number;
  /** Shortest round trip seen, 0 while none was. */
  readonly minRttMs: number;
  /** Four times the variation of the round trip. */
  readonly spreadMs: number;
  /** It says changes by itself; else it is only asked. */
  readonly tells: boolean;
  /** It cannot be reached: nothing is sent, and what is open waits. */
  readonly isSilent: boolean;
  /** When it came back last; for a while its reports may be from before. */
  readonly backAtMs: number;
}

/** What the profile says of a state. */
export interface ValueKind {
  /** One end of a level. */
  readonly from: number;
  /** From one end to the other; 0 for switches and whole numbers, which are met exactly or not at all. */
  readonly travel: number;
  /** The smallest step the desk keeps; 0 = not known. */
  readonly step: number;
  /** The desk moves towards what it is told, and says so on the way. */
  readonly glides: boolean;
}

/** What a report means for who looks at the value. Bits. */
export const SHOWN = 1;
/** Somebody else changed it: faders lose hold of it unless they stand there. */
export const THEIRS = 2;
/** It is what we wanted, for the first time since it was sent. */
export const CONFIRMED = 4;
/** We gave up, or the desk did not take it. */
export const NOT_DONE = 8;

/** What is due of a value. Bits. */
export const SEND_AGAIN = 1;
export const ASK = 2;

const MOST_TRIES = 5;
/** Sendings again of a release come this close to each other so often, and then `SLOWLY_MS` apart, without end. */
const RELEASE_TRIES = 8;
const SLOWLY_MS = 2000;
const LONGEST_BACK_OFF_MS = 2000;
const BACK_OFF = 1.5;
/** A desk that keeps steps of its own rounds by no more than this part of the travel. */
const ROUNDS_WITHIN = 1 / 16;
const ROUND_STEPS = 1000;
/** Exact echoes after which a desk is known not to round. */
const EXACT_ENOUGH = 3;
const SEVEN_BITS = 1 / 127;
const ONLY_ASKED_MS = 60;
const LOOK_MS = 60;
/** An own value counts as under way for so many overdue times, and no longer than `LONGEST_WAY_MS`. */
const WAY = 1.5;
const LONGEST_WAY_MS = 4000;

/** How long an own value may be under way, in ms. */
export function wayMs({ rtoMs }: Timing): number {
  return Math.min(LONGEST_WAY_MS, WAY * rtoMs + 60);
}

/** A press of longer ago must not come as a surprise, and is given up, in ms. */
function tooOldMs({ rtoMs }: Timing): number {
  return Math.max(3000, 6 * rtoMs);
}

/** How long a value may be on its way before that is shown, in ms. */
export function shownLateMs({ rtoMs }: Timing): number {
  return Math.max(250, rtoMs + 50);
}

export class ValueTruth {
  readonly #kind: ValueKind;
  phase: Phase = REST;
  command: CommandKind = LEVEL_COMMAND;
  /** What the desk said, NaN = nothing yet, and when. */
  desk: number;
  deskAtMs: number;
  want = Number.NaN;
  last = Number.NaN;
  wantAtMs = Number.NEGATIVE_INFINITY;
  sentAtMs = Number.NEGATIVE_INFINITY;
  askedAtMs = Number.NEGATIVE_INFINITY;
  dueAtMs = Number.POSITIVE_INFINITY;
  tries = 0;
  asks = 0;
  #base = Number.NaN;
  #said = Number.NaN;
  #newestSeen = -1;
  #inverted = false;
  #resent = false;
  #confirmed = false;
  #exact = 0;
  #rounds = 0;
  #slack = 0;
  readonly #own = new OwnValues();

  constructor(kind: ValueKind, desk: number, deskAtMs: number) {
    this.#kind = kind;
    this.desk = desk;
    this.deskAtMs = deskAtMs;
  }

  /** The value as far as it is known: what is on its way counts before what was said earlier. */
  get effective(): number {
    return this.phase === SENT ? this.want : this.desk;
  }

  /** We sent a value. */
  sent(value: number, command: CommandKind, atMs: number, timing: Timing): void {
    if (this.phase === REST) {
      this.#base = this.desk;
      this.#own.forgetBefore(atMs - wayMs(timing));
      this.#inverted = this.#resent = this.#confirmed = false;
      this.#newestSeen = -1;
    }
    this.#own.push(value, atMs);
    this.want = this.last = value;
    this.command = command;
    this.phase = SENT;
    this.wantAtMs = this.sentAtMs = atMs;
    this.tries = this.asks = 0;
    this.#said = Number.NaN;
    this.dueAtMs = atMs + (timing.tells ? timing.rtoMs : ONLY_ASKED_MS);
  }

  /** The desk refused it: what it said before still holds. */
  refused(): void {
    this.#rest();
  }

  /** It cannot be reached any more. */
  silent(): void {
    if (this.phase === VERIFY) this.phase = LOOK;
  }

  /** It is there again, and has been asked for everything. Answers whether what we want is to be sent again. */
  back(atMs: number, timing: Timing): boolean {
    if (this.phase === REST) return false;
    this.askedAtMs = atMs;
    this.dueAtMs = atMs + timing.rtoMs;
    const again = this.phase === SENT && this.command !== ON_COMMAND && this.command !== ONCE_COMMAND;
    if (!again) this.phase = LOOK;
    return again;
  }

  /** The desk said a value. Answers what that means, as bits. */
  heard(x: number, atMs: number, timing: Timing): number {
    const answer = this.askedAtMs >= this.sentAtMs && atMs - this.askedAtMs >= 0.9 * timing.minRttMs;
    if (this.phase === REST) this.#own.forgetBefore(atMs - wayMs(timing));
    const own = this.#own.find(x, this.#tolerance());
    switch (this.phase) {
      case REST: {
        if (x === this.desk) {
          this.deskAtMs = atMs;
          return 0;
        }
        const isLate = atMs - this.sentAtMs < wayMs(timing);
        if (isLate && (own >= 0 || (this.#confirmed && x === this.#base))) {
          this.want = this.last;
          this.#verify(this.sentAtMs + wayMs(timing));
          return 0;
        }
        const near = atMs - this.deskAtMs < timing.spreadMs;
        const bits = this.#theirs(x, atMs, timing);
        if (near) this.#look(atMs + Math.max(LOOK_MS, timing.spreadMs));
        return bits;
      }
      case SENT:
        if (this.#same(x, this.want) && atMs - this.wantAtMs >= 0.9 * timing.minRttMs) {
          if (Math.fround(x) === Math.fround(this.want) && !this.#isRound(x)) this.#exact++;
          this.#mark(this.#own.newest);
          const isFirst = !this.#confirmed;
          this.#say(x, atMs);
          this.#confirmed = true;
          if (answer || this.#isClean(timing)) this.#rest();
          else this.#verify(this.sentAtMs + wayMs(timing));
          return SHOWN | (isFirst ? CONFIRMED : 0);
        }
        if (answer) return this.#decide(x, own, atMs, timing);
        if (own >= 0 || x === this.#base || this.#between(x)) {
          this.#mark(own);
          return 0;
        }
        if (this.command !== RELEASE_COMMAND && atMs - timing.backAtMs >= timing.rtoMs)
          return this.#theirs(x, atMs, timing);
        return 0;
      case VERIFY:
        if (answer) return this.#decide(x, own, atMs, timing);
        if (own >= 0 || this.#same(x, this.want) || x === this.#base) {
          this.#mark(own);
          return 0;
        }
        return this.#theirs(x, atMs, timing);
      default: {
        const changed = x !== this.desk;
        this.#say(x, atMs);
        if (answer) this.#rest();
        else this.dueAtMs = Math.max(this.dueAtMs, atMs + Math.max(LOOK_MS, timing.spreadMs));
        return (changed ? SHOWN : 0) | (changed && own < 0 ? THEIRS : 0);
      }
    }
  }

  /** Carries out what is due by now; answers what is to be sent or asked, as bits. */
  due(atMs: number, timing: Timing, canSend: boolean): number {
    if (this.phase === REST || atMs < this.dueAtMs) return 0;
    let bits = ASK;
    if (timing.isSilent) {
      this.silent();
      this.dueAtMs = atMs + timing.rtoMs;
      return 0;
    }
    const isRelease = this.command === RELEASE_COMMAND;
    // Nobody answers what is asked: what the desk said before holds, and nobody can know more.
    if (!isRelease && this.phase === SENT && atMs - this.wantAtMs > tooOldMs(timing)) {
      this.#rest();
      return 0;
    }
    if (canSend && this.phase === SENT && (isRelease || (this.command === OFF_COMMAND && this.tries < MOST_TRIES))) {
      this.#again(atMs, timing);
      bits |= SEND_AGAIN;
    } else if (
      canSend &&
      this.phase === VERIFY &&
      this.#rounds > 0 &&
      this.asks === 0 &&
      this.command === LEVEL_COMMAND
    ) {
      this.sentAtMs = atMs;
      bits |= SEND_AGAIN;
    }
    this.asks++;
    const slowly = isRelease && this.tries > RELEASE_TRIES;
    const flat = isRelease && this.phase === SENT;
    const backOffMs = Math.min(LONGEST_BACK_OFF_MS, timing.rtoMs * (flat ? 1 : BACK_OFF ** Math.min(this.asks, 12)));
    this.dueAtMs = atMs + (slowly ? SLOWLY_MS : backOffMs);
    return bits;
  }

  /** A question was put that this value is part of. */
  asked(atMs: number): void {
    this.askedAtMs = atMs;
  }

  /** There is no way to ask: what was heard has to do. */
  cannotAsk(): void {
    if (this.phase !== SENT) this.#rest();
  }

  /** It was decided that what we want is to be sent again. */
  takeResend(): boolean {
    const due = this.#resendNow;
    this.#resendNow = false;
    return due;
  }
  #resendNow = false;

  /** Rule: an answer that was asked for after everything had its time. */
  #decide(x: number, own: number, atMs: number, timing: Timing): number {
    const gap = Math.abs(x - this.want);
    const isSaidAgain = x === this.#said;
    const shown = x !== this.desk ? SHOWN : 0;
    this.#said = x;
    this.#say(x, atMs);
    const isLevel = this.command === LEVEL_COMMAND && this.#kind.travel > 0;
    const part = isLevel ? gap / this.#kind.travel : Number.POSITIVE_INFINITY;
    if (this.#same(x, this.want)) {
      const isFirst = !this.#confirmed;
      this.#confirmed = true;
      this.#rest();
      return SHOWN | (isFirst ? CONFIRMED : 0);
    }
    if (isLevel && part <= ROUNDS_WITHIN && isSaidAgain && this.tries >= (this.#exact >= EXACT_ENOUGH ? 4 : 2)) {
      this.#rounds++;
      this.#slack = Math.max(this.#slack, gap);
      const isFirst = !this.#confirmed;
      this.#rest();
      return SHOWN | (isFirst ? CONFIRMED : 0);
    }
    const isOurs = own >= 0 || (x === this.#base && !this.#confirmed);
    if (isLevel && !isOurs && this.#between(x) && !isSaidAgain) {
      this.askedAtMs = Number.NEGATIVE_INFINITY;
      this.dueAtMs = atMs + timing.rtoMs;
      return shown;
    }
    const isTooOld = this.command === ON_COMMAND && atMs - this.wantAtMs > tooOldMs(timing);
    const isProbe = isLevel && part <= ROUNDS_WITHIN && this.#exact < EXACT_ENOUGH && this.tries < 2;
    const mayAgain = this.command !== ONCE_COMMAND && (isOurs || isProbe) && this.tries < MOST_TRIES && !isTooOld;
    if (this.command === RELEASE_COMMAND || mayAgain) {
      this.#again(atMs, timing);
      this.#resendNow = true;
      return shown;
    }
    return this.#theirs(x, atMs, timing) | SHOWN | (isOurs ? NOT_DONE : 0);
  }

  #again(atMs: number, timing: Timing): void {
    this.tries++;
    this.#resent = true;
    this.phase = SENT;
    this.sentAtMs = atMs;
    this.#own.push(this.want, atMs);
    this.dueAtMs = atMs + timing.rtoMs;
  }

  #theirs(x: number, atMs: number, timing: Timing): number {
    const isLate = atMs - this.sentAtMs < wayMs(timing);
    const changed = x !== this.desk;
    this.#say(x, atMs);
    if (isLate) this.#look(this.sentAtMs + wayMs(timing));
    else this.#rest();
    return SHOWN | (changed || isLate ? THEIRS : 0);
  }

  #say(x: number, atMs: number): void {
    this.desk = x;
    this.deskAtMs = atMs;
  }

  #rest(): void {
    this.phase = REST;
    this.want = Number.NaN;
    this.dueAtMs = Number.POSITIVE_INFINITY;
    this.tries = this.asks = 0;
  }

  #verify(dueAtMs: number): void {
    this.phase = VERIFY;
    this.asks = 0;
    this.dueAtMs = dueAtMs;
  }

  #look(dueAtMs: number): void {
    this.phase = LOOK;
    this.asks = 0;
    this.dueAtMs = dueAtMs;
  }

  #mark(n: number): void {
    if (n < 0) return;
    if (n < this.#newestSeen) this.#inverted = true;
    else this.#newestSeen = n;
    this.#own.see(n);
  }

  #isClean({ spreadMs }: Timing): boolean {
    return this.#own.allSeen && !this.#inverted && !this.#resent && this.#own.newestAfterMs > spreadMs;
  }

  /** A value that also a desk that rounds would keep as it is: an end, or one of a thousand steps. */
  #isRound(x: number): boolean {
    const { from, travel } = this.#kind;
    if (travel === 0) return false;
    const steps = ((x - from) / travel) * ROUND_STEPS;
    return Math.abs(steps - Math.round(steps)) < 1e-3;
  }

  /** Between what it was and what we want, where the desk goes there by and by. */
  #between(x: number): boolean {
    if (!this.#kind.glides || Number.isNaN(this.#base)) return false;
    return (x - this.#base) * (x - this.want) < 0;
  }

  #same(a: number, b: number): boolean {
    if (Math.fround(a) === Math.fround(b)) return true;
    const slack = Math.max(this.#rounds > 0 ? this.#slack : 0, this.#kind.step / 2);
    return this.#kind.travel > 0 && Math.abs(a - b) <= slack;
  }

  /** How far an echo may be from what was sent. */
  #tolerance(): number {
    const { travel, step } = this.#kind;
    if (travel === 0) return 0;
    if (step > 0) return step / 2;
    if (this.#rounds > 0) return Math.max(travel * SEVEN_BITS, 2 * this.#slack);
    return this.#exact >= EXACT_ENOUGH ? 0 : travel * ROUNDS_WITHIN;
  }
}
