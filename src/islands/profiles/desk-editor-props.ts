/** What every part of the desk editor is given. */
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import type { Desk } from "../../core/format/show.ts";

export interface DeskEditorProps {
  readonly profile: DeskProfile;
  change(next: DeskProfile): void;
  /** Desks of the show that are of this kind. */
  readonly users: readonly Desk[];
}

/** A grid of words and their fields. */
export const FIELDS =
  "grid max-w-[760px] grid-cols-[150px_minmax(0,1fr)] items-center gap-x-4 gap-y-2 text-small text-ink-500";
export const CARD = "grid gap-2 rounded-[10px] bg-velvet-850 px-3 py-2.5 text-small text-ink-500";
