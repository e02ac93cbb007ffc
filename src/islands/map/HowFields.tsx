import type { MappingChange, OneEdit } from "../../core/edit/edit-kinds.ts";
import type { DeskState } from "../../core/format/desk-profile.ts";
import { GESTURE } from "../../core/format/gestures.ts";
import { HOUSE } from "../../core/format/givens.ts";
import type { Condition, Mapping, Order } from "../../core/format/show.ts";
import { DEFAULT_DOUBLE_MS, DEFAULT_HOLD_MS } from "../../core/mapping/mapping-tables.ts";
import { DraftField } from "../components/DraftField.tsx";
import { ClearButton, Field } from "../components/Field.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { optionsOf, Select } from "../components/Select.tsx";
import { idFrom } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { StateChoice } from "./BindingField.tsx";
import { BundleChoice, NO_BUNDLE } from "./BundleChoice.tsx";

const ORDER_WORDS: Record<Order, string> = {
  all: "all of them",
  "in-turn": "one set after the other, around",
  "in-turn-stop": "one set after the other, then no further",
  random: "any of the sets",
};
const NONE = "-";

/** When and how a mapping acts, beyond its gesture: times, chord, conditions, sets, radio. */
export function HowFields({ mapping }: { mapping: Mapping }) {
  const actions = useActions();
  const show = useLive((l) => l.show);
  const change = (set: MappingChange) => void actions.edit({ kind: "change-mapping", id: mapping.id, set });
  const toBundle = (bundle: string | null, first: readonly OneEdit[]) =>
    void actions.edit({
      kind: "together",
      does: `change the bundle of ${mapping.name || mapping.control}`,
      edits: [...first, { kind: "change-mapping", id: mapping.id, set: { bundle } }],
    });
  const { times, when } = mapping;
  const waits = GESTURE[mapping.gesture].timed;
  return (
    <div className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1.5 rounded-[9px] bg-velvet-850 px-3.5 py-2.5 text-small text-ink-500">
      <Field label="name">
        <DraftField
          label="Name of the mapping"
          placeholder="what the desk calls it"
          maxLength={80}
          className="w-[220px]"
          value={mapping.name}
          onCommit={(name) => change({ name })}
        />
      </Field>
      <Field label="note">
        <DraftField
          label="Note on the mapping"
          placeholder="to remember, or for whoever stands in"
          maxLength={400}
          className="min-w-0 flex-1"
          value={mapping.note}
          onCommit={(note) => change({ note })}
        />
      </Field>
      <Field label="bundle">
        <BundleChoice value={mapping.bundle ?? NO_BUNDLE} onBundle={toBundle} />
      </Field>
      {waits ? (
        <Field label="times">
          hold
          <NumberField
            label="Hold time"
            value={times?.holdMs ?? show.settings.times?.holdMs ?? DEFAULT_HOLD_MS}
            min={50}
            max={10_000}
            onCommit={(v) => change({ times: { ...times, holdMs: Math.round(v) } })}
          />
          double
          <NumberField
            label="Double tap time"
            value={times?.doubleMs ?? show.settings.times?.doubleMs ?? DEFAULT_DOUBLE_MS}
            min={50}
            max={2000}
            onCommit={(v) => change({ times: { ...times, doubleMs: Math.round(v) } })}
          />
          ms
          {times ? <ClearButton label="Take the show’s times" onClick={() => change({ times: null })} /> : null}
        </Field>
      ) : null}
      <Field label="while held">
        <WhileHeldField mapping={mapping} onChange={(whileHeld) => change({ whileHeld })} />
      </Field>
      {(when ?? []).map((condition, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: conditions have no name of their own, and their order is kept
        <Field key={i} label="only while">
          <ConditionField
            condition={condition}
            onChange={(next) => change({ when: (when ?? []).map((c, k) => (k === i ? next : c)) })}
          />
          <ClearButton
            label="Leave out this condition"
            onClick={() => {
              const rest = (when ?? []).filter((_, k) => k !== i);
              change({ when: rest.length > 0 ? rest : null });
            }}
          />
        </Field>
      ))}
      <Field label="actions">
        <Select
          label="Order of the actions"
          value={mapping.order ?? "all"}
          options={optionsOf(ORDER_WORDS)}
          onChange={(order) => change({ order: order === "all" ? null : order })}
        />
      </Field>
      <Field label="one of">
        <RadioField radio={mapping.radio} onCommit={(radio) => change({ radio })} />
      </Field>
      {(when ?? []).length < 4 ? (
        <Field label="">
          <button
            type="button"
            className="text-small text-ink-500 hover:text-ink-100"
            onClick={() => change({ when: [...(when ?? []), FIRST_CONDITION] })}
          >
            + a condition
          </button>
        </Field>
      ) : null}
    </div>
  );
}

/** Another control of the same surface that must be held. */
function WhileHeldField({
  mapping,
  onChange,
}: {
  mapping: Mapping;
  onChange(whileHeld: MappingChange["whileHeld"]): void;
}) {
  const controls = useLive((l) => l.compiled.surfaces.find((s) => s.id === mapping.surface)?.profile.controls);
  return (
    <Select
      label="While held"
      value={mapping.whileHeld?.control ?? NONE}
      options={[
        { value: NONE, label: "nothing else has to be" },
        ...(controls ?? [])
          .filter(
            (c) =>
              c.behaviour !== "absolute" &&
              c.behaviour !== "relative" &&
              c.id !== mapping.control &&
              c.sends.kind !== "any",
          )
          .map((c) => ({ value: c.id, label: c.name })),
      ]}
      onChange={(v) => onChange(v === NONE ? null : { surface: mapping.surface, control: v })}
    />
  );
}

/** The house always has a tempo, so a condition can begin with it wherever no desk is there yet. */
const FIRST_CONDITION: Condition = { desk: HOUSE, state: "tempo", from: 0, to: 300 };

function ConditionField({ condition, onChange }: { condition: Condition; onChange(next: Condition): void }) {
  const desks = useLive((l) => l.compiled.desks);
  const state = desks.find((d) => d.id === condition.desk)?.states.get(condition.state);
  const value = state?.state.value;
  const isSwitch = value?.kind === "switch";
  const range = value?.kind === "number" ? value.range : undefined;
  // A share is kept as 0 to 1 and told in percent.
  const scale = range?.unit === "%" && range.to <= 1 ? 100 : 1;
  const unit = range && range.unit !== "none" ? range.unit : "";
  return (
    <>
      <StateChoice
        desk={condition.desk}
        state={condition.state}
        // Of another value the old bounds would mean something else.
        onChange={(d, s) =>
          onChange({ desk: d, state: s, ...wholeOf(desks.find((x) => x.id === d)?.states.get(s)?.state) })
        }
      />
      {state?.parameters.map((p) => (
        <span key={p.id} className="flex items-center gap-1">
          {p.name}
          <NumberField
            label={`${p.name} of the condition`}
            value={condition.parameters?.[p.id] ?? p.from}
            min={p.from}
            max={p.to}
            onCommit={(v) => onChange({ ...condition, parameters: { ...condition.parameters, [p.id]: Math.round(v) } })}
          />
        </span>
      ))}
      is
      {isSwitch ? (
        <Select
          label="Condition"
          value={condition.from > 0 ? "on" : "off"}
          options={[
            { value: "on", label: "on" },
            { value: "off", label: "off" },
          ]}
          onChange={(v) => onChange({ ...condition, ...(v === "on" ? { from: 1, to: 1 } : { from: 0, to: 0 }) })}
        />
      ) : (
        <>
          <NumberField
            label="Condition from"
            value={condition.from * scale}
            min={-1e6}
            max={condition.to * scale}
            onCommit={(from) => onChange({ ...condition, from: from / scale })}
          />
          to
          <NumberField
            label="Condition to"
            value={condition.to * scale}
            min={condition.from * scale}
            max={1e6}
            onCommit={(to) => onChange({ ...condition, to: to / scale })}
          />
          {unit}
        </>
      )}
    </>
  );
}

/** All that a value can be: where a condition on it begins. */
function wholeOf(state: DeskState | undefined): { from: number; to: number } {
  switch (state?.value.kind) {
    case "number":
      return { from: state.value.range.from, to: state.value.range.to };
    case "whole":
      return { from: state.value.from, to: state.value.to };
    default:
      return { from: 1, to: 1 };
  }
}

function RadioField({ radio, onCommit }: { radio: string | undefined; onCommit(radio: string | null): void }) {
  const groups = useLive((l) =>
    [...new Set(l.show.mappings.flatMap((m) => (m.radio === undefined ? [] : [m.radio])))].sort().join(" "),
  );
  return (
    <>
      <DraftField
        label="One of a group"
        placeholder="no group"
        list="radio-groups"
        className="w-[120px]"
        value={radio ?? ""}
        onCommit={(text) => onCommit(idFrom(text) || null)}
      />
      <datalist id="radio-groups">
        {groups.split(" ").map((g) => (
          <option key={g} value={g} />
        ))}
      </datalist>
      <span>one is on, the others go off</span>
    </>
  );
}
