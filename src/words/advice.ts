/** Advice, troubles of ports and near misses as sentences. */
import type { PortTrouble } from "../core/live/port-trouble.ts";
import type { Advice } from "../core/mapping/advice.ts";
import type { NearMiss } from "../core/translate/near-miss.ts";
import { ENGLISH } from "./english.ts";
import type { AdviceEntry, TroubleEntry } from "./language.ts";
import { conditionWords, type RowNames } from "./traffic.ts";

/** Whole sentences: what is so, and what to do. */
export function adviceWords(advice: Advice): string {
  const entry = ENGLISH.advice[advice.code] as unknown as AdviceEntry<Advice>;
  return `${entry.says(advice)} ${entry.remedy}`;
}

function entryOf(trouble: PortTrouble): TroubleEntry<PortTrouble> {
  return ENGLISH.troubles[trouble.code] as unknown as TroubleEntry<PortTrouble>;
}

/** A clause: "nobody listens on port 9100 there"; empty where there is no trouble. */
export function troubleWords(trouble: PortTrouble | undefined): string {
  return trouble ? entryOf(trouble).says(trouble) : "";
}

/** What to do about it. */
export function troubleHint(trouble: PortTrouble): string {
  return entryOf(trouble).remedy;
}

/** What a mapping that nearly took a message waits for. */
export function nearMissWords({ differs, wanted, mapping, condition }: NearMiss, names: RowNames): string {
  const own = names.mapping(mapping);
  const words = condition && own ? conditionWords(own, condition.nth, condition.value) : ENGLISH.or(wanted);
  return ENGLISH.nearMisses[differs](words);
}
