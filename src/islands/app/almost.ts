/** A mapping that nearly took what was heard last. */
import { parseHexBytes } from "../../core/midi/hex.ts";
import { OUTCOME, outcomeFacts } from "../../core/trace/outcome.ts";
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import { nearMisses } from "../../core/translate/near-miss.ts";
import { nearMissWords } from "../../words/advice.ts";
import type { LiveState } from "../live/apply-changes.ts";
import { liveNames } from "../live/row-names.ts";

const MESSAGE_DIFFERS = new Set(["channel", "number", "kind"]);

/** For a message that no mapping took: the mapping that differs in one thing only, and in which; null = none does. */
export function almost(live: LiveState, heard: TrafficEntry): string | null {
  const surface = live.compiled.surfaces.findIndex((s) => s.id === heard.device);
  const bytes = parseHexBytes(heard.hex);
  if (!outcomeFacts(heard.code)?.untaken || surface < 0 || !bytes) return null;
  const misses = nearMisses(live.context, surface, bytes, () => heard.code === OUTCOME.bypassed);
  // A control that is simply free has neighbours; only a message of no control may have meant one of them.
  // A condition that is not met has been told with what became of the message.
  const isTold = (m: { mapping: string }) => heard.code === OUTCOME.conditionFalse && m.mapping === heard.mapping;
  const miss = misses.find((m) => !isTold(m) && (heard.code === OUTCOME.noControl || !MESSAGE_DIFFERS.has(m.differs)));
  const names = liveNames(live);
  const mapping = miss && names.mapping(miss.mapping);
  return mapping ? `${mapping.label}: ${nearMissWords(miss, names)}` : null;
}
