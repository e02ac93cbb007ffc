/** The words of truth.ts: what was sent, how it stands with a value, what a report means, and what a line is like. */

/** What the newest own value is, which decides whether and how it is sent again. */
export const LEVEL_COMMAND = 0;
export const ON_COMMAND = 1;
export const OFF_COMMAND = 2;
/** The end of something that was held: what hangs is worst, so it is sent until the desk has it. */
export const RELEASE_COMMAND = 3;
/** It must not be sent twice: it is only asked for. */
export const ONCE_COMMAND = 4;
export type CommandKind =
  | typeof LEVEL_COMMAND
  | typeof ON_COMMAND
  | typeof OFF_COMMAND
  | typeof RELEASE_COMMAND
  | typeof ONCE_COMMAND;

/** Nothing is under way: the desk's word holds. */
export const REST = 0;
/** Sent, and no word of it yet. */
export const SENT = 1;
/** The desk said it, but the way there was not clean: a question decides. */
export const VERIFY = 2;
/** Somebody else moved it while ours was under way: a question decides. */
export const LOOK = 3;
export type Phase = typeof REST | typeof SENT | typeof VERIFY | typeof LOOK;

/** What a desk's line is known to be like; of the desk, and shared by its values. Times in ms. */
export interface Timing {
  /** Time after which an answer is overdue. */
  readonly rtoMs: number;
  /** Shortest round trip seen, 0 while none was. */
  readonly minRttMs: number;
  /** Four times the variation of the round trip. */
  readonly spreadMs: number;
  /** What goes over it may be lost without anybody being told. */
  readonly isLossy: boolean;
  /** It says changes by itself; else it is only asked. */
  readonly tells: boolean;
  /** It cannot be reached: nothing is sent, and what is open waits. */
  readonly isSilent: boolean;
  /** When it came back last; for a while its reports may be from before. */
  readonly backAtMs: number;
}

/** What the profile says of a state. */
export interface ValueKind {
  /** One end of a level. */
  readonly from: number;
  /** From one end to the other; 0 for switches and whole numbers, which are met exactly or not at all. */
  readonly travel: number;
  /** The smallest step the desk keeps; 0 = not known. */
  readonly step: number;
  /** The desk moves towards what it is told, and says so on the way. */
  readonly glides: boolean;
}

/** What a report means for who looks at the value. Bits. */
export const SHOWN = 1;
/** Somebody else changed it: faders lose hold of it unless they stand there. */
export const THEIRS = 2;
/** It is what we wanted, for the first time since it was sent. */
export const CONFIRMED = 4;
/** We gave up, or the desk did not take it. */
export const NOT_DONE = 8;

/** What is due of a value. Bits. */
export const SEND_AGAIN = 1;
export const ASK = 2;

/** A release on a line that loses is said once more this soon, where the desk has not said by then that it has it, in ms. */
export const RELEASE_AGAIN_MS = 40;

/** What a desk does not report is said again so long after it was sent, in ms, where a line loses and nothing newer came. */
export const UNREPORTED_AGAIN_MS = [80, 240] as const;

/** An own value counts as under way for so many overdue times, and no longer than `LONGEST_WAY_MS`. */
const WAY = 1.5;
const LONGEST_WAY_MS = 4000;

/** How long an own value may be under way, in ms. */
export function wayMs({ rtoMs }: Timing): number {
  return Math.min(LONGEST_WAY_MS, WAY * rtoMs + 60);
}

/** A press of longer ago must not come as a surprise, and is given up, in ms. */
export function tooOldMs({ rtoMs }: Timing): number {
  return Math.max(3000, 6 * rtoMs);
}

/** How long a value may be on its way before that is shown, in ms. */
export function shownLateMs({ rtoMs }: Timing): number {
  return Math.max(250, rtoMs + 50);
}
