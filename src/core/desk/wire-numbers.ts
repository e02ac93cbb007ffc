/** Numbers as they are said on the wire: where counting starts, and how many digits a text has. */
import type { Parameter } from "../format/desk-profile.ts";

/** Digits behind the point that a value in a text has at the most. */
const DECIMALS = 4;

/** The name of the time of day, in seconds since midnight: it may be the value of time code. */
export const CLOCK = "clock";

/** The name of what an action says in words, in the messages of a function that takes a text. */
export const TEXT = "text";

/** What stands in the place of names: numbers in MIDI and arguments, texts in addresses and lines. */
export interface Says {
  number(name: string): number;
  text(name: string): string;
}

/** The number that is said for number n of a parameter. */
export function wireNumber(p: Pick<Parameter, "from" | "wireFrom">, n: number): number {
  return n + (p.wireFrom ?? p.from) - p.from;
}

/** The number of a parameter for what was said, in its own counting. */
export function ownNumber(p: Pick<Parameter, "from" | "wireFrom">, said: number): number {
  return said - (p.wireFrom ?? p.from) + p.from;
}

/** As it stands in a text. */
export function wireText(p: Parameter, n: number): string {
  const said = wireNumber(p, n);
  const digits = String(Math.abs(said)).padStart(p.digits ?? 1, "0");
  return said < 0 ? `-${digits}` : digits;
}

/** A value in a text: whole numbers without a point, others with at most four digits behind it. */
export function valueText(value: number): string {
  return String(Number(value.toFixed(DECIMALS)));
}

/**
 * What a function's message says for these numbers, in the order of its parameters; `clockS` is the time of day, `said` what
 * stands in the place of `{text}`.
 */
export function saysFor(
  parameters: readonly Parameter[],
  values: readonly number[],
  value = 0,
  clockS = 0,
  said = "",
): Says {
  const indexOf = (name: string) => parameters.findIndex((p) => p.id === name);
  return {
    number(name) {
      if (name === "value") return value;
      const at = indexOf(name);
      if (at < 0 && name === CLOCK) return clockS;
      return at < 0 ? 0 : wireNumber(parameters[at]!, values[at] ?? parameters[at]!.from);
    },
    text(name) {
      if (name === "value") return valueText(value);
      const at = indexOf(name);
      if (at < 0 && name === TEXT) return said;
      return at < 0 ? "0" : wireText(parameters[at]!, values[at] ?? parameters[at]!.from);
    },
  };
}

/** What upkeep says: no parameters, only the number of its pulse. */
export function saysPulse(pulse: number): Says {
  return { number: () => pulse, text: () => String(pulse) };
}
