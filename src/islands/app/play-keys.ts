/** The computer's keys as hands: in Run always, elsewhere while “keys play” is on, and never while something is typed. */
import { type PlayedKey, playedKeys } from "../../core/surface/computer-keys.ts";
import { isTyping } from "../components/typing.ts";
import type { PageActions } from "../live/actions.ts";
import type { PageStore } from "../live/store.ts";
import { PLACES, type Place } from "./places.ts";

/** What Space and Enter press themselves where the focus is on it. */
const PRESSED_BY_KEYS = 'button,a,[role="tab"],[role="switch"],[role="slider"],[role="option"]';

export interface KeyHands {
  /** True where the key played. */
  down(e: KeyboardEvent, place: Place): boolean;
  up(e: KeyboardEvent): void;
  /** The window lost the focus, or the page is left: no key that is down will be heard coming up. */
  letGo(): void;
}

export function keyHands(store: PageStore, send: PageActions["send"]): KeyHands {
  const held = new Map<string, PlayedKey>();
  let known: { of: unknown; keys: ReadonlyMap<string, PlayedKey> } = { of: null, keys: new Map() };
  const keys = () => {
    const { surfaces } = store.getState().live.compiled;
    if (known.of !== surfaces) known = { of: surfaces, keys: playedKeys(surfaces) };
    return known.keys;
  };
  const say = (key: PlayedKey, bytes: Uint8Array) => {
    if (bytes.length > 0) send({ kind: "screen-midi", surface: key.surface, bytes: [...bytes] });
  };
  const release = (code: string) => {
    const key = held.get(code);
    held.delete(code);
    if (key?.up) say(key, key.up);
  };
  return {
    down(e, place) {
      const { keysPlay, paletteOpen, partsOpen, helpOpen } = store.getState();
      if (e.ctrlKey || e.metaKey || e.altKey || paletteOpen || partsOpen || helpOpen) return false;
      if ((!PLACES[place].locked && !keysPlay) || isTyping(e.target)) return false;
      const key = keys().get(e.code);
      if (!key) return false;
      const focus = e.target instanceof Element ? e.target.closest(PRESSED_BY_KEYS) : null;
      if ((e.code === "Space" || e.code === "Enter") && focus) return false;
      // A pair turns on while it is held, as the system repeats it.
      if (e.repeat && key.up) return true;
      if (key.up) {
        if (held.has(e.code)) return true;
        held.set(e.code, key);
      }
      say(key, key.down);
      return true;
    },
    up: (e) => release(e.code),
    letGo() {
      for (const code of [...held.keys()]) release(code);
    },
  };
}
