/**
 * The system journal (RFC 6295, appendix B): chapter D (reset, tune request, song select), Q (start, stop and where the
 * song stands) and X (SysEx) are read and written; V and F are passed over: sensing and time code repeat themselves.
 *
 *   head   S D V Q F X, length of ten bits
 *   D      S B G H J K Y Z · reset (B), tune request (G): S and how often · song select (H): S and its number
 *   Q      S N D C T TOP · with C the lower 16 bits of the position in clocks · with T three octets
 *   X      logs: S T C F D L STA · TCOUNT (T) · COUNT (C) · FIRST (F) · data (D), the last octet of it marked
 */
import { Reading } from "./reading.ts";

export interface SequencerLog {
  readonly isOld: boolean;
  readonly isRunning: boolean;
  /** The first clock since the start has come. */
  readonly hasBegun: boolean;
  /** Where the song stands, in clocks from its beginning, 0..524,287. */
  readonly clocks: number;
}

export interface SysExLog {
  readonly isOld: boolean;
  /** How many such messages there were with this one, modulo 256; -1 = it is not told. */
  readonly count: number;
  /** The whole message, F0 and F7 included. */
  readonly message: Uint8Array;
}

export interface SystemJournal {
  /** How often there was one, modulo 128. */
  readonly resets?: { readonly isOld: boolean; readonly count: number };
  readonly tunes?: { readonly isOld: boolean; readonly count: number };
  readonly song?: { readonly isOld: boolean; readonly number: number };
  readonly sequencer?: SequencerLog;
  /** Every message since the checkpoint, the oldest first. */
  readonly sysEx?: readonly SysExLog[];
}

const S = 0x80;
const HAS = { D: 0x40, V: 0x20, Q: 0x10, F: 0x08, X: 0x04 };
const SIMPLE = { reset: 0x40, tune: 0x20, song: 0x10, common: [0x08, 0x04], realTime: [0x02, 0x01] };
const SEQUENCER = { isRunning: 0x40, hasBegun: 0x20, hasClock: 0x10, hasTime: 0x08, top: 0x07 };
const SYSEX = { total: 0x40, count: 0x20, first: 0x10, data: 0x08, isList: 0x04, status: 0x03 };
/** The message ended with its F7. */
const FINISHED = 3;

export function writeSystem(journal: SystemJournal): number[] {
  let flags = 0;
  let allOld = true;
  const s = ({ isOld }: { isOld: boolean }) => {
    allOld &&= isOld;
    return isOld ? S : 0;
  };
  const chapters: number[] = [];
  const { resets, tunes, song, sequencer, sysEx = [] } = journal;
  if (resets || tunes || song) {
    flags |= HAS.D;
    const isOld = [resets, tunes, song].every((one) => one?.isOld ?? true);
    chapters.push((isOld ? S : 0) | (resets ? SIMPLE.reset : 0) | (tunes ? SIMPLE.tune : 0) | (song ? SIMPLE.song : 0));
    if (resets) chapters.push(s(resets) | resets.count);
    if (tunes) chapters.push(s(tunes) | tunes.count);
    if (song) chapters.push(s(song) | song.number);
  }
  if (sequencer) {
    flags |= HAS.Q;
    const { isRunning, hasBegun, clocks } = sequencer;
    chapters.push(
      s(sequencer) |
        (isRunning ? SEQUENCER.isRunning : 0) |
        (hasBegun ? SEQUENCER.hasBegun : 0) |
        (clocks > 0 ? SEQUENCER.hasClock : 0) |
        (clocks >> 16),
    );
    if (clocks > 0) chapters.push((clocks >> 8) & 0xff, clocks & 0xff);
  }
  if (sysEx.length > 0) flags |= HAS.X;
  for (const log of sysEx) {
    const data = log.message.subarray(1, -1);
    chapters.push(
      s(log) | (log.count >= 0 ? SYSEX.count : 0) | (data.length > 0 ? SYSEX.data : 0) | SYSEX.isList | FINISHED,
    );
    if (log.count >= 0) chapters.push(log.count);
    data.forEach((octet, i) => {
      chapters.push(i === data.length - 1 ? octet | 0x80 : octet);
    });
  }
  if (flags === 0) return [];
  const length = 2 + chapters.length;
  return [(allOld ? S : 0) | flags | (length >> 8), length & 0xff, ...chapters];
}

/** Reads the system journal that fills `bytes` from `from` to `end`. Null: it ends too early, or tells nothing. */
export function readSystem(bytes: Uint8Array, from: number, end: number): SystemJournal | null {
  const flags = bytes[from]!;
  const reading = new Reading(bytes, from + 2, end);
  const simple = flags & HAS.D ? readSimple(reading) : {};
  if (flags & HAS.V) reading.skip(1);
  const sequencer = flags & HAS.Q ? readSequencer(reading) : undefined;
  if (flags & HAS.F) {
    const head = reading.octet();
    reading.skip((head & 0x40 ? 4 : 0) + (head & 0x20 ? 4 : 0));
  }
  const sysEx: SysExLog[] = [];
  if (flags & HAS.X)
    while (reading.left > 0 && !reading.isShort) {
      const log = readSysEx(reading);
      if (log) sysEx.push(log);
    }
  if (reading.isShort) return null;
  const found = { ...simple, ...(sequencer ? { sequencer } : {}), ...(sysEx.length > 0 ? { sysEx } : {}) };
  return Object.keys(found).length > 0 ? found : null;
}

function readSimple(reading: Reading): Pick<SystemJournal, "resets" | "tunes" | "song"> {
  const head = reading.octet();
  const counted = () => {
    const octet = reading.octet();
    return { isOld: octet > 0x7f, count: octet & 0x7f };
  };
  const resets = head & SIMPLE.reset ? counted() : undefined;
  const tunes = head & SIMPLE.tune ? counted() : undefined;
  const song = head & SIMPLE.song ? counted() : undefined;
  // Commands that no standard defines have logs with lengths of their own, head included.
  for (const flag of SIMPLE.common)
    if (head & flag) {
      const first = reading.octet();
      reading.skip(Math.max(0, (((first & 3) << 8) | reading.octet()) - 2));
    }
  for (const flag of SIMPLE.realTime) if (head & flag) reading.skip(Math.max(0, (reading.octet() & 0x1f) - 1));
  return {
    ...(resets ? { resets } : {}),
    ...(tunes ? { tunes } : {}),
    ...(song ? { song: { isOld: song.isOld, number: song.count } } : {}),
  };
}

function readSequencer(reading: Reading): SequencerLog {
  const head = reading.octet();
  const clocks =
    head & SEQUENCER.hasClock ? ((head & SEQUENCER.top) << 16) | (reading.octet() << 8) | reading.octet() : 0;
  if (head & SEQUENCER.hasTime) reading.skip(3);
  return {
    isOld: (head & S) !== 0,
    isRunning: (head & SEQUENCER.isRunning) !== 0,
    hasBegun: (head & SEQUENCER.hasBegun) !== 0,
    clocks,
  };
}

/** Null: a message that was not whole, or of which only a part is told. */
function readSysEx(reading: Reading): SysExLog | null {
  const head = reading.octet();
  if (head & SYSEX.total) reading.octet();
  const count = head & SYSEX.count ? reading.octet() : -1;
  if (head & SYSEX.first) while (reading.octet() & 0x80 && !reading.isShort);
  const data: number[] = [];
  if (head & SYSEX.data) {
    let octet = 0;
    do {
      octet = reading.octet();
      data.push(octet & 0x7f);
    } while (octet < 0x80 && !reading.isShort);
  }
  if (reading.isShort || head & SYSEX.first || (head & SYSEX.status) !== FINISHED) return null;
  return { isOld: (head & S) !== 0, count, message: Uint8Array.of(0xf0, ...data, 0xf7) };
}
