/** What Learn hears, and the control it takes. */
import { parseHexBytes } from "../../core/midi/hex.ts";
import { type HeardMessage, learn } from "../../core/surface/learn.ts";
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import type { PageActions } from "../live/actions.ts";
import { controlOf } from "../live/learned.ts";
import type { PageStore } from "../live/store.ts";

/** How long Learn listens after the first message, in ms: long enough to tell a fader from its neighbour. */
const LEARN_WINDOW_MS = 600;

/** The window of messages that Learn judges (rule 5). */
export class LearnWindow {
  readonly #store: PageStore;
  readonly #actions: PageActions;
  #heard: HeardMessage[] = [];
  #lastSeq = 0;
  /** Messages before this, by the engine's clock, were on their way when Learn began. */
  readonly #fromMs: number;
  #timer: ReturnType<typeof setTimeout> | null = null;

  /** `fromMs`: when it began, by the engine's clock. */
  constructor(store: PageStore, actions: PageActions, fromMs: number) {
    this.#store = store;
    this.#actions = actions;
    this.#fromMs = fromMs;
  }

  end(): void {
    if (this.#timer) clearTimeout(this.#timer);
    this.#timer = null;
  }

  heard(line: readonly TrafficEntry[]): void {
    for (const row of line) {
      if (row.seq <= this.#lastSeq || row.out || row.side !== "surface") continue;
      this.#lastSeq = row.seq;
      if (row.atMs < this.#fromMs) continue;
      const bytes = parseHexBytes(row.hex);
      if (bytes && bytes.length > 0) this.#heard.push({ source: row.device, atMs: row.atMs, bytes });
    }
    if (this.#heard.length > 0) this.#timer ??= setTimeout(() => this.#judge(), LEARN_WINDOW_MS);
  }

  #judge(): void {
    this.end();
    const { live, learning, ignored, ignoredSources } = this.#store.getState();
    if (!learning) return;
    const found = learn(this.#heard, { controls: ignored, sources: ignoredSources });
    const best = found.best ? controlOf(live.compiled, found.best) : null;
    this.#store.setState({ learned: { ...found, known: best !== null } });
    if (!best) {
      // Goes on listening: what came is no control of any surface, and the screen says what it was.
      this.#heard = [];
      return;
    }
    this.#actions.choose(best.surface, best.control);
    requestAnimationFrame(() => document.getElementById("function-search")?.focus());
  }
}
