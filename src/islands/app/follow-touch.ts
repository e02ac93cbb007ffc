/** "Go where I touch" and Learn: the control that hands move, anywhere, becomes the chosen one. */

import type { PageActions } from "../live/actions.ts";
import type { LiveState } from "../live/apply-changes.ts";
import { joined } from "../live/many.ts";
import type { PageState, PageStore, Touch } from "../live/store.ts";
import type { LearnWindow } from "./learn-window.ts";

/** Starts following; answers how to stop. */
export function followTouch(store: PageStore, actions: PageActions): () => void {
  const clock = new EngineClock();
  let window: LearnWindow | null = null;
  const learn = async (state: PageState) => {
    window?.end();
    window = null;
    if (!state.learning) return;
    const fromMs = clock.nowMs();
    const { LearnWindow } = await import("./learn-window.ts");
    if (!store.getState().learning || window) return;
    window = new LearnWindow(store, actions, fromMs);
    window.heard(store.getState().live.line);
  };
  let seenMs = newestTouchMs(store.getState().live);
  const stop = store.subscribe((state, before) => {
    if (state.live.atMs !== before.live.atMs) clock.told(state.live.atMs);
    if (state.learning !== before.learning) void learn(state);
    const touched = state.live.controls === before.live.controls ? [] : touchedControls(state.live, seenMs);
    seenMs = touched.at(-1)?.atMs ?? seenMs;
    if (state.learning) {
      if (state.live.line !== before.live.line) window?.heard(state.live.line);
      return;
    }
    if (state.takesTouch) for (const touch of touched) state.takesTouch(touch);
    else if (state.followTouch || state.live.teaches) {
      // While hands teach, a touch joins those that were chosen together.
      if (state.many && state.live.teaches) {
        for (const { surface, control } of touched) {
          const page = store.getState();
          if (page.many?.surface === surface) store.setState({ many: joined(page, surface, control) });
        }
        return;
      }
      const last = touched.at(-1);
      if (!last || (state.chosen?.surface === last.surface && state.chosen.control === last.control)) return;
      actions.choose(last.surface, last.control);
    }
  });
  return () => {
    window?.end();
    stop();
  };
}

/** The engine's clock as this page knows it, in ms. */
class EngineClock {
  #atMs = 0;
  #hereMs = 0;

  // What is told late makes the clock look slow; the fastest message knows best.
  told(atMs: number): void {
    if (atMs <= this.nowMs()) return;
    this.#atMs = atMs;
    this.#hereMs = performance.now();
  }

  nowMs(): number {
    return this.#atMs + performance.now() - this.#hereMs;
  }
}

function newestTouchMs({ controls }: LiveState): number {
  let newest = -1;
  for (const list of Object.values(controls)) for (const c of list) newest = Math.max(newest, c?.handAtMs ?? -1);
  return newest;
}

/**
 * The controls that hands were at since then, in ms by the engine's clock, in their order: also those of a tap that was over
 * before it was told, and of a single click of an endless one. Levels that the desk changed do not count.
 */
export function touchedControls(now: LiveState, sinceMs: number): (Touch & { readonly atMs: number })[] {
  const touched = now.compiled.surfaces.flatMap(({ id, profile }) =>
    (now.controls[id] ?? []).flatMap((c, i) => {
      const control = profile.controls[i];
      return c && control && c.handAtMs > sinceMs ? [{ surface: id, control: control.id, atMs: c.handAtMs }] : [];
    }),
  );
  return touched.sort((a, b) => a.atMs - b.atMs);
}
