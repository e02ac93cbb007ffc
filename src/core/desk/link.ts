/**
 * The link to one desk (rule 20): heartbeat, subscription and query, and what follows from their answers:
 * answering, silent or refusing. A step function on time that comes in; what is to be sent comes out.
 */
import type { DeskProfile } from "../format/desk-profile.ts";
import { encodeMessage } from "./message-template.ts";
import type { Timing } from "./truth-terms.ts";
import { saysPulse } from "./wire-numbers.ts";

/** `waiting` = it was just asked for the first time; `inside` = it needs no link. */
export type Health = "waiting" | "answering" | "silent" | "refusing" | "inside";

export interface LinkState {
  health: Health;
  /** When the desk was last heard, in ms; -1 = never. */
  heardAtMs: number;
  /** Newest round trip of a heartbeat in ms; -1 = none yet. */
  roundTripMs: number;
  /** Since when the health is what it is, in ms. */
  sinceMs: number;
}

export interface LinkStep {
  send: Uint8Array[];
  /** The desk came back: everything that was known or shown of it must be asked and drawn anew. */
  returned: boolean;
}

/** RFC 6298, section 2, with bounds for a network of a show: overdue times in ms before the first round trip, and limits. */
const RTO_FIRST_MS = 500;
const RTO_LEAST_MS = 120;
const RTO_MOST_MS = 3000;
const RTO_MARGIN_MS = 30;
const SRTT_PART = 1 / 8;
const RTTVAR_PART = 1 / 4;
/** How much later than due a heartbeat leaves after a pause, in parts of their interval: short enough not to look silent. */
const PAUSE = 1 / 2;
/** Heartbeats whose answers may still come. */
const MOST_PULSES = 8;

/** Of a desk of which nothing has been heard. */
export const DEFAULT_TIMING: Timing = {
  rtoMs: RTO_FIRST_MS,
  minRttMs: 0,
  spreadMs: 0,
  isLossy: false,
  tells: true,
  isSilent: false,
  backAtMs: Number.NEGATIVE_INFINITY,
};

/** Without links, as in a dry run, nothing is under way for long. */
export const NO_NETWORK: Timing = { ...DEFAULT_TIMING, rtoMs: RTO_LEAST_MS };

const NO_PULSE = saysPulse(0);
const NOTHING: LinkStep = { send: [], returned: false };
/** A refusal older than this, without another one, is no longer the network's last word, in ms. */
const REFUSAL_HOLDS_MS = 3000;

export class DeskLink {
  readonly #profile: DeskProfile;
  readonly #state: LinkState;
  readonly #isLossy: boolean;
  #pulse = 0;
  /** Heartbeats without an answer yet, by their number; the oldest first. */
  readonly #pulses = new Map<number, number>();
  /**
   * Answers without a number came while several heartbeats were open, so that it is not known which of them was lost, if
   * any. One is left out then: what is still open after that pause is taken as lost, and from there on it is known again.
   */
  #unsure: "no" | "pause-next" | "pausing" = "no";
  #srttMs = -1;
  #rttvarMs = 0;
  #minRttMs = Number.POSITIVE_INFINITY;
  #backAtMs = Number.NEGATIVE_INFINITY;
  #nextPulseMs = Number.NEGATIVE_INFINITY;
  #nextSubscribeMs = Number.NEGATIVE_INFINITY;
  #askedAtMs = -1;
  #refusedAtMs = Number.NEGATIVE_INFINITY;

  /** `isLossy`: what goes over its line may be lost without anybody being told. */
  constructor(profile: DeskProfile, isLossy = false) {
    this.#profile = profile;
    this.#isLossy = isLossy;
    // Most of what is driven by MIDI never answers: without a question to ask there is no link to judge.
    const inside = profile.wire.kind === "inside" || (profile.wire.kind === "midi" && !profile.heartbeat);
    this.#state = { health: inside ? "inside" : "waiting", heardAtMs: -1, roundTripMs: -1, sinceMs: -1 };
  }

  get state(): Readonly<LinkState> {
    return this.#state;
  }

  /** What is due by now. */
  tick(atMs: number): LinkStep {
    if (this.#state.health === "inside") return NOTHING;
    const send: Uint8Array[] = [];
    const { heartbeat, subscribe } = this.#profile;
    if (subscribe && atMs >= this.#nextSubscribeMs) {
      this.#nextSubscribeMs = atMs + subscribe.renewMs;
      send.push(...subscribe.send.map((m) => encodeMessage(m, NO_PULSE)));
    }
    if (this.#askedAtMs < 0) {
      this.#askedAtMs = atMs;
      send.push(...this.#profile.query.map((m) => encodeMessage(m, NO_PULSE)));
    }
    if (heartbeat && atMs >= this.#nextPulseMs) {
      const pauses = this.#unsure === "pause-next";
      this.#nextPulseMs = atMs + heartbeat.everyMs * (pauses ? PAUSE : 1);
      if (pauses) this.#unsure = "pausing";
      else send.push(...this.#nextPulse(heartbeat.send, atMs));
    }
    this.#judge(atMs);
    return send.length > 0 ? { send, returned: false } : NOTHING;
  }

  #nextPulse(messages: NonNullable<DeskProfile["heartbeat"]>["send"], atMs: number): Uint8Array[] {
    if (this.#unsure === "pausing") {
      this.#pulses.clear();
      this.#unsure = "no";
    }
    this.#pulse = (this.#pulse + 1) & 0x7fff;
    this.#pulses.set(this.#pulse, atMs);
    if (this.#pulses.size > MOST_PULSES) this.#pulses.delete(this.#pulses.keys().next().value!);
    return messages.map((m) => encodeMessage(m, saysPulse(this.#pulse)));
  }

  /** The question for everything. */
  query(): Uint8Array[] {
    return this.#profile.query.map((m) => encodeMessage(m, NO_PULSE));
  }

  /** Something arrived from the desk. */
  heard(atMs: number): LinkStep {
    this.#state.heardAtMs = atMs;
    this.#refusedAtMs = Number.NEGATIVE_INFINITY;
    const before = this.#state.health;
    if (before === "answering" || before === "inside") return NOTHING;
    this.#become("answering", atMs);
    this.#backAtMs = atMs;
    // It may have been restarted and know neither us nor what we were told of it.
    const { subscribe, query } = this.#profile;
    this.#askedAtMs = atMs;
    if (subscribe) this.#nextSubscribeMs = atMs + subscribe.renewMs;
    const send = [...(subscribe?.send ?? []), ...query].map((m) => encodeMessage(m, NO_PULSE));
    return { send, returned: true };
  }

  /**
   * The answer to a heartbeat, with its number where it carries one; the round trip in ms, or -1 where it is not known which
   * one is answered.
   */
  pulseHeard(pulse: number | null, atMs: number): number {
    if (pulse === null && this.#pulses.size > 1) {
      if (this.#unsure === "no") this.#unsure = "pause-next";
      this.#pulses.delete(this.#pulses.keys().next().value!);
      return -1;
    }
    const number = pulse ?? this.#pulses.keys().next().value;
    const sentAtMs = number === undefined ? undefined : this.#pulses.get(number);
    if (number === undefined || sentAtMs === undefined) return -1;
    // What was asked before it is not answered any more, or its answer comes late and is none.
    for (const old of this.#pulses.keys()) {
      this.#pulses.delete(old);
      if (old === number) break;
    }
    const tookMs = atMs - sentAtMs;
    this.#state.roundTripMs = tookMs;
    this.#measured(tookMs);
    return tookMs;
  }

  #measured(tookMs: number): void {
    if (this.#srttMs < 0) {
      this.#srttMs = tookMs;
      this.#rttvarMs = tookMs / 2;
    } else {
      this.#rttvarMs += RTTVAR_PART * (Math.abs(this.#srttMs - tookMs) - this.#rttvarMs);
      this.#srttMs += SRTT_PART * (tookMs - this.#srttMs);
    }
    this.#minRttMs = Math.min(this.#minRttMs, tookMs);
  }

  /** What the line is like, for who waits for answers. */
  get timing(): Timing {
    const { health } = this.#state;
    const isSilent = health === "silent" || health === "refusing";
    const isLossy = this.#isLossy;
    if (this.#srttMs < 0) return { ...DEFAULT_TIMING, isLossy, isSilent, backAtMs: this.#backAtMs };
    const spreadMs = 4 * this.#rttvarMs;
    const rtoMs = Math.min(RTO_MOST_MS, Math.max(RTO_LEAST_MS, this.#srttMs + Math.max(RTO_MARGIN_MS, spreadMs)));
    return { rtoMs, minRttMs: this.#minRttMs, spreadMs, isLossy, tells: true, isSilent, backAtMs: this.#backAtMs };
  }

  /** The network said that nobody listens there. */
  refused(atMs: number): void {
    if (this.#state.health === "inside") return;
    this.#refusedAtMs = atMs;
    this.#become("refusing", atMs);
  }

  /** Asks at once: "Try it". The heartbeat is a harmless question. */
  tryNow(): void {
    this.#nextPulseMs = Number.NEGATIVE_INFINITY;
    this.#nextSubscribeMs = Number.NEGATIVE_INFINITY;
    this.#askedAtMs = -1;
  }

  #judge(atMs: number): void {
    const { heartbeat } = this.#profile;
    if (!heartbeat) {
      // Nobody asks it: a refusal stands as long as it is news, and what is sent next may find it there.
      if (this.#state.health === "refusing" && atMs - this.#refusedAtMs > REFUSAL_HOLDS_MS)
        this.#become("waiting", atMs);
      return;
    }
    if (this.#state.sinceMs < 0) this.#state.sinceMs = atMs;
    if (atMs - this.#refusedAtMs <= REFUSAL_HOLDS_MS) return;
    const since = Math.max(this.#state.heardAtMs, this.#state.health === "waiting" ? this.#state.sinceMs : -1);
    if (this.#state.health === "refusing" || atMs - since > heartbeat.silentAfterMs) this.#become("silent", atMs);
  }

  #become(health: Health, atMs: number): void {
    if (this.#state.health === health) return;
    this.#state.health = health;
    this.#state.sinceMs = atMs;
    if (health !== "answering") this.#state.roundTripMs = -1;
  }
}
