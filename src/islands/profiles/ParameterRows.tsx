import type { Parameter } from "../../core/format/desk-profile.ts";
import { freeId } from "../../core/format/free-id.ts";
import { Button } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { ClearButton } from "../components/Field.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { Select } from "../components/Select.tsx";
import { idFrom } from "../documents/new-ids.ts";
import { CARD, type DeskEditorProps } from "./desk-editor-props.ts";
import { withItem } from "./profile-draft.ts";

const NO_NAMES = "none";

/** What is counted at a desk: pages, channels, cues. */
export function ParameterRows({ profile, change }: DeskEditorProps) {
  const set = (at: number, p: Parameter | null) =>
    change({ ...profile, parameters: withItem(profile.parameters, at, p) });
  const texts = profile.states.filter((s) => s.value.kind === "text" && s.parameters.length === 1);
  return (
    <div className="grid gap-2">
      <p className="text-small text-ink-500">
        What the desk counts, such as pages or channels. Its name in braces stands for the number in messages.
      </p>
      {profile.parameters.map((p, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the id itself may be edited
        <div key={i} className={`${CARD} grid-cols-[auto] sm:flex sm:flex-wrap sm:items-center sm:gap-x-4`}>
          <span className="flex items-center gap-1.5">
            <DraftField
              label={`Name of ${p.id}`}
              value={p.name}
              className="w-[130px] font-semibold"
              accepts={(t) => t !== ""}
              onCommit={(name) => set(i, { ...p, name })}
            />
            <code className="text-tiny">{`{${p.id}}`}</code>
          </span>
          <span className="flex items-center gap-1.5">
            from
            <NumberField
              label={`First ${p.name}`}
              value={p.from}
              min={-4096}
              max={65_535}
              onCommit={(from) => set(i, { ...p, from })}
            />
            to
            <NumberField
              label={`Last ${p.name}`}
              value={p.to}
              min={-4096}
              max={65_535}
              onCommit={(to) => set(i, { ...p, to })}
            />
          </span>
          <span className="flex items-center gap-1.5">
            the first is said as
            <NumberField
              label={`Number that is said for the first ${p.name}`}
              value={p.wireFrom ?? p.from}
              min={-65_536}
              max={65_536}
              onCommit={(wireFrom) => set(i, { ...p, wireFrom })}
            />
            with
            <NumberField
              label={`Digits of ${p.name}`}
              value={p.digits ?? 1}
              min={1}
              max={6}
              onCommit={(digits) => set(i, { ...p, digits })}
            />
            digits
          </span>
          {texts.length > 0 ? (
            <span className="flex items-center gap-1.5">
              names from
              <Select
                label={`Names of ${p.name}`}
                value={p.names ?? NO_NAMES}
                options={[
                  { value: NO_NAMES, label: "nowhere" },
                  ...texts.filter((s) => s.parameters[0] === p.id).map((s) => ({ value: s.id, label: s.name })),
                ]}
                onChange={(v) => {
                  const { names: _old, ...rest } = p;
                  set(i, v === NO_NAMES ? rest : { ...p, names: v });
                }}
              />
            </span>
          ) : null}
          <ClearButton label={`Remove ${p.name}`} onClick={() => set(i, null)} />
        </div>
      ))}
      <NewName
        label="Name of what is counted"
        add="Count something"
        onAdd={(name) =>
          change({
            ...profile,
            parameters: [...profile.parameters, { id: freeId(idFrom(name), profile.parameters), name, from: 1, to: 8 }],
          })
        }
      />
    </div>
  );
}

/** A name, and what it makes. */
export function NewName({ label, add, onAdd }: { label: string; add: string; onAdd(name: string): void }) {
  return (
    <form
      className="flex items-center gap-2"
      onSubmit={(e) => {
        e.preventDefault();
        const field = e.currentTarget.elements.namedItem("name") as HTMLInputElement;
        const name = field.value.trim();
        if (name === "") return field.focus();
        onAdd(name);
        field.value = "";
      }}
    >
      <input
        name="name"
        aria-label={label}
        placeholder="name"
        maxLength={80}
        className="h-[26px] w-[170px] rounded-lg border border-velvet-700 bg-velvet-950 px-2.5 text-small"
      />
      <Button size="small" type="submit">
        {add}
      </Button>
    </form>
  );
}
