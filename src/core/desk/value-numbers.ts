/** The numbers that are kept of each value of a desk (truth.ts says what they mean), in one block. */
import { NO_ENTRY } from "./own-values.ts";
import { type CommandKind, type Phase, REST, SENT } from "./truth-terms.ts";

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
const SAID_AT = 22;
const DOUBLES = 24;

/**
 * The values of a desk, one looked at at a time: `of` says which. Their numbers lie in one block, because ten thousand
 * objects would each be fetched from memory for every message (bench row `core.spread`).
 */
export class ValueNumbers {
  readonly #fields: Float64Array;
  #at = 0;
  /** Of the value that is looked at. */
  protected index = 0;

  constructor(count: number) {
    this.#fields = new Float64Array(count * DOUBLES);
  }

  /** Looks at the value at an index. */
  of(index: number): this {
    this.index = index;
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
  /** When the desk said anything of it last, whatever that meant. */
  get saidAtMs(): number {
    return this.#fields[this.#at + SAID_AT]!;
  }
  set saidAtMs(value: number) {
    this.#fields[this.#at + SAID_AT] = value;
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
  protected get base(): number {
    return this.#fields[this.#at + BASE]!;
  }
  protected set base(value: number) {
    this.#fields[this.#at + BASE] = value;
  }
  protected get said(): number {
    return this.#fields[this.#at + SAID]!;
  }
  protected set said(value: number) {
    this.#fields[this.#at + SAID] = value;
  }
  protected get newestSeen(): number {
    return this.#fields[this.#at + NEWEST_SEEN]!;
  }
  protected set newestSeen(value: number) {
    this.#fields[this.#at + NEWEST_SEEN] = value;
  }
  protected get exact(): number {
    return this.#fields[this.#at + EXACT]!;
  }
  protected set exact(value: number) {
    this.#fields[this.#at + EXACT] = value;
  }
  protected get rounds(): number {
    return this.#fields[this.#at + ROUNDS]!;
  }
  protected set rounds(value: number) {
    this.#fields[this.#at + ROUNDS] = value;
  }
  protected get slack(): number {
    return this.#fields[this.#at + SLACK]!;
  }
  protected set slack(value: number) {
    this.#fields[this.#at + SLACK] = value;
  }
  protected get newest(): number {
    return this.#fields[this.#at + NEWEST]!;
  }
  protected set newest(value: number) {
    this.#fields[this.#at + NEWEST] = value;
  }
  protected get sinceMs(): number {
    return this.#fields[this.#at + SINCE]!;
  }
  protected set sinceMs(value: number) {
    this.#fields[this.#at + SINCE] = value;
  }
  protected get flags(): number {
    return this.#fields[this.#at + FLAGS]!;
  }
  protected set flags(value: number) {
    this.#fields[this.#at + FLAGS] = value;
  }

  /**
   * A value was sent. It is written field by field, because it is part of every message (bench row `core.small`).
   * `newest`: its entry among our own values; those since `sinceMs` may still be under way, where a burst begins.
   */
  protected noteSent(
    value: number,
    command: CommandKind,
    newest: number,
    atMs: number,
    sinceMs: number,
    dueAtMs: number,
  ): void {
    const fields = this.#fields;
    const at = this.#at;
    if (fields[at + PHASE] === REST) {
      fields[at + BASE] = fields[at + DESK]!;
      fields[at + SINCE] = sinceMs;
      fields[at + FLAGS] = 0;
      fields[at + NEWEST_SEEN] = NO_ENTRY;
    }
    fields[at + PHASE] = SENT;
    fields[at + NEWEST] = newest;
    fields[at + WANT] = value;
    fields[at + LAST] = value;
    fields[at + COMMAND] = command;
    fields[at + WANT_AT] = atMs;
    fields[at + SENT_AT] = atMs;
    fields[at + DUE_AT] = dueAtMs;
    fields[at + TRIES] = 0;
    fields[at + ASKS] = 0;
    fields[at + SAID] = Number.NaN;
  }
}
