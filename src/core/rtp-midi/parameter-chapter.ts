/**
 * Chapter M of the recovery journal (RFC 6295, appendix A.4): registered and non-registered parameter numbers, what was
 * written to them, and which of them is named now.
 *
 *   head   S P E U W Z, length of ten bits; with P an octet more: Q and the first half of a number
 *   log    S and LSB of the number · Q and its MSB · J K L M N T V R · entry MSB (J), entry LSB (K), steps (L, two
 *          octets), C buttons (M, two), count (N, one)
 */
import { Reading } from "./reading.ts";

export interface ParameterLog {
  readonly isOld: boolean;
  readonly registered: boolean;
  /** 0..16,383. */
  readonly number: number;
  /** Data entry since; -1 = none. */
  readonly msb: number;
  readonly lsb: number;
  /** Steps up less steps down since the last entry; null = the log only names the parameter. */
  readonly steps: number | null;
}

export interface ParameterChapter {
  readonly isOld: boolean;
  /** The first half of a number whose second has not come: MSB of a registered one or not. */
  readonly pending?: { readonly registered: boolean; readonly msb: number };
  /** The last of the logs is of the parameter that is named now; else none is. */
  readonly isOpen: boolean;
  /** The oldest first. */
  readonly logs: readonly ParameterLog[];
}

const S = 0x80;
const P = 0x40;
const E = 0x20;
/** All logs have a short form (flags U, W and Z): what they tell is left to the packets themselves. */
const SHORT = 0x04;
const Q = 0x80;
const FIELD = { entryMsb: 0x80, entryLsb: 0x40, steps: 0x20, buttons: 0x10, count: 0x08, isValue: 0x02 };
const NEGATIVE = 0x80;
const MOST_STEPS = 0x3fff;

export function writeParameters({ isOld, pending, isOpen, logs }: ParameterChapter): number[] {
  const body: number[] = [];
  if (pending) body.push((pending.registered ? 0 : Q) | pending.msb);
  for (const log of logs) {
    const steps = Math.min(MOST_STEPS, Math.abs(log.steps ?? 0));
    // Without an entry, none of them has to be told too: as many up as down.
    const tellsSteps = steps > 0 || (log.steps !== null && log.msb < 0 && log.lsb < 0);
    body.push((log.isOld ? S : 0) | (log.number & 0x7f), (log.registered ? 0 : Q) | (log.number >> 7));
    body.push(
      FIELD.isValue |
        (log.msb >= 0 ? FIELD.entryMsb : 0) |
        (log.lsb >= 0 ? FIELD.entryLsb : 0) |
        (tellsSteps ? FIELD.steps : 0),
    );
    if (log.msb >= 0) body.push(log.msb);
    if (log.lsb >= 0) body.push(log.lsb);
    if (tellsSteps) body.push(((log.steps ?? 0) < 0 ? NEGATIVE : 0) | (steps >> 8), steps & 0xff);
  }
  const length = 2 + body.length;
  const head = (isOld ? S : 0) | (pending ? P : 0) | (isOpen ? E : 0);
  return [head | (length >> 8), length & 0xff, ...body];
}

/** `head`: its first octet; `body`: what follows the two of the head. Null: it ends too early. */
export function readParameters(head: number, body: Uint8Array): ParameterChapter | null {
  const reading = new Reading(body);
  const isOld = (head & S) !== 0;
  let pending: ParameterChapter["pending"];
  if (head & P) {
    const octet = reading.octet();
    pending = { registered: (octet & Q) === 0, msb: octet & 0x7f };
  }
  const logs: ParameterLog[] = [];
  if (head & SHORT) return reading.isShort ? null : { isOld, ...(pending ? { pending } : {}), isOpen: false, logs };
  while (reading.left > 0 && !reading.isShort) {
    const lsb = reading.octet();
    const msb = reading.octet();
    const fields = reading.octet();
    const entryMsb = fields & FIELD.entryMsb ? reading.octet() & 0x7f : -1;
    const entryLsb = fields & FIELD.entryLsb ? reading.octet() & 0x7f : -1;
    let steps = entryMsb < 0 && entryLsb < 0 ? null : 0;
    if (fields & FIELD.steps) {
      const first = reading.octet();
      steps = (((first & 0x3f) << 8) | reading.octet()) * (first & NEGATIVE ? -1 : 1);
    }
    if (fields & FIELD.buttons) reading.skip(2);
    if (fields & FIELD.count) reading.skip(1);
    logs.push({
      isOld: (lsb & S) !== 0,
      registered: (msb & Q) === 0,
      number: ((msb & 0x7f) << 7) | (lsb & 0x7f),
      msb: entryMsb,
      lsb: entryLsb,
      steps,
    });
  }
  return reading.isShort ? null : { isOld, ...(pending ? { pending } : {}), isOpen: (head & E) !== 0, logs };
}
