/** Own profiles of a show arrive as new objects with every edit; those that say the same stay the same objects. */
import type { Show } from "../core/format/show.ts";

export class SameProfiles {
  readonly #known = new Map<string, { text: string; profile: object }>();

  /** The show with the objects of before for every profile that has not changed: what is known by them then stays. */
  of(show: Show): Show {
    const { profiles } = show;
    if (!profiles) return show;
    const same = <P extends { id: string }>(side: string, list: readonly P[]): P[] =>
      list.map((profile) => {
        const key = `${side} ${profile.id}`;
        const known = this.#known.get(key);
        if (known?.profile === profile) return profile; // an edit of something else left it as it was
        const text = JSON.stringify(profile);
        if (known?.text === text) return known.profile as P;
        this.#known.set(key, { text, profile });
        return profile;
      });
    const now = { surfaces: same("s", profiles.surfaces), desks: same("d", profiles.desks) };
    const isSame = [...now.surfaces, ...now.desks].every((p, i) => p === [...profiles.surfaces, ...profiles.desks][i]);
    return isSame ? show : { ...show, profiles: now };
  }
}
