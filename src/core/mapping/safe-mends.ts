/**
 * What ends a piece of advice without changing what any message does: it may be done at once, for all of them together. Where
 * somebody has to decide what was meant, there is none.
 */
import type { OneEdit } from "../edit/edit-kinds.ts";
import type { Show } from "../format/show.ts";
import { FIRST_CHANNEL_MODE } from "../midi/controllers.ts";
import type { Advice } from "./advice.ts";

export function safeMend(show: Show, advice: Advice): OneEdit | null {
  if (!("mapping" in advice.about)) return null;
  const id = advice.about.mapping;
  switch (advice.code) {
    case "clash":
      // It never acts, because the other one wins.
      return advice.wins ? null : { kind: "change-mapping", id, set: { on: false } };
    case "reserved-range": {
      const message = show.mappings.find((m) => m.id === id)?.message;
      if (!message || message.numbers[0] >= FIRST_CHANNEL_MODE) return null;
      const numbers: [number, number] = [message.numbers[0], FIRST_CHANNEL_MODE - 1];
      return { kind: "change-mapping", id, set: { message: { ...message, numbers } } };
    }
    default:
      return null;
  }
}

/** All that may be done at once; of two for one mapping the first. */
export function safeMends(show: Show, all: readonly Advice[]): OneEdit[] {
  const edits = new Map<string, OneEdit>();
  for (const advice of all) {
    const edit = safeMend(show, advice);
    if (edit?.kind === "change-mapping" && !edits.has(edit.id)) edits.set(edit.id, edit);
  }
  return [...edits.values()];
}
