import { ChevronRight, Copy, Trash2 } from "lucide-react";
import { useState } from "react";
import type { ActionChange } from "../../core/edit/edit-kinds.ts";
import type { DeskFunction } from "../../core/format/desk-profile.ts";
import type { Action, Mapping } from "../../core/format/show.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import type { CompiledShow } from "../../core/mapping/compile.ts";
import { ENGLISH } from "../../words/english.ts";
import { inSentence } from "../../words/mappings.ts";
import { DraftField } from "../components/DraftField.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { part } from "../components/part.tsx";
import { Select } from "../components/Select.tsx";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { BindingField } from "./BindingField.tsx";
import { Grip } from "./Grip.tsx";
import { messageFor } from "./own-message.ts";
import { shapeWords } from "./shape-words.ts";

/** Most actions are looked at without their shape being opened. */
const ShapeFields = part(async () => (await import("./ShapeFields.tsx")).ShapeFields);

interface Props {
  mapping: Mapping;
  action: Action;
  control: Control;
}

/** One action: the desk's function, where its numbers come from, the shape of its value, and when it acts. */
export function ActionCard({ mapping, action, control }: Props) {
  const desk = useLive((l) => l.compiled.desks.find((d) => d.id === action.desk));
  const compiled = useLive((l) => compiledRange(l.compiled, mapping.id, action.id));
  const actions = useActions();
  const [open, setOpen] = useState(false);
  const fn = desk?.functions.get(action.function);
  if (!desk || !fn) return null;
  const edit = (set: ActionChange) => actions.edit({ kind: "change-action", mapping: mapping.id, id: action.id, set });
  const change = (set: ActionChange) => void edit(set);
  const shaped = fn.fn.acts === "level";
  const range = compiled ?? fn.fn.range; // one that is switched off is not compiled
  const when = whenWords(action, mapping);
  return (
    <div
      className={`relative grid gap-1.5 rounded-[9px] border-l-[3px] bg-velvet-850 py-2 pr-2 pl-3.5 ${action.on ? "border-warm" : "border-velvet-600 opacity-70"}`}
      data-action={action.id}
    >
      <div className="-ml-2 flex items-center gap-1.5">
        <Grip
          label={`Move ${inSentence(fn.fn.name)}`}
          title="Drag it to another place, or to another control: there it is copied, with Alt moved. Arrow up and down move it too."
          grip={action.id}
          mapping={mapping.id}
          words={`${desk.desk.name} · ${inSentence(fn.fn.name)}`}
          onStep={(by) => {
            const at = mapping.actions.indexOf(action) + by;
            if (at < 0 || at >= mapping.actions.length) return;
            const before = mapping.actions[by < 0 ? at : at + 1]?.id ?? null;
            void actions.edit({ kind: "move-action", mapping: mapping.id, id: action.id, before });
          }}
        />
        <span className="line-clamp-2 min-w-0 flex-1 font-semibold">
          <bdi>{desk.desk.name}</bdi> · {inSentence(fn.fn.name)}
        </span>
        <button
          type="button"
          aria-label={`This action is ${action.on ? "on" : "off"}`}
          title={action.on ? "Switch it off" : "Switch it on"}
          aria-pressed={action.on}
          onClick={() => change({ on: !action.on })}
          className="rounded px-1.5 py-0.5 text-tiny text-ink-500 hover:bg-velvet-700 hover:text-ink-100"
        >
          {action.on ? "on" : "off"}
        </button>
        <button
          type="button"
          aria-label="Duplicate this action"
          title="Duplicate this action"
          onClick={() =>
            void actions.edit({ kind: "add-action", mapping: mapping.id, action: { ...action, id: newId("a") } })
          }
          className="rounded p-1 text-ink-500 hover:bg-velvet-700 hover:text-ink-100"
        >
          <Copy size={13} aria-hidden />
        </button>
        <button
          type="button"
          aria-label="Remove this action"
          onClick={() => void actions.edit({ kind: "remove-action", mapping: mapping.id, id: action.id })}
          className="rounded p-1 text-ink-500 hover:bg-velvet-700 hover:text-ink-100"
        >
          <Trash2 size={13} aria-hidden />
        </button>
      </div>
      <div className="flex flex-wrap gap-1.5">
        {fn.parameters.map((parameter) => (
          <BindingField
            key={parameter.id}
            parameter={parameter}
            action={action}
            control={control}
            onChange={(binding) => change({ bindings: { [parameter.id]: binding } })}
          />
        ))}
        {fn.fn.text === undefined ? null : (
          <span className="inline-flex items-center gap-1.5 rounded-md bg-velvet-800 pl-2 text-small text-ink-300">
            says
            <DraftField
              label="Text"
              title="{name}, {value} and {page} stand for the mapping’s name, the value, and the desk’s page"
              className="w-[200px]"
              maxLength={200}
              value={action.text ?? fn.fn.text}
              onCommit={(text) => change({ text: text === fn.fn.text ? null : text })}
            />
          </span>
        )}
        <Target action={action} fn={fn.fn} mapping={mapping} onChange={change} />
        <button
          type="button"
          aria-expanded={open}
          onClick={() => setOpen(!open)}
          className="inline-flex min-h-[24px] items-center gap-1 rounded-md bg-velvet-800 px-2 text-left text-small text-ink-300 hover:bg-velvet-700"
        >
          <ChevronRight size={12} aria-hidden className={open ? "rotate-90" : ""} />
          {[shaped ? shapeWords(action.shape, range) : "", when].filter(Boolean).join(" · ")}
        </button>
      </div>
      {open ? (
        <>
          {shaped ? (
            <ShapeFields
              shape={action.shape}
              range={range}
              endless={mapping.gesture === "turn"}
              surface={mapping.surface}
              control={mapping.control}
              onChange={(shape) => edit({ shape })}
            />
          ) : null}
          <WhenFields action={action} mapping={mapping} onChange={change} />
        </>
      ) : null}
      {shaped && control.behaviour === "absolute" ? <Takeover mapping={mapping} /> : null}
    </div>
  );
}

/** The range of an action's value: its function's, or that of the variable it sets. */
function compiledRange({ mappingOf, actionStart, actions }: CompiledShow, mapping: string, action: string) {
  const m = mappingOf.get(mapping) ?? -1;
  for (let a = actionStart[m] ?? 0; m >= 0 && a < actionStart[m + 1]!; a++)
    if (actions[a]!.action.id === action) return actions[a]!.range;
  return undefined;
}

function whenWords(action: Action, mapping: Mapping): string {
  const set = (mapping.order ?? "all") === "all" ? "" : `set ${action.set ?? 1}`;
  const delay = action.delayMs ? `after ${action.delayMs} ms` : "at once";
  return [set, delay].filter(Boolean).join(", ");
}

function WhenFields({
  action,
  mapping,
  onChange,
}: {
  action: Action;
  mapping: Mapping;
  onChange(set: ActionChange): void;
}) {
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 border-t border-velvet-700 pt-2 text-small text-ink-500">
      <span className="flex items-center gap-1.5">
        waits
        <NumberField
          label="Delay"
          value={action.delayMs ?? 0}
          min={0}
          max={600_000}
          onCommit={(v) => onChange({ delayMs: v === 0 ? null : Math.round(v) })}
        />
        ms
      </span>
      {(mapping.order ?? "all") === "all" ? null : (
        <span className="flex items-center gap-1.5">
          in set
          <NumberField
            label="Set"
            value={action.set ?? 1}
            min={1}
            max={64}
            onCommit={(v) => onChange({ set: Math.round(v) })}
          />
        </span>
      )}
    </div>
  );
}

/** What a function of the house acts on: a desk, a mapping, or a port with a message for it. */
function Target({
  action,
  fn,
  mapping,
  onChange,
}: {
  action: Action;
  fn: DeskFunction;
  mapping: Mapping;
  onChange(set: ActionChange): void;
}) {
  const show = useLive((l) => l.show);
  const compiled = useLive((l) => l.compiled);
  if (fn.target === undefined) return null;
  const mappingName = (m: Mapping) => {
    const control = compiled.surfaces.find((s) => s.id === m.surface)?.profile.controls.find((c) => c.id === m.control);
    return m.name || `${control?.name ?? m.control} · ${ENGLISH.gestures[m.gesture].toLowerCase()}`;
  };
  const options =
    fn.target === "mapping"
      ? show.mappings.filter((m) => m.id !== mapping.id).map((m) => ({ value: m.id, label: mappingName(m) }))
      : [
          ...show.desks.map((d) => ({ value: d.id, label: d.name })),
          ...(fn.target === "port" ? show.surfaces.map((s) => ({ value: s.id, label: s.name })) : []),
        ];
  return (
    <span className="inline-flex flex-wrap items-center gap-1.5 rounded-md bg-velvet-800 pl-2 text-small text-ink-300">
      {fn.target === "port" ? "to" : fn.target}
      <Select
        label="What it acts on"
        value={action.target ?? ""}
        options={options}
        onChange={(target) =>
          onChange(
            fn.target === "port" ? { target, message: messageFor(compiled, target, action.message ?? "") } : { target },
          )
        }
        className="h-[24px] !bg-transparent px-2 font-semibold"
      />
      {fn.target === "port" ? (
        <DraftField
          label="Message"
          title="MIDI in hexadecimal pairs, an OSC address with arguments, or a line of text; {value} stands for the value"
          className="w-[190px] font-mono"
          value={action.message ?? ""}
          onCommit={(message) => onChange({ message })}
        />
      ) : null}
    </span>
  );
}

function Takeover({ mapping }: { mapping: Mapping }) {
  const actions = useActions();
  const motor = useLive((l) => {
    const profile = l.compiled.surfaces.find((s) => s.id === mapping.surface)?.profile;
    return profile?.controls.find((c) => c.id === mapping.control)?.motor !== undefined;
  });
  if (motor) return <div className="text-small text-ink-500">its motor stands where the level is</div>;
  return (
    <div className="flex items-center gap-2 text-small text-ink-500">
      takeover
      <Select
        label="Takeover"
        value={mapping.takeover}
        options={[
          { value: "catch", label: "catch: wait until it meets the level" },
          { value: "converge", label: "converge: the level comes to meet it" },
          { value: "jump", label: "jump: the level goes to the fader" },
        ]}
        onChange={(takeover) =>
          void actions.edit({
            kind: "change-mapping",
            id: mapping.id,
            set: { takeover: takeover === "catch" || takeover === "converge" ? takeover : "jump" },
          })
        }
      />
    </div>
  );
}
