/** The house's profile with the ranges this show gives it: as many layers, banks, variables and groups as there are. */
import type { DeskProfile } from "../format/desk-profile.ts";
import type { Show } from "../format/show.ts";

export function houseProfile(profile: DeskProfile, show: Show): DeskProfile {
  const counts: Record<string, number> = {
    layer: show.layers.length,
    bank: show.banks?.length ?? 0,
    variable: show.variables?.length ?? 0,
    group: show.groups?.length ?? 0,
  };
  return {
    ...profile,
    // A range that ends below its start has no number: whoever names one is told so.
    parameters: profile.parameters.map((p) => (counts[p.id] === undefined ? p : { ...p, to: counts[p.id]! })),
  };
}
