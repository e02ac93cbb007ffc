/**
 * How one value of a desk is kept true over a network that loses, doubles and reorders (rules 8, 9, 13, 20 to 23). A
 * report has no author and no number, so three things are kept: what the desk said, what we want, and every own value
 * that may still be under way. Where they do not agree the desk is asked, what may be sent twice is sent again, and the
 * answer to a question that was put after everything had its time decides.
 *
 * A step function: time comes in with every call, and what is to be sent or asked comes out of `due`.
 */
import { OwnValues } from "./own-values.ts";
import {
  ASK,
  CONFIRMED,
  type CommandKind,
  LEVEL_COMMAND,
  LOOK,
  NOT_DONE,
  OFF_COMMAND,
  ON_COMMAND,
  ONCE_COMMAND,
  RELEASE_AGAIN_MS,
  RELEASE_COMMAND,
  REST,
  SEND_AGAIN,
  SENT,
  SHOWN,
  THEIRS,
  type Timing,
  tooOldMs,
  type ValueKind,
  VERIFY,
  wayMs,
} from "./truth-terms.ts";
import { ValueNumbers } from "./value-numbers.ts";

const MOST_TRIES = 5;
/** Questions without an answer after which a value is no longer asked for: about a minute. */
const MOST_ASKS = 30;
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
/** Flags of a burst, which is what we send until all is at rest. */
const INVERTED = 1;
const RESENT = 2;
const CONFIRMED_ONCE = 4;

/** The values of a desk, one looked at at a time: `of` says which. */
export class ValueTruth extends ValueNumbers {
  readonly #kinds: (index: number) => ValueKind;
  readonly #own = new OwnValues();
  #resendNow = false;

  /** `kinds`: what the profile says of the value at an index. */
  constructor(count: number, kinds: (index: number) => ValueKind) {
    super(count);
    this.#kinds = kinds;
  }

  get #kind(): ValueKind {
    return this.#kinds(this.index);
  }
  get #isConfirmed(): boolean {
    return (this.flags & CONFIRMED_ONCE) !== 0;
  }

  /** The value as far as it is known: what is on its way counts before what was said earlier. */
  get effective(): number {
    return this.phase === SENT ? this.want : this.desk;
  }

  /** We sent a value. */
  sent(value: number, command: CommandKind, atMs: number, timing: Timing): void {
    const newest = this.#own.push(value, atMs, this.newest);
    const soon = command === RELEASE_COMMAND && timing.isLossy;
    const waitMs = soon ? RELEASE_AGAIN_MS : timing.tells ? timing.rtoMs : ONLY_ASKED_MS;
    this.noteSent(value, command, newest, atMs, atMs - wayMs(timing), atMs + waitMs);
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
    if (this.phase === REST) this.sinceMs = Math.max(this.sinceMs, atMs - wayMs(timing));
    const own = this.#own.find(this.newest, this.sinceMs, x, this.#tolerance());
    switch (this.phase) {
      case REST: {
        if (x === this.desk) {
          this.deskAtMs = atMs;
          return 0;
        }
        const isLate = atMs - this.sentAtMs < wayMs(timing);
        if (isLate && (own >= 0 || (this.#isConfirmed && x === this.base))) {
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
          if (Math.fround(x) === Math.fround(this.want) && !this.#isRound(x)) this.exact++;
          this.#mark(this.newest);
          const isFirst = !this.#isConfirmed;
          this.#say(x, atMs);
          this.flags |= CONFIRMED_ONCE;
          if (answer || this.#isClean(timing)) this.#rest();
          else this.#verify(this.sentAtMs + wayMs(timing));
          return SHOWN | (isFirst ? CONFIRMED : 0);
        }
        if (answer) return this.#decide(x, own, atMs, timing);
        if (own >= 0 || x === this.base || this.#between(x)) {
          this.#mark(own);
          if (this.#same(x, this.want)) this.said = x;
          return 0;
        }
        if (this.command !== RELEASE_COMMAND && atMs - timing.backAtMs >= timing.rtoMs)
          return this.#theirs(x, atMs, timing);
        return 0;
      case VERIFY:
        if (answer) return this.#decide(x, own, atMs, timing);
        if (own >= 0 || this.#same(x, this.want) || x === this.base) {
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
    // What hangs is worst: once more, without a word of the desk and before anything is overdue.
    if (
      isRelease &&
      this.phase === SENT &&
      this.sentAtMs === this.wantAtMs &&
      this.dueAtMs < this.sentAtMs + timing.rtoMs
    ) {
      this.dueAtMs = this.sentAtMs + timing.rtoMs;
      return canSend ? SEND_AGAIN : 0;
    }
    // Nobody answers what is asked: what the desk said before holds, and nobody can know more.
    if (this.asks >= MOST_ASKS && !(isRelease && canSend)) {
      this.#restAsHeard(atMs);
      return 0;
    }
    if (canSend && this.phase === SENT && (isRelease || (this.command === OFF_COMMAND && this.tries < MOST_TRIES))) {
      this.#again(atMs, timing);
      bits |= SEND_AGAIN;
    } else if (
      canSend &&
      this.phase === VERIFY &&
      this.rounds > 0 &&
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

  /** The question could not be put yet. */
  askLater(atMs: number): void {
    this.asks--;
    this.dueAtMs = atMs;
  }

  /** There is no way to ask: what was heard has to do, and what was never confirmed does not count for ever. */
  cannotAsk(atMs: number, timing: Timing): void {
    const isHeard = this.#same(this.said, this.want);
    if (this.phase !== SENT || isHeard || atMs - this.wantAtMs > tooOldMs(timing)) this.#restAsHeard(atMs);
  }

  /** It was decided that what we want is to be sent again. */
  takeResend(): boolean {
    const due = this.#resendNow;
    this.#resendNow = false;
    return due;
  }

  /** Rule: an answer that was asked for after everything had its time. */
  #decide(x: number, own: number, atMs: number, timing: Timing): number {
    const gap = Math.abs(x - this.want);
    const isSaidAgain = x === this.said;
    const shown = x !== this.desk ? SHOWN : 0;
    this.said = x;
    this.#say(x, atMs);
    const isLevel = this.command === LEVEL_COMMAND && this.#kind.travel > 0;
    const part = isLevel ? gap / this.#kind.travel : Number.POSITIVE_INFINITY;
    if (this.#same(x, this.want)) {
      const isFirst = !this.#isConfirmed;
      this.flags |= CONFIRMED_ONCE;
      this.#rest();
      return SHOWN | (isFirst ? CONFIRMED : 0);
    }
    if (isLevel && part <= ROUNDS_WITHIN && isSaidAgain && this.tries >= (this.exact >= EXACT_ENOUGH ? 4 : 2)) {
      this.rounds++;
      this.slack = Math.max(this.slack, gap);
      const isFirst = !this.#isConfirmed;
      this.#rest();
      return SHOWN | (isFirst ? CONFIRMED : 0);
    }
    const isOurs = own >= 0 || (x === this.base && !this.#isConfirmed);
    if (isLevel && !isOurs && this.#between(x) && !isSaidAgain) {
      this.askedAtMs = Number.NEGATIVE_INFINITY;
      this.dueAtMs = atMs + timing.rtoMs;
      return shown;
    }
    const isTooOld = this.command === ON_COMMAND && atMs - this.wantAtMs > tooOldMs(timing);
    const isProbe = isLevel && part <= ROUNDS_WITHIN && this.exact < EXACT_ENOUGH && this.tries < 2;
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
    this.flags |= RESENT;
    this.phase = SENT;
    this.sentAtMs = atMs;
    this.newest = this.#own.push(this.want, atMs, this.newest);
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

  /**
   * Nobody can be asked. An echo of what we want that came sooner than the shortest round trip known was no proof, as it
   * could be of an earlier sending; where no question can tell, it has to do.
   */
  #restAsHeard(atMs: number): void {
    if (this.phase === SENT && this.#same(this.said, this.want)) this.#say(this.said, atMs);
    this.#rest();
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
    if (n < this.newestSeen) this.flags |= INVERTED;
    else this.newestSeen = n;
    this.#own.see(n);
  }

  #isClean({ spreadMs }: Timing): boolean {
    const isEven = (this.flags & (INVERTED | RESENT)) === 0;
    return (
      isEven &&
      this.#own.allSeen(this.newest, this.sinceMs) &&
      this.#own.newestAfterMs(this.newest, this.sinceMs) > spreadMs
    );
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
    if (!this.#kind.glides || Number.isNaN(this.base)) return false;
    return (x - this.base) * (x - this.want) < 0;
  }

  #same(a: number, b: number): boolean {
    if (Math.fround(a) === Math.fround(b)) return true;
    const slack = Math.max(this.rounds > 0 ? this.slack : 0, this.#kind.step / 2);
    return this.#kind.travel > 0 && Math.abs(a - b) <= slack;
  }

  /** How far an echo may be from what was sent. */
  #tolerance(): number {
    const { travel, step } = this.#kind;
    if (travel === 0) return 0;
    if (step > 0) return step / 2;
    if (this.rounds > 0) return Math.max(travel * SEVEN_BITS, 2 * this.slack);
    return this.exact >= EXACT_ENOUGH ? 0 : travel * ROUNDS_WITHIN;
  }
}
