import type { SurfaceProfile } from "./surface-profile.ts";
import { NEWEST, SURFACE_PROFILE_FORMAT } from "./versions.ts";

/** A kind of surface with no control yet; `size` in pads. */
export function emptySurfaceKind(id: string, name: string, size: SurfaceProfile["size"]): SurfaceProfile {
  return {
    format: SURFACE_PROFILE_FORMAT,
    version: NEWEST[SURFACE_PROFILE_FORMAT],
    id,
    name,
    about: "",
    size,
    lightsItself: false,
    controls: [],
    palettes: [],
  };
}
