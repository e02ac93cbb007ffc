/** From a desk's colour to the nearest the surface has, and from the value on the wire back to a colour. */
import { converter, differenceEuclidean, modeOklab, modeRgb, parseHex, useMode } from "culori/fn";
import type { Palette, PaletteColour } from "../format/surface-profile.ts";

// biome-ignore lint/correctness/useHookAtTopLevel: culori's way to load a colour space; nothing of React
useMode(modeRgb);
// biome-ignore lint/correctness/useHookAtTopLevel: as above
useMode(modeOklab);
const toOklab = converter("oklab");
const distance = differenceEuclidean("oklab");

/** How a light shows its colour. */
export type LightMode = "off" | "dim" | "full" | "pulse";

export interface Light {
  readonly mode: LightMode;
  /** "#rrggbb"; for mode "off" the empty string. */
  readonly colour: string;
}

export const DARK: Light = { mode: "off", colour: "" };

/** The palette's colour with the smallest perceptual distance (Euclidean in Oklab). The first of equals wins. */
export function nearestColour(palette: Palette, colour: string): PaletteColour {
  const wanted = oklab(colour);
  let best = palette.colours[0]!;
  let bestDistance = Number.POSITIVE_INFINITY;
  for (const candidate of palette.colours) {
    const d = wanted ? distance(wanted, oklab(candidate.colour)!) : Number.POSITIVE_INFINITY;
    if (d < bestDistance) {
      best = candidate;
      bestDistance = d;
    }
  }
  return best;
}

function oklab(colour: string) {
  const rgb = parseHex(colour.slice(0, 7));
  return rgb ? toOklab({ ...rgb, mode: "rgb" }) : undefined;
}

/** The value 0..127 that shows a colour in a mode. */
export function lightValue(palette: Palette, mode: LightMode, colour: string): number {
  return mode === "off" ? palette.off : nearestColour(palette, colour)[mode];
}

/** What a value on the wire looks like; a value the palette does not know is dark. */
export function lightOf(palette: Palette, value: number): Light {
  for (const c of palette.colours) {
    if (value === palette.off) return DARK;
    if (value === c.full) return { mode: "full", colour: c.colour };
    if (value === c.dim) return { mode: "dim", colour: c.colour };
    if (value === c.pulse) return { mode: "pulse", colour: c.colour };
  }
  return DARK;
}
