/**
 * What firing an action reads, one record of 64 bytes for each: one cache line in the nth of one for each of a
 * dozen tables (bench row `core.scale`). Part of it is fixed when the show is compiled; how its bindings resolve is
 * written by the context, whenever page or show change.
 *
 *   int 0  generation of the context in which its bindings were resolved and its messages made
 *   int 1  status, how it acts << 8, flags << 16
 *   int 2  state of the desk that it changes; -1 = none
 *   int 3  desk, which of its mapping’s actions it is << 16
 *   int 4  mapping
 *   int 5  first prepared message; -1 = none is made yet
 *   int 6  messages of `send`, of `off` << 8, parameter that is out of range << 16
 *   int 7  number that is out of range
 *   double 4 to 7  the shape
 */
export const A_INTS = 16;
const DOUBLES = 8;
const SHAPE = 4;

export const A_RESOLVED_IN = 0;
export const A_STATUS_ACTS_FLAGS = 1;
export const A_STATE = 2;
export const A_DESK_NTH = 3;
const MAPPING = 4;
export const A_FIRST_MESSAGE = 5;
const COUNTS = 6;
const WRONG_NUMBER = 7;

const BYTE = 0xff;
const HALF = 0xffff;
/**
 * Flags: the desk is Velvet Hinge itself; the desk itself tells the state that the action changes; the shape is no
 * straight line; bindings may differ with every message; it waits before it acts.
 */
export const A_INSIDE = 1;
export const A_REPORTED = 2;
export const A_BENT = 4;
export const A_DYNAMIC = 8;
export const A_DELAYED = 16;

/** Status, acts and flags as they stand together in a record, to be compared in one step. */
export function statusActsFlags(status: number, acts: number, flags: number): number {
  return status | (acts << 8) | (flags << 16);
}

export class ActionTable {
  /** The records themselves, at a * A_INTS, for the one path that cannot afford a call for each field. */
  readonly ints: Int32Array;
  /** For `shapeValue` and `travelFor`, at `shapeAt(a)`. */
  readonly doubles: Float64Array;

  constructor(count: number, from?: ActionTable) {
    const block = new ArrayBuffer(count * A_INTS * 4);
    this.ints = new Int32Array(block);
    this.doubles = new Float64Array(block);
    if (from) this.ints.set(from.ints);
  }

  get count(): number {
    return this.ints.length / A_INTS;
  }

  /**
   * The records up to `from`, those of `middle` in the place of `removed` of them, and the rest. Mappings of the middle
   * count from `firstMapping`, those behind it are `moved` further.
   */
  spliced(from: number, removed: number, middle: ActionTable, firstMapping: number, moved: number): ActionTable {
    const made = new ActionTable(this.count - removed + middle.count);
    const behind = from + middle.count;
    made.ints.set(this.ints.subarray(0, from * A_INTS));
    made.ints.set(middle.ints, from * A_INTS);
    made.ints.set(this.ints.subarray((from + removed) * A_INTS), behind * A_INTS);
    for (let a = from; a < behind; a++) made.ints[a * A_INTS + MAPPING]! += firstMapping;
    if (moved !== 0) for (let a = behind; a < made.count; a++) made.ints[a * A_INTS + MAPPING]! += moved;
    return made;
  }

  /** Writes records over others, in place; their mappings count from `firstMapping`. */
  put(from: number, records: ActionTable, firstMapping: number): this {
    this.ints.set(records.ints, from * A_INTS);
    for (let a = from; a < from + records.count; a++) this.ints[a * A_INTS + MAPPING]! += firstMapping;
    return this;
  }

  /** Takes over records of another table, in place. */
  take(from: number, count: number, other: ActionTable): this {
    this.ints.set(other.ints.subarray(from * A_INTS, (from + count) * A_INTS), from * A_INTS);
    return this;
  }

  /** As `spliced`, with what was resolved and made ready; `fixed`: the table of the new show, which has the middle. */
  goingOn(fixed: ActionTable, from: number, removed: number, added: number, moved: number): ActionTable {
    const made = new ActionTable(fixed.count);
    const behind = from + added;
    made.ints.set(this.ints.subarray(0, from * A_INTS));
    made.ints.set(fixed.ints.subarray(from * A_INTS, behind * A_INTS), from * A_INTS);
    made.ints.set(this.ints.subarray((from + removed) * A_INTS), behind * A_INTS);
    if (moved !== 0) for (let a = behind; a < made.count; a++) made.ints[a * A_INTS + MAPPING]! += moved;
    return made;
  }

  /** A table of its own, for another context of the same show. */
  copy(): ActionTable {
    return new ActionTable(this.count, this);
  }

  /** `nth`: which of its mapping's actions it is, counted from 0 over those that are on. */
  set(a: number, desk: number, acts: number, mapping: number, nth: number, flags: number): void {
    const at = a * A_INTS;
    this.ints[at + A_STATUS_ACTS_FLAGS] = statusActsFlags(0, acts, flags);
    this.ints[at + A_DESK_NTH] = desk | (nth << 16);
    this.ints[at + MAPPING] = mapping;
    this.ints[at + A_FIRST_MESSAGE] = -1;
  }

  desk(a: number): number {
    return this.ints[a * A_INTS + A_DESK_NTH]! & HALF;
  }
  nth(a: number): number {
    return this.ints[a * A_INTS + A_DESK_NTH]! >> 16;
  }
  acts(a: number): number {
    return (this.ints[a * A_INTS + A_STATUS_ACTS_FLAGS]! >> 8) & BYTE;
  }
  mapping(a: number): number {
    return this.ints[a * A_INTS + MAPPING]!;
  }
  inside(a: number): boolean {
    return this.#flag(a, A_INSIDE);
  }
  reported(a: number): boolean {
    return this.#flag(a, A_REPORTED);
  }
  bent(a: number): boolean {
    return this.#flag(a, A_BENT);
  }
  dynamic(a: number): boolean {
    return this.#flag(a, A_DYNAMIC);
  }
  /** True where the bindings of some action may differ with every message. */
  get hasDynamic(): boolean {
    for (let at = A_STATUS_ACTS_FLAGS; at < this.ints.length; at += A_INTS)
      if (this.ints[at]! & (A_DYNAMIC << 16)) return true;
    return false;
  }
  delayed(a: number): boolean {
    return this.#flag(a, A_DELAYED);
  }
  shapeAt(a: number): number {
    return a * DOUBLES + SHAPE;
  }

  #flag(a: number, flag: number): boolean {
    return (this.ints[a * A_INTS + A_STATUS_ACTS_FLAGS]! & (flag << 16)) !== 0;
  }

  /** Its prepared messages: `sends` from `firstMessage`, then `offs`. */
  setMessages(a: number, first: number, sends: number, offs: number): void {
    const at = a * A_INTS;
    this.ints[at + A_FIRST_MESSAGE] = first;
    this.ints[at + COUNTS] = sends | (offs << 8);
  }
  firstMessage(a: number): number {
    return this.ints[a * A_INTS + A_FIRST_MESSAGE]!;
  }
  sends(a: number): number {
    return this.ints[a * A_INTS + COUNTS]! & BYTE;
  }
  offs(a: number): number {
    return (this.ints[a * A_INTS + COUNTS]! >> 8) & BYTE;
  }

  /** Its messages were made ready in this generation of the context. */
  setResolvedIn(a: number, generation: number): void {
    this.ints[a * A_INTS + A_RESOLVED_IN] = generation;
  }

  /** How the bindings resolve, and to which state of the desk (-1 = none). */
  setLooked(a: number, status: number, state: number): void {
    const at = a * A_INTS;
    this.ints[at + A_STATUS_ACTS_FLAGS] = (this.ints[at + A_STATUS_ACTS_FLAGS]! & ~BYTE) | status;
    this.ints[at + A_STATE] = state;
  }
  resolvedIn(a: number): number {
    return this.ints[a * A_INTS + A_RESOLVED_IN]!;
  }
  status(a: number): number {
    return this.ints[a * A_INTS + A_STATUS_ACTS_FLAGS]! & BYTE;
  }
  state(a: number): number {
    return this.ints[a * A_INTS + A_STATE]!;
  }

  /** The parameter (by its nth in the function) and the number that the desk does not have. */
  setWrong(a: number, parameter: number, number: number): void {
    const at = a * A_INTS;
    this.ints[at + COUNTS] = (this.ints[at + COUNTS]! & HALF) | (parameter << 16);
    this.ints[at + WRONG_NUMBER] = number;
  }
  wrongParameter(a: number): number {
    return this.ints[a * A_INTS + COUNTS]! >> 16;
  }
  wrongNumber(a: number): number {
    return this.ints[a * A_INTS + WRONG_NUMBER]!;
  }
}
