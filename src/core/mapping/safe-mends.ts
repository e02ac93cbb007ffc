/**
 * What ends a piece of advice without changing what any message does: it may be done at once, for all of them together. Where
 * somebody has to decide what was meant, there is none.
 */
import type { Mapping, Show } from "../format/show.ts";
import { FIRST_CHANNEL_MODE } from "../midi/controllers.ts";
import type { Advice } from "./advice.ts";

/** What is set of a mapping. */
export interface SafeMend {
  readonly mapping: string;
  readonly set: Partial<Pick<Mapping, "on" | "message">>;
}

export function safeMend(show: Show, advice: Advice): SafeMend | null {
  if (!("mapping" in advice.about)) return null;
  const { mapping } = advice.about;
  switch (advice.code) {
    case "clash":
      // No touch reaches it, because the other one wins; an action of the house may.
      return advice.wins || isRun(show, mapping) ? null : { mapping, set: { on: false } };
    case "reserved-range": {
      const message = show.mappings.find((m) => m.id === mapping)?.message;
      if (!message || message.numbers[0] >= FIRST_CHANNEL_MODE) return null;
      const numbers: [number, number] = [message.numbers[0], FIRST_CHANNEL_MODE - 1];
      return { mapping, set: { message: { ...message, numbers } } };
    }
    default:
      return null;
  }
}

function isRun(show: Show, mapping: string): boolean {
  return show.mappings.some((m) => m.actions.some((a) => a.target === mapping));
}

/** All that may be done at once; of two for one mapping the first. */
export function safeMends(show: Show, all: readonly Advice[]): SafeMend[] {
  const mends = new Map<string, SafeMend>();
  for (const advice of all) {
    const mend = safeMend(show, advice);
    if (mend && !mends.has(mend.mapping)) mends.set(mend.mapping, mend);
  }
  return [...mends.values()];
}
