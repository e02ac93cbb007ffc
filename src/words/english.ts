/** English. */
import { ADVICE } from "./english/advice.ts";
import { EXPECTED, RULES, TEMPLATE_FAULTS } from "./english/expected.ts";
import { oneOf, ordinal } from "./english/lists.ts";
import { BEHAVIOURS, CONTROL_KINDS, GESTURES, MESSAGES, THINGS, WIRES } from "./english/names.ts";
import { NEAR_MISSES, OUTCOMES, SHOWN } from "./english/outcomes.ts";
import { PROBLEMS } from "./english/problems.ts";
import { TROUBLES } from "./english/troubles.ts";
import type { Language } from "./language.ts";

export const ENGLISH: Language = {
  problems: PROBLEMS,
  expected: EXPECTED,
  rules: RULES,
  templateFaults: TEMPLATE_FAULTS,
  things: THINGS,
  advice: ADVICE,
  troubles: TROUBLES,
  outcomes: OUTCOMES,
  shown: SHOWN,
  nearMisses: NEAR_MISSES,
  gestures: GESTURES,
  controlKinds: CONTROL_KINDS,
  behaviours: BEHAVIOURS,
  messages: MESSAGES,
  wires: WIRES,
  ordinal,
  or: oneOf,
};
