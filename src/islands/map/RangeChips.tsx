import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import { gesturesOf } from "../../core/format/gestures.ts";
import type { AnyMessage } from "../../core/format/surface-profile.ts";
import { parseNote, parseNumber } from "../../core/midi/numbers.ts";
import { rangeControl } from "../../core/surface/range-control.ts";
import { sendsWords } from "../../words/mappings.ts";
import { FIELD, TextField } from "../components/controls.tsx";
import { Field } from "../components/Field.tsx";
import { FormDialog } from "../components/FormDialog.tsx";
import { Select } from "../components/Select.tsx";
import { idFrom, newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive, usePage } from "../live/store.ts";

/** Ranges of messages that stand beside the surface's own controls, and the way to make one. */
export function RangeChips({ surface }: { surface: string }) {
  const actions = useActions();
  const middleC = useLive((l) => l.show.settings.middleC);
  const ranges = useLive(
    useShallow((l) => {
      const own = l.compiled.surfaces.find((s) => s.id === surface);
      return own?.profile.controls.filter((c) => c.sends.kind === "any") ?? [];
    }),
  );
  const chosen = usePage((s) => (s.chosen?.surface === surface ? s.chosen.control : ""));
  const [adding, setAdding] = useState(false);
  return (
    <div className="flex flex-wrap items-center gap-1.5 text-small text-ink-500">
      {ranges.map((control) => (
        <button
          key={control.id}
          type="button"
          aria-pressed={control.id === chosen}
          onClick={() => actions.choose(surface, control.id)}
          className="h-[26px] rounded-md bg-velvet-850 px-2.5 text-ink-300 hover:bg-velvet-700 aria-pressed:bg-velvet-700 aria-pressed:text-ink-100"
        >
          {control.name} <span className="text-ink-500">· {sendsWords(control, middleC)}</span>
        </button>
      ))}
      <button type="button" className="px-1 hover:text-ink-100" onClick={() => setAdding(true)}>
        + a range of messages
      </button>
      {adding ? <AddRange surface={surface} onOpenChange={setAdding} /> : null}
    </div>
  );
}

const KINDS: { value: AnyMessage["of"]; label: string }[] = [
  { value: "note", label: "notes" },
  { value: "controller", label: "controllers" },
  { value: "program", label: "programs" },
];

function AddRange({ surface, onOpenChange }: { surface: string; onOpenChange(open: boolean): void }) {
  const actions = useActions();
  const middleC = useLive((l) => l.show.settings.middleC);
  const [name, setName] = useState("keys");
  const [of, setOf] = useState<AnyMessage["of"]>("note");
  const [from, setFrom] = useState("C3");
  const [to, setTo] = useState("B4");
  const [channels, setChannels] = useState("1 to 16");
  const number = (text: string) => (of === "note" ? parseNote(text, middleC) : parseNumber(text, 0, 127));
  const submit = async () => {
    const span = /^\s*(\d+)(?:\s+to\s+(\d+))?\s*$/.exec(channels);
    const message: AnyMessage = {
      kind: "any",
      of,
      channels: [Number(span?.[1] ?? 0), Number(span?.[2] ?? span?.[1] ?? 0)],
      // What is no number is refused by the edit, with a sentence.
      numbers: [number(from) ?? -1, number(to) ?? -1],
    };
    const id = idFrom(name);
    const [gesture = "press"] = gesturesOf(rangeControl(id, message));
    const done = await actions.edit({
      kind: "add-mapping",
      mapping: {
        id: newId("m"),
        name: "",
        note: "",
        on: true,
        surface,
        control: id,
        message,
        gesture,
        layers: [],
        takeover: "jump",
        look: {},
        actions: [],
      },
    });
    if (done) actions.choose(surface, id);
    return done;
  };
  return (
    <FormDialog title="A range of messages" submit="Map it" open onOpenChange={onOpenChange} onSubmit={submit}>
      <Field label="name" hint="what this map calls them">
        <TextField label="Name of the range" value={name} onChange={(e) => setName(e.target.value)} required />
      </Field>
      <Field label="any of">
        <Select label="Kind of message" value={of} options={KINDS} onChange={(v) => setOf(v)} className={FIELD} />
      </Field>
      <Field label="from" hint={of === "note" ? "a note name, or a number: C3, 60, 3Ch" : "0 to 127, or 7Fh"}>
        <TextField label="First number" value={from} onChange={(e) => setFrom(e.target.value)} required />
      </Field>
      <Field label="to">
        <TextField label="Last number" value={to} onChange={(e) => setTo(e.target.value)} required />
      </Field>
      <Field label="channels" hint="one, or “1 to 16” for any">
        <TextField
          label="Channels of the range"
          value={channels}
          onChange={(e) => setChannels(e.target.value)}
          required
        />
      </Field>
    </FormDialog>
  );
}
