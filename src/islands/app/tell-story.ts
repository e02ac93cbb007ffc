/** What the bottom line tells: the newest message in, what it caused, and what answered. */
import { parseHexBytes } from "../../core/midi/hex.ts";
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import { messageWords } from "../../words/traffic.ts";
import type { LiveState } from "../live/apply-changes.ts";
import { liveNames } from "../live/row-names.ts";

/** A desk that talks this much later than hands did, in ms, is the news. */
const HANDS_REST_MS = 1500;
/** Messages out that are told of one message in. */
const MOST_TOLD = 3;

export interface Story {
  readonly heard: TrafficEntry;
  readonly sent: readonly TrafficEntry[];
  readonly answer: TrafficEntry | undefined;
}

export function tellStory(line: readonly TrafficEntry[]): Story | null {
  const fromHands = line.findLast((r) => !r.out && r.side === "surface");
  const fromDesk = line.findLast((r) => !r.out && r.side === "desk" && r.cause === 0);
  const heard =
    !fromHands || (fromDesk && fromDesk.atMs > fromHands.atMs + HANDS_REST_MS) ? (fromDesk ?? fromHands) : fromHands;
  if (!heard) return null;
  const sent = line.filter((r) => r.out && r.side === "desk" && r.cause === heard.seq).slice(-MOST_TOLD);
  const answer = line.findLast((r) => !r.out && sent.some((s) => s.seq === r.cause));
  return { heard, sent, answer };
}

/** A control's event in a person's words: "pad 15 pressed". */
export function eventWords(live: LiveState, entry: TrafficEntry): string {
  const surface = live.compiled.surfaces.find((s) => s.id === entry.device);
  const control = surface?.profile.controls[surface.indexOf.get(entry.control ?? "") ?? -1];
  if (!control) return messageWords(entry, liveNames(live));
  const name = control.name.toLowerCase();
  if (control.behaviour === "absolute") return `${name} moved`;
  const bytes = parseHexBytes(entry.hex) ?? new Uint8Array(3);
  const released = (bytes[0]! & 0xf0) === 0x80 || bytes[2] === 0;
  return `${name} ${released ? "released" : "pressed"}`;
}
