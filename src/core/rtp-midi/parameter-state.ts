/** The parameter numbers of one channel as one end of a stream knows them: which is named, and what was written to it. */
import {
  DATA_DECREMENT,
  DATA_ENTRY,
  DATA_ENTRY_LSB,
  DATA_ENTRY_MSB,
  DATA_INCREMENT,
  NO_PARAMETER,
  NRPN_LSB,
  NRPN_MSB,
  namesParameter,
  RPN_LSB,
  RPN_MSB,
} from "../midi/controllers.ts";
import type { ParameterChapter, ParameterLog } from "./parameter-chapter.ts";

const UNKNOWN = -1;
/** Parameters that are remembered for each channel: more is no instrument. */
const MOST_PARAMETERS = 256;
/** Steps that are made up for at the most. */
const MOST_STEPS = 64;

interface Written {
  msb: number;
  lsb: number;
  steps: number;
  sequence: number;
}

/** Says a controller of this channel. */
type Say = (controller: number, value: number) => void;

/** Of the controllers that name a parameter, those that say the upper half. */
export function isFirstHalf(controller: number): boolean {
  return controller === NRPN_MSB || controller === RPN_MSB;
}

export class ParameterState {
  registered = false;
  msb = UNKNOWN;
  lsb = UNKNOWN;
  /** In which packet the number was named last; UNKNOWN = since the checkpoint it was not. */
  namedIn = UNKNOWN;
  /** By number, registered ones behind the others; what was written to last stands last. */
  readonly #written = new Map<number, Written>();

  /** The number that is named, 0..16,382, or -1. */
  get number(): number {
    if (this.msb < 0 || this.lsb < 0) return UNKNOWN;
    const number = (this.msb << 7) | this.lsb;
    return number === NO_PARAMETER ? UNKNOWN : number;
  }

  get isBare(): boolean {
    if (this.namedIn >= 0) return false;
    for (const { sequence } of this.#written.values()) if (sequence >= 0) return false;
    return true;
  }

  #told(): [number, Written][] {
    return [...this.#written].filter(([, { sequence }]) => sequence >= 0);
  }

  /** A controller of this channel. False: it is none of a parameter number, or nothing has been named and it is plain data. */
  hear(controller: number, value: number, sequence: number): boolean {
    if (namesParameter(controller)) {
      const registered = controller >= RPN_LSB;
      if (registered !== this.registered) this.msb = this.lsb = UNKNOWN;
      this.registered = registered;
      if (isFirstHalf(controller)) {
        this.msb = value;
        this.lsb = UNKNOWN; // the second half of a number follows its first
      } else this.lsb = value;
      this.namedIn = sequence;
      return true;
    }
    if (!DATA_ENTRY.includes(controller)) return false;
    // Half of a number is named, or none: it is data for nothing.
    if (this.number < 0) return this.msb >= 0 || this.lsb >= 0;
    const key = keyOf(this.registered, this.number);
    const before = this.#written.get(key);
    const written = before ?? { msb: UNKNOWN, lsb: UNKNOWN, steps: 0, sequence };
    this.#written.delete(key);
    this.#written.set(key, written);
    if (this.#written.size > MOST_PARAMETERS) this.#written.delete(this.#written.keys().next().value!);
    written.sequence = sequence;
    if (controller === DATA_ENTRY_MSB) Object.assign(written, { msb: value, lsb: UNKNOWN, steps: 0 });
    else if (controller === DATA_ENTRY_LSB) Object.assign(written, { lsb: value, steps: 0 });
    else written.steps += controller === DATA_INCREMENT ? 1 : -1;
    return true;
  }

  /** Nothing is named any more: controller 121 (RP-015). */
  deselect(sequence: number): void {
    this.msb = this.lsb = UNKNOWN;
    this.namedIn = sequence;
  }

  /** The other end has everything up to this packet. */
  forget(upTo: number): void {
    if (this.namedIn <= upTo) this.namedIn = UNKNOWN;
    // What was written stays known: steps count on from it.
    for (const written of this.#written.values()) if (written.sequence <= upTo) written.sequence = UNKNOWN;
  }

  /** As the journal tells it; `isOld` says whether a packet is older than the last. */
  chapter(isOld: (sequence: number) => boolean): ParameterChapter {
    const open = this.number < 0 ? UNKNOWN : keyOf(this.registered, this.number);
    const logs = this.#told().map(
      ([key, { msb, lsb, steps, sequence }]): ParameterLog => ({
        ...numberOf(key),
        msb,
        lsb,
        steps,
        isOld: isOld(sequence),
      }),
    );
    const named = logs.findIndex((log) => keyOf(log.registered, log.number) === open);
    if (open >= 0) {
      const own = named < 0 ? null : logs.splice(named, 1)[0]!;
      // What was written before the checkpoint has arrived: the log only names the parameter.
      logs.push(own ?? { ...numberOf(open), msb: UNKNOWN, lsb: UNKNOWN, steps: null, isOld: true });
    }
    const isPending = this.msb >= 0 && this.lsb < 0;
    return {
      isOld: logs.every((log) => log.isOld) && (this.namedIn < 0 || isOld(this.namedIn)),
      ...(isPending ? { pending: { registered: this.registered, msb: this.msb } } : {}),
      isOpen: open >= 0,
      logs,
    };
  }

  /** Says what makes this end stand as the other tells; `say` has to be heard here too. */
  repair({ pending, isOpen, logs }: ParameterChapter, say: Say): void {
    for (const log of logs) {
      const written = this.#written.get(keyOf(log.registered, log.number));
      const isOther = log.msb >= 0 && (written?.msb !== log.msb || (log.lsb < 0 && (written?.lsb ?? -1) > 0));
      const isLsbOther = log.lsb >= 0 && (isOther || written?.lsb !== log.lsb);
      const had = isOther || isLsbOther ? 0 : (written?.steps ?? 0);
      const missed = log.steps === null ? 0 : log.steps - had;
      const steps = Math.max(-MOST_STEPS, Math.min(MOST_STEPS, missed));
      if (!isOther && !isLsbOther && steps === 0) continue;
      this.#name(log.registered, log.number, say);
      if (isOther) say(DATA_ENTRY_MSB, log.msb);
      if (isLsbOther) say(DATA_ENTRY_LSB, log.lsb);
      for (let n = 0; n < Math.abs(steps); n++) say(steps > 0 ? DATA_INCREMENT : DATA_DECREMENT, 127);
    }
    const last = logs.at(-1);
    if (pending) {
      if (this.registered !== pending.registered || this.msb !== pending.msb || this.lsb >= 0)
        say(pending.registered ? RPN_MSB : NRPN_MSB, pending.msb);
    } else if (isOpen && last) this.#name(last.registered, last.number, say);
    else if (!isOpen && this.number >= 0) this.#name(this.registered, NO_PARAMETER, say);
  }

  #name(registered: boolean, number: number, say: Say): void {
    if (this.registered === registered && this.msb === number >> 7 && this.lsb === (number & 127)) return;
    say(registered ? RPN_MSB : NRPN_MSB, number >> 7);
    say(registered ? RPN_LSB : NRPN_LSB, number & 127);
  }
}

function keyOf(registered: boolean, number: number): number {
  return (registered ? NO_PARAMETER + 1 : 0) + number;
}

function numberOf(key: number): { registered: boolean; number: number } {
  return { registered: key > NO_PARAMETER, number: key & NO_PARAMETER };
}
