/** English, for what is wrong. */
import { EXPECTED, RULES, TEMPLATE_FAULTS } from "./english/expected.ts";
import { THINGS } from "./english/names.ts";
import { PROBLEMS } from "./english/problems.ts";
import { TROUBLES } from "./english/troubles.ts";
import type { FaultWords } from "./language.ts";

export const ENGLISH_FAULTS: FaultWords = {
  problems: PROBLEMS,
  expected: EXPECTED,
  rules: RULES,
  templateFaults: TEMPLATE_FAULTS,
  things: THINGS,
  troubles: TROUBLES,
};
