/** The names that people gave to controls of one surface, in the place of those of its kind. */
import type { Surface } from "../format/show.ts";
import type { SurfaceProfile } from "../format/surface-profile.ts";

export function withOwnNames(profile: SurfaceProfile, { controls: own }: Pick<Surface, "controls">): SurfaceProfile {
  if (!own) return profile;
  return { ...profile, controls: profile.controls.map((c) => ({ ...c, name: own[c.id]?.name ?? c.name })) };
}
