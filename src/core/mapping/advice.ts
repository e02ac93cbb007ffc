/**
 * Checks that help: what a valid show says that its owner probably did not mean. Nothing here keeps a show from
 * running; each piece of advice has a severity, a place and a sentence.
 */
import { parseFreeMessage } from "../desk/free-message.ts";
import { FIRST_CHANNEL_MODE } from "../midi/message.ts";
import { MidiParser } from "../midi/parser.ts";
import type { Parameter } from "../show/desk-profile.ts";
import { HOUSE } from "../show/ids.ts";
import { type Action, BASE_LAYER, type Mapping, type PortRef } from "../show/show.ts";
import type { Control } from "../show/surface-profile.ts";
import type { CompiledShow } from "./compile.ts";
import { nextFree } from "./free-numbers.ts";

/** How bad it is: it cannot work, it may surprise, or it is only worth knowing. */
export type Severity = "fault" | "care" | "note";

export type AdviceCode =
  | "clash"
  | "layer-unreachable"
  | "page-unreachable"
  | "outside-range"
  | "reserved-controller"
  | "own-number"
  | "feeds-itself"
  | "radio-alone";

export interface Advice {
  readonly code: AdviceCode;
  readonly severity: Severity;
  /** What it is about: a mapping and maybe one of its actions, a route, or a surface or desk by its id. */
  readonly place:
    | { readonly mapping: string; readonly action?: string }
    | { readonly route: string }
    | { readonly port: string };
  /** A whole sentence, with what to do where that is known. */
  readonly text: string;
}

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
    const text = `Two mappings of ${controlName(compiled, second)} say the same; the first one wins. Change where one of them holds.`;
    for (const m of [first, second])
      advice.push({ code: "clash", severity: "care", place: { mapping: show.mappings[m]!.id }, text });
  }
  show.mappings.forEach((m, i) => {
    if (!m.on) return;
    const place = { mapping: m.id };
    if (m.layers.length > 0 && !m.layers.some((l) => entered.has(l)))
      advice.push({
        code: "layer-unreachable",
        severity: "care",
        place,
        text: `Nothing enters the layer ${layerNames(compiled, m)}, so this mapping never holds. Map a control to it.`,
      });
    if (m.pages) pageAdvice(compiled, m, advice);
    if (m.radio !== undefined && (compiled.radioGroups[compiled.mappingRadio[i]!]?.length ?? 0) < 2)
      advice.push({
        code: "radio-alone",
        severity: "note",
        place,
        text: `No other mapping is in the group “${m.radio}”, so there is nothing to switch off.`,
      });
    if (m.message?.of === "controller" && m.message.numbers[1] >= FIRST_CHANNEL_MODE)
      advice.push({
        code: "reserved-controller",
        severity: "care",
        place,
        text: "Controllers 120 to 127 are channel mode messages and are not read as controls.",
      });
    for (const action of m.actions) if (action.on) actionAdvice(compiled, m, action, advice);
  });
  portAdvice(compiled, advice);
  return advice;
}

/** Layers that some mapping enters, locks or steps to. */
function enteredLayers({ show }: CompiledShow): Set<string> {
  const entered = new Set<string>([BASE_LAYER]);
  for (const m of show.mappings) {
    if (!m.on) continue;
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
    place: { mapping: m.id },
    text: `The desk has pages ${parameter.from} to ${parameter.to}; this mapping holds on none of them.`,
  });
}

function actionAdvice(compiled: CompiledShow, m: Mapping, a: Action, advice: Advice[]): void {
  const desk = compiled.desks.find((d) => d.id === a.desk);
  const fn = desk?.functions.get(a.function);
  if (!desk || !fn) return;
  const place = { mapping: m.id, action: a.id };
  for (const parameter of fn.parameters) {
    const reach = reachOf(compiled, m, a, parameter);
    if (!reach || (reach[0] >= parameter.from && reach[1] <= parameter.to)) continue;
    const none = reach[1] < parameter.from || reach[0] > parameter.to;
    advice.push({
      code: "outside-range",
      severity: none ? "fault" : "care",
      place,
      text: `This action reaches ${parameter.name} ${reach[0]} to ${reach[1]}; the desk has ${parameter.from} to ${parameter.to}. ${none ? "It never sends anything." : "Outside of that it sends nothing."}`,
    });
  }
  for (const { status, number } of outMessages(compiled, a)) {
    if ((status & 0xf0) === 0xb0 && number >= FIRST_CHANNEL_MODE)
      advice.push({
        code: "reserved-controller",
        severity: "care",
        place,
        text: `Controller ${number} is a channel mode message: it can silence or reset the unit that hears it.`,
      });
    const owner = ownerOf(compiled, a, status, number);
    if (owner)
      advice.push({
        code: "own-number",
        severity: "care",
        place,
        text: `${owner.surface} sends this message itself, from ${owner.control}, on the same port: it may light or move it.${owner.free === null ? "" : ` The next free number is ${owner.free}.`}`,
      });
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
  if (a.message !== undefined) return freeMessages(a.message);
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

function freeMessages(text: string): OutMessage[] {
  const parsed = parseFreeMessage(text);
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
    if (s.id !== target && !(out && samePort(out, s.surface.out))) continue;
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

/** At the other end of these is a unit of its own, which hears what goes out and says what comes in. */
const HAS_TWO_WAYS: ReadonlySet<PortRef["kind"]> = new Set(["browser-midi", "computer-midi", "network-midi"]);

/** Ports that lead to the same place. Screens and ports to nowhere lead to none. */
function samePort(a: PortRef, b: PortRef): boolean {
  if (a.kind === "browser-midi" && b.kind === "browser-midi") return a.device === b.device && a.nth === b.nth;
  if (a.kind === "computer-midi" && b.kind === "computer-midi") return a.device === b.device && a.nth === b.nth;
  if (a.kind === "cable" && b.kind === "cable") return a.name === b.name;
  if (a.kind === "network-midi" && b.kind === "network-midi") return a.session === b.session;
  return a.kind === "midi-udp" && b.kind === "midi-udp" && a.host === b.host && a.port === b.port;
}

function portAdvice({ show, surfaces }: CompiledShow, advice: Advice[]): void {
  const inputs = [
    ...show.surfaces.map((s) => ({ id: s.id, name: s.name, in: s.in })),
    ...show.desks.flatMap((d) => (d.midi ? [{ id: d.id, name: d.name, in: d.midi.in }] : [])),
  ];
  for (const r of show.routes ?? [])
    if (r.on && r.from === r.to)
      advice.push({
        code: "feeds-itself",
        severity: "care",
        place: { route: r.id },
        text: `The route ${r.name} sends what it hears back to where it came from. A unit that echoes will be stopped by the guard.`,
      });
  for (const d of show.desks) {
    if (!d.midi) continue;
    const fed = inputs.find((i) => samePort(d.midi!.out, i.in) && d.midi!.out.kind === "midi-udp");
    if (fed)
      advice.push({
        code: "feeds-itself",
        severity: "fault",
        place: { port: d.id },
        text: `${d.name} sends to the very port that ${fed.name} listens on: what goes out comes in again.`,
      });
  }
  for (const { surface } of surfaces)
    if (!HAS_TWO_WAYS.has(surface.out.kind) && samePort(surface.in, surface.out))
      advice.push({
        code: "feeds-itself",
        severity: "fault",
        place: { port: surface.id },
        text: `${surface.name} sends to the very port it listens on: its own lights come in as presses.`,
      });
}

function layerNames({ show }: CompiledShow, m: Mapping): string {
  return m.layers.map((id) => show.layers.find((l) => l.id === id)?.name ?? id).join(" or ");
}

function controlName({ show, surfaces }: CompiledShow, m: number): string {
  const { surface, control } = show.mappings[m]!;
  const own = surfaces.find((s) => s.id === surface);
  return own?.profile.controls[own.indexOf.get(control) ?? -1]?.name ?? control;
}
