import type { ComponentProps } from "react";
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import type { Desk } from "../../core/format/show.ts";
import { CARRIERS, type Carrier, carrierOf, carriersOf } from "../../core/format/wires.ts";
import { carrierWords } from "../../words/wires.ts";
import { FIELD, TextField } from "../components/controls.tsx";
import { Field } from "../components/Field.tsx";
import { Select } from "../components/Select.tsx";

export interface Address {
  host: string;
  port: string;
  listenPort: string;
  /** Left out, what the kind of desk has by itself. */
  over?: Carrier | undefined;
  /** Who we are to a host or broker that asks; both empty = nobody. */
  user: string;
  password: string;
}

interface Props {
  profile: DeskProfile | undefined;
  address: Address;
  /** Whether the password of this very address and user is kept already. */
  isPasswordKept?: boolean;
  onChange(address: Address): void;
}

/** Where a desk is, what carries its messages, and where we hear it: as typed, for the dialogs that ask for it. */
export function AddressFields({ profile, address, isPasswordKept = false, onChange }: Props) {
  const carriers = profile ? carriersOf(profile.wire.kind) : [];
  const carrier = (profile && carrierOf(profile, address.over)) ?? "udp";
  const { isBroker, isHeardOn, asksLogin } = CARRIERS[carrier];
  const typed = (part: Part) => ({
    value: address[part],
    onType: (text: string) => onChange({ ...address, [part]: text }),
  });
  return (
    <>
      <Typed
        name="address"
        hint={isBroker ? "of the broker" : "as the desk shows it in its network settings"}
        required
        {...typed("host")}
      />
      <Typed
        name="port"
        hint={isBroker ? "where the broker listens" : "where the desk listens"}
        required
        inputMode="numeric"
        {...typed("port")}
      />
      {profile && carriers.length > 1 ? (
        <Field label="carried by" hint="as it is set at the desk">
          <Select
            label="Carried by"
            value={carrier}
            options={carriers.map((c) => ({ value: c, label: carrierWords(profile.wire.kind, c) }))}
            onChange={(v) => {
              const over = v === carrierOf(profile) ? undefined : v;
              onChange({ ...address, ...(CARRIERS[v].asksLogin ? {} : NOBODY), over });
            }}
            className={FIELD}
          />
        </Field>
      ) : null}
      {isHeardOn ? (
        <Typed
          name="heard on"
          label="Heard on port"
          hint={carrier === "udp" ? "the port of this computer it answers to" : "the port of this computer it calls"}
          required
          inputMode="numeric"
          {...typed("listenPort")}
        />
      ) : null}
      {asksLogin ? (
        <>
          <Typed name="user" hint={`where the ${isBroker ? "broker" : "host"} asks for one`} {...typed("user")} />
          <Typed
            name="password"
            type="password"
            placeholder={isPasswordKept ? "kept; type only to change it" : ""}
            hint="kept on this computer, apart from the show"
            {...typed("password")}
          />
        </>
      ) : null}
    </>
  );
}

type Part = Exclude<keyof Address, "over">;

interface TypedProps extends Omit<ComponentProps<typeof TextField>, "label" | "onChange"> {
  name: string;
  /** What it is to who does not see the name beside it; left out, the name. */
  label?: string;
  hint: string;
  onType(text: string): void;
}

function Typed({ name, label = name.charAt(0).toUpperCase() + name.slice(1), hint, onType, ...props }: TypedProps) {
  return (
    <Field label={name} hint={hint}>
      <TextField label={label} autoComplete="off" onChange={(e) => onType(e.target.value)} {...props} />
    </Field>
  );
}

/** As an edit wants it; what is no number is refused there, with a sentence. */
export function addressOf({ host, port, listenPort, over, user, password }: Address) {
  return {
    host: host.trim(),
    port: Number(port),
    listenPort: Number(listenPort),
    ...(over ? { over } : {}),
    ...(user === "" && password === "" ? {} : { login: { user, ...(password === "" ? {} : { password }) } }),
  };
}

export function typedAddress({ host, port, listenPort, over, login }: Desk): Address {
  return { host, port: String(port), listenPort: String(listenPort), over, ...NOBODY, ...login };
}

export const NOBODY = { user: "", password: "" };
