/**
 * Our half of a stream of MIDI to one peer (RFC 6295, section 4): packs what is due into packets, each with a journal
 * of what the peer has not yet said it has, and goes on telling the last of it until the peer has.
 */
import { type ListItem, writeCommands } from "./commands.ts";
import { writeJournal } from "./journal.ts";
import { TICKS_PER_S, writePacket } from "./packet.ts";
import { SentHistory } from "./sent-history.ts";
import { segmentsOf } from "./sysex-segments.ts";

/** Bytes of commands in one packet: with its journal it still goes through common networks in one piece. */
const LIST_BYTES = 700;
/** Bytes of a long message in one packet. */
const SEGMENT_BYTES = 512;
/** Pauses after which the journal is told once more while nothing else is sent, in ms; the last one again and again. */
const GUARD_AFTER_MS = [12, 30, 70, 150, 300, 600, 1000];
/** A peer that has not said for this long what it has does not say it at all: no more is told of what is older. */
const TOLD_FOR_MS = 10_000;

export class StreamSender {
  readonly ssrc: number;
  readonly #history = new SentHistory();
  #queue: { readonly bytes: Uint8Array; readonly atMs: number }[] = [];
  /** Number of the next packet; it does not wrap round. */
  #next: number;
  /** Everything up to this one has arrived. */
  #had: number;
  #guards = 0;
  #guardAtMs = Number.POSITIVE_INFINITY;
  #lastSentMs = 0;

  /** `first`: number of the first packet, 0..65,535. */
  constructor(ssrc: number, first: number) {
    this.ssrc = ssrc;
    this.#next = first + 0x1_0000;
    this.#had = this.#next - 1;
  }

  /** A packet without commands: from its number on, whoever hears it can put packets in order. */
  begin(nowMs: number): Uint8Array {
    return this.#packet([], nowMs);
  }

  /** A whole message; it goes out with the next `flush`. */
  add(message: Uint8Array, atMs: number): void {
    const pieces = message[0] === 0xf0 ? segmentsOf(message, SEGMENT_BYTES) : [message];
    for (const bytes of pieces) this.#queue.push({ bytes, atMs });
  }

  /** The packets that are due now. */
  flush(nowMs: number): Uint8Array[] {
    const packets: Uint8Array[] = [];
    while (this.#queue.length > 0) {
      let bytes = 0;
      let count = 0;
      while (count < this.#queue.length) {
        bytes += this.#queue[count]!.bytes.length + 4;
        if (bytes > LIST_BYTES && count > 0) break;
        count++;
      }
      packets.push(this.#packet(this.#queue.splice(0, count), nowMs));
      this.#guards = 0;
      this.#lastSentMs = nowMs;
      this.#guardAtMs = nowMs + GUARD_AFTER_MS[0]!;
    }
    if (packets.length > 0 || nowMs < this.#guardAtMs) return packets;
    if (this.#history.isEmpty) {
      this.#guardAtMs = Number.POSITIVE_INFINITY;
      return packets;
    }
    if (nowMs - this.#lastSentMs > TOLD_FOR_MS) {
      this.#forget(this.#next - 1);
      return packets;
    }
    this.#guards++;
    this.#guardAtMs = nowMs + GUARD_AFTER_MS[Math.min(this.#guards, GUARD_AFTER_MS.length - 1)]!;
    packets.push(this.#packet([], nowMs));
    return packets;
  }

  /** When `flush` has something to do by itself, in ms; Infinity = not until something is added. */
  get dueAtMs(): number {
    return this.#queue.length > 0 ? 0 : this.#guardAtMs;
  }

  /** The peer has everything up to the packet of this number, 0..65,535. */
  acknowledge(sequence: number): void {
    const last = this.#next - 1;
    const back = (last - sequence) & 0xffff;
    const had = last - back;
    // A number from before the first packet, or from before what it had already: an old or a wrong word.
    if (had > this.#had) this.#forget(had);
  }

  #forget(upTo: number): void {
    this.#had = upTo;
    this.#history.forget(upTo);
    if (this.#history.isEmpty) this.#guardAtMs = Number.POSITIVE_INFINITY;
  }

  #packet(entries: readonly { bytes: Uint8Array; atMs: number }[], nowMs: number): Uint8Array {
    const sequence = this.#next++;
    const startMs = entries[0]?.atMs ?? nowMs;
    let last = ticksOf(startMs);
    const items = entries.map(({ bytes, atMs }): ListItem => {
      const at = Math.max(last, ticksOf(atMs));
      const delta = at - last;
      last = at;
      return { bytes, delta };
    });
    const journal = writeJournal(this.#history.journal(this.#had + 1, sequence));
    for (const { bytes } of entries) this.#history.add(bytes, sequence);
    const head = { sequence, timestamp: ticksOf(startMs) % 0x1_0000_0000, ssrc: this.ssrc };
    return writePacket(head, items.length > 0, writeCommands(items, true), journal);
  }
}

/** Time in ms as ticks of the session's clock. */
export function ticksOf(ms: number): number {
  return Math.floor((ms * TICKS_PER_S) / 1000);
}
