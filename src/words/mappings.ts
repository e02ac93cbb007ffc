/** Mappings, actions and controls in the words of the trade, for screens and lists. */

import type { DeskFunction, Parameter } from "../core/format/desk-profile.ts";
import { numberListWords } from "../core/format/number-list.ts";
import type { Binding } from "../core/format/shape.ts";
import type { Mapping, Show } from "../core/format/show.ts";
import type { AnyMessage, Control } from "../core/format/surface-profile.ts";
import { decimalAndHex, type MiddleC, noteName } from "../core/midi/numbers.ts";
import { ENGLISH } from "./english.ts";

/** A name within a sentence: "go playback"; what is written in capitals stays. */
export function inSentence(name: string): string {
  const [first = "", second = ""] = name;
  return second !== second.toLowerCase() ? name : first.toLowerCase() + name.slice(first.length);
}

/** What a control sends, in decimal, hex and note name: "note 50 · 32h · D2 · ch 1". */
export function sendsWords(control: Pick<Control, "sends">, middleC: MiddleC): string {
  const { sends } = control;
  const numbered = (word: string, number: number, channel: number) =>
    `${word} ${decimalAndHex(number)} · ch ${channel}`;
  switch (sends.kind) {
    case "note":
      return `note ${decimalAndHex(sends.number)} · ${noteName(sends.number, middleC)} · ch ${sends.channel}`;
    case "controller":
      return numbered("controller", sends.number, sends.channel);
    case "controller-14":
      return numbered(`controller of 14 bits ${sends.number + 32} +`, sends.number, sends.channel);
    case "nrpn":
    case "rpn":
      return numbered(sends.kind.toUpperCase(), sends.number, sends.channel);
    case "relative":
      return `${numbered("controller", sends.number, sends.channel)} · ${ENCODING_WORDS[sends.encoding]}`;
    case "clicks":
      return `${numbered("controller", sends.number, sends.channel)} · ${sends.left} left, ${sends.right} right`;
    case "bend":
      return `pitch bend · ch ${sends.channel}`;
    case "poly-pressure":
      return `pressure on ${noteName(sends.number, middleC)} · ch ${sends.channel}`;
    case "channel-pressure":
      return `channel pressure · ch ${sends.channel}`;
    case "program":
      return sends.number === undefined
        ? `any program · ch ${sends.channel}`
        : numbered("program", sends.number, sends.channel);
    case "sysex":
      return `SysEx ${sends.prefix} …`;
    case "transport":
      return sends.message === "clock" ? "MIDI clock" : `MIDI ${sends.message}`;
    case "song-position":
      return "song position";
    case "time-code":
      return "time code";
    case "show-control":
      return `show control: ${sends.command}${sends.format ? ` to ${sends.format}` : ""}${sends.cue === undefined ? "" : ` cue ${sends.cue}`}`;
    case "machine-control":
      return `machine control: ${sends.command}`;
    case "any":
      return anyWords(sends, middleC);
    default:
      return sends satisfies never;
  }
}

const ENCODING_WORDS = { "twos-complement": "two’s complement", "sign-bit": "sign bit", "offset-64": "offset 64" };

function anyWords({ of, channels, numbers }: AnyMessage, middleC: MiddleC): string {
  const [from, to] = numbers;
  const span =
    of === "note" ? `${noteName(from, middleC)} to ${noteName(to, middleC)} (${from} to ${to})` : `${from} to ${to}`;
  const on =
    channels[0] === 1 && channels[1] === 16
      ? "any channel"
      : channels[0] === channels[1]
        ? `ch ${channels[0]}`
        : `ch ${channels[0]} to ${channels[1]}`;
  return `any ${of} ${span} · ${on}`;
}

export const BEHAVIOUR_WORDS: Record<Control["behaviour"], string> = {
  "springs-back": "springs back",
  latches: "latches",
  "latches-both-on": "latches, says on both times",
  "one-shot": "has no release",
  absolute: "stays where it is put",
  relative: "turns without end",
};

export const TAKEOVER_WORDS: Record<Mapping["takeover"], string> = {
  catch: "catch",
  converge: "converge",
  jump: "jump",
};

/** A binding in words; `pageUp` is null where the desk has not said. */
export function bindingWords(binding: Binding, pageUp: number | null, name: string | undefined, show?: Show): string {
  const plus = (offset: number) => (offset === 0 ? "" : offset > 0 ? ` + ${offset}` : ` − ${-offset}`);
  switch (binding.from) {
    case "fixed":
      return name ? `${binding.value} ${name}` : String(binding.value);
    case "page":
      return `the one that is up (${pageUp ?? "not known"})`;
    case "list":
      return numberListWords(binding.values);
    case "selection":
      return "what is selected";
    case "strip":
      return `strip ${binding.strip} of ${show?.banks?.find((b) => b.id === binding.bank)?.name ?? binding.bank}`;
    case "message":
      return `the message’s ${ENGLISH.messageParts[binding.part]}${plus(binding.offset)}`;
    case "layer":
      return `the layer’s number${plus(binding.offset)}`;
    case "state":
      return `${binding.state} of ${show?.desks.find((d) => d.id === binding.desk)?.name ?? binding.desk}${plus(binding.offset)}`;
    default:
      return binding satisfies never;
  }
}

/** "page 1–9"; of one number only that one, and of none that there is none yet. */
function rangeWords({ name, from, to }: Parameter): string {
  if (to < from) return `no ${name} yet`;
  return from === to ? `${name} ${from}` : `${name} ${from}–${to}`;
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
export function scopeWords(mapping: Mapping, show: Show): string {
  const layers =
    mapping.layers.length === 0
      ? "every layer"
      : mapping.layers.map((id) => show.layers.find((l) => l.id === id)?.name ?? id).join(", ");
  const { pages } = mapping;
  if (!pages) return mapping.layers.length === 0 ? "everywhere" : layers;
  return `${layers} · ${pages.in.length === 1 ? "page" : "pages"} ${pages.in.join(", ")}`;
}

/** What a route passed on and has not ended (core/held/routed.ts): "note 60 · ch 1, passed on"; else the text as it is. */
export function routedWords(control: string): string {
  const [word, channel, kind, number] = control.split(" ");
  return word === "routed" && number ? `${kind} ${number} · ch ${Number(channel) + 1}, passed on` : control;
}
