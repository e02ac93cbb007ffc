import { TextField } from "../parts/controls.tsx";
import { Field } from "../parts/FormDialog.tsx";

export interface Address {
  host: string;
  port: string;
  listenPort: string;
}

/** Where a desk is, and where we hear it: as typed, for the dialogs that ask for it. */
export function AddressFields({ address, onChange }: { address: Address; onChange(address: Address): void }) {
  return (
    <>
      <Field label="address" hint="as the desk shows it in its network settings">
        <TextField
          label="Address"
          value={address.host}
          onChange={(e) => onChange({ ...address, host: e.target.value })}
          required
        />
      </Field>
      <Field label="port" hint="where the desk listens">
        <TextField
          label="Port"
          inputMode="numeric"
          value={address.port}
          onChange={(e) => onChange({ ...address, port: e.target.value })}
          required
        />
      </Field>
      <Field label="heard on" hint="the port of this computer it answers to">
        <TextField
          label="Heard on port"
          inputMode="numeric"
          value={address.listenPort}
          onChange={(e) => onChange({ ...address, listenPort: e.target.value })}
          required
        />
      </Field>
    </>
  );
}

/** As an edit wants it; what is no number is refused there, with a sentence. */
export function addressOf({ host, port, listenPort }: Address) {
  return { host: host.trim(), port: Number(port), listenPort: Number(listenPort) };
}
