/** The lights of a surface of which nothing is known yet. */
import type { Palette } from "../format/surface-profile.ts";

/**
 * One colour, by the value back to the message that the control sends: 127 lights it, 0 darkens it. A lamp that knows only
 * these two must not shine for what is off, nor for a desk that does not answer.
 */
export function firstPalette(id: string): Palette {
  return { id, off: 0, colours: [{ name: "lit", colour: "#f4edf1", dim: 0, full: 127, pulse: 0 }] };
}
