/**
 * Checks that help: what a valid show says that its owner probably did not mean. Nothing here keeps a show from
 * running; each piece of advice has a severity, what it is about, and its facts.
 */

import { parseFreeMessage } from "../desk/free-message.ts";
import type { Parameter } from "../format/desk-profile.ts";
import { BASE_LAYER, HOUSE } from "../format/givens.ts";
import { leadToSame, PORT_KINDS } from "../format/port-kinds.ts";
import type { Action, Mapping } from "../format/show.ts";
import type { Control } from "../format/surface-profile.ts";
import { FIRST_CHANNEL_MODE } from "../midi/controllers.ts";

import { MidiParser } from "../midi/parser.ts";
import type { CompiledShow } from "./compile.ts";
import { freeTarget } from "./compile-actions.ts";
import { nextFree } from "./free-numbers.ts";

/** How bad it is: it cannot work, it may surprise, or it is only worth knowing. */
export type Severity = "fault" | "care" | "note";

/** What it is about: a mapping and maybe one of its actions, a route, or a surface or desk by its id. */
export type About =
  | { readonly mapping: string; readonly action?: string }
  | { readonly route: string }
  | { readonly port: string };

/** The sentences are in src/words; names are those of the show. Of a clash `wins` tells which of the two acts. */
export type Advice = { readonly severity: Severity; readonly about: About } & (
  | { readonly code: "clash"; readonly control: string; readonly wins: boolean }
  | { readonly code: "layer-unreachable"; readonly layers: readonly string[] }
  | { readonly code: "page-unreachable"; readonly from: number; readonly to: number }
  | { readonly code: "radio-alone"; readonly group: string }
  /** A number that an action can reach and its desk does not have; `never`: all of them. */
  | {
      readonly code: "outside-range";
      readonly parameter: string;
      readonly reaches: readonly [number, number];
      readonly from: number;
      readonly to: number;
      readonly never: boolean;
    }
  /** Controllers 120 to 127 (MIDI 1.0, "Channel Mode Messages") in a range that is listened to. */
  | { readonly code: "reserved-range" }
  | { readonly code: "reserved-controller"; readonly number: number }
  /** `free`: the next number that the surface does not use; null = none. */
  | { readonly code: "own-number"; readonly surface: string; readonly control: string; readonly free: number | null }
  | { readonly code: "route-to-itself"; readonly route: string }
  | { readonly code: "desk-feeds-input"; readonly desk: string; readonly input: string }
  | { readonly code: "surface-hears-itself"; readonly surface: string }
);
export type AdviceCode = Advice["code"];

/** A compiled show does not change, and several views ask for its advice. */
const known = new WeakMap<CompiledShow, readonly Advice[]>();

export function adviceFor(compiled: CompiledShow): readonly Advice[] {
  let advice = known.get(compiled);
  if (!advice) {
    advice = workOut(compiled);
    known.set(compiled, advice);
  }
  return advice;
}

function workOut(compiled: CompiledShow): Advice[] {
  const { show } = compiled;
  const advice: Advice[] = [];
  const entered = enteredLayers(compiled);
  for (const [first, second] of compiled.clashes) {
    const control = controlName(compiled, second);
    for (const m of [first, second])
      advice.push({
        code: "clash",
        severity: "care",
        about: { mapping: show.mappings[m]!.id },
        control,
        wins: m === first,
      });
  }
  show.mappings.forEach((m, i) => {
    if (compiled.mappingOn[i] === 0) return;
    const about = { mapping: m.id };
    if (m.layers.length > 0 && !m.layers.some((l) => entered.has(l)))
      advice.push({
        code: "layer-unreachable",
        severity: "care",
        about,
        layers: layerNames(compiled, m),
      });
    if (m.pages) pageAdvice(compiled, m, advice);
    if (m.radio !== undefined && (compiled.radioGroups[compiled.mappingRadio[i]!]?.length ?? 0) < 2)
      advice.push({
        code: "radio-alone",
        severity: "note",
        about,
        group: m.radio,
      });
    if (m.message?.of === "controller" && m.message.numbers[1] >= FIRST_CHANNEL_MODE)
      advice.push({
        code: "reserved-range",
        severity: "care",
        about,
      });
    for (const action of m.actions) if (action.on) actionAdvice(compiled, m, action, advice);
  });
  portAdvice(compiled, advice);
  return advice;
}

/** Layers that some mapping enters, locks or steps to. */
function enteredLayers({ show, mappingOn }: CompiledShow): Set<string> {
  const entered = new Set<string>([BASE_LAYER]);
  for (const [i, m] of show.mappings.entries()) {
    if (mappingOn[i] === 0) continue;
    for (const a of m.actions) {
      if (!a.on || a.desk !== HOUSE) continue;
      if (a.function === "layer.next" || a.function === "layer.previous")
        for (const l of show.layers) if (l.group === undefined) entered.add(l.id);
      if (a.function !== "layer" && a.function !== "layer.lock") continue;
      const binding = a.bindings.layer;
      const numbers =
        binding?.from === "fixed"
          ? [binding.value]
          : binding?.from === "list"
            ? binding.values
            : show.layers.map((_, i) => i + 1);
      for (const n of numbers) {
        const layer = show.layers[n - 1];
        if (layer) entered.add(layer.id);
      }
    }
  }
  return entered;
}

function pageAdvice(compiled: CompiledShow, m: Mapping, advice: Advice[]): void {
  const parameter = compiled.desks.find((d) => d.id === m.pages!.desk)?.pageParameter;
  if (!parameter || m.pages!.in.some((p) => p >= parameter.from && p <= parameter.to)) return;
  advice.push({
    code: "page-unreachable",
    severity: "care",
    about: { mapping: m.id },
    from: parameter.from,
    to: parameter.to,
  });
}

function actionAdvice(compiled: CompiledShow, m: Mapping, a: Action, advice: Advice[]): void {
  const desk = compiled.desks.find((d) => d.id === a.desk);
  const fn = desk?.functions.get(a.function);
  if (!desk || !fn) return;
  const about = { mapping: m.id, action: a.id };
  for (const parameter of fn.parameters) {
    const reach = reachOf(compiled, m, a, parameter);
    if (!reach || (reach[0] >= parameter.from && reach[1] <= parameter.to)) continue;
    const never = reach[1] < parameter.from || reach[0] > parameter.to;
    const { name, from, to } = parameter;
    const severity = never ? "fault" : "care";
    advice.push({ code: "outside-range", severity, about, parameter: name, reaches: reach, from, to, never });
  }
  for (const { status, number } of outMessages(compiled, a)) {
    if ((status & 0xf0) === 0xb0 && number >= FIRST_CHANNEL_MODE)
      advice.push({ code: "reserved-controller", severity: "care", about, number });
    const owner = ownerOf(compiled, a, status, number);
    if (owner) advice.push({ code: "own-number", severity: "care", about, ...owner });
  }
}

/** Numbers a binding can reach, where that is known beforehand. */
function reachOf(compiled: CompiledShow, m: Mapping, a: Action, parameter: Parameter): [number, number] | null {
  const binding = a.bindings[parameter.id];
  switch (binding?.from) {
    case "strip": {
      const bank = compiled.show.banks?.find((b) => b.id === binding.bank);
      const room = bank ? bank.size - binding.strip : 0;
      return bank ? [bank.first + binding.strip - 1, bank.last - room] : null;
    }
    case "layer":
      return [1 + binding.offset, compiled.show.layers.length + binding.offset];
    case "message":
      if (!m.message || binding.part === "value") return null;
      return binding.part === "channel"
        ? [m.message.channels[0] + binding.offset, m.message.channels[1] + binding.offset]
        : [m.message.numbers[0] + binding.offset, m.message.numbers[1] + binding.offset];
    default:
      return null; // fixed numbers are checked with the show; the others are known only at the moment
  }
}

interface OutMessage {
  readonly status: number;
  readonly number: number;
}

/** Notes and controllers an action sends whose number is known beforehand. */
function outMessages(compiled: CompiledShow, a: Action): OutMessage[] {
  if (a.message !== undefined) return freeMessages(compiled, a, a.message);
  const desk = compiled.desks.find((d) => d.id === a.desk);
  const fn = desk?.functions.get(a.function);
  if (desk?.profile.wire.kind !== "midi" || !fn) return [];
  const number = (slot: number | string | undefined): number[] => {
    if (typeof slot === "number") return [slot];
    const binding = typeof slot === "string" ? a.bindings[slot.slice(1, -1)] : undefined;
    return binding?.from === "fixed" ? [binding.value] : binding?.from === "list" ? binding.values : [];
  };
  return fn.fn.send.flatMap((t) => {
    if (!("midi" in t)) return [];
    const base = t.midi.startsWith("note") ? 0x90 : t.midi.startsWith("controller") ? 0xb0 : 0;
    if (base === 0) return [];
    return number(t.channel).flatMap((ch) => number(t.number).map((n) => ({ status: base | (ch - 1), number: n })));
  });
}

function freeMessages({ desks }: CompiledShow, a: Action, text: string): OutMessage[] {
  const parsed = parseFreeMessage(text, freeTarget(a, desks, new Map(desks.map((d, i) => [d.id, i]))));
  if (!parsed.ok || parsed.message.kind !== "midi") return [];
  const out: OutMessage[] = [];
  new MidiParser({
    short: (status, d1) => {
      const kind = status & 0xf0;
      if (kind === 0x80 || kind === 0x90) out.push({ status: 0x90 | (status & 15), number: d1 });
      else if (kind === 0xb0) out.push({ status, number: d1 });
    },
    sysex: () => {},
    dropped: () => {},
  }).feed(parsed.message.bytes(0));
  return out;
}

/** The control that sends or is lit by a message that this action sends to the surface's own port. */
function ownerOf(
  compiled: CompiledShow,
  a: Action,
  status: number,
  number: number,
): { surface: string; control: string; free: number | null } | null {
  const target = a.message === undefined ? a.desk : a.target;
  const out = compiled.desks.find((d) => d.id === target)?.desk.midi?.out;
  for (const s of compiled.surfaces) {
    if (s.id !== target && !(out && leadToSame(out, s.surface.out))) continue;
    const control = s.profile.controls.find((c) => uses(c, status, number));
    if (!control) continue;
    const kind = (status & 0xf0) === 0x90 ? "note" : "controller";
    const free = nextFree(s.profile, kind, (status & 15) + 1, number);
    return { surface: s.surface.name, control: control.name, free };
  }
  return null;
}

function uses({ sends, light }: Control, status: number, number: number): boolean {
  const channel = (status & 15) + 1;
  const kind = (status & 0xf0) === 0x90 ? "note" : "controller";
  const same = (m: { kind: string; channel?: number; number?: number | undefined }) =>
    m.kind === kind && m.channel === channel && m.number === number;
  return same(sends) || (light !== undefined && same(light));
}

function portAdvice({ show, surfaces }: CompiledShow, advice: Advice[]): void {
  const inputs = [
    ...show.surfaces.map((s) => ({ id: s.id, name: s.name, in: s.in })),
    ...show.desks.flatMap((d) => (d.midi ? [{ id: d.id, name: d.name, in: d.midi.in }] : [])),
  ];
  for (const r of show.routes ?? [])
    if (r.on && r.from === r.to)
      advice.push({ code: "route-to-itself", severity: "care", about: { route: r.id }, route: r.name });
  for (const d of show.desks) {
    if (!d.midi) continue;
    const fed = inputs.find((i) => PORT_KINDS[d.midi!.out.kind].isAddress && leadToSame(d.midi!.out, i.in));
    if (fed)
      advice.push({
        code: "desk-feeds-input",
        severity: "fault",
        about: { port: d.id },
        desk: d.name,
        input: fed.name,
      });
  }
  for (const { surface } of surfaces)
    if (!PORT_KINDS[surface.out.kind].hasUnit && leadToSame(surface.in, surface.out))
      advice.push({
        code: "surface-hears-itself",
        severity: "fault",
        about: { port: surface.id },
        surface: surface.name,
      });
}

function layerNames({ show }: CompiledShow, m: Mapping): string[] {
  return m.layers.map((id) => show.layers.find((l) => l.id === id)?.name ?? id);
}

function controlName({ show, surfaces }: CompiledShow, m: number): string {
  const { surface, control } = show.mappings[m]!;
  const own = surfaces.find((s) => s.id === surface);
  return own?.profile.controls[own.indexOf.get(control) ?? -1]?.name ?? control;
}
