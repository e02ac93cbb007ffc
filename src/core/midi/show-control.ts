/** MIDI Show Control 1.1 (RP-002/014): cues to lighting, sound, video and machinery in universal SysEx messages. */

/** Command formats, section 4.1: what kind of desk is meant. */
export const SHOW_FORMATS = {
  lighting: 0x01,
  "moving-lights": 0x02,
  sound: 0x10,
  machinery: 0x20,
  video: 0x30,
  projection: 0x40,
  "process-control": 0x50,
  pyro: 0x60,
  all: 0x7f,
} as const;
export type ShowFormat = keyof typeof SHOW_FORMATS;

/** Commands, section 4.2. */
export const SHOW_COMMANDS = {
  go: 0x01,
  stop: 0x02,
  resume: 0x03,
  "timed-go": 0x04,
  load: 0x05,
  set: 0x06,
  fire: 0x07,
  "all-off": 0x08,
  restore: 0x09,
  reset: 0x0a,
  "go-off": 0x0b,
} as const;
export type ShowCommand = keyof typeof SHOW_COMMANDS;

export interface ShowControl {
  /** 0..111 one device, 112..126 groups, 127 all. */
  readonly device: number;
  readonly format: ShowFormat;
  readonly command: ShowCommand;
  /** Digits and points, such as "12.5"; section 5.2. Without a cue there is no list, without a list no path. */
  readonly cue?: string;
  readonly list?: string;
  readonly path?: string;
  /** Of "set": controller and value, 0..16383. */
  readonly control?: number;
  readonly value?: number;
  /** Of "fire": macro 0..127. */
  readonly macro?: number;
  /** Of "timed-go": five bytes of standard time code. */
  readonly time?: readonly [number, number, number, number, number];
}

const TIME_BYTES = 5;
const SUB_ID = 0x02;
/** Longest cue number, list or path that is kept, in characters. */
const MAX_CUE_CHARS = 32;

const FORMAT_OF = new Map<number, ShowFormat>(Object.entries(SHOW_FORMATS).map(([k, v]) => [v, k as ShowFormat]));
const COMMAND_OF = new Map<number, ShowCommand>(Object.entries(SHOW_COMMANDS).map(([k, v]) => [v, k as ShowCommand]));

export function isCueNumber(text: string): boolean {
  return text.length <= MAX_CUE_CHARS && /^[0-9]+(\.[0-9]+)*$/.test(text);
}

/** The SysEx message. Cue numbers that are none throw. */
export function encodeShowControl(m: ShowControl): Uint8Array {
  const data: number[] = [];
  if (m.command === "set") data.push(...fourteen(m.control ?? 0), ...fourteen(m.value ?? 0));
  else if (m.command === "fire") data.push(m.macro ?? 0);
  else {
    if (m.command === "timed-go") data.push(...(m.time ?? [0, 0, 0, 0, 0]));
    for (const [i, text] of [m.cue, m.list, m.path].entries()) {
      if (text === undefined) break;
      if (!isCueNumber(text)) throw new RangeError(`“${text}” is not a cue number`);
      if (i > 0) data.push(0);
      for (let k = 0; k < text.length; k++) data.push(text.charCodeAt(k));
    }
  }
  return Uint8Array.of(0xf0, 0x7f, m.device, SUB_ID, SHOW_FORMATS[m.format], SHOW_COMMANDS[m.command], ...data, 0xf7);
}

/** Reads a SysEx message; null where it is no show control message that this standard knows. */
export function decodeShowControl(sysex: Uint8Array): ShowControl | null {
  if (sysex.length < 7 || sysex[1] !== 0x7f || sysex[3] !== SUB_ID) return null;
  const format = FORMAT_OF.get(sysex[4]!);
  const command = COMMAND_OF.get(sysex[5]!);
  if (!format || !command) return null;
  const head = { device: sysex[2]!, format, command };
  const data = sysex.subarray(6, -1);
  if (command === "set") {
    if (data.length < 4) return null;
    return { ...head, control: data[0]! | (data[1]! << 7), value: data[2]! | (data[3]! << 7) };
  }
  if (command === "fire") return data.length === 1 ? { ...head, macro: data[0]! } : null;
  if (command !== "timed-go") return withCue(head, data);
  if (data.length < TIME_BYTES) return null;
  const [a, b, c, d, e] = data;
  return withCue({ ...head, time: [a!, b!, c!, d!, e!] }, data.subarray(TIME_BYTES));
}

function withCue(head: ShowControl, data: Uint8Array): ShowControl | null {
  if (data.length === 0) return head;
  const parts: string[] = [""];
  for (const byte of data) {
    if (byte === 0) parts.push("");
    else parts[parts.length - 1] += String.fromCharCode(byte);
  }
  if (parts.length > 3 || !parts.every(isCueNumber)) return null;
  const [cue, list, path] = parts;
  return { ...head, cue: cue!, ...(list === undefined ? {} : { list }), ...(path === undefined ? {} : { path }) };
}

function fourteen(value: number): [number, number] {
  return [value & 127, value >> 7]; // section 5.3: least significant first
}
