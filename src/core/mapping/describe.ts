/** Mappings, actions and controls in the words of the trade, for screens and lists. */
import { decimalAndHex, type MiddleC, noteName } from "../midi/numbers.ts";
import type { DeskFunction, Parameter, Range } from "../show/desk-profile.ts";
import type { Action, Binding, Mapping, Show } from "../show/show.ts";
import type { Control } from "../show/surface-profile.ts";

/** What a control sends, in decimal, hex and note name: "note 50 · 32h · D2 · ch 1". */
export function sendsWords(control: Control, middleC: MiddleC): string {
  const { sends } = control;
  switch (sends.kind) {
    case "note":
      return `note ${decimalAndHex(sends.number)} · ${noteName(sends.number, middleC)} · ch ${sends.channel}`;
    case "controller":
      return `controller ${decimalAndHex(sends.number)} · ch ${sends.channel}`;
    case "bend":
      return `pitch bend · ch ${sends.channel}`;
    default:
      return sends satisfies never;
  }
}

export const BEHAVIOUR_WORDS: Record<Control["behaviour"], string> = {
  "springs-back": "springs back",
  latches: "latches",
  absolute: "stays where it is put",
};

/** A number in the unit people read it in: 0.72 of a % range is "72 %". */
export function valueWords(value: number, range: Range | undefined): string {
  if (!range) return value > 0 ? "on" : "off";
  switch (range.unit) {
    case "%":
      return `${Math.round(((value - range.from) / (range.to - range.from)) * 100)} %`;
    case "dB":
      return value <= range.from ? "−∞ dB" : `${value.toFixed(1).replace("-", "−")} dB`;
    case "none":
      return String(Math.round(value * 100) / 100);
    default:
      return `${Math.round(value * 10) / 10} ${range.unit}`;
  }
}

/** A binding in words; `pageUp` is null where the desk has not said. */
export function bindingWords(binding: Binding, pageUp: number | null, name: string | undefined): string {
  if (binding.from === "page") return `the one that is up (${pageUp ?? "not known"})`;
  return name ? `${binding.value} ${name}` : String(binding.value);
}

export function rangeWords(parameter: Parameter): string {
  return `${parameter.name} ${parameter.from}–${parameter.to}`;
}

/** What a function takes and how it acts, for the list of functions. */
export function functionSummary(fn: DeskFunction, parameters: readonly Parameter[]): string {
  const own = fn.parameters.map((id) => rangeWords(parameters.find((p) => p.id === id)!));
  const acts = {
    level: fn.range?.unit === "%" ? "0–100 %" : fn.range ? `${fn.range.from}…${fn.range.to} ${fn.range.unit}` : "level",
    trigger: "on press",
    toggle: "on or off",
    flash: "while held",
  }[fn.acts];
  return [own.join(", "), acts].filter(Boolean).join(" · ");
}

/** Where a mapping holds: "Shift", "every layer · page 3". */
export function placeWords(mapping: Mapping, show: Show): string {
  const layers =
    mapping.layers.length === 0
      ? "every layer"
      : mapping.layers.map((id) => show.layers.find((l) => l.id === id)?.name ?? id).join(", ");
  const { pages } = mapping;
  if (!pages) return mapping.layers.length === 0 ? "everywhere" : layers;
  return `${layers} · ${pages.in.length === 1 ? "page" : "pages"} ${pages.in.join(", ")}`;
}

/** Numbers a new action starts with: pages follow the desk, others count with the control. */
export function firstBindings(
  fn: DeskFunction,
  parameters: readonly Parameter[],
  pageParameter: string | undefined,
  controlNumber: number,
): Action["bindings"] {
  const bindings: Action["bindings"] = {};
  for (const id of fn.parameters) {
    const p = parameters.find((x) => x.id === id)!;
    const follows = id === pageParameter && fn.parameters.length > 1;
    bindings[id] = follows
      ? { from: "page" }
      : {
          from: "fixed",
          value: controlNumber >= p.from && controlNumber <= p.to && !(p.from < 0) ? controlNumber : p.to,
        };
  }
  return bindings;
}
