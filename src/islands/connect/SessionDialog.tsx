import { useState } from "react";
import type { NetworkSession } from "../../core/format/show.ts";
import { FIELD, Switch, TextField } from "../components/controls.tsx";
import { Field } from "../components/Field.tsx";
import { FormDialog } from "../components/FormDialog.tsx";
import { textList } from "../components/ListField.tsx";
import { Select } from "../components/Select.tsx";
import { REACH } from "./reach.ts";

const ADMISSION = [
  { value: "ask", label: "whom I let in" },
  { value: "listed", label: "only those on the list" },
  { value: "everyone", label: "everybody" },
] as const;

interface Props {
  session: NetworkSession;
  title: string;
  submit: string;
  onOpenChange(open: boolean): void;
  onSubmit(session: NetworkSession): Promise<boolean>;
}

/** What a MIDI session is called, where it is reached, and who may join it. */
export function SessionDialog({ session, title, submit, onOpenChange, onSubmit }: Props) {
  const [draft, setDraft] = useState(session);
  const [port, setPort] = useState(String(session.port));
  const [allowed, setAllowed] = useState(session.allowed.join(", "));
  const set = (change: Partial<NetworkSession>) => setDraft({ ...draft, ...change });
  return (
    <FormDialog
      title={title}
      submit={submit}
      open
      onOpenChange={onOpenChange}
      onSubmit={() =>
        onSubmit({ ...draft, name: draft.name.trim(), port: Number(port), allowed: textList(allowed, ",") })
      }
    >
      <Field label="name" hint="as others see it">
        <TextField label="Name" value={draft.name} onChange={(e) => set({ name: e.target.value })} required />
      </Field>
      <Field label="port" hint="and the one after it">
        <TextField label="Port" inputMode="numeric" value={port} onChange={(e) => setPort(e.target.value)} required />
      </Field>
      <Field label="reached from">
        <Select
          label="Reached from"
          value={draft.reach}
          options={REACH}
          onChange={(v) => set({ reach: v })}
          className={FIELD}
        />
      </Field>
      <Field label="may join">
        <Select
          label="May join"
          value={draft.admission}
          options={ADMISSION}
          onChange={(v) => set({ admission: v })}
          className={FIELD}
        />
      </Field>
      {draft.admission === "everyone" ? null : (
        <Field label="the list" hint="names of sessions that may join, with commas between them">
          <TextField label="The list" value={allowed} onChange={(e) => setAllowed(e.target.value)} />
        </Field>
      )}
      <Field label="found by itself" hint="others see it in their lists (mDNS)">
        <Switch label="announced" checked={draft.announced} onChange={(announced) => set({ announced })} />
      </Field>
    </FormDialog>
  );
}
