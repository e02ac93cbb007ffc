import { X } from "lucide-react";
import type { ReactNode } from "react";
import { DEFAULT_DOUBLE_MS, DEFAULT_HOLD_MS } from "../../core/mapping/compile.ts";
import type { MappingChange } from "../../core/show/edits.ts";
import { HOUSE } from "../../core/show/ids.ts";
import type { Condition, Mapping, Order } from "../../core/show/show.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { FIELD } from "../parts/controls.tsx";
import { NumberField } from "../parts/NumberField.tsx";
import { Select } from "../parts/Select.tsx";
import { StateChoice } from "./BindingField.tsx";

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
  const controls = useLive((l) => l.compiled.surfaces.find((s) => s.id === mapping.surface)?.profile.controls);
  const change = (set: MappingChange) => void actions.edit({ kind: "change-mapping", id: mapping.id, set });
  const { times, whileHeld, when } = mapping;
  const waits = mapping.gesture === "hold" || mapping.gesture === "double" || mapping.gesture === "tap";
  return (
    <div className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1.5 rounded-[9px] bg-velvet-850 px-3.5 py-2.5 text-small text-ink-500">
      <Row label="name">
        <NameField name={mapping.name} onCommit={(name) => change({ name })} />
      </Row>
      {waits ? (
        <Row label="times">
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
          {times ? <Clear label="Take the show’s times" onClick={() => change({ times: null })} /> : null}
        </Row>
      ) : null}
      <Row label="while held">
        <Select
          label="While held"
          value={whileHeld?.control ?? NONE}
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
          onChange={(v) => change({ whileHeld: v === NONE ? null : { surface: mapping.surface, control: v } })}
        />
      </Row>
      {(when ?? []).map((condition, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: conditions have no name of their own, and their order is kept
        <Row key={i} label="only while">
          <ConditionField
            condition={condition}
            onChange={(next) => change({ when: (when ?? []).map((c, k) => (k === i ? next : c)) })}
          />
          <Clear
            label="Leave out this condition"
            onClick={() => {
              const rest = (when ?? []).filter((_, k) => k !== i);
              change({ when: rest.length > 0 ? rest : null });
            }}
          />
        </Row>
      ))}
      <Row label="actions">
        <Select
          label="Order of the actions"
          value={mapping.order ?? "all"}
          options={Object.entries(ORDER_WORDS).map(([value, label]) => ({ value, label }))}
          onChange={(order) => change({ order: order === "all" ? null : (order as Order) })}
        />
      </Row>
      <Row label="one of">
        <RadioField radio={mapping.radio} onCommit={(radio) => change({ radio })} />
      </Row>
      {(when ?? []).length < 4 ? (
        <Row label="">
          <button
            type="button"
            className="text-small text-ink-500 hover:text-ink-100"
            onClick={() => change({ when: [...(when ?? []), FIRST_CONDITION] })}
          >
            + a condition
          </button>
        </Row>
      ) : null}
    </div>
  );
}

/** The house always has a tempo, so a condition can begin with it wherever no desk is there yet. */
const FIRST_CONDITION: Condition = { desk: HOUSE, state: "tempo", from: 0, to: 300 };

function ConditionField({ condition, onChange }: { condition: Condition; onChange(next: Condition): void }) {
  const desk = useLive((l) => l.compiled.desks.find((d) => d.id === condition.desk));
  const state = desk?.states.get(condition.state);
  return (
    <>
      <StateChoice
        desk={condition.desk}
        state={condition.state}
        onChange={(d, s) => onChange({ desk: d, state: s, from: condition.from, to: condition.to })}
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
      <NumberField
        label="Condition from"
        value={condition.from}
        min={-1e6}
        max={condition.to}
        onCommit={(from) => onChange({ ...condition, from })}
      />
      to
      <NumberField
        label="Condition to"
        value={condition.to}
        min={condition.from}
        max={1e6}
        onCommit={(to) => onChange({ ...condition, to })}
      />
    </>
  );
}

function RadioField({ radio, onCommit }: { radio: string | undefined; onCommit(radio: string | null): void }) {
  const groups = useLive((l) =>
    [...new Set(l.show.mappings.flatMap((m) => (m.radio === undefined ? [] : [m.radio])))].sort().join(" "),
  );
  return (
    <>
      <input
        key={radio ?? ""}
        aria-label="One of a group"
        placeholder="no group"
        list="radio-groups"
        defaultValue={radio ?? ""}
        className={`${FIELD} !h-[24px] w-[120px]`}
        onBlur={(e) => {
          const next = e.target.value
            .trim()
            .toLowerCase()
            .replaceAll(/[^a-z0-9.-]+/g, "-");
          if (next !== (radio ?? "")) onCommit(next === "" ? null : next);
        }}
        onKeyDown={(e) => {
          if (e.key === "Enter") e.currentTarget.blur();
        }}
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

function NameField({ name, onCommit }: { name: string; onCommit(name: string): void }) {
  return (
    <input
      key={name}
      aria-label="Name of the mapping"
      placeholder="what the desk calls it"
      defaultValue={name}
      maxLength={80}
      className={`${FIELD} !h-[24px] w-[220px]`}
      onBlur={(e) => {
        if (e.target.value.trim() !== name) onCommit(e.target.value.trim());
      }}
      onKeyDown={(e) => {
        if (e.key === "Enter") e.currentTarget.blur();
      }}
    />
  );
}

function Row({ label, children }: { label: string; children: ReactNode }) {
  return (
    <>
      <span className="whitespace-nowrap">{label}</span>
      <span className="flex flex-wrap items-center gap-1.5">{children}</span>
    </>
  );
}

function Clear({ label, onClick }: { label: string; onClick(): void }) {
  return (
    <button
      type="button"
      aria-label={label}
      onClick={onClick}
      className="rounded p-0.5 hover:bg-velvet-700 hover:text-ink-100"
    >
      <X size={12} aria-hidden />
    </button>
  );
}
