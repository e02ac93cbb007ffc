/**
 * Our half of a stream of MIDI to one peer (RFC 6295, section 4): packs what is due into packets, each with a journal
 * of what the peer has not yet said it has, and goes on telling the last of it until the peer has.
 */
import { DATA_ENTRY, namesParameter, RESET_CONTROLLERS } from "../midi/controllers.ts";
import { type ListItem, writeCommands } from "./commands.ts";
import { writeJournal } from "./journal.ts";
import { TICKS_PER_S, writePacket } from "./packet.ts";
import { isFirstHalf } from "./parameter-state.ts";
import { SentHistory } from "./sent-history.ts";
import { segmentsOf } from "./sysex-segments.ts";

/** Bytes of commands in one packet: with its journal it still goes through common networks in one piece. */
const LIST_BYTES = 700;
/** Bytes of a long message in one packet. */
const SEGMENT_BYTES = 512;
/** Pauses after which the journal is told once more while nothing else is sent, in ms; the last one again and again. */
const GUARD_AFTER_MS = [12, 30, 70, 150, 300, 600, 1000];
/** A peer that has not said for this long what it has: no more is told of what is older. */
const TOLD_FOR_MS = 10_000;
/** A peer that never says it, of so many packets, is told of this long only. */
const NEVER_SAYS_PACKETS = 20;
const TOLD_WITHOUT_ANSWER_MS = 2000;
/** The longest packet, in bytes: it goes through common networks in one piece. Of a journal that is longer the oldest is left out. */
const PACKET_BYTES = 1200;
const HEADER_BYTES = 12;
/** When packets went out, looked up by time: every so many of them. */
const MOST_TIMES = 4096;

export class StreamSender {
  readonly ssrc: number;
  readonly #history = new SentHistory();
  #queue: { readonly bytes: Uint8Array; readonly atMs: number }[] = [];
  /** Number of the next packet; it does not wrap round. */
  #next: number;
  /** Everything up to this one has arrived. */
  #had: number;
  /** By packet, from `#timesFrom` on: when it went out. */
  #times: number[] = [];
  #timesFrom: number;
  #hasAnswered = false;
  #sent = 0;
  readonly #selections = new Selections();
  #guards = 0;
  #guardAtMs = Number.POSITIVE_INFINITY;
  #lastSentMs = 0;

  /** `first`: number of the first packet, 0..65,535. */
  constructor(ssrc: number, first: number) {
    this.ssrc = ssrc;
    this.#next = first + 0x1_0000;
    this.#had = this.#next - 1;
    this.#timesFrom = this.#next;
  }

  /** The peer does not say what has arrived: only what is not older than two seconds is put right for it. */
  get isUnanswered(): boolean {
    return !this.#hasAnswered && this.#sent >= NEVER_SAYS_PACKETS;
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
      // Nearly always all of it fits.
      const entries = count === this.#queue.length ? this.#queue : this.#queue.splice(0, count);
      if (entries === this.#queue) this.#queue = [];
      packets.push(this.#packet(entries, nowMs));
      this.#guards = 0;
      this.#lastSentMs = nowMs;
      this.#guardAtMs = nowMs + GUARD_AFTER_MS[0]!;
    }
    if (packets.length > 0 || nowMs < this.#guardAtMs) return packets;
    if (this.#history.isEmpty) {
      this.#guardAtMs = Number.POSITIVE_INFINITY;
      return packets;
    }
    if (nowMs - this.#lastSentMs > (this.isUnanswered ? TOLD_WITHOUT_ANSWER_MS : TOLD_FOR_MS)) {
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
    if (had <= this.#had) return;
    this.#hasAnswered = true;
    this.#forget(had);
  }

  #forget(upTo: number): void {
    this.#had = upTo;
    this.#history.forget(upTo);
    if (this.#history.isEmpty) this.#guardAtMs = Number.POSITIVE_INFINITY;
  }

  #packet(entries: readonly { bytes: Uint8Array; atMs: number }[], nowMs: number): Uint8Array {
    const sequence = this.#next++;
    this.#sent++;
    this.#times.push(nowMs);
    if (this.#times.length > MOST_TIMES) this.#timesFrom += this.#times.splice(0, MOST_TIMES / 2).length;
    if (this.isUnanswered) this.#forgetBefore(nowMs - TOLD_WITHOUT_ANSWER_MS);
    const startMs = entries[0]?.atMs ?? nowMs;
    let last = ticksOf(startMs);
    const items: ListItem[] = [];
    const sent: Uint8Array[] = [];
    for (const { bytes, atMs } of entries) {
      const at = Math.max(last, ticksOf(atMs));
      // A number that has been named in a packet which may be lost is named again before what is written to it.
      for (const named of this.#selections.before(bytes, sequence, this.#had)) {
        items.push({ bytes: named, delta: at - last });
        sent.push(named);
        last = at;
      }
      items.push({ bytes, delta: at - last });
      sent.push(bytes);
      last = at;
    }
    const section = writeCommands(items, true);
    const journal = this.#journal(sequence, PACKET_BYTES - HEADER_BYTES - section.length);
    for (const bytes of sent) this.#history.add(bytes, sequence);
    const head = { sequence, timestamp: ticksOf(startMs) % 0x1_0000_0000, ssrc: this.ssrc };
    return writePacket(head, items.length > 0, section, journal);
  }

  /** The journal of a packet; of one that would be longer than `most` bytes the older half is left out, until it is not. */
  #journal(sequence: number, most: number): Uint8Array {
    for (;;) {
      const journal = writeJournal(this.#history.journal(this.#had + 1, sequence));
      if (journal.length <= most || this.#history.isEmpty) return journal;
      this.#forget(Math.ceil((this.#had + sequence - 1) / 2));
    }
  }

  #forgetBefore(ms: number): void {
    const later = this.#times.findIndex((t) => t >= ms);
    const upTo = this.#timesFrom + (later < 0 ? this.#times.length : later) - 1;
    if (upTo > this.#had) this.#forget(upTo);
  }
}

const NOTHING: readonly Uint8Array[] = [];

/** Which parameter number is named on each channel, and in which packet. */
class Selections {
  readonly #named = new Map<number, { first: Uint8Array; second: Uint8Array | null; sequence: number }>();

  /** What has to be said before this message of the packet `sequence`, where everything up to `had` has arrived. */
  before(message: Uint8Array, sequence: number, had: number): readonly Uint8Array[] {
    const [status = 0, controller = 0] = message;
    if ((status & 0xf0) !== 0xb0) return NOTHING;
    const channel = status & 0x0f;
    const named = this.#named.get(channel);
    if (namesParameter(controller)) {
      if (isFirstHalf(controller)) this.#named.set(channel, { first: message, second: null, sequence });
      else if (named && named.first[1] === controller + 1)
        this.#named.set(channel, { ...named, second: message, sequence });
      else this.#named.delete(channel);
      return NOTHING;
    }
    if (controller === RESET_CONTROLLERS) this.#named.delete(channel);
    if (!named?.second || !DATA_ENTRY.includes(controller)) return NOTHING;
    if (named.sequence === sequence || named.sequence <= had) return NOTHING;
    this.#named.set(channel, { ...named, sequence });
    return [named.first, named.second];
  }
}

/** Time in ms as ticks of the session's clock. */
export function ticksOf(ms: number): number {
  return Math.floor((ms * TICKS_PER_S) / 1000);
}
