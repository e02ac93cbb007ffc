/** A profile while it is edited: what is valid goes into the show at once, what is not yet says what is missing. */
import { useMemo, useState } from "react";
import type { Edit } from "../../core/edit/edit-kinds.ts";
import { applyEdit } from "../../core/edit/edits.ts";
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import type { Show } from "../../core/format/show.ts";
import type { SurfaceProfile } from "../../core/format/surface-profile.ts";
import { problemWords } from "../../words/problems.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { afterReturn, draftText, type SentDrafts } from "./sent-drafts.ts";

export interface Draft<P> {
  readonly draft: P;
  /** Why the show still runs with the profile as it was; empty = what is seen is what runs. */
  readonly problems: readonly string[];
  change(next: P): void;
}

const EDITS = { desk: "put-desk-profile", surface: "put-surface-profile" } as const;

interface Typed<P> {
  readonly draft: P;
  /** What was sent from here and has not come back. */
  readonly sent: SentDrafts;
  /** What is stored, as it was seen last. */
  readonly known: string;
}

function useDraft<P extends { id: string }>(side: "desk" | "surface", stored: P): Draft<P> {
  const actions = useActions();
  const show = useLive((l) => l.show);
  const shipped = useLive((l) => l.shipped);
  const text = useMemo(() => draftText(stored), [stored]);
  const [{ draft, sent, known }, set] = useState<Typed<P>>({ draft: stored, sent: [], known: text });
  // Undo, or another browser: what is stored now is what is shown. What comes back from here has been typed on since.
  if (text !== known) {
    const left = afterReturn(sent, text);
    set({ draft: left ? draft : stored, sent: left ?? [], known: text });
  }
  const problems = useMemo(() => faultsOf(show, editOf(side, draft), shipped), [show, shipped, side, draft]);
  return {
    draft,
    problems,
    change: (next) => {
      const edit = editOf(side, next);
      const said = faultsOf(show, edit, shipped).length > 0 ? null : draftText(next);
      set((now) => ({ ...now, draft: next, sent: said === null ? now.sent : [...now.sent, said] }));
      if (said === null) return;
      void actions.edit(edit).then((ok) => {
        if (!ok) set((now) => ({ ...now, sent: now.sent.filter((t) => t !== said) }));
      });
    },
  };
}

function editOf(side: "desk" | "surface", profile: object): Edit {
  return { kind: EDITS[side], profile } as Edit;
}

/** Faults in words, with their places as they are in the profile itself where they lie in it. */
function faultsOf(show: Show, edit: Edit, shipped: Parameters<typeof applyEdit>[2]): string[] {
  const result = applyEdit(show, edit, shipped);
  if (result.ok) return [];
  const profile = "profile" in edit ? edit.profile : undefined;
  return result.problems.map((p) =>
    p.path[0] === "profiles"
      ? problemWords({ ...p, path: p.path.slice(3) }, { document: profile })
      : problemWords(p, { document: show, profiles: shipped }),
  );
}

export function useDeskDraft(stored: DeskProfile): Draft<DeskProfile> {
  return useDraft("desk", stored);
}
export function useSurfaceDraft(stored: SurfaceProfile): Draft<SurfaceProfile> {
  return useDraft("surface", stored);
}

/** A list with one of its items changed, or without it. */
export function withItem<T>(list: readonly T[], at: number, item: T | null): T[] {
  return item === null ? list.filter((_, i) => i !== at) : list.map((x, i) => (i === at ? item : x));
}
