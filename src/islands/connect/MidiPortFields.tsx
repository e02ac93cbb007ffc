import { useState } from "react";
import type { Desk, PortRef } from "../../core/show/show.ts";
import { usePage } from "../live/store.ts";
import { FIELD, TextField } from "../parts/controls.tsx";
import { Field } from "../parts/FormDialog.tsx";
import { Select } from "../parts/Select.tsx";
import { portFrom, portKey, portOptions } from "./ports.ts";

type Ports = NonNullable<Desk["midi"]>;
const OVER_UDP = "udp";

/** Where a desk that is driven by MIDI is reached: a device of this browser, or an address on the network. */
export function MidiPortFields({ ports, onChange }: { ports: Ports; onChange(ports: Ports): void }) {
  return (
    <>
      <PortField label="out" way="output" port={ports.out} onChange={(out) => onChange({ ...ports, out })} />
      <PortField label="in" way="input" port={ports.in} onChange={(input) => onChange({ ...ports, in: input })} />
    </>
  );
}

function PortField({
  label,
  way,
  port,
  onChange,
}: {
  label: string;
  way: "input" | "output";
  port: PortRef;
  onChange(port: PortRef): void;
}) {
  const midi = usePage((s) => s.midi);
  const [address, setAddress] = useState(port.kind === "midi-udp" ? `${port.host}:${port.port}` : "127.0.0.1:5004");
  // A desk is not drawn on the screen.
  const options = portOptions(port, midi, way).filter((o) => o.value !== portKey({ kind: "screen" }));
  const isUdp = port.kind === "midi-udp";
  const take = (text: string) => {
    setAddress(text);
    const [host, number] = text.split(":");
    const n = Number(number);
    if (host && Number.isInteger(n) && n > 0 && n < 65_536) onChange({ kind: "midi-udp", host, port: n });
  };
  return (
    <Field label={label} hint={isUdp ? "address and port, one MIDI message a datagram" : undefined}>
      <span className="grid gap-1.5">
        <Select
          label={`MIDI ${label}`}
          value={isUdp ? OVER_UDP : portKey(port)}
          options={[
            ...options.filter((o) => portFrom(o.value).kind !== "midi-udp"),
            { value: OVER_UDP, label: "MIDI over UDP" },
          ]}
          onChange={(v) => (v === OVER_UDP ? take(address) : onChange(portFrom(v)))}
          className={FIELD}
        />
        {isUdp ? (
          <TextField label={`Address of MIDI ${label}`} value={address} onChange={(e) => take(e.target.value)} />
        ) : null}
      </span>
    </Field>
  );
}
