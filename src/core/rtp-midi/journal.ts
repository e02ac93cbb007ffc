/**
 * The recovery journal as bytes (RFC 6295, section 5 and appendix A): what a receiver needs to know of the packets
 * since the checkpoint, so that a lost one leaves no stuck note and no wrong fader. Chapters P, C, M, W, N, T and A and
 * the system journal (system-journal.ts) are read and written; chapter E is passed over by its length.
 */
import { type ParameterChapter, readParameters, writeParameters } from "./parameter-chapter.ts";
import { Reading } from "./reading.ts";
import { readSystem, type SystemJournal, writeSystem } from "./system-journal.ts";

/** `isOld`: nothing of it was in the packet right before this one (flag S). */
interface Told {
  readonly isOld: boolean;
}

export interface ProgramLog extends Told {
  readonly program: number;
  /** The bank that was chosen with it; null = none. */
  readonly bank: { readonly msb: number; readonly lsb: number } | null;
}

/** Value: what was sent last. Toggle and count: how often it was turned round or sent, modulo 64 (A.3.2). */
export interface ControllerLog extends Told {
  readonly controller: number;
  readonly tool: "value" | "toggle" | "count";
  readonly value: number;
}

export interface NoteLog extends Told {
  readonly note: number;
  readonly velocity: number;
  /** Flag Y: it is worth playing still. */
  readonly play: boolean;
}

export interface ChannelJournal {
  /** 0..15. */
  readonly channel: number;
  readonly program?: ProgramLog;
  readonly controllers?: readonly ControllerLog[];
  readonly parameters?: ParameterChapter;
  /** 0..16,383; 8192 is the middle. */
  readonly bend?: Told & { readonly value: number };
  readonly notes?: {
    /** Notes that are on. */
    readonly on: readonly NoteLog[];
    /** Notes that were let go. */
    readonly off: readonly number[];
    readonly areOffOld: boolean;
  };
  readonly pressure?: Told & { readonly value: number };
  /** `isOver`: flag X, the note ended or everything was reset since. */
  readonly keyPressures?: readonly (Told & {
    readonly note: number;
    readonly value: number;
    readonly isOver?: true;
  })[];
}

export interface Journal {
  /** Sequence number of the oldest packet that it tells of, 0..65,535. */
  readonly checkpoint: number;
  readonly channels: readonly ChannelJournal[];
  readonly system?: SystemJournal;
}

const S = 0x80;
const HAS_SYSTEM = 0x40;
const HAS_CHANNELS = 0x20;
const CHAPTER = { P: 0x80, C: 0x40, M: 0x20, W: 0x10, N: 0x08, E: 0x04, T: 0x02, A: 0x01 };
/** Length fields of channel journal and system journal. */
const LENGTH_MASK = 0x03ff;

export function writeJournal({ checkpoint, channels, system }: Journal): Uint8Array {
  const ofSystem = system ? writeSystem(system) : [];
  const parts = channels.map(writeChannel);
  const isOld = parts.every((p) => (p[0]! & S) !== 0) && (ofSystem.length === 0 || (ofSystem[0]! & S) !== 0);
  const head =
    (isOld ? S : 0) |
    (ofSystem.length > 0 ? HAS_SYSTEM : 0) |
    (parts.length > 0 ? HAS_CHANNELS | (parts.length - 1) : 0);
  const bytes = [head, (checkpoint >> 8) & 0xff, checkpoint & 0xff];
  for (const octet of ofSystem) bytes.push(octet);
  for (const part of parts) for (const octet of part) bytes.push(octet);
  return new Uint8Array(bytes);
}

function writeChannel(journal: ChannelJournal): number[] {
  const { program, controllers, parameters, bend, notes, pressure, keyPressures } = journal;
  let flags = 0;
  const chapters: number[] = [0, 0, 0]; // the head, which is known at the end
  /** Whether everything in this channel is old. */
  let allOld = true;
  const s = (isOld: boolean) => {
    allOld &&= isOld;
    return isOld ? S : 0;
  };
  if (program) {
    flags |= CHAPTER.P;
    const { bank } = program;
    chapters.push(s(program.isOld) | program.program, (bank ? 0x80 : 0) | (bank?.msb ?? 0), bank?.lsb ?? 0);
  }
  if (controllers && controllers.length > 0) {
    flags |= CHAPTER.C;
    chapters.push(s(areOld(controllers)) | (controllers.length - 1));
    for (const c of controllers) {
      const alternative = c.tool === "value" ? 0 : 0x80 | (c.tool === "count" ? 0x40 : 0);
      chapters.push(s(c.isOld) | c.controller, alternative | c.value);
    }
  }
  if (parameters) {
    flags |= CHAPTER.M;
    const chapter = writeParameters(parameters);
    allOld &&= (chapter[0]! & S) !== 0;
    chapters.push(...chapter);
  }
  if (bend) {
    flags |= CHAPTER.W;
    chapters.push(s(bend.isOld) | (bend.value & 0x7f), bend.value >> 7);
  }
  if (notes && notes.on.length + notes.off.length > 0) {
    flags |= CHAPTER.N;
    allOld &&= areOld(notes.on) && (notes.areOffOld || notes.off.length === 0);
    chapters.push(...writeNotes(notes));
  }
  if (pressure) {
    flags |= CHAPTER.T;
    chapters.push(s(pressure.isOld) | pressure.value);
  }
  if (keyPressures && keyPressures.length > 0) {
    flags |= CHAPTER.A;
    chapters.push(s(areOld(keyPressures)) | (keyPressures.length - 1));
    for (const k of keyPressures) chapters.push(s(k.isOld) | k.note, (k.isOver ? 0x80 : 0) | k.value);
  }
  chapters[0] = (allOld ? S : 0) | (journal.channel << 3) | (chapters.length >> 8);
  chapters[1] = chapters.length & 0xff;
  chapters[2] = flags;
  return chapters;
}

/** Chapter N (A.6): logs of notes that are on, and a bit for each that was let go. */
function writeNotes({ on, off, areOffOld }: NonNullable<ChannelJournal["notes"]>): number[] {
  let low = 15;
  let high = on.length > 127 ? 0 : 1; // with no bits at all: 127 logs or fewer, or 128
  if (off.length > 0) {
    low = Math.min(...off) >> 3;
    high = Math.max(...off) >> 3;
  }
  const bits = new Array<number>(off.length > 0 ? high - low + 1 : 0).fill(0);
  for (const note of off) bits[(note >> 3) - low]! |= 0x80 >> (note & 7);
  return [
    (areOffOld || off.length === 0 ? S : 0) | Math.min(127, on.length),
    (low << 4) | high,
    ...on.flatMap((n) => [(n.isOld ? S : 0) | n.note, (n.play ? 0x80 : 0) | n.velocity]),
    ...bits,
  ];
}

function areOld(list: readonly Told[]): boolean {
  return list.every((x) => x.isOld);
}

/** Reads the journal that fills `bytes` from `from` to `end`. Null: it is none, or ends too early. */
export function readJournal(bytes: Uint8Array, from: number, end: number): Journal | null {
  if (from + 3 > end) return null;
  const head = bytes[from]!;
  const checkpoint = (bytes[from + 1]! << 8) | bytes[from + 2]!;
  let at = from + 3;
  let system: SystemJournal | null = null;
  if (head & HAS_SYSTEM) {
    const length = lengthAt(bytes, at, end, 2);
    if (length === null) return null;
    system = readSystem(bytes, at, at + length); // null: it tells nothing, the rest still does
    at += length;
  }
  const channels: ChannelJournal[] = [];
  if (head & HAS_CHANNELS)
    for (let left = (head & 0x0f) + 1; left > 0; left--) {
      const length = lengthAt(bytes, at, end, 3);
      const channel = length === null ? null : readChannel(bytes, at, at + length);
      if (!channel) return null;
      channels.push(channel);
      at += length!;
    }
  return { checkpoint, channels, ...(system ? { system } : {}) };
}

/** A ten-bit length in the first two octets; null: less than the head, or more than there is. */
function lengthAt(bytes: Uint8Array, at: number, end: number, head: number): number | null {
  if (at + head > end) return null;
  const length = ((bytes[at]! << 8) | bytes[at + 1]!) & LENGTH_MASK;
  return length < head || at + length > end ? null : length;
}

function readChannel(bytes: Uint8Array, from: number, end: number): ChannelJournal | null {
  const flags = bytes[from + 2]!;
  const reading = new Reading(bytes, from + 3, end);
  const journal: Writable<ChannelJournal> = { channel: (bytes[from]! >> 3) & 0x0f };
  if (flags & CHAPTER.P) {
    const [program, msb, lsb] = [reading.octet(), reading.octet(), reading.octet()];
    journal.program = {
      isOld: program > 0x7f,
      program: program & 0x7f,
      bank: msb & 0x80 ? { msb: msb & 0x7f, lsb: lsb & 0x7f } : null,
    };
  }
  if (flags & CHAPTER.C) journal.controllers = reading.list((reading.octet() & 0x7f) + 1, controllerLog);
  if (flags & CHAPTER.M) {
    const head = reading.octet();
    const length = ((head & 3) << 8) | reading.octet();
    if (length < 2) return null;
    // One that cannot be read tells nothing; the rest of the journal still does.
    const chapter = readParameters(head, reading.take(length - 2));
    if (chapter) journal.parameters = chapter;
  }
  if (flags & CHAPTER.W) {
    const [first, second] = [reading.octet(), reading.octet()];
    journal.bend = { isOld: first > 0x7f, value: (first & 0x7f) | ((second & 0x7f) << 7) };
  }
  if (flags & CHAPTER.N) journal.notes = readNotes(reading);
  if (flags & CHAPTER.E) reading.skip(((reading.octet() & 0x7f) + 1) * 2);
  if (flags & CHAPTER.T) {
    const pressure = reading.octet();
    journal.pressure = { isOld: pressure > 0x7f, value: pressure & 0x7f };
  }
  if (flags & CHAPTER.A)
    journal.keyPressures = reading.list((reading.octet() & 0x7f) + 1, (first, second) => ({
      isOld: first > 0x7f,
      note: first & 0x7f,
      value: second & 0x7f,
      ...(second > 0x7f ? { isOver: true as const } : {}),
    }));
  return reading.isShort ? null : journal;
}

type Writable<T> = { -readonly [K in keyof T]: T[K] };

function controllerLog(first: number, second: number): ControllerLog {
  const isOld = first > 0x7f;
  const controller = first & 0x7f;
  if (second < 0x80) return { isOld, controller, tool: "value", value: second };
  return { isOld, controller, tool: second & 0x40 ? "count" : "toggle", value: second & 0x3f };
}

function readNotes(reading: Reading): NonNullable<ChannelJournal["notes"]> {
  const first = reading.octet();
  const range = reading.octet();
  const low = range >> 4;
  const high = range & 0x0f;
  const length = first & 0x7f;
  const count = length === 127 && low === 15 && high === 0 ? 128 : length;
  const on = reading.list(count, (note, velocity) => ({
    isOld: note > 0x7f,
    note: note & 0x7f,
    velocity: velocity & 0x7f,
    play: velocity > 0x7f,
  }));
  const off: number[] = [];
  for (let octet = low; octet <= high; octet++) {
    const bits = reading.octet();
    for (let bit = 0; bit < 8; bit++) if (bits & (0x80 >> bit)) off.push(octet * 8 + bit);
  }
  return { on, off, areOffOld: first > 0x7f };
}
