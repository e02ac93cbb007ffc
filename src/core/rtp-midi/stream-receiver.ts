/**
 * The other half: packets of one peer as messages, in order. A packet that overtook others waits a moment for them.
 * What a lost packet carried is put right from the journal of the next one; what comes later still was put right
 * already, and is let go (RFC 6295, section 4).
 */
import { type CommandSection, readCommands } from "./commands.ts";
import { HeardState } from "./heard-state.ts";
import { type Journal, readJournal } from "./journal.ts";
import type { PacketHead } from "./packet.ts";
import { SysExGathering } from "./sysex-segments.ts";

/** Soonest after a packet that its sender is told what has arrived, in ms, so that its journal stays short. */
const FEEDBACK_AFTER_MS = 20;
/** A number so far behind the last is late, and one so far ahead of it a gap (RFC 3550, A.1); any other is of a stream anew. */
const MOST_LATE = 100;
const MOST_GAP = 3000;
/** One packet with a number out of place is believed when the next goes on from it, or when none came for this long, in ms. */
const BELIEVED_AFTER_MS = 60;
/** How long a packet waits for those before it, in ms, and how many may wait. */
const WAIT_MS = 3;
const MOST_WAITING = 16;

interface Packet {
  readonly section: CommandSection;
  readonly journal: Journal | null;
}

export class StreamReceiver {
  /** Packets that never came or came too late, and messages that were said in the place of theirs. */
  lost = 0;
  repaired = 0;
  /** Number of the newest packet, 0..65,535; -1 = none yet. */
  newest = -1;
  /** When the peer is to be told what has arrived, in ms; Infinity = it knows. */
  feedbackAtMs = Number.POSITIVE_INFINITY;
  /** When those that wait have waited long enough, in ms; Infinity = none waits. */
  waitingUntilMs = Number.POSITIVE_INFINITY;
  /** A packet whose number is out of place: one stray number must not silence the stream. */
  #stray: { readonly sequence: number; readonly packet: Packet; readonly atMs: number } | null = null;
  readonly #waiting = new Map<number, Packet>();
  readonly #state = new HeardState();
  readonly #sysEx = new SysExGathering();

  /** Reads a packet whose head has been read; false: it is none. */
  read(bytes: Uint8Array, head: PacketHead, nowMs: number, say: (message: Uint8Array) => void): boolean {
    const section = readCommands(bytes.subarray(0, head.end), head.from);
    if (!section) return false;
    const journal = section.hasJournal ? readJournal(bytes, section.end, head.end) : null;
    if (section.hasJournal && !journal) return false;
    this.feedbackAtMs = Math.min(this.feedbackAtMs, nowMs + FEEDBACK_AFTER_MS);
    const packet = { section, journal };
    const step = this.newest < 0 ? 1 : (head.sequence - this.newest) & 0xffff;
    if (step === 0 || step > 0x1_0000 - MOST_LATE) return true; // a double, or late
    if (step > MOST_WAITING) {
      const stray = this.#stray;
      this.#stray = { sequence: head.sequence, packet, atMs: nowMs };
      this.waitingUntilMs = Math.min(this.waitingUntilMs, nowMs + BELIEVED_AFTER_MS);
      if (!stray || ((head.sequence - stray.sequence) & 0xffff) !== 1) return true;
      this.#stray = null;
      this.#believe(stray, say);
      this.#take(head.sequence, packet, say);
      return true;
    }
    this.#stray = null; // the stream goes on where it was
    if (step > 1) {
      this.#waiting.set(head.sequence, packet);
      this.waitingUntilMs = Math.min(this.waitingUntilMs, nowMs + WAIT_MS);
      return true;
    }
    this.#take(head.sequence, packet, say);
    this.#goOn(say, false);
    return true;
  }

  /** Two numbers in a row, or nothing else for a while: the stream goes on there. */
  #believe({ sequence, packet }: { sequence: number; packet: Packet }, say: (message: Uint8Array) => void): void {
    this.#goOn(say, true);
    this.#take(sequence, packet, say);
  }

  /** Nothing more is waited for by those that have waited long enough. */
  tick(nowMs: number, say: (message: Uint8Array) => void): void {
    if (nowMs < this.waitingUntilMs) return;
    if (this.#waiting.size > 0) this.#goOn(say, true);
    const stray = this.#stray;
    if (stray && nowMs - stray.atMs >= BELIEVED_AFTER_MS) {
      this.#stray = null;
      this.#believe(stray, say);
    }
    this.waitingUntilMs = this.#stray ? this.#stray.atMs + BELIEVED_AFTER_MS : Number.POSITIVE_INFINITY;
  }

  /** The peer is gone: what it held is let go. */
  letGo(say: (message: Uint8Array) => void): void {
    this.#goOn(say, true);
    for (const message of this.#state.endings()) {
      this.#state.hear(message);
      say(message);
    }
  }

  /** Takes those that wait, in order; `over` gaps too. */
  #goOn(say: (message: Uint8Array) => void, over: boolean): void {
    while (this.#waiting.size > 0) {
      const numbers = [...this.#waiting.keys()].sort((a, b) => this.#stepTo(a) - this.#stepTo(b));
      const next = numbers[0]!;
      if (this.#stepTo(next) > 1 && !over) return;
      const packet = this.#waiting.get(next)!;
      this.#waiting.delete(next);
      this.#take(next, packet, say);
    }
    this.waitingUntilMs = this.#stray ? this.#stray.atMs + BELIEVED_AFTER_MS : Number.POSITIVE_INFINITY;
  }

  #stepTo(sequence: number): number {
    return (sequence - this.newest) & 0xffff;
  }

  #take(sequence: number, { section, journal }: Packet, say: (message: Uint8Array) => void): void {
    const isFirst = this.newest < 0;
    const step = isFirst ? 1 : this.#stepTo(sequence);
    if (step > 1) {
      if (step < MOST_GAP) this.lost += step - 1;
      this.#sysEx.drop();
    }
    if (journal && (step > 1 || isFirst)) this.repaired += this.#state.repair(journal, say, sequence, isFirst);
    this.newest = sequence;
    for (const { bytes } of section.items) {
      const first = bytes[0]!;
      const message = first === 0xf0 || first === 0xf7 ? this.#sysEx.take(bytes) : bytes;
      if (!message) continue;
      this.#state.hear(message, sequence);
      say(message);
    }
  }
}
