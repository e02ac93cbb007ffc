/** "Go where I touch" and Learn: the control that hands move, anywhere, becomes the chosen one. */

import type { PageActions } from "../live/actions.ts";
import type { LiveState } from "../live/apply-changes.ts";
import type { PageStore } from "../live/store.ts";

/** Starts following; answers how to stop. */
export function followTouch(store: PageStore, actions: PageActions): () => void {
  return store.subscribe((state, before) => {
    if (!state.followTouch && !state.learning) return;
    if (state.live.controls === before.live.controls || state.live.show !== before.live.show) return;
    const touched = touchedControl(before.live, state.live);
    if (!touched) return;
    const { learning, chosen } = state;
    if (!learning && chosen?.surface === touched.surface && chosen.control === touched.control) return;
    actions.choose(touched.surface, touched.control);
    if (learning) requestAnimationFrame(() => document.getElementById("function-search")?.focus());
  });
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
