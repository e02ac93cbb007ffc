/**
 * Registered and non-registered parameter numbers: a parameter is named by two controllers, then its value is given
 * by data entry, or stepped up and down.
 *
 * MIDI 1.0 Detailed Specification 4.2, "Registered and Non-Registered Parameter Numbers".
 */
import {
  DATA_DECREMENT,
  DATA_ENTRY_MSB,
  DATA_INCREMENT,
  NO_PARAMETER,
  NRPN_LSB,
  NRPN_MSB,
  RPN_LSB,
  RPN_MSB,
} from "./controllers.ts";
import { NO_VALUE, Pair14 } from "./pair-14.ts";

export interface ParameterSink {
  /** Whether anybody wants to know of this parameter, 0..16383: only of these are halves of values kept. */
  knows(registered: boolean, number: number): boolean;
  /** `number` and `value14` are 0..16383; `row` is that of the message which said it. */
  value(registered: boolean, number: number, value14: number, row: number): void;
  /** One step up (1) or down (-1). */
  step(registered: boolean, number: number, step: 1 | -1, row: number): void;
}

/** What one parameter has said of itself: its halves belong to no other. */
interface Entry {
  readonly registered: boolean;
  readonly number: number;
  readonly pair: Pair14;
  row: number;
}

/**
 * Reads the parameter numbers of one channel. Halves of a value are given out before another parameter is named: most
 * units send the number that names none right behind a value.
 */
export class ParameterNumbers {
  #registered = false;
  #msb = NO_VALUE;
  #lsb = NO_VALUE;
  readonly #entries = new Map<number, Entry>();
  /** What is named now and has said something; null = nothing. */
  #open: Entry | null = null;
  readonly #sink: ParameterSink;

  constructor(sink: ParameterSink) {
    this.#sink = sink;
  }

  /** Only the parameter that is named can have a half that waits. */
  get isWaiting(): boolean {
    return this.#open?.pair.isWaiting ?? false;
  }

  /** The parameter that is named, 0..16382, or NO_VALUE. */
  get number(): number {
    if (this.#msb < 0 || this.#lsb < 0) return NO_VALUE;
    const number = (this.#msb << 7) | this.#lsb;
    return number === NO_PARAMETER ? NO_VALUE : number;
  }

  get registered(): boolean {
    return this.#registered;
  }

  /** One controller for which `isParameterController` holds. False: it says nothing to anybody here. */
  controller(number: number, value7: number, atMs: number, row = 0): boolean {
    switch (number) {
      case NRPN_MSB:
      case RPN_MSB:
        this.#name(number === RPN_MSB, value7, null);
        return true;
      case NRPN_LSB:
      case RPN_LSB:
        this.#name(number === RPN_LSB, null, value7);
        return true;
      default:
        break;
    }
    const parameter = this.number;
    if (parameter < 0 || !this.#sink.knows(this.#registered, parameter)) return false;
    if (number === DATA_INCREMENT || number === DATA_DECREMENT) {
      this.#giveOut();
      this.#sink.step(this.#registered, parameter, number === DATA_INCREMENT ? 1 : -1, row);
      return true;
    }
    const entry = this.#entryOf(parameter);
    const { pair } = entry;
    // An MSB that waited alone is answered when the next one comes: it is still the value of the message before.
    const before = pair.isWaiting && number === DATA_ENTRY_MSB ? entry.row : row;
    entry.row = row;
    const value = number === DATA_ENTRY_MSB ? pair.msb(value7, atMs) : pair.lsb(value7, atMs);
    const further = pair.takeFurther();
    this.#tell(entry, value, pair.isWaiting || further >= 0 ? before : row);
    this.#tell(entry, further, row);
    return true;
  }

  /** Gives out a data entry that has waited long enough for its other half. */
  due(atMs: number): void {
    if (this.#open) this.#tell(this.#open, this.#open.pair.due(atMs), this.#open.row);
  }

  /** No parameter is named any more: controller 121 (RP-015, "Response to Reset All Controllers"). */
  deselect(): void {
    this.#giveOut();
    this.#open = null;
    this.#msb = this.#lsb = NO_VALUE;
  }

  #name(registered: boolean, msb: number | null, lsb: number | null): void {
    const other = registered !== this.#registered;
    if (other || (msb ?? this.#msb) !== this.#msb || (lsb ?? this.#lsb) !== this.#lsb) {
      this.#giveOut();
      this.#open = null;
    }
    if (other) this.#msb = this.#lsb = NO_VALUE;
    this.#registered = registered;
    if (msb !== null) this.#msb = msb;
    if (lsb !== null) this.#lsb = lsb;
  }

  #entryOf(number: number): Entry {
    const key = (this.#registered ? NO_PARAMETER + 1 : 0) + number;
    let entry = this.#entries.get(key);
    if (!entry) {
      entry = { registered: this.#registered, number, pair: new Pair14(), row: 0 };
      this.#entries.set(key, entry);
    }
    this.#open = entry;
    return entry;
  }

  /** What is named now says no more: its half is all there is. */
  #giveOut(): void {
    if (this.#open) this.#tell(this.#open, this.#open.pair.flush(), this.#open.row);
  }

  #tell({ registered, number }: Entry, value14: number, row: number): void {
    if (value14 >= 0) this.#sink.value(registered, number, value14, row);
  }
}
