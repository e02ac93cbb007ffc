/** What Learn found, and which control of the show it is. */
import type { CompiledShow } from "../../core/mapping/compile.ts";
import type { LearnCandidate, Learned } from "../../core/surface/learn.ts";
import { sameControl } from "../../core/surface/learnt-control.ts";

export interface LearnedNow extends Learned {
  /** True where the best candidate is a control of its surface's profile. */
  readonly known: boolean;
}

/** The control of a surface that sends what Learn found. */
export function controlOf(compiled: CompiledShow, found: LearnCandidate): { surface: string; control: string } | null {
  const surface = compiled.surfaces.find((s) => s.id === found.source);
  const control = surface && sameControl(surface.profile, found.sends);
  return surface && control ? { surface: surface.id, control: control.id } : null;
}
