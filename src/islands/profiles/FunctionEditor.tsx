import { useState } from "react";
import type { DeskFunction, DeskProfile } from "../../core/format/desk-profile.ts";
import { freeId } from "../../core/format/free-id.ts";
import { Switch } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { ClearButton, Field } from "../components/Field.tsx";
import { ListField } from "../components/ListField.tsx";
import { Select } from "../components/Select.tsx";
import { idFrom } from "../documents/new-ids.ts";
import { type DeskEditorProps, FIELDS } from "./desk-editor-props.ts";
import { FunctionPreview } from "./FunctionPreview.tsx";
import { FRESH } from "./fresh-messages.ts";
import { MessageFields } from "./MessageFields.tsx";
import { ParameterChips } from "./ParameterChips.tsx";
import { NewName } from "./ParameterRows.tsx";
import { withItem } from "./profile-draft.ts";
import { RangeFields } from "./RangeFields.tsx";

const ACTS = [
  { value: "level", label: "follows a level" },
  { value: "trigger", label: "acts on press" },
  { value: "toggle", label: "on and off in turn" },
  { value: "flash", label: "on while held" },
] as const;
const NONE = "none";

/** What a desk does: its functions on the left, the chosen one on the right, with the exact bytes it sends. */
export function FunctionEditor(parts: DeskEditorProps) {
  const { profile, change } = parts;
  const [picked, setPicked] = useState("");
  const at = Math.max(
    0,
    profile.functions.findIndex((f) => f.id === picked),
  );
  const fn = profile.functions[at];
  const set = (next: DeskFunction | null) => change({ ...profile, functions: withItem(profile.functions, at, next) });
  return (
    <div className="grid h-full min-h-0 grid-cols-[230px_minmax(0,1fr)] gap-5">
      <div className="grid content-start gap-1.5 overflow-y-auto">
        {profile.functions.map((f) => (
          <button
            key={f.id}
            type="button"
            aria-current={f === fn}
            onClick={() => setPicked(f.id)}
            className="rounded-md px-2.5 py-1.5 text-left text-ink-300 hover:bg-velvet-800 aria-[current=true]:bg-velvet-700 aria-[current=true]:text-ink-100"
          >
            {f.name}
          </button>
        ))}
        <NewName
          label="Name of the function"
          add="Add"
          onAdd={(name) => {
            const id = freeId(idFrom(name), profile.functions);
            setPicked(id);
            change({
              ...profile,
              functions: [
                ...profile.functions,
                { id, name, words: [], parameters: [], acts: "trigger", send: [FRESH[profile.wire.kind].message] },
              ],
            });
          }}
        />
      </div>
      {fn ? (
        <div className="grid content-start gap-4">
          <OneFunction key={fn.id} profile={profile} fn={fn} onChange={set} />
          <FunctionPreview profile={profile} fn={fn} users={parts.users} />
        </div>
      ) : (
        <p className="text-small text-ink-500">
          Name what the desk can do, such as “Playback level”. Or listen to it, and pick what it says.
        </p>
      )}
    </div>
  );
}

interface FunctionProps {
  profile: DeskProfile;
  fn: DeskFunction;
  onChange(fn: DeskFunction | null): void;
}
type Optional = "again" | "state" | "colour" | "label" | "chosen" | "range" | "off" | "text";
interface PartProps extends FunctionProps {
  /** The function with one part left out. */
  without(key: Optional): DeskFunction;
}

function OneFunction({ profile, fn, onChange }: FunctionProps) {
  const without = (key: Optional): DeskFunction => {
    const { [key]: _old, ...rest } = fn;
    return rest;
  };
  const parts: PartProps = { profile, fn, onChange, without };
  return (
    <div className={FIELDS}>
      <Field label="called">
        <DraftField
          label="Name of the function chosen"
          value={fn.name}
          className="w-[260px] font-semibold"
          accepts={(t) => t !== ""}
          onCommit={(name) => onChange({ ...fn, name })}
        />
        <ClearButton label={`Remove ${fn.name}`} onClick={() => onChange(null)} />
      </Field>
      <Field label="people also search">
        <ListField
          label="Other words people search by"
          value={fn.words}
          by=","
          className="w-[260px]"
          onCommit={(words) => onChange({ ...fn, words })}
        />
      </Field>
      <Field label="it">
        <Select
          label="How it acts"
          value={fn.acts}
          options={ACTS}
          onChange={(v) => {
            const acts = v;
            const { range, ...rest } = fn;
            onChange(
              acts === "level" ? { ...rest, acts, range: range ?? { from: 0, to: 1, unit: "%" } } : { ...rest, acts },
            );
          }}
        />
        {fn.range ? (
          <RangeFields label="Range" range={fn.range} onChange={(range) => onChange({ ...fn, range })} />
        ) : null}
      </Field>
      <Field label="for each">
        <ParameterChips
          label="What the function counts"
          all={profile.parameters}
          chosen={fn.parameters}
          onChange={(parameters) => onChange({ ...fn, parameters })}
        />
      </Field>
      <span className="self-start pt-2">sends</span>
      <MessageFields
        label="Message"
        wire={profile.wire.kind}
        messages={fn.send}
        onChange={(send) => onChange({ ...fn, send })}
      />
      {fn.acts === "flash" || fn.acts === "toggle" ? <OffMessage {...parts} /> : null}
      <Field label="in words" hint="{name}, {value} and {page} may stand in it; a message has it as {text}">
        <Switch
          label="says a text"
          checked={fn.text !== undefined}
          onChange={(on) => onChange(on ? { ...fn, text: "" } : without("text"))}
        />
        {fn.text === undefined ? null : (
          <DraftField
            label="Text it says by itself"
            value={fn.text}
            className="w-[260px]"
            maxLength={200}
            onCommit={(text) => onChange({ ...fn, text })}
          />
        )}
      </Field>
      <Field label="when it may be lost">
        <Switch
          label="never send it twice"
          checked={fn.again === "never"}
          onChange={(on) => onChange(on ? { ...fn, again: "never" } : without("again"))}
        />
      </Field>
      <ShowsFields {...parts} />
    </div>
  );
}

/** What goes out when it is let go or switched off. */
function OffMessage({ profile, fn, onChange, without }: PartProps) {
  return (
    <>
      <span className="self-start pt-2">and for off</span>
      {fn.off ? (
        <MessageFields
          label="Message for off"
          wire={profile.wire.kind}
          messages={fn.off}
          onChange={(off) => onChange(off.length === 0 ? without("off") : { ...fn, off })}
        />
      ) : (
        <button
          type="button"
          className="justify-self-start text-ink-300 hover:underline"
          onClick={() => onChange({ ...fn, off: structuredClone(fn.send) })}
        >
          the same with the value 0 · say it otherwise
        </button>
      )}
    </>
  );
}

/** Which states of the desk a control of it shows. */
function ShowsFields({ profile, fn, onChange, without }: PartProps) {
  const link = (key: "state" | "colour" | "label", v: string) =>
    onChange(v === NONE ? without(key) : { ...fn, [key]: v });
  const states = (kinds: readonly string[]) => [
    { value: NONE, label: "nothing" },
    ...profile.states.filter((s) => kinds.includes(s.value.kind)).map((s) => ({ value: s.id, label: s.name })),
  ];
  const state = profile.states.find((s) => s.id === fn.state);
  return (
    <>
      <Field label="changes, and shows">
        <Select
          label="State it changes"
          value={fn.state ?? NONE}
          options={states(["number", "switch", "whole"])}
          onChange={(v) => link("state", v)}
        />
        {state?.value.kind === "whole" && fn.acts === "trigger" ? (
          <>
            lit while it is this
            <Select
              label="Number that it chooses"
              value={fn.chosen ?? NONE}
              options={[{ value: NONE, label: "(never)" }, ...fn.parameters.map((id) => ({ value: id, label: id }))]}
              onChange={(v) => onChange(v === NONE ? without("chosen") : { ...fn, chosen: v })}
            />
          </>
        ) : null}
      </Field>
      <Field label="colour and name from">
        <Select
          label="Colour from"
          value={fn.colour ?? NONE}
          options={states(["colour"])}
          onChange={(v) => link("colour", v)}
        />
        <Select
          label="Name from"
          value={fn.label ?? NONE}
          options={states(["text"])}
          onChange={(v) => link("label", v)}
        />
      </Field>
    </>
  );
}
