import { useState } from "react";
import { unknownDesk } from "../../core/desk/typed.ts";
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
import { ANY_LINES, ANY_OSC } from "./sender-guess.ts";

export function AddDesk({ open, onOpenChange }: { open: boolean; onOpenChange(open: boolean): void }) {
  return open ? <OpenAddDesk onOpenChange={onOpenChange} /> : null;
}

function OpenAddDesk({ onOpenChange }: { onOpenChange(open: boolean): void }) {
  const actions = useActions();
  const profiles = useLive((l) => l.deskProfiles);
  const desks = useLive((l) => l.show.desks);
  const choices = [...profiles.values()].filter((p) => p.id !== HOUSE);
  const first = choices.find((p) => WIRES[p.wire.kind].reachedBy === "address") ?? choices[0];
  const [unknown] = useState(() => ({
    [ANY_OSC]: unknownDesk(newId("k"), "Any desk by OSC", "osc"),
    [ANY_LINES]: unknownDesk(newId("k"), "Any desk by lines", "lines"),
  }));
  const kinds = [
    ...choices,
    { id: ANY_OSC, name: "any desk by OSC", called: "OSC desk" },
    { id: ANY_LINES, name: "any desk by lines of text", called: "Line desk" },
  ];
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
  const fresh = profile === ANY_OSC || profile === ANY_LINES ? unknown[profile] : undefined;
  const chosen = fresh ?? profiles.get(profile);
  const byPorts = chosen !== undefined && WIRES[chosen.wire.kind].reachedBy === "midi-ports";
  /** Another kind has another name, port and carrier; what was typed stays. */
  const choose = (id: string) => {
    const next = id === ANY_OSC || id === ANY_LINES ? unknown[id] : profiles.get(id);
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
      onSubmit={() => {
        const edit = {
          kind: "add-desk",
          desk: {
            id: newId("d"),
            name: name.trim(),
            profile: fresh?.id ?? profile,
            ...(byPorts ? { host: "none", port: 1, listenPort: 1, midi: ports } : addressOf(address)),
          },
        } as const;
        if (!fresh) return actions.edit(edit);
        const kind = { ...fresh, name: `${name.trim()}, its kind`.slice(0, 80) };
        return actions.edit({
          kind: "together",
          does: `add ${name.trim()}`,
          edits: [{ kind: "put-desk-profile", profile: kind }, edit],
        });
      }}
    >
      <KindAndName kinds={kinds} kind={profile} name={name} onKind={choose} onName={setName} />
      {byPorts ? (
        <MidiPortFields ports={ports} onChange={setPorts} />
      ) : (
        <AddressFields profile={chosen} address={address} onChange={setAddress} />
      )}
    </FormDialog>
  );
}
