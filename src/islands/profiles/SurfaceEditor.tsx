import { useMemo } from "react";
import type { SurfaceProfile } from "../../core/format/surface-profile.ts";
import { useLive, usePage } from "../live/store.ts";
import { ControlBoard } from "./ControlBoard.tsx";
import { DisplayRows } from "./DisplayRows.tsx";
import { EditorFrame } from "./EditorFrame.tsx";
import { PaletteEditor } from "./PaletteEditor.tsx";
import { useSurfaceDraft } from "./profile-draft.ts";
import { SurfaceFields } from "./SurfaceFields.tsx";

/** The profile of a surface that is being edited, over everything else. */
export function SurfaceEditor() {
  const editing = usePage((s) => s.editing);
  const profile = useLive((l) =>
    editing?.side === "surface" ? l.show.profiles?.surfaces.find((p) => p.id === editing.id) : undefined,
  );
  return profile ? <Editor key={profile.id} stored={profile} /> : null;
}

function Editor({ stored }: { stored: SurfaceProfile }) {
  const { draft, problems, change } = useSurfaceDraft(stored);
  const surfaces = useLive((l) => l.show.surfaces);
  const users = useMemo(() => surfaces.filter((s) => s.profile === stored.id), [surfaces, stored.id]);
  const parts = { profile: draft, change, users };
  return (
    <EditorFrame
      side="surface"
      profile={draft}
      users={users.map((s) => s.name)}
      problems={problems}
      onRename={(name) => change({ ...draft, name })}
      tabs={[
        { id: "controls", name: "Controls", count: draft.controls.length, body: <ControlBoard {...parts} /> },
        { id: "colours", name: "Colours", count: draft.palettes.length, body: <PaletteEditor {...parts} /> },
        { id: "texts", name: "Texts", count: draft.displays?.length ?? 0, body: <DisplayRows {...parts} /> },
        { id: "about", name: "The whole", body: <SurfaceFields {...parts} /> },
      ]}
    />
  );
}
