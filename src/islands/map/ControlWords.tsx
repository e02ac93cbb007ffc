/** What a control of this show is called, and what is to be remembered of it. */
import { DraftField } from "../components/DraftField.tsx";
import { Field } from "../components/Field.tsx";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import type { Choice } from "./choice.ts";

export function ControlWords({ choice: { surface, surfaceIndex, control } }: { choice: Choice }) {
  const actions = useActions();
  const own = useLive((l) => l.show.surfaces.find((s) => s.id === surface)?.controls?.[control.id]);
  const given = useLive(
    (l) => l.compiled.surfaces[surfaceIndex]?.kind.controls.find((c) => c.id === control.id)?.name ?? "",
  );
  const change = (set: { name?: string | null; note?: string | null }) =>
    void actions.edit({ kind: "name-control", id: surface, control: control.id, set });
  return (
    <div className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1.5 rounded-[9px] bg-velvet-850 px-3.5 py-2.5 text-small text-ink-500">
      <Field label="called">
        <DraftField
          label="Name of the control"
          placeholder={given || control.name}
          maxLength={80}
          className="w-[220px]"
          value={own?.name ?? ""}
          onCommit={(name) => change({ name: name || null })}
        />
      </Field>
      <Field label="note">
        <DraftField
          label="Note on the control"
          placeholder="to remember, or for whoever stands in"
          maxLength={400}
          className="min-w-0 flex-1"
          value={own?.note ?? ""}
          onCommit={(note) => change({ note: note || null })}
        />
      </Field>
    </div>
  );
}
