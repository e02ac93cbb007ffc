import {
  type DeskProfile,
  type DeskState,
  HEARD_MIDI,
  type HeardMidi,
  type StateValue,
} from "../../core/format/desk-profile.ts";
import { freeId } from "../../core/format/free-id.ts";
import { Switch } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { ClearButton } from "../components/Field.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { Select } from "../components/Select.tsx";
import { idFrom } from "../documents/new-ids.ts";
import { CARD, type DeskEditorProps } from "./desk-editor-props.ts";
import { FRESH } from "./fresh-messages.ts";
import { MessageFields } from "./MessageFields.tsx";
import { ParameterChips } from "./ParameterChips.tsx";
import { NewName } from "./ParameterRows.tsx";
import { withItem } from "./profile-draft.ts";
import { RangeFields } from "./RangeFields.tsx";

const VALUES: Record<StateValue["kind"], { label: string; fresh: StateValue }> = {
  number: { label: "a level", fresh: { kind: "number", range: { from: 0, to: 1, unit: "%" } } },
  switch: { label: "on or off", fresh: { kind: "switch" } },
  whole: { label: "a number", fresh: { kind: "whole", from: 1, to: 16 } },
  text: { label: "a text", fresh: { kind: "text" } },
  colour: { label: "a colour", fresh: { kind: "colour" } },
};

const VALUE_KINDS = (Object.keys(VALUES) as StateValue["kind"][]).map((kind) => ({
  value: kind,
  label: VALUES[kind].label,
}));

/** What a desk keeps and tells: from here come lights, levels and texts. */
export function StateRows({ profile, change }: DeskEditorProps) {
  const set = (at: number, s: DeskState | null) => change({ ...profile, states: withItem(profile.states, at, s) });
  return (
    <div className="grid gap-2">
      <p className="text-small text-ink-500">
        What the desk keeps and tells by itself. Move something at the desk and pick it in “Listen”, or write it here.
      </p>
      {profile.states.map((s, i) => (
        <div key={s.id} className={CARD} data-state-row={s.id}>
          <div className="flex flex-wrap items-center gap-2">
            <DraftField
              label={`Name of the state ${s.id}`}
              value={s.name}
              className="w-[170px] font-semibold"
              accepts={(t) => t !== ""}
              onCommit={(name) => set(i, { ...s, name })}
            />
            is
            <Select
              label={`What ${s.name} is`}
              value={s.value.kind}
              options={VALUE_KINDS}
              onChange={(kind) => set(i, { ...s, value: VALUES[kind].fresh })}
            />
            <ValueFields state={s} onChange={(value) => set(i, { ...s, value })} />
            <span className="flex-1" />
            <ClearButton label={`Remove ${s.name}`} onClick={() => set(i, null)} />
          </div>
          <div className="flex flex-wrap items-center gap-2">
            for each
            <ParameterChips
              label={`What ${s.name} depends on`}
              all={profile.parameters}
              chosen={s.parameters}
              onChange={(parameters) => set(i, { ...s, parameters })}
            />
          </div>
          <HeardFields profile={profile} state={s} onChange={(next) => set(i, next)} />
          <AskFields profile={profile} state={s} onChange={(next) => set(i, next)} />
        </div>
      ))}
      <NewName
        label="Name of what it tells"
        add="Add by hand"
        onAdd={(name) =>
          change({
            ...profile,
            states: [
              ...profile.states,
              { id: freeId(idFrom(name), profile.states), name, parameters: [], value: VALUES.switch.fresh },
            ],
          })
        }
      />
    </div>
  );
}

function ValueFields({ state: { name, value }, onChange }: { state: DeskState; onChange(value: StateValue): void }) {
  if (value.kind === "number")
    return (
      <RangeFields label={`Range of ${name}`} range={value.range} onChange={(range) => onChange({ ...value, range })} />
    );
  if (value.kind !== "whole") return null;
  return (
    <span className="flex items-center gap-1.5">
      <NumberField
        label={`First number of ${name}`}
        value={value.from}
        min={-65_536}
        max={65_536}
        onCommit={(from) => onChange({ ...value, from })}
      />
      to
      <NumberField
        label={`Last number of ${name}`}
        value={value.to}
        min={-65_536}
        max={65_536}
        onCommit={(to) => onChange({ ...value, to })}
      />
      the first is said as
      <NumberField
        label={`Number that is said for the first of ${name}`}
        value={value.wireFrom ?? value.from}
        min={-65_536}
        max={65_536}
        onCommit={(wireFrom) => onChange({ ...value, wireFrom })}
      />
    </span>
  );
}

interface AskProps {
  profile: DeskProfile;
  state: DeskState;
  onChange(state: DeskState): void;
}

/** How it is asked for alone, and how the desk keeps it: what the program needs where its line loses messages. */
function AskFields({ profile, state, onChange }: AskProps) {
  const without = (key: "ask" | "step" | "glides") => {
    const { [key]: _old, ...rest } = state;
    return rest;
  };
  const { ask, value, name } = state;
  return (
    <>
      {value.kind === "number" ? (
        <div className="flex flex-wrap items-center gap-2">
          kept in steps of
          <NumberField
            label={`Step that the desk keeps of ${name}; 0 = not known`}
            value={state.step ?? 0}
            min={0}
            max={65_536}
            onCommit={(step) => onChange(step > 0 ? { ...state, step } : without("step"))}
          />
          {state.step === undefined ? "not known" : null}
          <Switch
            label="goes there by and by"
            checked={state.glides === true}
            onChange={(on) => onChange(on ? { ...state, glides: true } : without("glides"))}
          />
        </div>
      ) : null}
      {ask ? (
        <div className="flex items-start gap-2">
          <span className="pt-2.5">asked by</span>
          <MessageFields
            label={`Question for ${name}`}
            wire={profile.wire.kind}
            messages={ask}
            onChange={(next) => onChange(next.length === 0 ? without("ask") : { ...state, ask: next })}
          />
        </div>
      ) : (
        <button
          type="button"
          className="justify-self-start text-small text-ink-300 hover:underline"
          onClick={() => onChange({ ...state, ask: [FRESH[profile.wire.kind].message] })}
        >
          it can be asked for alone
        </button>
      )}
    </>
  );
}

function HeardFields({
  profile,
  state,
  onChange,
}: {
  profile: DeskProfile;
  state: DeskState;
  onChange(state: DeskState): void;
}) {
  const { heard, ...rest } = state;
  const put = (next: DeskState["heard"]) => onChange(next ? { ...rest, heard: next } : rest);
  if (!heard)
    return (
      <button
        type="button"
        className="justify-self-start text-cool hover:underline"
        onClick={() => put(FRESH[profile.wire.kind].heard(state))}
      >
        + it tells this
      </button>
    );
  const mono = "font-mono !text-[12px]";
  return (
    <div className="flex flex-wrap items-center gap-2">
      <span className="text-cool">heard as</span>
      {"address" in heard ? (
        <>
          <DraftField
            label={`Address of ${state.name}`}
            value={heard.address}
            className={`${mono} w-[320px]`}
            onCommit={(address) => put({ ...heard, address })}
          />
          argument
          <NumberField
            label={`Argument of ${state.name}`}
            value={heard.argument + 1}
            min={1}
            max={16}
            onCommit={(n) => put({ ...heard, argument: n - 1 })}
          />
        </>
      ) : "line" in heard ? (
        <DraftField
          label={`Line of ${state.name}`}
          value={heard.line}
          className={`${mono} min-w-[320px] flex-1`}
          accepts={(t) => t !== ""}
          onCommit={(line) => put({ ...heard, line })}
        />
      ) : (
        <MidiHeard name={state.name} heard={heard} onChange={put} />
      )}
      {state.value.kind === "number" ? (
        <span className="flex items-center gap-1.5">
          its ends said as
          <DraftField
            label={`Scale of ${state.name}`}
            placeholder="the same"
            value={heard.scale ? `${heard.scale.from} ${heard.scale.to}` : ""}
            className={`${mono} w-[90px]`}
            accepts={(t) => t === "" || t.split(/\s+/).filter((n) => Number.isFinite(Number(n))).length === 2}
            onCommit={(text) => {
              const { scale: _old, ...plain } = heard;
              const [from, to] = text.split(/\s+/).map(Number);
              put(text === "" ? (plain as typeof heard) : { ...heard, scale: { from: from!, to: to! } });
            }}
          />
        </span>
      ) : null}
      <ClearButton label={`${state.name} is not told`} onClick={() => put(undefined)} />
    </div>
  );
}

function MidiHeard({ name, heard, onChange }: { name: string; heard: HeardMidi; onChange(heard: HeardMidi): void }) {
  const slots =
    heard.midi === "sysex"
      ? []
      : heard.midi === "program"
        ? (["channel", "number"] as const)
        : (["channel", "number", "value"] as const);
  return (
    <>
      <Select
        label={`MIDI message of ${name}`}
        value={heard.midi}
        options={HEARD_MIDI.map((k) => ({ value: k, label: k.replaceAll("-", " ") }))}
        onChange={(midi) =>
          onChange(
            midi === "sysex"
              ? { midi, bytes: "F0 7D {value} F7" }
              : {
                  midi: midi as HeardMidi["midi"],
                  channel: 1,
                  number: midi === "program" ? "{value}" : 0,
                  ...(midi === "program" ? {} : { value: "{value}" }),
                },
          )
        }
      />
      {slots.map((slot) => (
        <span key={slot} className="flex items-center gap-1 text-tiny">
          {slot}
          <DraftField
            label={`${name}: ${slot}`}
            value={String(heard[slot] ?? "")}
            className="w-[76px] font-mono !text-[12px]"
            onCommit={(text) => onChange({ ...heard, [slot]: /^\d+$/.test(text) ? Number(text) : text })}
          />
        </span>
      ))}
      {heard.midi === "sysex" ? (
        <DraftField
          label={`${name}: bytes`}
          value={heard.bytes ?? ""}
          className="min-w-[320px] flex-1 font-mono !text-[12px]"
          onCommit={(bytes) => onChange({ ...heard, bytes })}
        />
      ) : null}
    </>
  );
}
