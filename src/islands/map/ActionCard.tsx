import { ChevronRight, Trash2 } from "lucide-react";
import { useState } from "react";
import { bindingWords, valueWords } from "../../core/mapping/describe.ts";
import { outputOf } from "../../core/shape/linear.ts";
import type { DeskProfile, Parameter, Range } from "../../core/show/desk-profile.ts";
import type { ActionChange } from "../../core/show/edits.ts";
import { HOUSE } from "../../core/show/ids.ts";
import type { Action, Mapping, Shape } from "../../core/show/show.ts";
import type { Control } from "../../core/show/surface-profile.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { Switch } from "../parts/controls.tsx";
import { NumberField } from "../parts/NumberField.tsx";
import { Select } from "../parts/Select.tsx";

interface Props {
  mapping: Mapping;
  action: Action;
  control: Control;
}

/** One action: the desk's function, where its numbers come from, and the shape of its value. */
export function ActionCard({ mapping, action, control }: Props) {
  const show = useLive((l) => l.show);
  const desk = action.desk === HOUSE ? { name: "House", profile: HOUSE } : show.desks.find((d) => d.id === action.desk);
  const profile = useLive((l) => l.deskProfiles.get(desk?.profile ?? ""));
  const fn = profile?.functions.find((f) => f.id === action.function);
  const actions = useActions();
  const [open, setOpen] = useState(false);
  if (!desk || !profile || !fn) return null;
  const change = (set: ActionChange) =>
    void actions.edit({ kind: "change-action", mapping: mapping.id, id: action.id, set });
  const shaped = fn.acts === "level";
  return (
    <div
      className={`relative grid gap-1.5 rounded-[9px] border-l-[3px] bg-velvet-850 py-2 pr-2 pl-3.5 ${action.on ? "border-warm" : "border-velvet-600 opacity-70"}`}
      data-action={action.id}
    >
      <div className="flex items-center gap-2">
        <span className="min-w-0 flex-1 font-semibold">
          {desk.name} · {fn.name.charAt(0).toLowerCase() + fn.name.slice(1)}
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
          aria-label="Remove this action"
          onClick={() => void actions.edit({ kind: "remove-action", mapping: mapping.id, id: action.id })}
          className="rounded p-1 text-ink-500 hover:bg-velvet-700 hover:text-ink-100"
        >
          <Trash2 size={13} aria-hidden />
        </button>
      </div>
      <div className="flex flex-wrap gap-1.5">
        {fn.parameters.map((id) => (
          <BindingChoice
            key={id}
            profile={profile}
            parameter={profile.parameters.find((p) => p.id === id)!}
            action={action}
            onChange={(binding) => change({ bindings: { [id]: binding } })}
          />
        ))}
        {shaped ? (
          <button
            type="button"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
            className="inline-flex h-[24px] items-center gap-1 rounded-md bg-velvet-800 px-2 text-small text-ink-300 hover:bg-velvet-700"
          >
            <ChevronRight size={12} aria-hidden className={open ? "rotate-90" : ""} />
            {shapeWords(action.shape, fn.range)}
          </button>
        ) : null}
      </div>
      {shaped && open ? (
        <ShapeFields shape={action.shape} range={fn.range} onChange={(shape) => change({ shape })} />
      ) : null}
      {shaped && control.behaviour === "absolute" ? <Takeover mapping={mapping} /> : null}
    </div>
  );
}

function Takeover({ mapping }: { mapping: Mapping }) {
  const actions = useActions();
  return (
    <div className="flex items-center gap-2 text-small text-ink-500">
      takeover
      <Select
        label="Takeover"
        value={mapping.takeover}
        options={[
          { value: "catch", label: "catch: wait until it meets the level" },
          { value: "jump", label: "jump: the level goes to the fader" },
        ]}
        onChange={(takeover) =>
          void actions.edit({
            kind: "change-mapping",
            id: mapping.id,
            set: { takeover: takeover === "catch" ? "catch" : "jump" },
          })
        }
      />
    </div>
  );
}

interface BindingProps {
  profile: DeskProfile;
  parameter: Parameter;
  action: Action;
  onChange(binding: Action["bindings"][string]): void;
}

const FOLLOW = "page";

function BindingChoice({ profile, parameter, action, onChange }: BindingProps) {
  const binding = action.bindings[parameter.id];
  const page = useLive((l) => l.desks[action.desk]?.page ?? null);
  const layers = useLive((l) => l.show.layers);
  const desk = useLive((l) => l.compiled.desks.find((d) => d.id === action.desk));
  const values = useLive((l) => l.values[action.desk]?.value);
  if (!binding) return null;
  const follows = profile.page?.parameter === parameter.id;
  const names = desk?.states.get(parameter.names ?? "");
  const isLayer = action.desk === HOUSE && parameter.id === "layer";
  const last = isLayer ? layers.length : parameter.to;
  const nameOf = (value: number) => {
    if (isLayer) return layers[value - 1]?.name;
    const name = names ? values?.[names.base + value - parameter.from] : undefined;
    return typeof name === "string" ? name : undefined;
  };
  const options = Array.from({ length: last - parameter.from + 1 }, (_, i) => parameter.from + i).map((value) => ({
    value: String(value),
    label: bindingWords({ from: "fixed", value }, page, nameOf(value)),
  }));
  if (follows) options.unshift({ value: FOLLOW, label: bindingWords({ from: "page" }, page, undefined) });
  return (
    <span
      className={`inline-flex items-center gap-1.5 rounded-md pl-2 text-small ${
        binding.from === "page" ? "bg-follow text-cool" : "bg-velvet-800 text-ink-300"
      }`}
    >
      {parameter.name}
      <Select
        label={parameter.name}
        value={binding.from === "page" ? FOLLOW : binding.from === "fixed" ? String(binding.value) : ""}
        options={options}
        onChange={(v) => onChange(v === FOLLOW ? { from: "page" } : { from: "fixed", value: Number(v) })}
        className="h-[24px] !bg-transparent px-2 font-semibold"
      />
    </span>
  );
}

function shapeWords(shape: Shape, range: Range | undefined): string {
  const [from, to] = outputOf(shape, range);
  const travel =
    shape.input[0] === 0 && shape.input[1] === 1
      ? ""
      : `travel ${percent(shape.input[0])}–${percent(shape.input[1])}, `;
  return `${travel}${valueWords(from, range)} to ${valueWords(to, range)}${shape.invert ? ", inverted" : ""}`;
}

const percent = (x: number) => `${Math.round(x * 100)} %`;

interface ShapeProps {
  shape: Shape;
  range: Range | undefined;
  onChange(change: NonNullable<ActionChange["shape"]>): void;
}

function ShapeFields({ shape, range, onChange }: ShapeProps) {
  const [from, to] = outputOf(shape, range);
  const scale = range?.unit === "%" ? 100 / (range.to - range.from) : 1;
  const unit = range?.unit === "none" ? "" : (range?.unit ?? "");
  const low = range?.from ?? 0;
  const output = (a: number, b: number) => onChange({ output: [a, b] });
  return (
    <div className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1.5 border-t border-velvet-700 pt-2 text-small text-ink-500">
      <span>part of the travel</span>
      <span className="flex items-center gap-1.5">
        <NumberField
          label="Travel from"
          value={shape.input[0] * 100}
          min={0}
          max={99}
          onCommit={(v) => onChange({ input: [v / 100, shape.input[1]] })}
        />
        to
        <NumberField
          label="Travel to"
          value={shape.input[1] * 100}
          min={1}
          max={100}
          onCommit={(v) => onChange({ input: [shape.input[0], v / 100] })}
        />
        %
      </span>
      <span>drives</span>
      <span className="flex items-center gap-1.5">
        <NumberField
          label="Output from"
          value={(from - low) * scale}
          min={0}
          max={((range?.to ?? 1) - low) * scale}
          onCommit={(v) => output(v / scale + low, to)}
        />
        to
        <NumberField
          label="Output to"
          value={(to - low) * scale}
          min={0}
          max={((range?.to ?? 1) - low) * scale}
          onCommit={(v) => output(from, v / scale + low)}
        />
        {unit}
      </span>
      <span>direction</span>
      <Switch label="invert" checked={shape.invert} onChange={(invert) => onChange({ invert })} />
    </div>
  );
}
