/** What moves by itself: a knob whose contact is worn, a sensor, a clock in the form of a controller. */
import type { ControlMessage } from "../format/surface-profile.ts";
import type { HeardMessage } from "../surface/learn.ts";
import { mostOf, ValueReader } from "./evidence.ts";

export interface Restless {
  readonly sends: ControlMessage;
  /** Messages a second. */
  readonly perS: number;
}

/** Looked at: the newest of so many ms. */
const WINDOW_MS = 4000;
const FEWEST = 8;
/** It keeps within so much of its way. */
const NARROW = 0.04;
/** No hand moves one thing for so long without a rest, in ms. */
const NO_HAND_MS = 8000;
/** A rest, in ms. */
const REST_MS = 700;

/** Whether a control that was heard like this moves by itself; null = hands do that. */
export function restlessness(sends: ControlMessage, history: readonly HeardMessage[], nowMs: number): Restless | null {
  if (sends.kind === "note" || sends.kind === "program" || sends.kind === "relative") return null;
  const reader = new ValueReader(sends);
  const own = history.flatMap(({ atMs, bytes }) => {
    const value = reader.read(bytes);
    return value === null ? [] : [{ atMs, value: value / mostOf(sends) }];
  });
  const recent = own.filter(({ atMs }) => nowMs - atMs <= WINDOW_MS);
  const spanMs = (recent.at(-1)?.atMs ?? 0) - (recent[0]?.atMs ?? 0);
  const perS = spanMs > 0 ? ((recent.length - 1) * 1000) / spanMs : 0;
  const values = own.map((o) => o.value);
  const isNarrow = Math.max(...values) - Math.min(...values) <= NARROW;
  const turns = recent.filter(
    (o, i) => i > 1 && (o.value - recent[i - 1]!.value) * (recent[i - 1]!.value - recent[i - 2]!.value) < 0,
  );
  if (isNarrow && recent.length >= FEWEST && turns.length * 3 >= recent.length - 2) return { sends, perS };
  return movesWithoutRest(own) ? { sends, perS } : null;
}

/** The newest stretch without a rest is longer than any hand's. */
function movesWithoutRest(own: readonly { readonly atMs: number }[]): boolean {
  let first = own.length - 1;
  while (first > 0 && own[first]!.atMs - own[first - 1]!.atMs < REST_MS) first--;
  return own.length > 0 && own.at(-1)!.atMs - own[first]!.atMs > NO_HAND_MS;
}
