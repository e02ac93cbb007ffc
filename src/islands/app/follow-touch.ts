/** "Go where I touch" and Learn: the control that hands move, anywhere, becomes the chosen one. */

import { parseHexBytes } from "../../core/midi/hex.ts";
import { type HeardMessage, learn } from "../../core/surface/learn.ts";
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import type { PageActions } from "../live/actions.ts";
import type { LiveState } from "../live/apply-changes.ts";
import { controlOf } from "../live/learned.ts";
import type { PageState, PageStore } from "../live/store.ts";

/** How long Learn listens after the first message, in ms: long enough to tell a fader from its neighbour. */
const LEARN_WINDOW_MS = 600;

/** Starts following; answers how to stop. */
export function followTouch(store: PageStore, actions: PageActions): () => void {
  const window = new LearnWindow(store, actions);
  const stop = store.subscribe((state, before) => {
    if (state.live.atMs !== before.live.atMs) window.told(state.live.atMs);
    if (state.learning !== before.learning) window.begin(state);
    if (state.learning) {
      if (state.live.line !== before.live.line) window.heard(state.live.line);
      return;
    }
    if (!state.followTouch) return;
    if (state.live.controls === before.live.controls || state.live.show !== before.live.show) return;
    const touched = touchedControl(before.live, state.live);
    if (!touched || (state.chosen?.surface === touched.surface && state.chosen.control === touched.control)) return;
    actions.choose(touched.surface, touched.control);
  });
  return () => {
    window.end();
    stop();
  };
}

/** The window of messages that Learn judges (rule 5). */
class LearnWindow {
  readonly #store: PageStore;
  readonly #actions: PageActions;
  #heard: HeardMessage[] = [];
  #lastSeq = 0;
  /** The engine's clock when it was told last, and the page's own at that moment, in ms. */
  #told = { atMs: 0, hereMs: 0 };
  /** Messages before this, by the engine's clock, were on their way when Learn began. */
  #fromMs = 0;
  #timer: ReturnType<typeof setTimeout> | null = null;

  constructor(store: PageStore, actions: PageActions) {
    this.#store = store;
    this.#actions = actions;
  }

  begin(state: PageState): void {
    this.end();
    this.#heard = [];
    this.#lastSeq = state.live.line.at(-1)?.seq ?? 0;
    this.#fromMs = this.#engineNowMs();
  }

  // What is told late makes the clock look slow; the fastest message knows best.
  told(atMs: number): void {
    if (atMs > this.#engineNowMs()) this.#told = { atMs, hereMs: performance.now() };
  }

  #engineNowMs(): number {
    return this.#told.atMs + performance.now() - this.#told.hereMs;
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

/** The first control that was pressed or moved between two states; levels the desk changed do not count. */
export function touchedControl(before: LiveState, now: LiveState): { surface: string; control: string } | null {
  for (const surface of now.compiled.surfaces) {
    const old = before.controls[surface.id];
    const fresh = now.controls[surface.id];
    if (!fresh || old === fresh) continue;
    for (let i = 0; i < fresh.length; i++) {
      const a = old?.[i];
      const b = fresh[i];
      if (!b || a === b) continue;
      const pressed = b.pressed && !a?.pressed;
      const moved = b.position >= 0 && b.position !== (a?.position ?? -1);
      if (pressed || moved) return { surface: surface.id, control: surface.profile.controls[i]!.id };
    }
  }
  return null;
}
