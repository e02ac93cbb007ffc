/**
 * The MIDI command section of a packet (RFC 6295, section 3): a list of commands, each with the time since the one
 * before it, with running status, and long messages in segments.
 */

/** One command of a list, or one segment of a SysEx message. */
export interface ListItem {
  /** Time since the item before it, in ticks of the session's clock, 0..268,435,455. */
  readonly delta: number;
  readonly bytes: Uint8Array;
}

export interface CommandSection {
  readonly items: readonly ListItem[];
  /** Where the section ends. */
  readonly end: number;
  /** Flag J: a recovery journal follows. */
  readonly hasJournal: boolean;
}

const FLAG_B = 0x80;
const FLAG_J = 0x40;
const FLAG_Z = 0x20;
const LONGEST_SHORT_LIST = 15;
/** Longest time a delta can tell: four octets of seven bits (section 3.1). */
const LONGEST_DELTA = 0x0f_ff_ff_ff;

/** Octets after a channel status, by its upper nibble. */
const CHANNEL_DATA = [2, 2, 2, 2, 1, 1, 2];
/** Octets after a system common status; -1 = no such command. */
const COMMON_DATA: Readonly<Record<number, number>> = { 241: 1, 242: 2, 243: 1, 246: 0 };

/** `hasJournal` sets flag J. The items must fit into `LONGEST_LIST` bytes. */
export function writeCommands(items: readonly ListItem[], hasJournal: boolean): Uint8Array {
  const list: number[] = [];
  let running = 0;
  const startsLater = (items[0]?.delta ?? 0) > 0;
  items.forEach(({ delta, bytes }, i) => {
    if (i > 0 || startsLater) writeDelta(list, delta);
    const status = bytes[0]!;
    const isSame = status < 0xf0 && status === running;
    for (let b = isSame ? 1 : 0; b < bytes.length; b++) list.push(bytes[b]!);
    if (status < 0xf8) running = status < 0xf0 ? status : 0;
  });
  const flags = (hasJournal ? FLAG_J : 0) | (startsLater ? FLAG_Z : 0);
  const isLong = list.length > LONGEST_SHORT_LIST;
  const section = new Uint8Array((isLong ? 2 : 1) + list.length);
  section[0] = isLong ? FLAG_B | flags | (list.length >> 8) : flags | list.length;
  if (isLong) section[1] = list.length & 0xff;
  section.set(list, isLong ? 2 : 1);
  return section;
}

/** Reads the section that begins at `from`. Null: it is none, or ends too early. */
export function readCommands(bytes: Uint8Array, from: number): CommandSection | null {
  const flags = bytes[from];
  if (flags === undefined) return null;
  let at = from + 1;
  let length = flags & 0x0f;
  if (flags & FLAG_B) {
    if (at >= bytes.length) return null;
    length = (length << 8) | bytes[at++]!;
  }
  const end = at + length;
  if (end > bytes.length) return null;
  const items: ListItem[] = [];
  const hasJournal = (flags & FLAG_J) !== 0;
  let running = 0;
  let isFirst = true;
  while (at < end) {
    let delta = 0;
    if (!isFirst || flags & FLAG_Z) {
      let octets = 0;
      let octet: number;
      do {
        if (at >= end || octets === 4) return null;
        octet = bytes[at++]!;
        octets++;
        delta = (delta << 7) | (octet & 0x7f);
      } while (octet & 0x80);
    }
    isFirst = false;
    if (at === end) break; // a list may end with a time
    const next = commandEnd(bytes, at, end, running);
    if (!next) return null;
    const own = bytes.subarray(at, next.end);
    items.push({ delta, bytes: next.isRunning ? Uint8Array.of(running, ...own) : own.slice() });
    at = next.end;
    running = next.running;
  }
  return { items, end, hasJournal };
}

interface CommandEnd {
  readonly end: number;
  readonly running: number;
  readonly isRunning: boolean;
}

/** Where the command at `at` ends, and the running status after it. */
function commandEnd(bytes: Uint8Array, at: number, limit: number, running: number): CommandEnd | null {
  const first = bytes[at]!;
  if (first >= 0xf8) return { end: at + 1, running, isRunning: false };
  if (first === 0xf0 || first === 0xf7) return sysExEnd(bytes, at, limit);
  const isRunning = first < 0x80;
  const status = isRunning ? running : first;
  const data = status < 0x80 ? undefined : status < 0xf0 ? CHANNEL_DATA[(status >> 4) - 8] : COMMON_DATA[status];
  if (data === undefined) return null;
  const dataFrom = isRunning ? at : at + 1;
  const end = dataFrom + data;
  if (end > limit) return null;
  for (let i = dataFrom; i < end; i++) if (bytes[i]! > 0x7f) return null;
  return { end, running: status < 0xf0 ? status : 0, isRunning };
}

/** A SysEx message or a segment of one ends with F7, F0 (more comes), F5 (its F7 was dropped) or F4 (cancelled). */
function sysExEnd(bytes: Uint8Array, at: number, limit: number): CommandEnd | null {
  for (let i = at + 1; i < limit; i++) {
    const octet = bytes[i]!;
    if (octet < 0x80) continue;
    const ends = octet === 0xf7 || octet === 0xf0 || octet === 0xf5 || octet === 0xf4;
    return ends ? { end: i + 1, running: 0, isRunning: false } : null;
  }
  return null;
}

/** Section 3.1: as in MIDI files, seven bits an octet, the highest first. */
function writeDelta(list: number[], delta: number): void {
  const ticks = Math.min(delta, LONGEST_DELTA);
  for (let shift = 21; shift > 0; shift -= 7) if (ticks >= 1 << shift) list.push(0x80 | ((ticks >> shift) & 0x7f));
  list.push(ticks & 0x7f);
}
