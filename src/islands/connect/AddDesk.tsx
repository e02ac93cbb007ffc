import { useState } from "react";
import { HOUSE } from "../../core/format/givens.ts";
import type { Desk } from "../../core/format/show.ts";
import { FIELD, TextField } from "../components/controls.tsx";
import { Field, FormDialog } from "../components/FormDialog.tsx";
import { Select } from "../components/Select.tsx";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { type Address, AddressFields, addressOf, NOBODY } from "./AddressFields.tsx";
import { MidiPortFields } from "./MidiPortFields.tsx";

export function AddDesk({ open, onOpenChange }: { open: boolean; onOpenChange(open: boolean): void }) {
  return open ? <OpenAddDesk onOpenChange={onOpenChange} /> : null;
}

function OpenAddDesk({ onOpenChange }: { onOpenChange(open: boolean): void }) {
  const actions = useActions();
  const profiles = useLive((l) => l.deskProfiles);
  const desks = useLive((l) => l.show.desks);
  const choices = [...profiles.values()].filter((p) => p.id !== HOUSE);
  const first = choices.find((p) => p.wire.kind !== "midi") ?? choices[0];
  const [profile, setProfile] = useState(first?.id ?? "");
  const [name, setName] = useState(first?.name ?? "");
  const [address, setAddress] = useState<Address>(() => {
    const port = first?.wire.port ?? 9100;
    const used = new Set(desks.map((d) => d.listenPort));
    let free = port + 1;
    while (used.has(free)) free++;
    return { host: "127.0.0.1", port: String(port), listenPort: String(free), ...NOBODY };
  });
  const [ports, setPorts] = useState<NonNullable<Desk["midi"]>>({ in: { kind: "none" }, out: { kind: "none" } });
  const chosen = profiles.get(profile);
  const midi = chosen?.wire.kind === "midi";
  /** Another kind has another name, port and carrier; what was typed stays. */
  const choose = (id: string) => {
    const next = profiles.get(id);
    setProfile(id);
    if (!next) return;
    if (name === chosen?.name) setName(next.name);
    const port = address.port === String(chosen?.wire.port) ? String(next.wire.port) : address.port;
    setAddress({ ...address, port, over: undefined, ...NOBODY });
  };
  return (
    <FormDialog
      title="Add a desk"
      submit="Add it"
      open
      onOpenChange={onOpenChange}
      onSubmit={() =>
        actions.edit({
          kind: "add-desk",
          desk: {
            id: newId("d"),
            name: name.trim(),
            profile,
            ...(midi ? { host: "none", port: 1, listenPort: 1, midi: ports } : addressOf(address)),
          },
        })
      }
    >
      <Field label="what it is">
        <Select
          label="What it is"
          value={profile}
          options={choices.map((p) => ({ value: p.id, label: p.name }))}
          onChange={choose}
          className={FIELD}
        />
      </Field>
      <Field label="name" hint="as people speak of it">
        <TextField label="Name" value={name} onChange={(e) => setName(e.target.value)} required />
      </Field>
      {midi ? (
        <MidiPortFields ports={ports} onChange={setPorts} />
      ) : (
        <AddressFields profile={chosen} address={address} onChange={setAddress} />
      )}
    </FormDialog>
  );
}
