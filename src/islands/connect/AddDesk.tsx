import { useState } from "react";
import { HOUSE } from "../../core/show/check.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { newId } from "../map/new-ids.ts";
import { FIELD, TextField } from "../parts/controls.tsx";
import { Field, FormDialog } from "../parts/FormDialog.tsx";
import { Select } from "../parts/Select.tsx";

export function AddDesk({ open, onOpenChange }: { open: boolean; onOpenChange(open: boolean): void }) {
  return open ? <OpenAddDesk onOpenChange={onOpenChange} /> : null;
}

function OpenAddDesk({ onOpenChange }: { onOpenChange(open: boolean): void }) {
  const actions = useActions();
  const profiles = useLive((l) => l.deskProfiles);
  const desks = useLive((l) => l.show.desks);
  const choices = [...profiles.values()].filter((p) => p.id !== HOUSE);
  const first = choices[0];
  const [profile, setProfile] = useState(first?.id ?? "");
  const [name, setName] = useState(first?.name ?? "");
  const [host, setHost] = useState("127.0.0.1");
  const [port, setPort] = useState(String(first?.wire.port ?? 9100));
  const used = new Set(desks.map((d) => d.listenPort));
  const [listenPort, setListenPort] = useState(() => {
    let free = Number(port) + 1;
    while (used.has(free)) free++;
    return String(free);
  });
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
            host: host.trim(),
            port: Number(port),
            listenPort: Number(listenPort),
          },
        })
      }
    >
      <Field label="what it is">
        <Select
          label="What it is"
          value={profile}
          options={choices.map((p) => ({ value: p.id, label: p.name }))}
          onChange={setProfile}
          className={FIELD}
        />
      </Field>
      <Field label="name" hint="as people speak of it">
        <TextField label="Name" value={name} onChange={(e) => setName(e.target.value)} required />
      </Field>
      <Field label="address">
        <TextField label="Address" value={host} onChange={(e) => setHost(e.target.value)} required />
      </Field>
      <Field label="port" hint="where the desk listens">
        <TextField label="Port" inputMode="numeric" value={port} onChange={(e) => setPort(e.target.value)} required />
      </Field>
      <Field label="heard on" hint="the port of this computer it answers to">
        <TextField
          label="Heard on port"
          inputMode="numeric"
          value={listenPort}
          onChange={(e) => setListenPort(e.target.value)}
          required
        />
      </Field>
    </FormDialog>
  );
}
