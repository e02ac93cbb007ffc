/** What is known of one desk while the show runs. It outlives edits as long as the desk keeps its profile. */
import type { CompiledDesk } from "../desk/compile-desk.ts";
import { DeskLink } from "../desk/link.ts";
import { DeskStateStore, UNKNOWN } from "../desk/state-store.ts";
import type { Release } from "../gesture/held.ts";
import { Budget } from "../guard/budget.ts";

/** Messages a second towards a desk, and how many may go at once. */
const DESK_MESSAGES_PER_S = 50_000;
const DESK_BURST = 5000;

export interface HeldBack {
  readonly a: number;
  readonly value: number;
  readonly cause: number;
  /** Its datagrams, where they cannot be made anew later. */
  readonly prepared: Release | null;
}

export class DeskRuntime {
  readonly id: string;
  readonly profileId: string;
  readonly store: DeskStateStore;
  readonly link: DeskLink;
  readonly budget = new Budget(DESK_MESSAGES_PER_S, DESK_BURST);
  /** Newest value per action, or per action and numbers, that the budget held back. */
  readonly heldBack = new Map<number | string, HeldBack>();
  /** Controls that show or drive a value: surface and control in turn. Made anew with the context. */
  watchers = new Map<number, number[]>();
  address: string;

  constructor(compiled: CompiledDesk) {
    this.id = compiled.id;
    this.profileId = compiled.profile.id;
    this.store = new DeskStateStore(compiled);
    this.link = new DeskLink(compiled.profile);
    this.address = addressOf(compiled);
  }

  /** The page that is up, or null where the desk has not said. */
  pageUp(compiled: CompiledDesk): number | null {
    const page = compiled.page;
    if (!page || this.store.source[page.base] === UNKNOWN) return null;
    return this.store.number(page.base);
  }
}

export function addressOf(compiled: CompiledDesk): string {
  const { host, port, listenPort } = compiled.desk;
  return `${host} ${port} ${listenPort}`;
}
