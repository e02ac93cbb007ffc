/**
 * How the engine comes to the show: whole, by what an edit changed, or ready for it already. Loads are counted, so that what
 * the engine tells can be told by the show it was made under, and an edit reaches only the show that it was made for.
 */
import type { Patch } from "immer";
import type { Show } from "../core/format/show.ts";
import { isOfFewMappings } from "../core/mapping/recompile.ts";
import type { Carried } from "../core/translate/taking-over.ts";
import type { ToEngine } from "../engine/messages.ts";

type Whole = Extract<ToEngine, { kind: "load" }>;
type Warm = Extract<ToEngine, { kind: "warm" }>;

export interface LoadsEvents {
  send(message: ToEngine): void;
  /** The show that runs now, as far as the server is concerned. */
  show(): Show;
  revision(): number;
  passwords(): Readonly<Record<string, string>>;
  profiles(): NonNullable<Whole["profiles"]>;
  /** The spare gets ready for the newest load and takes over with it; false = there is none that could. */
  handOver(): boolean;
  isHandingOver(): boolean;
  /** A load is about to be sent. */
  begins(load: number, show: Show): void;
}

/** From so many mappings on, a show takes so long to compile that hands would feel it. */
const LARGE = 1000;
/** Revisions that are remembered by their loads. */
const MOST_REVISIONS = 64;

export class EngineLoads {
  readonly #events: LoadsEvents;
  #newest = 0;
  #loaded = 0;
  #revisions = new Map<number, number>();
  #ranRevision: number | null = null;
  /** Whether the engine has, or will have, the show of the newest load, so that what changes is enough for it. */
  #follows = false;
  /** How many mappings the show had before it was changed last. */
  #mappings = 0;

  constructor(events: LoadsEvents) {
    this.#events = events;
  }

  /** Revision of the newest show that an engine has loaded; null = none has. */
  get ranRevision(): number | null {
    return this.#ranRevision;
  }

  /** Another of the stored shows is open: the revisions that ran are not of this one. */
  anotherShow(): void {
    this.#ranRevision = null;
    this.#revisions.clear();
  }

  /** What a spare gets ready with. */
  warm(): Warm {
    return { kind: "warm", load: this.#newest, show: this.#events.show(), profiles: this.#events.profiles() };
  }

  /** The show was changed; `patches`: what leads from the one before to this one, null = it is another one. */
  changed(patches: readonly Patch[] | null): void {
    if (this.#handsOver(patches)) return;
    if (patches && this.#follows) {
      const load = this.#next();
      this.#events.send({ kind: "patch", from: load - 1, load, patches, passwords: this.#events.passwords() });
    } else this.#whole(false, null);
  }

  /** The spare did not get ready in time, or at all: the engine is given the whole. */
  notHandedOver(): void {
    this.#whole(false, null);
  }

  /** A large show is put in by a spare, while the engine goes on with the one before: nobody at the surfaces waits for it. */
  #handsOver(patches: readonly Patch[] | null): boolean {
    const mappings = this.#events.show().mappings.length;
    const isLarge = Math.max(this.#mappings, mappings) >= LARGE;
    this.#mappings = mappings;
    const isWhole = patches === null || !isOfFewMappings(patches.map(({ path }) => path));
    if (!this.#events.isHandingOver() && !(isLarge && isWhole)) return false;
    this.#follows = false;
    this.#newest++; // the spare gets ready for this one
    return this.#events.handOver();
  }

  /** A new engine is to have the show. `warmed`: the load that it was made ready with as a spare, -1 = none. */
  started(warmed: number, carried: Carried | null): void {
    if (warmed < 0 || warmed !== this.#newest) {
      this.#whole(true, carried);
      return;
    }
    const load = this.#next();
    this.#follows = true;
    const passwords = this.#events.passwords();
    this.#events.send({ kind: "load-warm", from: warmed, load, passwords, ...(carried ? { carried } : {}) });
  }

  /** An engine has loaded this one. */
  loaded(load: number): void {
    this.#loaded = load;
    this.#ranRevision = this.#revisions.get(load) ?? this.#ranRevision;
  }

  /** It is gone, and the next one is given the whole. */
  died(): void {
    this.#follows = false;
  }

  /**
   * The engine failed and goes on from what it knew. Answers whether that is the show of before, because this one made it
   * fail. Edits that were under way behind that one did not reach it: they go to it as a whole.
   */
  recovered(): boolean {
    this.#follows = false;
    const isBehind = this.#loaded !== this.#newest;
    if (isBehind && this.#newest > this.#loaded + 1) this.#whole(false, null);
    return isBehind;
  }

  #whole(withProfiles: boolean, carried: Carried | null): void {
    const load = this.#next();
    this.#follows = true;
    this.#events.send({
      kind: "load",
      show: this.#events.show(),
      ...(withProfiles ? { profiles: this.#events.profiles() } : {}),
      load,
      passwords: this.#events.passwords(),
      ...(carried ? { carried } : {}),
    });
  }

  #next(): number {
    const load = ++this.#newest;
    this.#revisions = new Map([...this.#revisions, [load, this.#events.revision()] as const].slice(-MOST_REVISIONS));
    this.#events.begins(load, this.#events.show());
    return load;
  }
}
