/** MIDI Machine Control 1.0 (RP-013): play, stop, record and locate in universal SysEx messages. */
import { isTime, TIME_CODE_RATES, type TimeCode, timeCodeBytes } from "./time-code.ts";

/** Commands without data, section 5, and "locate", which goes to a time or to a stored point. */
export const MACHINE_COMMANDS = {
  stop: 0x01,
  play: 0x02,
  "deferred-play": 0x03,
  "fast-forward": 0x04,
  rewind: 0x05,
  record: 0x06,
  "record-exit": 0x07,
  "record-pause": 0x08,
  pause: 0x09,
  eject: 0x0a,
  chase: 0x0b,
  "error-reset": 0x0c,
  reset: 0x0d,
  locate: 0x44,
  wait: 0x7c,
  resume: 0x7f,
} as const;
export type MachineCommand = keyof typeof MACHINE_COMMANDS;

export interface MachineControl {
  /** 0..126 one device or a group, 127 all. */
  readonly device: number;
  readonly command: MachineCommand;
  /** Of "locate": where to, */
  readonly time?: TimeCode;
  /** or the stored point, 0..7. */
  readonly point?: number;
}

const SUB_ID = 0x06;
const TIME_BYTES = 5;
const LOCATE_POINT = 0x00;
const LOCATE_TIME = 0x01;
/** The information field of stored point 0, section 6: general purpose registers 0 to 7 are fields 08 to 0F. */
const FIRST_POINT = 0x08;
export const POINTS = 8;
/** Commands of this range have a count and that many bytes of data behind them; all others have none. */
const WITH_DATA = { from: 0x40, to: 0x77 };
/** A code of this value is the first byte of a longer one, which no command here has. */
const EXTENSION = 0x00;

const COMMAND_OF = new Map<number, MachineCommand>(
  Object.entries(MACHINE_COMMANDS).map(([k, v]) => [v, k as MachineCommand]),
);

export function encodeMachineControl(m: MachineControl): Uint8Array {
  const head = [0xf0, 0x7f, m.device, SUB_ID, MACHINE_COMMANDS[m.command]];
  if (m.command !== "locate") return Uint8Array.of(...head, 0xf7);
  if (m.point !== undefined) return Uint8Array.of(...head, 2, LOCATE_POINT, FIRST_POINT + m.point, 0xf7);
  const time = m.time ?? { rate: "25", hours: 0, minutes: 0, seconds: 0, frames: 0 };
  return Uint8Array.of(...head, 1 + TIME_BYTES, LOCATE_TIME, ...timeCodeBytes(time), 0, 0xf7);
}

/**
 * Reads a SysEx message: its commands in order (section 3, "multiple commands"); those that are not in the table are left
 * out. "malformed" where a command lacks its data or names no time; null where it is no machine control at all.
 */
export function decodeMachineControl(sysex: Uint8Array): MachineControl[] | "malformed" | null {
  if (sysex.length < 6 || sysex[1] !== 0x7f || sysex[3] !== SUB_ID) return null;
  const device = sysex[2]!;
  const end = sysex.length - 1;
  const commands: MachineControl[] = [];
  for (let at = 4; at < end; ) {
    const code = sysex[at++]!;
    if (code === EXTENSION) return commands; // how long it is, only who knows it can tell
    if (code < WITH_DATA.from || code > WITH_DATA.to) {
      const command = COMMAND_OF.get(code);
      if (command) commands.push({ device, command });
      continue;
    }
    const from = at + 1;
    at = from + (sysex[at] ?? 0);
    if (from > end || at > end) return "malformed";
    if (code !== MACHINE_COMMANDS.locate) continue;
    const to = locateTarget(sysex.subarray(from, at));
    if (to === "malformed") return to;
    if (to) commands.push({ device, command: "locate", ...to });
  }
  return commands;
}

function locateTarget(data: Uint8Array): { time: TimeCode } | { point: number } | "malformed" | null {
  if (data[0] === LOCATE_POINT && data.length === 2) {
    const point = data[1]! - FIRST_POINT;
    return point >= 0 && point < POINTS ? { point } : null; // other fields hold what only the machine knows
  }
  if (data[0] !== LOCATE_TIME || data.length !== 1 + TIME_BYTES) return "malformed";
  return standardTime(data) ?? "malformed";
}

/**
 * Section 4, "standard time code": the upper bits of minutes, seconds and frames are flags (colour frame, blank, sign, what
 * the last byte holds). A negative time is none that a show has.
 */
function standardTime(data: Uint8Array): { time: TimeCode } | null {
  const [, hours, minutes, seconds, frames] = data as unknown as [number, number, number, number, number];
  const isNegative = (frames & 0x40) !== 0;
  const time: TimeCode = {
    rate: TIME_CODE_RATES[(hours >> 5) & 3]!,
    hours: hours & 0x1f,
    minutes: minutes & 0x3f,
    seconds: seconds & 0x3f,
    frames: frames & 0x1f,
  };
  return !isNegative && isTime(time) ? { time } : null;
}
