/** What was heard of one control, as numbers that a person can judge by. */
import type { ControlMessage } from "../format/surface-profile.ts";
import { DATA_ENTRY_MSB, NRPN_MSB, namesParameter, RPN_LSB, RPN_MSB } from "../midi/controllers.ts";
import { hexBytes } from "../midi/hex.ts";
import type { HeardMessage } from "../surface/learn.ts";

/** Points of the little curve. */
const CURVE = 24;

export interface Evidence {
  /** Messages of it, and when the newest came, in ms. */
  readonly count: number;
  readonly lastMs: number;
  /** Lowest and highest value on the wire, 0..127 or 0..16383. */
  readonly low: number;
  readonly high: number;
  /** The newest value. */
  readonly last: number;
  /** How long it took from a press to its release, in ms, the shortest; null = no release was heard. */
  readonly releasedAfterMs: number | null;
  /** Presses: values above 0. */
  readonly presses: number;
  /** A release was a note-on of velocity 0 (MIDI 1.0, "Note Off"). */
  readonly zeroVelocity: boolean;
  /** The newest values, 0..1 of what its message can carry, with the time of each in ms. */
  readonly curve: readonly (readonly [atMs: number, value01: number])[];
}

/** Reads the values of one control out of everything that comes. */
export class ValueReader {
  readonly #sends: ControlMessage;
  /** The parameter that was named last, as 14 bits; -1 = none. */
  #named = { registered: false, msb: -1, lsb: -1 };

  constructor(sends: ControlMessage) {
    this.#sends = sends;
  }

  /** The value that a message carries; null = it is of another control. What carries none is 127. */
  read(bytes: Uint8Array): number | null {
    const sends = this.#sends;
    const [status = 0, d1 = 0, d2 = 0] = bytes;
    const kind = status & 0xf0;
    if ("channel" in sends && (status & 15) !== sends.channel - 1) return null;
    switch (sends.kind) {
      case "note":
        if (kind === 0x90 && d1 === sends.number) return d2;
        return kind === 0x80 && d1 === sends.number ? 0 : null;
      case "controller":
      case "relative":
      case "clicks":
      case "controller-14":
        return kind === 0xb0 && d1 === sends.number ? d2 : null;
      case "bend":
        return kind === 0xe0 ? (d2 << 7) | d1 : null;
      case "nrpn":
      case "rpn":
        return kind === 0xb0 ? this.#parameter(sends.kind === "rpn", sends.number, d1, d2) : null;
      case "program":
        return kind === 0xc0 && (sends.number === undefined || sends.number === d1) ? MOST_7 : null;
      case "transport":
        return status === TRANSPORT[sends.message] ? MOST_7 : null;
      case "sysex":
        return status === 0xf0 && hexBytes(bytes).replaceAll(" ", "").startsWith(sends.prefix.replaceAll(" ", ""))
          ? MOST_7
          : null;
      default:
        return null;
    }
  }

  #parameter(registered: boolean, number: number, d1: number, d2: number): number | null {
    if (namesParameter(d1)) {
      const isMsb = d1 === NRPN_MSB || d1 === RPN_MSB;
      const isRegistered = d1 >= RPN_LSB;
      if (this.#named.registered !== isRegistered) this.#named = { registered: isRegistered, msb: -1, lsb: -1 };
      this.#named[isMsb ? "msb" : "lsb"] = d2;
      return null;
    }
    const named = (this.#named.msb << 7) | this.#named.lsb;
    return d1 === DATA_ENTRY_MSB && this.#named.registered === registered && named === number ? d2 : null;
  }
}

const MOST_7 = 127;
/** MIDI 1.0, "System Real Time Messages". */
const TRANSPORT = { clock: 0xf8, start: 0xfa, continue: 0xfb, stop: 0xfc } as const;

/** The most that a message of this control carries. */
export function mostOf(sends: ControlMessage): number {
  return sends.kind === "bend" ? 16_383 : 127;
}

export function evidenceOf(sends: ControlMessage, history: readonly HeardMessage[]): Evidence {
  const most = mostOf(sends);
  const all: [number, number][] = [];
  let releasedAfterMs: number | null = null;
  let pressedAtMs: number | null = null;
  let presses = 0;
  let zeroVelocity = false;
  const reader = new ValueReader(sends);
  for (const { atMs, bytes } of history) {
    const value = reader.read(bytes);
    if (value === null) continue;
    all.push([atMs, value]);
    if (value > 0) {
      presses++;
      pressedAtMs = atMs;
    } else {
      if (pressedAtMs !== null)
        releasedAfterMs = Math.min(releasedAfterMs ?? Number.POSITIVE_INFINITY, atMs - pressedAtMs);
      pressedAtMs = null;
      if ((bytes[0]! & 0xf0) === 0x90) zeroVelocity = true;
    }
  }
  const values = all.map(([, v]) => v);
  return {
    count: all.length,
    lastMs: all.at(-1)?.[0] ?? -1,
    low: Math.min(...values),
    high: Math.max(...values),
    last: values.at(-1) ?? 0,
    releasedAfterMs,
    presses,
    zeroVelocity,
    curve: all.slice(-CURVE).map(([atMs, v]) => [atMs, v / most] as const),
  };
}
