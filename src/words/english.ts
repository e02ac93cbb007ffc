/** English, for a show that runs. */
import { ADVICE } from "./english/advice.ts";
import { oneOf, ordinal } from "./english/lists.ts";
import { BEHAVIOURS, CONTROL_KINDS, GESTURES, MESSAGES, WIRES } from "./english/names.ts";
import { MESSAGE_PARTS, NEAR_MISSES, OUTCOMES, SHOWN } from "./english/outcomes.ts";
import type { RunningWords } from "./language.ts";

export const ENGLISH: RunningWords = {
  advice: ADVICE,
  outcomes: OUTCOMES,
  shown: SHOWN,
  messageParts: MESSAGE_PARTS,
  nearMisses: NEAR_MISSES,
  gestures: GESTURES,
  controlKinds: CONTROL_KINDS,
  behaviours: BEHAVIOURS,
  messages: MESSAGES,
  wires: WIRES,
  ordinal,
  or: oneOf,
};
