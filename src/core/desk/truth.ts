/**
 * How one value of a desk is kept true over a network that loses, doubles and reorders (rules 8, 9, 13, 20 to 23). A
 * report has no author and no number, so three things are kept: what the desk said, what we want, and every own value
 * that may still be under way. Where they do not agree the desk is asked, what may be sent twice is sent again, and the
 * answer to a question that was put after everything had its time decides.
 *
 * A step function: time comes in with every call, and what is to be sent or asked comes out of `due`.
 */
import { NO_ENTRY, OwnValues } from "./own-values.ts";

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

/** Where each number of a value stands among its own; what a sending changes lies side by side. */
const PHASE = 0;
const COMMAND = 1;
const WANT = 2;
const LAST = 3;
const WANT_AT = 4;
const SENT_AT = 5;
const DUE_AT = 6;
const NEWEST = 7;
const DESK = 8;
const BASE = 9;
const FLAGS = 10;
const SINCE = 11;
const NEWEST_SEEN = 12;
const SAID = 13;
const TRIES = 14;
const ASKS = 15;
const DESK_AT = 16;
const ASKED_AT = 17;
const EXACT = 18;
const ROUNDS = 19;
const SLACK = 20;
const BEGUN = 21;
const DOUBLES = 24;

/** Flags of a burst, which is what we send until all is at rest. */
const INVERTED = 1;
const RESENT = 2;
const CONFIRMED_ONCE = 4;

/**
 * The values of a desk, one looked at at a time: `of` says which. Their numbers lie in one block, because ten thousand
 * objects would each be fetched from memory for every message (bench row `core.spread`).
 */
export class ValueTruth {
  readonly #fields: Float64Array;
  readonly #kinds: (index: number) => ValueKind;
  readonly #own = new OwnValues();
  #at = 0;
  #index = 0;
  #resendNow = false;

  /** `kinds`: what the profile says of the value at an index. */
  constructor(count: number, kinds: (index: number) => ValueKind) {
    this.#fields = new Float64Array(count * DOUBLES);
    this.#kinds = kinds;
  }

  /** Looks at the value at an index. */
  of(index: number): this {
    this.#index = index;
    this.#at = index * DOUBLES;
    return this;
  }

  /** True where something was ever sent of it. */
  get isBegun(): boolean {
    return this.#fields[this.#at + BEGUN] === 1;
  }

  /** It is about to be sent for the first time; `desk`: what the desk said of it, NaN = nothing. */
  begin(desk: number): void {
    const fields = this.#fields;
    const at = this.#at;
    fields[at + BEGUN] = 1;
    fields[at + DESK] = desk;
    fields[at + DUE_AT] = Number.POSITIVE_INFINITY;
    fields[at + NEWEST] = fields[at + NEWEST_SEEN] = NO_ENTRY;
    fields[at + WANT] = fields[at + LAST] = fields[at + BASE] = fields[at + SAID] = Number.NaN;
    fields[at + WANT_AT] = fields[at + SENT_AT] = fields[at + ASKED_AT] = Number.NEGATIVE_INFINITY;
    fields[at + DESK_AT] = fields[at + SINCE] = Number.NEGATIVE_INFINITY;
  }

  get phase(): Phase {
    return this.#fields[this.#at + PHASE]! as Phase;
  }
  set phase(phase: Phase) {
    this.#fields[this.#at + PHASE] = phase;
  }
  get command(): CommandKind {
    return this.#fields[this.#at + COMMAND]! as CommandKind;
  }
  set command(command: CommandKind) {
    this.#fields[this.#at + COMMAND] = command;
  }
  get desk(): number {
    return this.#fields[this.#at + DESK]!;
  }
  set desk(value: number) {
    this.#fields[this.#at + DESK] = value;
  }
  get deskAtMs(): number {
    return this.#fields[this.#at + DESK_AT]!;
  }
  set deskAtMs(value: number) {
    this.#fields[this.#at + DESK_AT] = value;
  }
  get want(): number {
    return this.#fields[this.#at + WANT]!;
  }
  set want(value: number) {
    this.#fields[this.#at + WANT] = value;
  }
  get last(): number {
    return this.#fields[this.#at + LAST]!;
  }
  set last(value: number) {
    this.#fields[this.#at + LAST] = value;
  }
  get wantAtMs(): number {
    return this.#fields[this.#at + WANT_AT]!;
  }
  set wantAtMs(value: number) {
    this.#fields[this.#at + WANT_AT] = value;
  }
  get sentAtMs(): number {
    return this.#fields[this.#at + SENT_AT]!;
  }
  set sentAtMs(value: number) {
    this.#fields[this.#at + SENT_AT] = value;
  }
  get askedAtMs(): number {
    return this.#fields[this.#at + ASKED_AT]!;
  }
  set askedAtMs(value: number) {
    this.#fields[this.#at + ASKED_AT] = value;
  }
  get dueAtMs(): number {
    return this.#fields[this.#at + DUE_AT]!;
  }
  set dueAtMs(value: number) {
    this.#fields[this.#at + DUE_AT] = value;
  }
  get tries(): number {
    return this.#fields[this.#at + TRIES]!;
  }
  set tries(value: number) {
    this.#fields[this.#at + TRIES] = value;
  }
  get asks(): number {
    return this.#fields[this.#at + ASKS]!;
  }
  set asks(value: number) {
    this.#fields[this.#at + ASKS] = value;
  }
  get #base(): number {
    return this.#fields[this.#at + BASE]!;
  }
  set #base(value: number) {
    this.#fields[this.#at + BASE] = value;
  }
  get #said(): number {
    return this.#fields[this.#at + SAID]!;
  }
  set #said(value: number) {
    this.#fields[this.#at + SAID] = value;
  }
  get #newestSeen(): number {
    return this.#fields[this.#at + NEWEST_SEEN]!;
  }
  set #newestSeen(value: number) {
    this.#fields[this.#at + NEWEST_SEEN] = value;
  }
  get #exact(): number {
    return this.#fields[this.#at + EXACT]!;
  }
  set #exact(value: number) {
    this.#fields[this.#at + EXACT] = value;
  }
  get #rounds(): number {
    return this.#fields[this.#at + ROUNDS]!;
  }
  set #rounds(value: number) {
    this.#fields[this.#at + ROUNDS] = value;
  }
  get #slack(): number {
    return this.#fields[this.#at + SLACK]!;
  }
  set #slack(value: number) {
    this.#fields[this.#at + SLACK] = value;
  }
  get #newest(): number {
    return this.#fields[this.#at + NEWEST]!;
  }
  set #newest(value: number) {
    this.#fields[this.#at + NEWEST] = value;
  }
  get #sinceMs(): number {
    return this.#fields[this.#at + SINCE]!;
  }
  set #sinceMs(value: number) {
    this.#fields[this.#at + SINCE] = value;
  }
  get #flags(): number {
    return this.#fields[this.#at + FLAGS]!;
  }
  set #flags(value: number) {
    this.#fields[this.#at + FLAGS] = value;
  }
  get #kind(): ValueKind {
    return this.#kinds(this.#index);
  }
  get #isConfirmed(): boolean {
    return (this.#flags & CONFIRMED_ONCE) !== 0;
  }

  /** The value as far as it is known: what is on its way counts before what was said earlier. */
  get effective(): number {
    return this.phase === SENT ? this.want : this.desk;
  }

  /** We sent a value. It is written field by field, because it is part of every message (bench row `core.small`). */
  sent(value: number, command: CommandKind, atMs: number, timing: Timing): void {
    const fields = this.#fields;
    const at = this.#at;
    if (fields[at + PHASE] === REST) {
      fields[at + PHASE] = SENT;
      fields[at + BASE] = fields[at + DESK]!;
      fields[at + SINCE] = atMs - wayMs(timing);
      fields[at + FLAGS] = 0;
      fields[at + NEWEST_SEEN] = NO_ENTRY;
    } else if (fields[at + PHASE] !== SENT) fields[at + PHASE] = SENT;
    fields[at + NEWEST] = this.#own.push(value, atMs, fields[at + NEWEST]!);
    fields[at + WANT] = value;
    fields[at + LAST] = value;
    fields[at + COMMAND] = command;
    fields[at + WANT_AT] = atMs;
    fields[at + SENT_AT] = atMs;
    fields[at + DUE_AT] = atMs + (timing.tells ? timing.rtoMs : ONLY_ASKED_MS);
    fields[at + TRIES] = 0;
    fields[at + ASKS] = 0;
    fields[at + SAID] = Number.NaN;
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
    if (this.phase === REST) this.#sinceMs = Math.max(this.#sinceMs, atMs - wayMs(timing));
    const own = this.#own.find(this.#newest, this.#sinceMs, x, this.#tolerance());
    switch (this.phase) {
      case REST: {
        if (x === this.desk) {
          this.deskAtMs = atMs;
          return 0;
        }
        const isLate = atMs - this.sentAtMs < wayMs(timing);
        if (isLate && (own >= 0 || (this.#isConfirmed && x === this.#base))) {
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
          this.#mark(this.#newest);
          const isFirst = !this.#isConfirmed;
          this.#say(x, atMs);
          this.#flags |= CONFIRMED_ONCE;
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
    if (this.asks >= MOST_ASKS && !(isRelease && canSend)) {
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

  /** The question could not be put yet. */
  askLater(atMs: number): void {
    this.asks--;
    this.dueAtMs = atMs;
  }

  /** There is no way to ask: what was heard has to do, and what was never confirmed does not count for ever. */
  cannotAsk(atMs: number, timing: Timing): void {
    if (this.phase !== SENT || atMs - this.wantAtMs > tooOldMs(timing)) this.#rest();
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
    const isSaidAgain = x === this.#said;
    const shown = x !== this.desk ? SHOWN : 0;
    this.#said = x;
    this.#say(x, atMs);
    const isLevel = this.command === LEVEL_COMMAND && this.#kind.travel > 0;
    const part = isLevel ? gap / this.#kind.travel : Number.POSITIVE_INFINITY;
    if (this.#same(x, this.want)) {
      const isFirst = !this.#isConfirmed;
      this.#flags |= CONFIRMED_ONCE;
      this.#rest();
      return SHOWN | (isFirst ? CONFIRMED : 0);
    }
    if (isLevel && part <= ROUNDS_WITHIN && isSaidAgain && this.tries >= (this.#exact >= EXACT_ENOUGH ? 4 : 2)) {
      this.#rounds++;
      this.#slack = Math.max(this.#slack, gap);
      const isFirst = !this.#isConfirmed;
      this.#rest();
      return SHOWN | (isFirst ? CONFIRMED : 0);
    }
    const isOurs = own >= 0 || (x === this.#base && !this.#isConfirmed);
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
    this.#flags |= RESENT;
    this.phase = SENT;
    this.sentAtMs = atMs;
    this.#newest = this.#own.push(this.want, atMs, this.#newest);
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
    if (n < this.#newestSeen) this.#flags |= INVERTED;
    else this.#newestSeen = n;
    this.#own.see(n);
  }

  #isClean({ spreadMs }: Timing): boolean {
    const isEven = (this.#flags & (INVERTED | RESENT)) === 0;
    return (
      isEven &&
      this.#own.allSeen(this.#newest, this.#sinceMs) &&
      this.#own.newestAfterMs(this.#newest, this.#sinceMs) > spreadMs
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
