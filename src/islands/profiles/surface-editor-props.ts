/** What every part of the surface editor is given. */
import type { Surface } from "../../core/format/show.ts";
import type { SurfaceProfile } from "../../core/format/surface-profile.ts";

export interface SurfaceEditorProps {
  readonly profile: SurfaceProfile;
  change(next: SurfaceProfile): void;
  /** Surfaces of the show that are of this kind. */
  readonly users: readonly Surface[];
}
