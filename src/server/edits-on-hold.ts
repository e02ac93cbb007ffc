/**
 * Edits that wait: the show is edited and stored as always, and what runs is as it was, until somebody has them put in, at once
 * or as soon as nobody has a hand on anything. They outlive the server: what ran is kept in a file beside the database.
 */
import { existsSync, readFileSync, renameSync, rmSync, writeFileSync } from "node:fs";
import type { Patch } from "immer";
import { cannotWait } from "../core/edit/may-wait.ts";
import { readShow } from "../core/edit/read.ts";
import type { Problem } from "../core/format/problem.ts";
import type { Profiles } from "../core/format/profiles.ts";
import type { Show } from "../core/format/show.ts";
import { showJson } from "../core/format/show-json.ts";
import type { OnHold } from "../core/live/on-hold.ts";

/** So long no hand moves anything, and nothing is held, before it counts as quiet, in ms. */
export const QUIET_MS = 3000;
const LOOK_EVERY_MS = 250;
const VERSION = 1;

interface Held {
  readonly show: number;
  readonly revision: number;
  readonly running: Show;
  readonly sinceMs: number;
  edits: number;
  /** What leads from the show that runs to the one that is edited; null = the whole is needed. */
  patches: Patch[] | null;
  waitsForQuiet: boolean;
}

export interface HoldSurroundings {
  readonly file: string;
  readonly profiles: Profiles;
  nowMs(): number;
  /** How often hands were at anything. */
  handMoves(): number;
  /** Whether a hand holds anything. */
  isAnythingHeld(): boolean;
  /** It has become quiet: they are to be put in. */
  quiet(): void;
  /** What runs cannot be kept for another start of the server. */
  notKept(error: Error): void;
}

export class EditsOnHold {
  readonly #around: HoldSurroundings;
  #held: Held | null = null;
  /** How often hands were at anything, and since when it has been so often. */
  #hands = { moves: 0, sinceMs: 0 };
  #looking: NodeJS.Timeout | null = null;

  constructor(around: HoldSurroundings) {
    this.#around = around;
  }

  /** Goes on where another run of the server had edits on hold. */
  goOn(show: number, revision: number, edited: Show): void {
    const { file, profiles } = this.#around;
    if (!existsSync(file)) return;
    const kept = readKept(file, profiles);
    if (!kept || kept.show !== show || cannotWait(kept.running, edited) !== null) {
      rmSync(file, { force: true });
      return;
    }
    const edits = Math.max(1, Math.abs(revision - kept.revision));
    this.#held = { ...kept, edits: revision === kept.revision ? 0 : edits, patches: null, waitsForQuiet: false };
  }

  /** The show that runs, and its revision; null = it is the one that is edited. */
  get running(): { readonly show: Show; readonly revision: number } | null {
    return this.#held && { show: this.#held.running, revision: this.#held.revision };
  }

  /** For the pages. */
  get told(): OnHold | null {
    if (!this.#held) return null;
    const { edits, sinceMs, waitsForQuiet } = this.#held;
    return { edits, sinceMs, waitsForQuiet };
  }

  begin(show: number, revision: number, running: Show): void {
    if (this.#held) return;
    const sinceMs = this.#around.nowMs();
    this.#held = { show, revision, running, sinceMs, edits: 0, patches: [], waitsForQuiet: false };
    const { file, notKept } = this.#around;
    try {
      const text = `{"version":${VERSION},"show":${show},"revision":${revision},"sinceMs":${sinceMs},"running":${showJson(running)}}`;
      writeFileSync(`${file}.new`, text, { mode: 0o600 });
      renameSync(`${file}.new`, file); // it is there whole, or not at all
    } catch (error) {
      notKept(error as Error);
    }
  }

  /** Whether the show may become this one; null = another show altogether. */
  allows(edited: Show | null): Problem[] {
    if (!this.#held) return [];
    if (edited === null) return [{ code: "edits-on-hold", path: [], what: "show" }];
    const what = cannotWait(this.#held.running, edited);
    return what === null ? [] : [{ code: "edits-on-hold", path: [], what }];
  }

  /** Something was edited. */
  edited(patches: readonly Patch[] | null): void {
    if (!this.#held) return;
    this.#held.edits++;
    this.#held.patches = patches && this.#held.patches ? [...this.#held.patches, ...patches] : null;
  }

  /** They go in as soon as it is quiet, or, with `on` false, not by themselves. */
  waitForQuiet(on: boolean): void {
    if (!this.#held) return;
    this.#held.waitsForQuiet = on;
    this.#stopLooking();
    this.#hands = { moves: this.#around.handMoves(), sinceMs: this.#around.nowMs() };
    if (on) this.#looking = setInterval(() => this.#look(), LOOK_EVERY_MS);
  }

  /** What leads from the show that ran to the one that is edited; null = the whole is needed. */
  end(): readonly Patch[] | null {
    this.#stopLooking();
    const patches = this.#held?.patches ?? null;
    this.#held = null;
    rmSync(this.#around.file, { force: true });
    return patches;
  }

  /** The server stops; what waits goes on waiting. */
  close(): void {
    this.#stopLooking();
  }

  #look(): void {
    const { nowMs, handMoves, isAnythingHeld, quiet } = this.#around;
    // What desks say moves no hand: a fade of an hour is quiet too.
    if (handMoves() !== this.#hands.moves || isAnythingHeld()) this.#hands = { moves: handMoves(), sinceMs: nowMs() };
    else if (nowMs() - this.#hands.sinceMs >= QUIET_MS) quiet();
  }

  #stopLooking(): void {
    if (this.#looking) clearInterval(this.#looking);
    this.#looking = null;
  }
}

function readKept(file: string, profiles: Profiles) {
  try {
    const { version, show, revision, sinceMs, running } = JSON.parse(readFileSync(file, "utf8"));
    const read = readShow(running, profiles);
    const areNumbers = [show, revision, sinceMs].every((n) => Number.isFinite(n));
    if (version !== VERSION || !areNumbers || !read.ok) return null;
    return { show: Number(show), revision: Number(revision), sinceMs: Number(sinceMs), running: read.value };
  } catch {
    return null;
  }
}
