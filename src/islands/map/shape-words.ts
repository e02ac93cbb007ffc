/** A shape in words, and which steps it may have. The fields for them are loaded when they are opened. */
import type { ShapeChange } from "../../core/edit/edit-kinds.ts";
import type { Range } from "../../core/format/desk-profile.ts";
import type { Curve, Shape } from "../../core/format/shape.ts";
import { outputOf } from "../../core/shape/linear.ts";
import { valueWords } from "../../core/surface/value-words.ts";

export const CURVE_WORDS: Record<Curve["kind"] | "straight", string> = {
  straight: "straight",
  audio: "audio taper",
  s: "S",
  exponential: "exponential",
  points: "own points",
};

/** Steps that are added when they are wanted. */
export const OPTIONAL: readonly { key: keyof Shape; word: string; first: ShapeChange; of(shape: Shape): boolean }[] = [
  { key: "steps", word: "steps", first: { steps: 11 }, of: (s) => s.steps !== undefined },
  {
    key: "deadBand",
    word: "dead band",
    first: { deadBand: { at: 0.5, width: 0.1 } },
    of: (s) => s.deadBand !== undefined,
  },
  {
    key: "fine",
    word: "fine",
    first: { fine: { factor: 0.1, while: { layer: "base" } } },
    of: (s) => s.fine !== undefined,
  },
  {
    key: "threshold",
    word: "threshold",
    first: { threshold: { at: 0.5, hysteresis: 0.1 } },
    of: (s) => s.threshold !== undefined,
  },
  { key: "slewPerS", word: "slew", first: { slewPerS: 1 }, of: (s) => s.slewPerS !== undefined },
  { key: "jumpLimitPerS", word: "jump limit", first: { jumpLimitPerS: 100 }, of: (s) => s.jumpLimitPerS !== undefined },
  { key: "roundTo", word: "rounding", first: { roundTo: 1 }, of: (s) => s.roundTo !== undefined },
  { key: "ratePerS", word: "rate limit", first: { ratePerS: 30 }, of: (s) => s.ratePerS !== undefined },
];

const percent = (x: number) => `${Math.round(x * 100)} %`;

/** A shape in a few words: what it drives, and which further steps it has. */
export function shapeWords(shape: Shape, range: Range | undefined): string {
  const [from, to] = outputOf(shape, range);
  const travel =
    shape.input[0] === 0 && shape.input[1] === 1
      ? ""
      : `travel ${percent(shape.input[0])}–${percent(shape.input[1])}, `;
  const more = OPTIONAL.filter((o) => o.of(shape)).map((o) => o.word);
  const curve = shape.curve ? [CURVE_WORDS[shape.curve.kind]] : [];
  return [
    `${travel}${valueWords(from, range)} to ${valueWords(to, range)}${shape.invert ? ", inverted" : ""}`,
    ...curve,
    ...more,
  ].join(", ");
}
