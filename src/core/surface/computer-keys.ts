/** The keys of a computer as hands on surfaces that are drawn on the screen: which key plays which control. */
import type { CompiledSurface } from "./compile-surface.ts";
import { pressBytes, turnBytes } from "./press-bytes.ts";

/** What a key does: it presses a control, or turns an endless one by a step. */
export interface PlayedKey {
  readonly surface: string;
  readonly control: string;
  /** Sent when it goes down. */
  readonly down: Uint8Array;
  /** Sent when it comes up; null = nothing, and it repeats while it is held. */
  readonly up: Uint8Array | null;
}

/**
 * The keys that play, by their position on the keyboard as browsers name it (UI Events, "code"). Where two surfaces have the
 * same key, the first one wins.
 */
export function playedKeys(surfaces: readonly CompiledSurface[]): Map<string, PlayedKey> {
  const keys = new Map<string, PlayedKey>();
  const add = (code: string, key: PlayedKey) => {
    if (!keys.has(code)) keys.set(code, key);
  };
  for (const { id: surface, surface: own, profile } of surfaces) {
    if (own.in.kind !== "screen") continue;
    for (const c of profile.controls) {
      const [first, second] = c.keys ?? [];
      if (first === undefined) continue;
      if (second === undefined)
        add(first, { surface, control: c.id, down: pressBytes(c, true), up: pressBytes(c, false) });
      else {
        add(first, { surface, control: c.id, down: turnBytes(c, -1), up: null });
        add(second, { surface, control: c.id, down: turnBytes(c, 1), up: null });
      }
    }
  }
  return keys;
}

const ARROWS: Record<string, string> = { ArrowUp: "↑", ArrowDown: "↓", ArrowLeft: "←", ArrowRight: "→" };

/** What stands on the key, e.g. "Q" for "KeyQ". */
export function keyWord(code: string): string {
  return ARROWS[code] ?? code.replace(/^(Key|Digit)(?=.$)/, "");
}
