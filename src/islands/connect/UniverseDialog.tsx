import { useState } from "react";
import type { PortRef } from "../../core/format/show.ts";
import { FIELD, TextField } from "../components/controls.tsx";
import { Field } from "../components/Field.tsx";
import { FormDialog } from "../components/FormDialog.tsx";
import { Select } from "../components/Select.tsx";
import { REACH } from "./reach.ts";

type DmxRef = Extract<PortRef, { kind: "dmx" }>;

const PROTOCOLS = [
  { value: "sacn", label: "sACN (E1.31)" },
  { value: "art-net", label: "Art-Net" },
] as const;
/** Half way up, and a little below. */
const SWITCHES_AT = { on: 128, off: 112 };
const FIRST: DmxRef = { kind: "dmx", protocol: "sacn", universe: 1, first: 1, reach: "network", ...SWITCHES_AT };

interface Props {
  chosen: DmxRef | null;
  onOpenChange(open: boolean): void;
  onSubmit(port: DmxRef): void;
}

/** Which part of which universe a surface is. */
export function UniverseDialog({ chosen, onOpenChange, onSubmit }: Props) {
  const [port, setPort] = useState(chosen ?? FIRST);
  const number = (key: "universe" | "first" | "on" | "off", label: string) => (
    <TextField
      label={label}
      inputMode="numeric"
      value={Number.isNaN(port[key]) ? "" : port[key]}
      onChange={(e) => setPort({ ...port, [key]: Number.parseInt(e.target.value, 10) })}
      required
      pattern="\d+"
    />
  );
  return (
    <FormDialog
      title="A DMX universe"
      submit="Use it"
      open
      onOpenChange={onOpenChange}
      onSubmit={async () => {
        onSubmit(port);
        return true;
      }}
    >
      <Field label="carried by">
        <Select
          label="Carried by"
          value={port.protocol}
          options={PROTOCOLS}
          onChange={(v) => setPort({ ...port, protocol: v })}
          className={FIELD}
        />
      </Field>
      <Field
        label="universe"
        hint={port.protocol === "sacn" ? "1 to 63,999" : "0 to 32,767: net × 256 + sub-net × 16 + universe"}
      >
        {number("universe", "Universe")}
      </Field>
      <Field label="first channel" hint="1 to 512: the first channel of the surface is this one">
        {number("first", "First channel")}
      </Field>
      <Field label="heard from">
        <Select
          label="Heard from"
          value={port.reach}
          options={REACH}
          onChange={(v) => setPort({ ...port, reach: v })}
          className={FIELD}
        />
      </Field>
      <Field label="switches" hint="levels of 255: on at the first, off again below the second">
        <div className="grid grid-cols-2 gap-2">
          {number("on", "On at")}
          {number("off", "Off below")}
        </div>
      </Field>
    </FormDialog>
  );
}
