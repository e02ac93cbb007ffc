import type { CompiledDesk } from "../../core/desk/compile-desk.ts";
import type { Parameter } from "../../core/format/desk-profile.ts";
import { numberListWords, parseNumberList } from "../../core/format/number-list.ts";
import type { Binding } from "../../core/format/shape.ts";
import type { Action, Show } from "../../core/format/show.ts";
import type { Control } from "../../core/format/surface-profile.ts";
import type { MessagePart } from "../../core/midi/message-parts.ts";
import { PARTS_OF } from "../../core/surface/parts-of.ts";
import { ENGLISH } from "../../words/english.ts";
import { bindingWords } from "../../words/mappings.ts";
import { DraftField } from "../components/DraftField.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { type Option, Select } from "../components/Select.tsx";
import { numberName } from "../live/number-name.ts";
import { useLive } from "../live/store.ts";

interface Props {
  parameter: Parameter;
  action: Action;
  /** The control whose message it may take a number from. */
  control: Control;
  onChange(binding: Binding): void;
}

/** More numbers than this are typed, not chosen. */
const LISTED = 200;

/** Where one number of an action comes from, and the few fields that say it exactly. */
export function BindingField({ parameter, action, control, onChange }: Props) {
  const binding = action.bindings[parameter.id];
  const show = useLive((l) => l.show);
  const page = useLive((l) => l.desks[action.desk]?.page ?? null);
  const compiled = useLive((l) => l.compiled);
  const own = useLive((l) => l.values[action.desk]);
  const desk = compiled.desks.find((d) => d.id === action.desk);
  if (!binding || !desk) return null;
  const values = own ? { [action.desk]: own } : {};
  const nameOf = (value: number) => numberName({ show, compiled, values }, action.desk, parameter, value);
  const listed = parameter.to - parameter.from < LISTED;
  const parts = PARTS_OF[control.sends.kind];
  const options = sources(desk, parameter, binding, page, show, parts.length > 0);
  if (listed)
    for (let value = parameter.from; value <= parameter.to; value++)
      options.push({
        value: String(value),
        label: bindingWords({ from: "fixed", value }, page, nameOf(value)),
      });
  else options.push({ value: "fixed", label: "a number" });
  const choose = (v: string) => {
    const fixed = Number(v);
    onChange(
      v !== "" && Number.isFinite(fixed)
        ? { from: "fixed", value: fixed }
        : (first(v, parameter, show, desk, parts, binding) ?? binding),
    );
  };
  return (
    <span
      className={`inline-flex flex-wrap items-center gap-1.5 rounded-md pl-2 text-small ${
        binding.from === "fixed" ? "bg-velvet-800 text-ink-300" : "bg-follow text-cool"
      }`}
    >
      {parameter.name}
      <Select
        label={parameter.name}
        value={binding.from === "fixed" ? (listed ? String(binding.value) : "fixed") : binding.from}
        options={options}
        onChange={choose}
        className="!h-[24px] !bg-transparent px-2 font-semibold"
      />
      <Details parameter={parameter} binding={binding} parts={parts} listed={listed} show={show} onChange={onChange} />
    </span>
  );
}

/** Sources other than a fixed number that make sense here. */
function sources(
  desk: CompiledDesk,
  parameter: Parameter,
  now: Binding,
  page: number | null,
  show: Show,
  says: boolean,
): Option[] {
  const options: Option[] = [];
  if (desk.profile.page?.parameter === parameter.id)
    options.push({ value: "page", label: bindingWords({ from: "page" }, page, undefined) });
  if (desk.profile.selection?.parameter === parameter.id)
    options.push({ value: "selection", label: "what is selected" });
  options.push({ value: "list", label: now.from === "list" ? numberListWords(now.values) : "several: 1, 4, 7 to 9" });
  if ((show.banks ?? []).length > 0)
    options.push({
      value: "strip",
      label: now.from === "strip" ? bindingWords(now, page, undefined, show) : "a strip of a bank",
    });
  if (says || now.from === "message")
    options.push({
      value: "message",
      label: now.from === "message" ? bindingWords(now, page, undefined) : "from the message",
    });
  options.push({ value: "layer", label: "the layer’s number" });
  options.push({ value: "state", label: now.from === "state" ? "another value" : "another value at a desk" });
  return options;
}

/** A binding of this kind to begin with. */
function first(
  kind: string,
  parameter: Parameter,
  show: Show,
  desk: CompiledDesk,
  parts: readonly MessagePart[],
  now: Binding,
): Binding | null {
  const state = [...desk.states.values()].find((s) => s.state.value.kind !== "text" && s.state.value.kind !== "colour");
  switch (kind) {
    case "fixed":
      return { from: "fixed", value: parameter.from };
    case "page":
    case "selection":
      return { from: kind };
    case "list":
      // What was chosen is one of the several.
      return { from: "list", values: [now.from === "fixed" ? now.value : parameter.from] };
    case "strip":
      return show.banks?.[0] ? { from: "strip", bank: show.banks[0].id, strip: 1 } : null;
    case "message":
      return {
        from: "message",
        part: parts.includes("number") && parts[0] !== "cue" ? "number" : (parts[0] ?? "number"),
        offset: 0,
      };
    case "layer":
      return { from: "layer", offset: 0 };
    case "state":
      return state ? { from: "state", desk: desk.id, state: state.state.id, offset: 0 } : null;
    default:
      return null;
  }
}

interface DetailsProps {
  parameter: Parameter;
  binding: Binding;
  /** What the control's message carries. */
  parts: readonly MessagePart[];
  listed: boolean;
  show: Show;
  onChange(binding: Binding): void;
}

function Details({ parameter, binding, parts, listed, show, onChange }: DetailsProps) {
  const offset = (value: number, change: (offset: number) => Binding) => (
    <>
      +
      <NumberField
        label={`${parameter.name} offset`}
        value={value}
        min={-16_384}
        max={16_384}
        onCommit={(v) => onChange(change(Math.round(v)))}
      />
    </>
  );
  switch (binding.from) {
    case "fixed":
      return listed ? null : (
        <NumberField
          label={`${parameter.name} number`}
          value={binding.value}
          min={parameter.from}
          max={parameter.to}
          onCommit={(v) => onChange({ from: "fixed", value: Math.round(v) })}
        />
      );
    case "list":
      return (
        <DraftField
          label={`${parameter.name} list`}
          className="w-[104px] font-mono"
          value={numberListWords(binding.values)}
          accepts={(text) => parseNumberList(text) !== null}
          onCommit={(text) => onChange({ from: "list", values: parseNumberList(text)! })}
        />
      );
    case "strip":
      return (
        <>
          <Select
            label="Bank"
            value={binding.bank}
            options={(show.banks ?? []).map((b) => ({ value: b.id, label: b.name }))}
            onChange={(bank) => onChange({ ...binding, bank })}
          />
          <NumberField
            label="Strip"
            value={binding.strip}
            min={1}
            max={128}
            onCommit={(v) => onChange({ ...binding, strip: Math.round(v) })}
          />
        </>
      );
    case "message":
      return (
        <>
          <Select
            label="Part of the message"
            value={binding.part}
            options={(parts.includes(binding.part) ? parts : [...parts, binding.part]).map((p) => ({
              value: p,
              label: ENGLISH.messageParts[p],
            }))}
            onChange={(part) => onChange({ ...binding, part: part as typeof binding.part })}
          />
          {offset(binding.offset, (o) => ({ ...binding, offset: o }))}
        </>
      );
    case "layer":
      return offset(binding.offset, (o) => ({ ...binding, offset: o }));
    case "state":
      return (
        <>
          <StateChoice
            desk={binding.desk}
            state={binding.state}
            onChange={(desk, state) => onChange({ from: "state", desk, state, offset: binding.offset })}
          />
          {offset(binding.offset, (o) => ({ ...binding, offset: o }))}
        </>
      );
    case "page":
    case "selection":
      return null;
    default:
      return binding satisfies never;
  }
}

/** A state of any desk that is a number or a switch. */
export function StateChoice({
  desk,
  state,
  onChange,
}: {
  desk: string;
  state: string;
  onChange(desk: string, state: string): void;
}) {
  const desks = useLive((l) => l.compiled.desks);
  const options = desks.flatMap((d) =>
    [...d.states.values()]
      .filter((s) => s.state.value.kind !== "text" && s.state.value.kind !== "colour")
      .map((s) => ({ value: `${d.id} ${s.state.id}`, label: `${d.desk.name} · ${s.state.name}` })),
  );
  return (
    <Select
      label="Value"
      value={`${desk} ${state}`}
      options={options}
      onChange={(v) => {
        const [d, s] = v.split(" ") as [string, string];
        onChange(d, s);
      }}
    />
  );
}
