import type { Bundle } from "../../core/format/show.ts";
import { Button, Switch } from "../components/controls.tsx";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive, usePageStore } from "../live/store.ts";
import { NoteField } from "./NoteField.tsx";
import { PartRow, PartSection } from "./PartRow.tsx";

export function BundleList() {
  const bundles = useLive((l) => l.show.bundles) ?? [];
  const actions = useActions();
  return (
    <PartSection
      about="Mappings under one name, switched off and on together: a guest's pads, the second half. Choose controls or rows, and say in “Bundle” which they belong to."
      add="Add a bundle"
      onAdd={() =>
        void actions.edit({
          kind: "put-bundle",
          item: { id: newId("u"), name: `Bundle ${bundles.length + 1}`, on: true },
        })
      }
    >
      {bundles.map((bundle) => (
        <BundleRow key={bundle.id} bundle={bundle} />
      ))}
    </PartSection>
  );
}

function BundleRow({ bundle }: { bundle: Bundle }) {
  const actions = useActions();
  const store = usePageStore();
  const count = useLive((l) => l.show.mappings.filter((m) => m.bundle === bundle.id).length);
  const put = (set: Partial<Pick<Bundle, "name" | "on">> & { note?: string | null }) =>
    void actions.edit({ kind: "change-part", list: "bundles", id: bundle.id, set });
  return (
    <PartRow list="bundles" id={bundle.id} name={bundle.name} onRename={(name) => put({ name })}>
      <Switch label="on" checked={bundle.on} onChange={(on) => put({ on })} />
      <span>{count === 1 ? "1 mapping" : `${count} mappings`}</span>
      {count > 0 ? (
        <Button
          size="small"
          onClick={() => {
            actions.go("map");
            store.setState({ partsOpen: false, tableOpen: true, tableGroups: "bundle", many: null, series: null });
          }}
        >
          Show them
        </Button>
      ) : null}
      <NoteField of={bundle.name} note={bundle.note} onNote={(note) => put({ note: note ?? null })} />
    </PartRow>
  );
}
