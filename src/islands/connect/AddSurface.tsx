import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { PortRef } from "../../core/format/show.ts";
import { FIELD } from "../components/controls.tsx";
import { Field } from "../components/Field.tsx";
import { FormDialog } from "../components/FormDialog.tsx";
import { Select } from "../components/Select.tsx";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { addTaught, TAUGHT } from "./add-taught.ts";
import { KindAndName } from "./KindAndName.tsx";
import { portFrom, portKey, portOptions } from "./ports.ts";

const NEW_KIND = "of no known kind: drawn as I touch it";

export function AddSurface({ open, onOpenChange }: { open: boolean; onOpenChange(open: boolean): void }) {
  return open ? <OpenAddSurface onOpenChange={onOpenChange} /> : null;
}

function OpenAddSurface({ onOpenChange }: { onOpenChange(open: boolean): void }) {
  const actions = useActions();
  const profiles = useLive((l) => l.surfaceProfiles);
  const midi = usePage((s) => s.midi);
  const elsewhere = usePage((s) => s.browserDevices);
  const live = useLive(useShallow(({ show, computerMidi }) => ({ show, computerMidi })));
  const store = usePageStore();
  const kinds = [...profiles.values(), { id: TAUGHT, name: NEW_KIND, called: "New surface" }];
  const [profile, setProfile] = useState([...profiles.keys()][0] ?? "");
  const [name, setName] = useState(profiles.get(profile)?.name ?? "");
  const [port, setPort] = useState<PortRef>({ kind: "screen" });
  return (
    <FormDialog
      title="Add a surface"
      submit="Add it"
      open
      onOpenChange={onOpenChange}
      onSubmit={() =>
        profile === TAUGHT
          ? addTaught(store, actions, name.trim(), { in: port, out: port })
          : actions.edit({
              kind: "add-surface",
              surface: { id: newId("s"), name: name.trim(), profile, in: port, out: port },
            })
      }
    >
      <KindAndName kinds={kinds} kind={profile} name={name} onKind={setProfile} onName={setName} />
      <Field
        label="where"
        hint={
          midi.kind === "open"
            ? "in and out can be changed one by one later"
            : "for a MIDI device of this browser, look for devices first"
        }
      >
        <Select
          label="Where"
          value={portKey(port)}
          options={portOptions(port, midi, "input", live, elsewhere)}
          onChange={(v) => setPort(portFrom(v))}
          className={FIELD}
        />
      </Field>
    </FormDialog>
  );
}
