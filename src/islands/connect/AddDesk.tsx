import { useState } from "react";
import { HOUSE } from "../../core/format/givens.ts";
import type { Desk } from "../../core/format/show.ts";
import { WIRES } from "../../core/format/wires.ts";
import { FormDialog } from "../components/FormDialog.tsx";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { type Address, AddressFields, addressOf, NOBODY } from "./AddressFields.tsx";
import { KindAndName } from "./KindAndName.tsx";
import { MidiPortFields } from "./MidiPortFields.tsx";

export function AddDesk({ open, onOpenChange }: { open: boolean; onOpenChange(open: boolean): void }) {
  return open ? <OpenAddDesk onOpenChange={onOpenChange} /> : null;
}

function OpenAddDesk({ onOpenChange }: { onOpenChange(open: boolean): void }) {
  const actions = useActions();
  const profiles = useLive((l) => l.deskProfiles);
  const desks = useLive((l) => l.show.desks);
  const choices = [...profiles.values()].filter((p) => p.id !== HOUSE);
  const first = choices.find((p) => WIRES[p.wire.kind].reachedBy === "address") ?? choices[0];
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
  const byPorts = chosen !== undefined && WIRES[chosen.wire.kind].reachedBy === "midi-ports";
  /** Another kind has another name, port and carrier; what was typed stays. */
  const choose = (id: string) => {
    const next = profiles.get(id);
    setProfile(id);
    if (!next) return;
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
            ...(byPorts ? { host: "none", port: 1, listenPort: 1, midi: ports } : addressOf(address)),
          },
        })
      }
    >
      <KindAndName kinds={choices} kind={profile} name={name} onKind={choose} onName={setName} />
      {byPorts ? (
        <MidiPortFields ports={ports} onChange={setPorts} />
      ) : (
        <AddressFields profile={chosen} address={address} onChange={setAddress} />
      )}
    </FormDialog>
  );
}
