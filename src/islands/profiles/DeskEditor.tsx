import { useMemo } from "react";
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import { useLive, usePage } from "../live/store.ts";
import { AboutFields } from "./AboutFields.tsx";
import { EditorFrame } from "./EditorFrame.tsx";
import { FunctionEditor } from "./FunctionEditor.tsx";
import { ListenPanel } from "./ListenPanel.tsx";
import { ParameterRows } from "./ParameterRows.tsx";
import { useDeskDraft } from "./profile-draft.ts";
import { StateRows } from "./StateRows.tsx";
import { UpkeepFields } from "./UpkeepFields.tsx";

/** The profile of a desk that is being edited, over everything else. */
export function DeskEditor() {
  const editing = usePage((s) => s.editing);
  const profile = useLive((l) =>
    editing?.side === "desk" ? l.show.profiles?.desks.find((p) => p.id === editing.id) : undefined,
  );
  return profile ? <Editor key={profile.id} stored={profile} /> : null;
}

function Editor({ stored }: { stored: DeskProfile }) {
  const { draft, problems, change } = useDeskDraft(stored);
  const desks = useLive((l) => l.show.desks);
  const users = useMemo(() => desks.filter((d) => d.profile === stored.id), [desks, stored.id]);
  const parts = { profile: draft, change, users };
  return (
    <EditorFrame
      side="desk"
      profile={draft}
      users={users.map((d) => d.name)}
      problems={problems}
      onRename={(name) => change({ ...draft, name })}
      tabs={[
        { id: "about", name: "What it is", body: <AboutFields {...parts} /> },
        { id: "listen", name: "Listen", body: <ListenPanel {...parts} /> },
        { id: "functions", name: "What it does", count: draft.functions.length, body: <FunctionEditor {...parts} /> },
        { id: "states", name: "What it tells", count: draft.states.length, body: <StateRows {...parts} /> },
        {
          id: "parameters",
          name: "What it counts",
          count: draft.parameters.length,
          body: <ParameterRows {...parts} />,
        },
        { id: "upkeep", name: "How to ask", body: <UpkeepFields {...parts} /> },
      ]}
    />
  );
}
