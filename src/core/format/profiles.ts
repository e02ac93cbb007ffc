/** The kinds of surfaces and desks at hand, by their ids: those that ship, and a show's own. */
import type { DeskProfile } from "./desk-profile.ts";
import type { Show } from "./show.ts";
import type { SurfaceProfile } from "./surface-profile.ts";

export interface Profiles {
  readonly surfaces: ReadonlyMap<string, SurfaceProfile>;
  readonly desks: ReadonlyMap<string, DeskProfile>;
}

export function profilesOf(surfaces: readonly SurfaceProfile[], desks: readonly DeskProfile[]): Profiles {
  return { surfaces: new Map(surfaces.map((p) => [p.id, p])), desks: new Map(desks.map((p) => [p.id, p])) };
}

/** The profiles at hand for a show: those given, and its own beside them. */
export function profilesWith(given: Profiles, { profiles }: Pick<Show, "profiles">): Profiles {
  if (!profiles) return given;
  return {
    surfaces: new Map([...given.surfaces, ...profiles.surfaces.map((p) => [p.id, p] as const)]),
    desks: new Map([...given.desks, ...profiles.desks.map((p) => [p.id, p] as const)]),
  };
}
