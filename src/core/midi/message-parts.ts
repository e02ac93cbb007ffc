/**
 * The numbers that the message in hand carries: what an action bound to "the message" reads (rule 10). Each kind of message
 * has parts of its own; a part that it has not is NO_PART, and never the one of a message before.
 */

/** In this order they stand in a row of numbers. Channels count 1..16. */
export const MESSAGE_PARTS = [
  "channel",
  /** Of a note, controller or program; of a parameter number 0..16382; of a machine's "locate" its stored point. */
  "number",
  /** As it stands on the wire: 7 bits, or 14 of what has 14. */
  "value",
  /** The bank 0..16383 that was chosen on the channel of a program. */
  "bank",
  /** A cue number that is whole; "12.5" has none. */
  "cue",
  /** What stands before and behind the point of a cue number; behind it 0 where there is no point. */
  "cue-before",
  "cue-after",
  "list",
  "path",
  /** Of show and machine control: 0..127. */
  "device",
  /** Of show and machine control: the number that the standard gives the command. */
  "command",
] as const;
export type MessagePart = (typeof MESSAGE_PARTS)[number];

export const NO_PART = -1;

const CHANNEL = 0;
const NUMBER = 1;
const VALUE = 2;
/** The first of the parts that only some kinds have. */
const FIRST_RARE = 3;
/** Behind the parts: 1 while one of the rare ones may be there. */
const HAS_RARE = MESSAGE_PARTS.length;

const NTH = Object.fromEntries(MESSAGE_PARTS.map((p, i) => [p, i])) as Record<MessagePart, number>;

export function partNumber(part: MessagePart): number {
  return NTH[part];
}

/** Room for the parts of one message, with nothing in it. */
export function newMessageParts(): Int32Array {
  return new Int32Array(MESSAGE_PARTS.length + 1).fill(NO_PART);
}

/** There is no message in hand. */
export function clearParts(parts: Int32Array): void {
  parts[CHANNEL] = parts[NUMBER] = parts[VALUE] = NO_PART;
  if (parts[HAS_RARE] === 1) parts.fill(NO_PART, FIRST_RARE);
}

/** A message of a channel; NO_PART for what it has not. */
export function channelParts(parts: Int32Array, channel: number, number: number, value: number): void {
  parts[CHANNEL] = channel;
  parts[NUMBER] = number;
  parts[VALUE] = value;
  if (parts[HAS_RARE] === 1) parts.fill(NO_PART, FIRST_RARE);
}

/** A short message by its bytes (MIDI 1.0 Detailed Specification 4.2, table I). */
export function shortParts(parts: Int32Array, status: number, data1: number, data2: number): void {
  const channel = (status & 15) + 1;
  switch (status >> 4) {
    case 0x8:
    case 0x9:
    case 0xa:
    case 0xb:
      channelParts(parts, channel, data1, data2);
      return;
    case 0xc:
      channelParts(parts, channel, data1, NO_PART);
      return;
    case 0xd:
      channelParts(parts, channel, NO_PART, data1);
      return;
    case 0xe:
      channelParts(parts, channel, NO_PART, (data2 << 7) | data1);
      return;
    default:
      clearParts(parts);
      if (status === 0xf2) parts[VALUE] = (data2 << 7) | data1;
      else if (status === 0xf3) parts[NUMBER] = data1;
  }
}

/** Sets one of the parts that only some kinds of messages have, or one that such a message has beside them. */
export function setPart(parts: Int32Array, part: MessagePart, number: number): void {
  const at = NTH[part];
  parts[at] = number;
  if (at >= FIRST_RARE) parts[HAS_RARE] = 1;
}

/** The parts of cue number, list and path: digits and points. */
export function cueParts(parts: Int32Array, cue?: string, list?: string, path?: string): void {
  if (cue !== undefined) {
    setPart(parts, "cue", whole(cue));
    const [before = "", after, ...more] = cue.split(".");
    setPart(parts, "cue-before", whole(before));
    // "12.05" is not "12.5": a number has no room for the zero in front.
    const behind = more.length > 0 || /^0./.test(after ?? "") ? NO_PART : after === undefined ? 0 : whole(after);
    setPart(parts, "cue-after", behind);
  }
  if (list !== undefined) setPart(parts, "list", whole(list));
  if (path !== undefined) setPart(parts, "path", whole(path));
}

/** At most nine digits: the numbers of a message stand in 32 bits. */
function whole(text: string): number {
  return /^[0-9]{1,9}$/.test(text) ? Number(text) : NO_PART;
}
