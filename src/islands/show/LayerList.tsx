import { BASE_LAYER } from "../../core/format/givens.ts";
import { DEFAULT_COLOUR } from "../../core/surface/look.ts";
import { Select } from "../components/Select.tsx";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { NoteField } from "./NoteField.tsx";
import { PartRow, PartSection } from "./PartRow.tsx";

const WHOLE = "-";
type LayerChange = { name?: string; group?: string | null; colour?: string; note?: string | null };

export function LayerList() {
  const show = useLive((l) => l.show);
  const up = useLive((l) => l.layers.join(" "));
  const actions = useActions();
  const change = (id: string, set: LayerChange) => void actions.edit({ kind: "change-part", list: "layers", id, set });
  return (
    <PartSection
      about="A layer gives controls another meaning: while a button is held, locked by a tap, or stepped. The house’s functions enter it."
      add="Add a layer"
      onAdd={() =>
        void actions.edit({ kind: "put-layer", item: { id: newId("l"), name: `Layer ${show.layers.length + 1}` } })
      }
    >
      {show.layers.map((layer) => (
        <PartRow
          key={layer.id}
          list="layers"
          id={layer.id}
          name={layer.name}
          removable={layer.id !== BASE_LAYER}
          onRename={(name) => change(layer.id, { name })}
        >
          {layer.id === BASE_LAYER ? (
            <span>always there, under all others</span>
          ) : (
            <>
              covers
              <Select
                label={`What ${layer.name} covers`}
                value={layer.group ?? WHOLE}
                options={[
                  { value: WHOLE, label: "every control" },
                  ...(show.groups ?? []).map((g) => ({ value: g.id, label: g.name })),
                ]}
                onChange={(g) => change(layer.id, { group: g === WHOLE ? null : g })}
              />
            </>
          )}
          {layer.id === BASE_LAYER ? null : (
            <label className="flex cursor-pointer items-center gap-1.5">
              colour
              <input
                type="color"
                aria-label={`Colour of ${layer.name}`}
                title="The light of the controls that enter it"
                value={layer.colour ?? DEFAULT_COLOUR}
                onChange={(e) => change(layer.id, { colour: e.target.value })}
                className="h-[20px] w-[30px] cursor-pointer rounded border border-velvet-600 bg-transparent p-0"
              />
            </label>
          )}
          <NoteField of={layer.name} note={layer.note} onNote={(note) => change(layer.id, { note: note ?? null })} />
          {up.split(" ").includes(layer.id) ? <span className="text-cool">up now</span> : null}
        </PartRow>
      ))}
    </PartSection>
  );
}
