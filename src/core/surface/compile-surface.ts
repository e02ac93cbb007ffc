/** A surface profile as look-up tables: from the bytes a control sends to the control, and back to its light. */

import type { Surface } from "../show/show.ts";
import type { Control, Palette, SurfaceProfile } from "../show/surface-profile.ts";

/** Channel and number in one index, 0..2047. */
export const CHANNEL_NUMBERS = 16 * 128;

export interface CompiledSurface {
  readonly id: string;
  readonly surface: Surface;
  readonly profile: SurfaceProfile;
  /** The number of this surface's first control among all controls of the show. */
  readonly firstControl: number;
  /** From (channel - 1) * 128 + number to the control's own index in this surface; -1 = none. */
  readonly noteTo: Int16Array;
  readonly controllerTo: Int16Array;
  /** From channel - 1. */
  readonly bendTo: Int16Array;
  /** Per control: status byte and number of its light, and its palette; status 0 = no light. */
  readonly lightStatus: Uint8Array;
  readonly lightNumber: Uint8Array;
  readonly lightPalette: readonly (Palette | null)[];
  readonly indexOf: ReadonlyMap<string, number>;
  /** Per control: SPRINGS_BACK, LATCHES or ABSOLUTE. */
  readonly behaviour: Uint8Array;
}

export const SPRINGS_BACK = 0;
export const LATCHES = 1;
export const ABSOLUTE = 2;
const BEHAVIOURS = { "springs-back": SPRINGS_BACK, latches: LATCHES, absolute: ABSOLUTE } as const;

export function compileSurface(surface: Surface, profile: SurfaceProfile, firstControl: number): CompiledSurface {
  const noteTo = new Int16Array(CHANNEL_NUMBERS).fill(-1);
  const controllerTo = new Int16Array(CHANNEL_NUMBERS).fill(-1);
  const bendTo = new Int16Array(16).fill(-1);
  const count = profile.controls.length;
  const lightStatus = new Uint8Array(count);
  const lightNumber = new Uint8Array(count);
  const lightPalette: (Palette | null)[] = new Array<Palette | null>(count).fill(null);
  const palettes = new Map(profile.palettes.map((p) => [p.id, p]));
  const indexOf = new Map<string, number>();

  profile.controls.forEach((control, i) => {
    indexOf.set(control.id, i);
    place(control, i);
    if (!control.light) return;
    lightStatus[i] = (control.light.kind === "note" ? 0x90 : 0xb0) | (control.light.channel - 1);
    lightNumber[i] = control.light.number;
    lightPalette[i] = palettes.get(control.light.palette) ?? null;
  });

  function place(control: Control, i: number): void {
    const sends = control.sends;
    switch (sends.kind) {
      case "note":
        noteTo[(sends.channel - 1) * 128 + sends.number] = i;
        return;
      case "controller":
        controllerTo[(sends.channel - 1) * 128 + sends.number] = i;
        return;
      case "bend":
        bendTo[sends.channel - 1] = i;
        return;
      default:
        sends satisfies never;
    }
  }

  return {
    id: surface.id,
    surface,
    profile,
    firstControl,
    noteTo,
    controllerTo,
    bendTo,
    lightStatus,
    lightNumber,
    lightPalette,
    indexOf,
    behaviour: Uint8Array.from(profile.controls, (c) => BEHAVIOURS[c.behaviour]),
  };
}
