/** What every part of the surface editor is given. */
import type { Surface } from "../../core/show/show.ts";
import type { SurfaceProfile } from "../../core/show/surface-profile.ts";

export interface SurfaceParts {
  readonly profile: SurfaceProfile;
  change(next: SurfaceProfile): void;
  /** Surfaces of the show that are of this kind. */
  readonly users: readonly Surface[];
}
