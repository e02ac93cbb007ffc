/** Advice and near misses as sentences. */
import type { Advice } from "../core/mapping/advice.ts";
import type { NearMiss } from "../core/translate/near-miss.ts";
import { ENGLISH } from "./english.ts";
import type { AdviceEntry } from "./language.ts";
import { conditionWords, type RowNames } from "./traffic.ts";

/** Whole sentences: what is so, and what to do. */
export function adviceWords(advice: Advice): string {
  const entry = ENGLISH.advice[advice.code] as unknown as AdviceEntry<Advice>;
  return `${entry.says(advice)} ${entry.remedy}`;
}

/** What the button says that ends it at once; empty where there is none. */
export function mendWords(advice: Advice): string {
  return (ENGLISH.advice[advice.code] as unknown as AdviceEntry<Advice>).mend ?? "";
}

/** What a mapping that nearly took a message waits for. */
export function nearMissWords({ differs, wanted, mapping, condition }: NearMiss, names: RowNames): string {
  const own = names.mapping(mapping);
  const words = condition && own ? conditionWords(own, condition.nth, condition.value) : ENGLISH.or(wanted);
  return ENGLISH.nearMisses[differs](words);
}
