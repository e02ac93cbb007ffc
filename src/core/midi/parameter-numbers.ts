/**
 * Registered and non-registered parameter numbers: a parameter is named by two controllers, then its value is given
 * by data entry, or stepped up and down.
 *
 * MIDI 1.0 Detailed Specification 4.2, "Registered and Non-Registered Parameter Numbers".
 */
import { NO_VALUE, Pair14 } from "./pair-14.ts";

export const DATA_ENTRY_MSB = 6;
export const DATA_ENTRY_LSB = 38;
const DATA_INCREMENT = 96;
const DATA_DECREMENT = 97;
export const NRPN_LSB = 98;
export const NRPN_MSB = 99;
export const RPN_LSB = 100;
export const RPN_MSB = 101;

/** The number that names no parameter, sent to close one: 127, 127. */
export const NO_PARAMETER = 16_383;

/** True for a controller that may belong to a parameter number. */
export function isParameterController(number: number): boolean {
  return number === DATA_ENTRY_MSB || number === DATA_ENTRY_LSB || (number >= DATA_INCREMENT && number <= RPN_MSB);
}

export interface ParameterSink {
  /** `number` and `value14` are 0..16383. */
  value(registered: boolean, number: number, value14: number): void;
  /** One step up (1) or down (-1). */
  step(registered: boolean, number: number, step: 1 | -1): void;
}

/** Reads the parameter numbers of one channel. */
export class ParameterNumbers {
  #registered = false;
  #msb = NO_VALUE;
  #lsb = NO_VALUE;
  readonly #entry = new Pair14();
  readonly #sink: ParameterSink;

  constructor(sink: ParameterSink) {
    this.#sink = sink;
  }

  get isWaiting(): boolean {
    return this.#entry.isWaiting;
  }

  /** One controller for which `isParameterController` holds. False: no parameter is open, so it says nothing here. */
  controller(number: number, value7: number, atMs: number): boolean {
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
    const parameter = this.#parameter();
    if (parameter < 0) return false;
    if (number === DATA_INCREMENT) this.#sink.step(this.#registered, parameter, 1);
    else if (number === DATA_DECREMENT) this.#sink.step(this.#registered, parameter, -1);
    else this.#tell(number === DATA_ENTRY_MSB ? this.#entry.msb(value7, atMs) : this.#entry.lsb(value7, atMs));
    return true;
  }

  /** Gives out a data entry that has waited long enough for its other half. */
  due(atMs: number): void {
    this.#tell(this.#entry.due(atMs));
  }

  #name(registered: boolean, msb: number | null, lsb: number | null): void {
    if (registered !== this.#registered) this.#msb = this.#lsb = NO_VALUE;
    this.#registered = registered;
    if (msb !== null) this.#msb = msb;
    if (lsb !== null) this.#lsb = lsb;
  }

  #parameter(): number {
    if (this.#msb < 0 || this.#lsb < 0) return NO_VALUE;
    const number = (this.#msb << 7) | this.#lsb;
    return number === NO_PARAMETER ? NO_VALUE : number;
  }

  #tell(value14: number): void {
    const parameter = this.#parameter();
    if (value14 >= 0 && parameter >= 0) this.#sink.value(this.#registered, parameter, value14);
  }
}
