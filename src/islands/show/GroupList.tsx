import { DraftField } from "../components/DraftField.tsx";
import { textList } from "../components/ListField.tsx";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive, usePage } from "../live/store.ts";
import { PartRow, PartSection } from "./PartRow.tsx";

export function GroupList() {
  const show = useLive((l) => l.show);
  const surfaces = useLive((l) => l.compiled.surfaces);
  const chosen = usePage((s) => s.chosen);
  const actions = useActions();
  const surface = surfaces.find((s) => s.id === chosen?.surface) ?? surfaces[0];
  const first = surface?.profile.controls.find((c) => c.id === chosen?.control) ?? surface?.profile.controls[0];
  return (
    <PartSection
      about="Controls of one surface under one name: for layers that change only them, and to take them out of service together."
      add="Add a group"
      onAdd={
        surface && first
          ? () =>
              void actions.edit({
                kind: "put-group",
                item: {
                  id: newId("g"),
                  name: `Group ${(show.groups?.length ?? 0) + 1}`,
                  surface: surface.id,
                  controls: [first.id],
                },
              })
          : undefined
      }
    >
      {(show.groups ?? []).map((group) => {
        const own = surfaces.find((s) => s.id === group.surface);
        return (
          <PartRow
            key={group.id}
            list="groups"
            id={group.id}
            name={group.name}
            onRename={(name) => void actions.edit({ kind: "change-part", list: "groups", id: group.id, set: { name } })}
          >
            <span>{own?.surface.name}</span>
            <DraftField
              label={`Controls of ${group.name}`}
              title="Names of controls, with commas; “pad-1 to pad-8” for a run of them"
              className="w-[290px] font-mono"
              value={group.controls.join(", ")}
              onCommit={(text) =>
                void actions.edit({
                  kind: "change-part",
                  list: "groups",
                  id: group.id,
                  set: { controls: controlList(text) },
                })
              }
            />
          </PartRow>
        );
      })}
    </PartSection>
  );
}

/** "pad-1 to pad-3, shift" as names of controls. */
function controlList(text: string): string[] {
  return textList(text, ",").flatMap((part) => {
    const run = /^([a-z0-9.-]*?)(\d+)\s+to\s+\1(\d+)$/.exec(part);
    if (!run) return [part];
    const [from, to] = [Number(run[2]), Number(run[3])];
    return to < from || to - from > 1024
      ? [part]
      : Array.from({ length: to - from + 1 }, (_, i) => `${run[1]}${from + i}`);
  });
}
