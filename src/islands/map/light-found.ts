/** What the light probe found, as edits of a kind of surface: it counts for all controls that are lit in the same way. Pure. */
import type { OneEdit } from "../../core/edit/edit-kinds.ts";
import { freeId } from "../../core/format/free-id.ts";
import type { Control, Palette, SurfaceProfile } from "../../core/format/surface-profile.ts";
import { firstPalette } from "../../core/surface/first-palette.ts";
import { lightOf } from "../../core/teach/board.ts";

export function withPalette(profile: SurfaceProfile): SurfaceProfile {
  return profile.palettes.length > 0 ? profile : { ...profile, palettes: [firstPalette("lit")] };
}

/** Controls that are lit in the same way, or not at all yet. */
export function alike({ controls }: SurfaceProfile, control: Control): Control[] {
  return controls.filter(
    (c) => c.sends.kind === control.sends.kind && c.behaviour !== "absolute" && c.behaviour !== "relative",
  );
}

export function setKind(
  { id }: SurfaceProfile,
  set: Extract<OneEdit, { kind: "change-surface-profile" }>["set"],
): OneEdit {
  return { kind: "change-surface-profile", id, set };
}

export function setLight({ id }: SurfaceProfile, control: Control, light: Control["light"] | null): OneEdit {
  return { kind: "change-control", profile: id, id: control.id, set: { light: light ?? null } };
}

/**
 * The first answer takes the place of what was only supposed; the next ones stand beside it. What sends other messages keeps
 * its own palette: a value may be a colour to a note and a brightness to a controller.
 */
export function litBy(
  profile: SurfaceProfile,
  control: Control,
  palette: Palette,
  { name, colour, value }: { name: string; colour: string; value: number },
): OneEdit[] {
  const own = alike(profile, control);
  const isShared = profile.controls.some((c) => c.light?.palette === palette.id && !own.includes(c));
  const isSupposed = JSON.stringify(palette.colours) === JSON.stringify(firstPalette(palette.id).colours);
  const found = { name, colour, dim: palette.off, full: value, pulse: palette.off };
  const others = isSupposed ? [] : palette.colours.filter((c) => c.name !== name && c.full !== value);
  const id = isShared ? freeId(palette.id, profile.palettes) : palette.id;
  const next = { ...palette, id, colours: [...others, found] };
  const palettes = profile.palettes.some((p) => p.id === id)
    ? profile.palettes.map((p) => (p.id === id ? next : p))
    : [...profile.palettes, next];
  return [
    setKind(profile, { palettes, lightsItself: false }),
    ...own.flatMap((c): OneEdit[] => {
      const light = c.light ?? lightOf({ ...profile, palettes: [next] }, c.sends);
      const isKnown = !light || c.light?.palette === id;
      return isKnown ? [] : [setLight(profile, c, { ...light, palette: id })];
    }),
  ];
}
