/** What a desk's lines and MIDI say of its states, by the patterns of its profile; and how any value is to be read. */
import type { DeskState, HeardLine, Parameter } from "../format/desk-profile.ts";
import { linePattern, matchLine } from "./line-pattern.ts";
import { compileMidiPattern, type MidiPattern, matchMidi, midiSpan } from "./midi-pattern.ts";
import type { Template } from "./template.ts";
import { ownNumber } from "./wire-numbers.ts";

const VALUE = "value";
/** Words that mean "on"; every other word is "off". */
const ON_WORDS = new Set(["1", "on", "true", "yes"]);

/** A state as hearing needs it. */
export interface HeardState {
  readonly state: DeskState;
  readonly parameters: readonly Parameter[];
}

export interface LineHearing<S extends HeardState> {
  readonly of: S;
  readonly pattern: Template;
}
export interface MidiHearing<S extends HeardState> {
  readonly of: S;
  readonly pattern: MidiPattern;
}

/** A value with the numbers of its parameters. */
export interface HeardValue<S extends HeardState> {
  readonly of: S;
  readonly numbers: readonly number[];
  readonly value: number | string;
}

/** The states of a profile that lines tell; `isBytes` as for `linePattern`. */
export function lineHearings<S extends HeardState>(states: Iterable<S>, isBytes: boolean): LineHearing<S>[] {
  const out: LineHearing<S>[] = [];
  for (const of of states) {
    const { heard } = of.state;
    const pattern = heard && "line" in heard ? linePattern((heard as HeardLine).line, isBytes) : null;
    if (pattern) out.push({ of, pattern });
  }
  return out;
}

/** The states of a profile that MIDI tells. */
export function midiHearings<S extends HeardState>(states: Iterable<S>): MidiHearing<S>[] {
  const out: MidiHearing<S>[] = [];
  for (const of of states) {
    const { heard } = of.state;
    if (heard && "midi" in heard) out.push({ of, pattern: compileMidiPattern(heard) });
  }
  return out;
}

export function hearLine<S extends HeardState>(hearings: readonly LineHearing<S>[], line: string): HeardValue<S>[] {
  const out: HeardValue<S>[] = [];
  for (const { of, pattern } of hearings) {
    const words = matchLine(pattern, line);
    if (!words) continue;
    const wordOf = (name: string) => words[pattern.names.indexOf(name)];
    const heard = together(of, (name) => Number(wordOf(name)), wordOf(VALUE) ?? "");
    if (heard) out.push(heard);
  }
  return out;
}

/** `bytes`: one whole message. */
export function hearMidi<S extends HeardState>(
  hearings: readonly MidiHearing<S>[],
  bytes: Uint8Array,
): HeardValue<S>[] {
  const out: HeardValue<S>[] = [];
  for (const { of, pattern } of hearings) {
    const found = matchMidi(pattern, bytes);
    const heard = found && together(of, (name) => Number(found.get(name)), found.get(VALUE) ?? "");
    if (heard) out.push(heard);
  }
  return out;
}

function together<S extends HeardState>(
  of: S,
  said: (name: string) => number,
  raw: number | string,
): HeardValue<S> | null {
  const numbers: number[] = [];
  for (const p of of.parameters) {
    const n = ownNumber(p, said(p.id));
    if (!Number.isInteger(n) || n < p.from || n > p.to) return null;
    numbers.push(n);
  }
  const value = heardValue(of.state, raw);
  return value === null ? null : { of, numbers, value };
}

/** The value of a state for what stood on the wire; null where that is none. */
export function heardValue({ value, heard }: DeskState, raw: number | string): number | string | null {
  switch (value.kind) {
    case "text":
      return String(raw);
    case "colour":
      return typeof raw === "string" ? raw.slice(0, 7) : null;
    case "switch":
      return typeof raw === "string" ? (ON_WORDS.has(raw.toLowerCase()) ? 1 : 0) : raw > 0 ? 1 : 0;
    case "whole": {
      const n = finite(raw);
      return n === null ? null : ownNumber(value, Math.round(n));
    }
    case "number": {
      const n = finite(raw);
      const scale = heard?.scale ?? (heard && "midi" in heard ? midiSpan(heard) : undefined);
      if (n === null || !scale) return n;
      const part = Math.min(1, Math.max(0, (n - scale.from) / (scale.to - scale.from)));
      return (1 - part) * value.range.from + part * value.range.to;
    }
    default:
      return value satisfies never;
  }
}

function finite(raw: number | string): number | null {
  const n = typeof raw === "number" ? raw : raw.trim() === "" ? Number.NaN : Number(raw);
  return Number.isFinite(n) ? n : null;
}
