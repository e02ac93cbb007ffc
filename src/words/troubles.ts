/** Why a port is not open, as clauses that go on a sentence, and what to do. */
import type { PortTrouble } from "../core/live/port-trouble.ts";
import { ENGLISH_FAULTS } from "./english-faults.ts";
import type { TroubleEntry } from "./language.ts";

function entryOf(trouble: PortTrouble): TroubleEntry<PortTrouble> {
  return ENGLISH_FAULTS.troubles[trouble.code] as unknown as TroubleEntry<PortTrouble>;
}

/** A clause: "nobody listens on port 9100 there"; empty where there is no trouble. */
export function troubleWords(trouble: PortTrouble | undefined): string {
  return trouble ? entryOf(trouble).says(trouble) : "";
}

/** What to do about it. */
export function troubleHint(trouble: PortTrouble): string {
  return entryOf(trouble).remedy;
}
