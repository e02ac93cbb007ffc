/** Values that take several short messages, as bytes. Channels count 1..16; numbers out of range throw. */
import {
  BANK_LSB,
  BANK_MSB,
  DATA_ENTRY_LSB,
  DATA_ENTRY_MSB,
  NO_PARAMETER,
  NRPN_LSB,
  NRPN_MSB,
  RPN_LSB,
  RPN_MSB,
} from "./controllers.ts";
import { encodeShort } from "./message.ts";

const LAST_MSB_CONTROLLER = 31;

/** Controller `number` 0..31 with its LSB at `number` + 32; `value14` 0..16383. */
export function controller14Bytes(channel: number, number: number, value14: number): Uint8Array {
  if (!Number.isInteger(number) || number < 0 || number > LAST_MSB_CONTROLLER)
    throw new RangeError(`controller ${number} is not 0..31`);
  return controllers(channel, [number, value14 >> 7], [number + 32, value14 & 127]);
}

/**
 * A parameter number with its data entry; `number` and `value14` 0..16383. Selection and both halves are one message, so
 * that nothing else on the way can select another between them. `close` names no parameter at the end (MIDI 1.0, "RPN and
 * NRPN": the null function): a data entry of somebody else then changes nothing.
 */
export function parameterBytes(
  registered: boolean,
  channel: number,
  number: number,
  value14: number,
  close = false,
): Uint8Array {
  const msb = registered ? RPN_MSB : NRPN_MSB;
  const lsb = registered ? RPN_LSB : NRPN_LSB;
  const none: [number, number][] = [
    [msb, NO_PARAMETER >> 7],
    [lsb, NO_PARAMETER & 127],
  ];
  return controllers(
    channel,
    [msb, number >> 7],
    [lsb, number & 127],
    [DATA_ENTRY_MSB, value14 >> 7],
    [DATA_ENTRY_LSB, value14 & 127],
    ...(close ? none : []),
  );
}

/** Program 0..127; with a bank of 0..16383 before it where one is given. */
export function programBytes(channel: number, program: number, bank?: number): Uint8Array {
  const change = encodeShort({ kind: "program", channel, number: program });
  if (bank === undefined) return change;
  return joinedBytes(controllers(channel, [BANK_MSB, bank >> 7], [BANK_LSB, bank & 127]), change);
}

function controllers(channel: number, ...pairs: [number: number, value: number][]): Uint8Array {
  return joinedBytes(...pairs.map(([number, value]) => encodeShort({ kind: "controller", channel, number, value })));
}

export function joinedBytes(...parts: Uint8Array[]): Uint8Array {
  const all = new Uint8Array(parts.reduce((n, p) => n + p.length, 0));
  let at = 0;
  for (const p of parts) {
    all.set(p, at);
    at += p.length;
  }
  return all;
}
