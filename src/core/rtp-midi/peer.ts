/** One other end of a session: how far it has been agreed with, its clock, and the two streams. */
import { ClockSync } from "./clock-sync.ts";
import { StreamReceiver } from "./stream-receiver.ts";
import type { StreamSender } from "./stream-sender.ts";

export type PeerState =
  /** We asked, on the first port or on the second, and wait for its answer. */
  | "inviting"
  /** It asked, and somebody here has to say whether it may. */
  | "asking"
  /** It may; it has yet to ask on the second port. */
  | "accepted"
  | "connected"
  /** It said no. */
  | "refused"
  /** It, or one of us, ended it. */
  | "ended"
  /** It does not answer any more. */
  | "silent";

export interface Address {
  readonly host: string;
  /** Of the first (control) port; the second is the next one. */
  readonly port: number;
}

/** First and longest pause between two invitations, in ms. */
const FIRST_INVITE_MS = 500;
const LONGEST_INVITE_MS = 8000;
/** How soon one that is gone is invited again, in ms: who said no is left in peace for a while. */
const AGAIN_AFTER_MS = { silent: 0, ended: 1500, refused: 8000 };

export class Peer {
  readonly address: Address;
  /** Whether we invite it, and do so again when it is gone. */
  isOurs: boolean;
  name = "";
  state: PeerState;
  /** Inviting goes on at the second port once the first has said yes. */
  onData = false;
  /** How often it was invited there. */
  dataInvites = 0;
  ssrc = -1;
  token = 0;
  sender: StreamSender | null = null;
  receiver = new StreamReceiver();
  clock = new ClockSync();
  in = 0;
  out = 0;
  /** Who is told of its messages. */
  hears: ((message: Uint8Array) => void) | null = null;
  heardAtMs = Number.NEGATIVE_INFINITY;
  /** When it is invited again. */
  inviteAtMs = 0;
  #inviteMs = FIRST_INVITE_MS;
  /** Clock packets: when the next goes out, and how many went without an answer. */
  clockAtMs = Number.POSITIVE_INFINITY;
  clocksSent = 0;
  unanswered = 0;

  constructor(address: Address, isOurs: boolean) {
    this.address = address;
    this.isOurs = isOurs;
    this.state = isOurs ? "inviting" : "ended";
  }

  /** Pauses grow, and differ from peer to peer (`chance` 0..1), so that many that come back do not all ask at once. */
  invitedAt(nowMs: number, chance: number): void {
    this.inviteAtMs = nowMs + this.#inviteMs * (0.75 + chance / 2);
    this.#inviteMs = Math.min(this.#inviteMs * 1.5, LONGEST_INVITE_MS);
  }

  connected(sender: StreamSender, nowMs: number): void {
    this.state = "connected";
    this.sender = sender;
    this.receiver = new StreamReceiver();
    this.clock = new ClockSync();
    this.#inviteMs = FIRST_INVITE_MS;
    this.heardAtMs = nowMs;
    this.clockAtMs = this.isOurs ? nowMs : Number.POSITIVE_INFINITY;
    this.clocksSent = this.unanswered = 0;
  }

  /** It is out of reach, for whatever reason `state` says. */
  parted(state: "refused" | "ended" | "silent", nowMs: number, say: (message: Uint8Array) => void): void {
    if (this.state === "connected") this.receiver.letGo(say);
    this.state = state;
    this.sender = null;
    this.onData = false;
    this.ssrc = -1;
    this.inviteAtMs = nowMs + AGAIN_AFTER_MS[state];
  }
}
