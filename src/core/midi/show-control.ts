/** MIDI Show Control 1.1 (RP-002/014): cues to lighting, sound, video and machinery in universal SysEx messages. */

/** Command formats, section 4.1: what kind of desk is meant. The first of each sixteen is its whole category. */
export const SHOW_FORMATS = {
  lighting: 0x01,
  "moving-lights": 0x02,
  "colour-changers": 0x03,
  strobes: 0x04,
  lasers: 0x05,
  chasers: 0x06,
  sound: 0x10,
  music: 0x11,
  "cd-players": 0x12,
  "eprom-playback": 0x13,
  "audio-tape-machines": 0x14,
  intercoms: 0x15,
  amplifiers: 0x16,
  "audio-effects": 0x17,
  equalisers: 0x18,
  machinery: 0x20,
  rigging: 0x21,
  flys: 0x22,
  lifts: 0x23,
  turntables: 0x24,
  trusses: 0x25,
  robots: 0x26,
  animation: 0x27,
  floats: 0x28,
  breakaways: 0x29,
  barges: 0x2a,
  video: 0x30,
  "video-tape-machines": 0x31,
  "video-cassette-machines": 0x32,
  "video-disc-players": 0x33,
  "video-switchers": 0x34,
  "video-effects": 0x35,
  "video-character-generators": 0x36,
  "video-still-stores": 0x37,
  "video-monitors": 0x38,
  projection: 0x40,
  "film-projectors": 0x41,
  "slide-projectors": 0x42,
  "video-projectors": 0x43,
  dissolvers: 0x44,
  "shutter-controls": 0x45,
  "process-control": 0x50,
  "hydraulic-oil": 0x51,
  water: 0x52,
  "carbon-dioxide": 0x53,
  "compressed-air": 0x54,
  "natural-gas": 0x55,
  fog: 0x56,
  smoke: 0x57,
  "cracked-haze": 0x58,
  pyro: 0x60,
  fireworks: 0x61,
  explosions: 0x62,
  flame: 0x63,
  "smoke-pots": 0x64,
  all: 0x7f,
} as const;
export type ShowFormat = keyof typeof SHOW_FORMATS;

/** General and sound commands, sections 4.3 and 4.4. */
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
  "go-jam-clock": 0x10,
  "standby-next": 0x11,
  "standby-previous": 0x12,
  "sequence-next": 0x13,
  "sequence-previous": 0x14,
  "start-clock": 0x15,
  "stop-clock": 0x16,
  "zero-clock": 0x17,
  "set-clock": 0x18,
  "mtc-chase-on": 0x19,
  "mtc-chase-off": 0x1a,
  "open-cue-list": 0x1b,
  "close-cue-list": 0x1c,
  "open-cue-path": 0x1d,
  "close-cue-path": 0x1e,
} as const;
export type ShowCommand = keyof typeof SHOW_COMMANDS;

/**
 * What stands behind a command: a time first, then names in this order. Without a cue there is no list, without a list no
 * path; what "must" be there is never left out.
 */
export interface CommandData {
  readonly time?: true;
  readonly cue?: "may" | "must";
  readonly list?: "may" | "must";
  readonly path?: "may" | "must";
  readonly control?: true;
  readonly macro?: true;
}

const CUE: CommandData = { cue: "may", list: "may", path: "may" };
const LIST: CommandData = { list: "may" };
const NOTHING: CommandData = {};

/** Sections 5.1 to 5.4 of the standard: the data of each command. */
export const COMMAND_DATA: Record<ShowCommand, CommandData> = {
  go: CUE,
  stop: CUE,
  resume: CUE,
  "timed-go": { time: true, ...CUE },
  load: { cue: "must", list: "may", path: "may" },
  set: { control: true },
  fire: { macro: true },
  "all-off": NOTHING,
  restore: NOTHING,
  reset: NOTHING,
  "go-off": CUE,
  "go-jam-clock": CUE,
  "standby-next": LIST,
  "standby-previous": LIST,
  "sequence-next": LIST,
  "sequence-previous": LIST,
  "start-clock": LIST,
  "stop-clock": LIST,
  "zero-clock": LIST,
  "set-clock": { time: true, ...LIST },
  "mtc-chase-on": LIST,
  "mtc-chase-off": LIST,
  "open-cue-list": { list: "must" },
  "close-cue-list": { list: "must" },
  "open-cue-path": { path: "must" },
  "close-cue-path": { path: "must" },
};

export type ShowTime = readonly [hours: number, minutes: number, seconds: number, frames: number, subframes: number];

export interface ShowControl {
  /** 0..111 one device, 112..126 groups, 127 all. */
  readonly device: number;
  readonly format: ShowFormat;
  readonly command: ShowCommand;
  /** Digits and points, such as "12.5"; section 5.2. */
  readonly cue?: string;
  readonly list?: string;
  readonly path?: string;
  /** Of "set": controller and value, 0..16383. */
  readonly control?: number;
  readonly value?: number;
  /** Of "fire": macro 0..127. */
  readonly macro?: number;
  /** Of "timed-go", "set-clock" and, where it has one, "set": five bytes of standard time code. */
  readonly time?: ShowTime;
}

export const ALL_DEVICES = 127;
const FIRST_GROUP = 112;

const TIME_BYTES = 5;
const SUB_ID = 0x02;
/** Longest cue number, list or path that is kept, in characters. */
const MAX_CUE_CHARS = 32;
/** What names a cue, in the order in which a message carries it. */
export const CUE_NAMES = ["cue", "list", "path"] as const;

const FORMAT_OF = new Map<number, ShowFormat>(Object.entries(SHOW_FORMATS).map(([k, v]) => [v, k as ShowFormat]));
const COMMAND_OF = new Map<number, ShowCommand>(Object.entries(SHOW_COMMANDS).map(([k, v]) => [v, k as ShowCommand]));

/** A cue number as we write it. */
export function isCueNumber(text: string): boolean {
  return text.length <= MAX_CUE_CHARS && /^[0-9]+(\.[0-9]+)*$/.test(text);
}

/** A cue number as others may write it: ".5" and "12." too. */
function isHeardCue(text: string): boolean {
  return text.length <= MAX_CUE_CHARS && /^[0-9.]*[0-9][0-9.]*$/.test(text);
}

/** True where both name the same cue: zeros in front say nothing. */
export function sameCue(a: string, b: string): boolean {
  const plain = (text: string) => text.replace(/^0+(?=[0-9])/, "").replace(/^\./, "0.");
  return plain(a) === plain(b);
}

/**
 * True where a message to device `heard` is for `own` too: it is the same, everybody, or a group, which only the desk
 * itself could know (section 4.2).
 */
export function isForDevice(own: number, heard: number): boolean {
  return own === heard || heard === ALL_DEVICES || (heard >= FIRST_GROUP && own < FIRST_GROUP);
}

/** True where a message of format `heard` is for `own` too: the same, or all. */
export function isForFormat(own: ShowFormat, heard: ShowFormat): boolean {
  return own === heard || heard === "all";
}

/** The SysEx message. What the standard has no room for throws: check it with `showControlFault` first. */
export function encodeShowControl(m: ShowControl): Uint8Array {
  const fault = showControlFault(m);
  if (fault) throw new RangeError(`${m.command}: ${fault.field} ${fault.fault}`);
  const { time, control, macro } = COMMAND_DATA[m.command];
  const data: number[] = [];
  if (time) data.push(...(m.time ?? [0, 0, 0, 0, 0]));
  if (control) data.push(...fourteen(m.control ?? 0), ...fourteen(m.value ?? 0), ...(m.time ?? []));
  if (macro) data.push(m.macro ?? 0);
  const names = CUE_NAMES.map((k) => m[k]).filter((text) => text !== undefined);
  for (const [i, text] of names.entries()) {
    if (i > 0) data.push(0);
    for (let k = 0; k < text.length; k++) data.push(text.charCodeAt(k));
  }
  return Uint8Array.of(0xf0, 0x7f, m.device, SUB_ID, SHOW_FORMATS[m.format], SHOW_COMMANDS[m.command], ...data, 0xf7);
}

export interface ShowControlFault {
  readonly field: "cue" | "list" | "path";
  readonly fault: "missing" | "not-of-command" | "not-a-cue-number";
}

/** What the standard has no room for: a name that the command does not carry, or lacks, or that is none. */
export function showControlFault(m: ShowControl): ShowControlFault | null {
  const takes = COMMAND_DATA[m.command];
  for (const [i, field] of CUE_NAMES.entries()) {
    const text = m[field];
    const before = CUE_NAMES.slice(0, i).find((f) => takes[f] !== undefined && m[f] === undefined);
    if (text === undefined && takes[field] === "must") return { field, fault: "missing" };
    if (text === undefined) continue;
    if (takes[field] === undefined) return { field, fault: "not-of-command" };
    if (before) return { field: before, fault: "missing" };
    if (!isCueNumber(text)) return { field, fault: "not-a-cue-number" };
  }
  return null;
}

/**
 * Reads a SysEx message. "malformed" where a command has other data than the standard gives it; null where it is no show
 * control, or one with a format or command that is not in the tables.
 */
export function decodeShowControl(sysex: Uint8Array): ShowControl | "malformed" | null {
  if (sysex.length < 7 || sysex[1] !== 0x7f || sysex[3] !== SUB_ID) return null;
  const format = FORMAT_OF.get(sysex[4]!);
  const command = COMMAND_OF.get(sysex[5]!);
  if (!format || !command) return null;
  const head = { device: sysex[2]!, format, command };
  const takes = COMMAND_DATA[command];
  const data = sysex.subarray(6, -1);
  if (takes.macro) return data.length === 1 ? { ...head, macro: data[0]! } : "malformed";
  if (takes.control) {
    if (data.length !== 4 && data.length !== 4 + TIME_BYTES) return "malformed";
    const values = { control: data[0]! | (data[1]! << 7), value: data[2]! | (data[3]! << 7) };
    return { ...head, ...values, ...(data.length > 4 ? { time: timeOf(data.subarray(4)) } : {}) };
  }
  if (!takes.time) return withNames(head, takes, data);
  if (data.length < TIME_BYTES) return "malformed";
  return withNames({ ...head, time: timeOf(data) }, takes, data.subarray(TIME_BYTES));
}

function timeOf(data: Uint8Array): ShowTime {
  return Array.from(data.subarray(0, TIME_BYTES)) as unknown as ShowTime;
}

/** The names in the order in which the command carries them; a zero stands between two. */
function withNames(head: ShowControl, takes: CommandData, data: Uint8Array): ShowControl | "malformed" {
  const fields = CUE_NAMES.filter((f) => takes[f] !== undefined);
  const must = fields.filter((f) => takes[f] === "must");
  if (fields.length === 0) return head; // what stands behind "all off" and the like is of no matter
  if (data.length === 0) return must.length === 0 ? head : "malformed";
  const parts = String.fromCharCode(...data.subarray(0, 4 * MAX_CUE_CHARS)).split("\0");
  if (parts.length > fields.length || !parts.every(isHeardCue)) return "malformed";
  return { ...head, ...Object.fromEntries(parts.map((text, i) => [fields[i]!, text])) };
}

function fourteen(value: number): [number, number] {
  return [value & 127, value >> 7]; // section 5.3: least significant first
}
