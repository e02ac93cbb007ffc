/** MIDI Machine Control 1.0 (RP-013): play, stop, record and locate in universal SysEx messages. */
import { readTimeCodeBytes, type TimeCode, timeCodeBytes } from "./time-code.ts";

/** Commands, section 4; "locate" carries a time. */
export const MACHINE_COMMANDS = {
  stop: 0x01,
  play: 0x02,
  "deferred-play": 0x03,
  "fast-forward": 0x04,
  rewind: 0x05,
  record: 0x06,
  "record-exit": 0x07,
  pause: 0x09,
  locate: 0x44,
} as const;
export type MachineCommand = keyof typeof MACHINE_COMMANDS;

export interface MachineControl {
  /** 0..126 one device, 127 all. */
  readonly device: number;
  readonly command: MachineCommand;
  /** Of "locate". */
  readonly time?: TimeCode;
}

const SUB_ID = 0x06;
const LOCATE_BYTES = 0x06;
const LOCATE_TARGET = 0x01;

const COMMAND_OF = new Map<number, MachineCommand>(
  Object.entries(MACHINE_COMMANDS).map(([k, v]) => [v, k as MachineCommand]),
);

export function encodeMachineControl(m: MachineControl): Uint8Array {
  const head = [0xf0, 0x7f, m.device, SUB_ID, MACHINE_COMMANDS[m.command]];
  if (m.command !== "locate") return Uint8Array.of(...head, 0xf7);
  const time = m.time ?? { rate: "25", hours: 0, minutes: 0, seconds: 0, frames: 0 };
  return Uint8Array.of(...head, LOCATE_BYTES, LOCATE_TARGET, ...timeCodeBytes(time), 0, 0xf7);
}

/** Reads a SysEx message; null where it is none of these commands. */
export function decodeMachineControl(sysex: Uint8Array): MachineControl | null {
  if (sysex.length < 6 || sysex[1] !== 0x7f || sysex[3] !== SUB_ID) return null;
  const command = COMMAND_OF.get(sysex[4]!);
  if (!command) return null;
  if (command !== "locate") return sysex.length === 6 ? { device: sysex[2]!, command } : null;
  if (sysex.length !== 13 || sysex[5] !== LOCATE_BYTES || sysex[6] !== LOCATE_TARGET) return null;
  const time = readTimeCodeBytes(sysex, 7);
  return time ? { device: sysex[2]!, command, time } : null;
}
