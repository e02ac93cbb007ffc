/** What is known of one desk while the show runs. It outlives edits as long as the desk keeps its profile. */
import type { CompiledDesk } from "../desk/compile-desk.ts";
import { DeskLink } from "../desk/link.ts";
import { DeskStateStore, UNKNOWN } from "../desk/state-store.ts";
import type { DeskProfile } from "../format/desk-profile.ts";
import { PORT_KINDS } from "../format/port-kinds.ts";
import { DEFAULT_WHEN_SILENT, type WhenSilent } from "../format/show.ts";
import { CARRIERS, carrierOf } from "../format/wires.ts";
import { Budget } from "../guard/budget.ts";
import { LoopDetector } from "../guard/loop.ts";
import { type DeskCommand, KeptCommands } from "../held/kept-commands.ts";
import type { MidiParser } from "../midi/parser.ts";

/** Messages a second towards a desk, and how many may go at once. */
const DESK_MESSAGES_PER_S = 50_000;
const DESK_BURST = 5000;

export interface HeldBack {
  readonly a: number;
  readonly value: number;
  readonly cause: number;
  /** Its datagrams, where they cannot be made anew later. */
  readonly prepared: DeskCommand | null;
}

/** Commands that wait for their answer at the most; older ones count as answered. */
const MAX_ASKED = 1024;

/** In the place of a state: it was a heartbeat, a query or a subscription. */
export const UPKEEP_ASKED = -2;

/** A command that a desk has yet to answer: its row of traffic, and the state it changes (-1 = none). */
export interface Asked {
  readonly row: number;
  readonly state: number;
  readonly atMs: number;
}

export class DeskRuntime {
  readonly id: string;
  readonly profile: DeskProfile;
  readonly store: DeskStateStore;
  readonly link: DeskLink;
  /** What goes to it and comes from it may be lost without anybody being told. */
  readonly isLossy: boolean;
  readonly budget = new Budget(DESK_MESSAGES_PER_S, DESK_BURST);
  /** Newest value per action, or per action and numbers, that the budget held back. */
  readonly heldBack = new Map<number | string, HeldBack>();
  /** Controls that show or drive a value: surface and control in turn. Made anew with the context. */
  watchers = new Map<number, number[]>();
  address: string;
  /** Its index in the show, as of the last bytes from it. */
  index = 0;
  /** Reads the bytes of a MIDI desk; made at the first of them. */
  parser: MidiParser | null = null;
  /** Messages from it that were none: they count as dropped, and not as heard. */
  malformed = 0;
  /** What commands become while it is silent. */
  whenSilent: WhenSilent = DEFAULT_WHEN_SILENT;
  /** It does not answer, and its commands are not sent into the dark. */
  isBlocked = false;
  /** True where a command is its bytes and nothing more, which is nearly always. */
  isPlain = true;
  /** Newest command for each value, to be sent when it answers again. */
  readonly kept = new KeptCommands();
  /** Of a MIDI desk: whether its way hears itself. */
  readonly loop: LoopDetector | null;
  readonly #isAsked: boolean;
  readonly #answers: boolean;
  #asked: Asked[] = [];
  #askedOneAtMs = Number.NEGATIVE_INFINITY;
  #askedAllAtMs = Number.NEGATIVE_INFINITY;

  constructor(compiled: CompiledDesk) {
    this.#answers = compiled.replies !== null;
    this.id = compiled.id;
    this.loop = compiled.profile.wire.kind === "midi" ? new LoopDetector() : null;
    this.profile = compiled.profile;
    this.store = new DeskStateStore(compiled);
    this.isLossy = isLossy(compiled);
    this.link = new DeskLink(compiled.profile, this.isLossy);
    this.address = addressOf(compiled);
    this.#isAsked = compiled.profile.heartbeat !== undefined;
    this.setWhenSilent(compiled);
  }

  setWhenSilent({ desk }: CompiledDesk): void {
    this.whenSilent = desk.whenSilent ?? DEFAULT_WHEN_SILENT;
    this.settleHealth();
  }

  /** To be called when its health may have changed. */
  settleHealth(): void {
    const { health } = this.link.state;
    // Where commands wait and it has not been heard, it is as silent as it was for the engine that kept them.
    const isAway = health === "silent" || health === "refusing" || (health === "waiting" && this.kept.size > 0);
    // Nobody asks it whether it is there, so it is sent to as long as there is a way: it would never be heard to be back.
    const away = isAway && this.#isAsked;
    this.isBlocked = away && this.whenSilent !== "send";
    this.isPlain = !this.isBlocked && !this.#answers;
    if (away) this.#asked = [];
  }

  /** Takes over what waits for it from an engine that died. */
  restoreKept(commands: readonly DeskCommand[]): void {
    this.kept.restore(commands);
    this.settleHealth();
  }

  /** Whether a single question may go out now, so long after the last one in ms. */
  mayAsk(atMs: number, everyMs: number): boolean {
    if (atMs - this.#askedOneAtMs < everyMs) return false;
    this.#askedOneAtMs = atMs;
    return true;
  }

  /** Whether it may be asked for everything now. */
  mayAskAll(atMs: number, everyMs: number): boolean {
    if (atMs - this.#askedAllAtMs < everyMs) return false;
    this.#askedAllAtMs = atMs;
    return true;
  }

  /** A command was sent. */
  asked(row: number, state: number, atMs: number): void {
    if (!this.#answers) return;
    this.#asked.push({ row, state, atMs });
    if (this.#asked.length > MAX_ASKED) this.#asked.shift();
  }

  /** The oldest command without an answer, which has one now. */
  answered(): Asked | undefined {
    return this.#asked.shift();
  }

  /** The page that is up, or null where the desk has not said. */
  pageUp(compiled: CompiledDesk): number | null {
    const page = compiled.page;
    if (!page || this.store.source[page.base] === UNKNOWN) return null;
    return this.store.number(page.base);
  }
}

function isLossy({ desk, profile, inside }: CompiledDesk): boolean {
  if (inside) return false;
  const carrier = carrierOf(profile, desk.over);
  if (carrier !== null) return CARRIERS[carrier].losesUntold;
  return [desk.midi?.in, desk.midi?.out].some((port) => port !== undefined && PORT_KINDS[port.kind].losesUntold);
}

export function addressOf(compiled: CompiledDesk): string {
  const { host, port, listenPort, over, midi } = compiled.desk;
  return `${host} ${port} ${listenPort} ${over} ${JSON.stringify(midi)}`;
}
