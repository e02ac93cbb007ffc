import type { Desk } from "../../core/format/show.ts";
import { FIELD } from "../components/controls.tsx";
import { Field } from "../components/Field.tsx";
import { PortField } from "./PortField.tsx";

type Ports = NonNullable<Desk["midi"]>;

/** Where a desk that is driven by MIDI is reached: a device of this browser, a cable, or an address on the network. */
export function MidiPortFields({ ports, onChange }: { ports: Ports; onChange(ports: Ports): void }) {
  const hint = (port: Ports["in"]) =>
    port.kind === "midi-udp" ? "address and port, one MIDI message a datagram" : undefined;
  return (
    <>
      <Field label="out" hint={hint(ports.out)}>
        <PortField
          label="MIDI out"
          way="output"
          port={ports.out}
          screen={false}
          onChange={(out) => onChange({ ...ports, out })}
          className={FIELD}
        />
      </Field>
      <Field label="in" hint={hint(ports.in)}>
        <PortField
          label="MIDI in"
          way="input"
          port={ports.in}
          screen={false}
          onChange={(input) => onChange({ ...ports, in: input })}
          className={FIELD}
        />
      </Field>
    </>
  );
}
