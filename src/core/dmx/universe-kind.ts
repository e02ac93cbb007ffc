/** A kind of surface for a universe of which only its levels are known: a fader for each channel (slots-as-midi.ts). */
import { emptySurfaceKind } from "../format/empty-surface.ts";
import type { Control, SurfaceProfile } from "../format/surface-profile.ts";

/** Faders in a row, and the most that are made, or made where nothing has moved yet. */
const ROW = 16;
const MOST = 64;
const UNMOVED = 12;
/** Controllers of a MIDI channel that have 14 bits. */
const CONTROLLERS = 32;
const HEIGHT = 2;

/** `slots`: those that moved, counted from 1; the others have no fader. */
export function universeKind(id: string, name: string, slots: readonly number[]): SurfaceProfile {
  const shown = slots.length > 0 ? slots.slice(0, MOST) : Array.from({ length: UNMOVED }, (_, i) => i + 1);
  const rows = Math.ceil(shown.length / ROW);
  return {
    ...emptySurfaceKind(id, name, { width: Math.min(ROW, shown.length), height: rows * HEIGHT }),
    controls: shown.map((slot, i): Control => {
      const at = slot - 1;
      return {
        id: `channel-${slot}`,
        name: `Channel ${slot}`,
        kind: "fader",
        behaviour: "absolute",
        box: { x: i % ROW, y: Math.floor(i / ROW) * HEIGHT, width: 1, height: HEIGHT },
        sends: { kind: "controller-14", channel: Math.floor(at / CONTROLLERS) + 1, number: at % CONTROLLERS },
      };
    }),
  };
}
