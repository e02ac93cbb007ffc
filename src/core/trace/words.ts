/** What became of a message, as a sentence with the reason: for the bottom line and the list of traffic. */
import type { TrafficEntry } from "../live/protocol.ts";
import { wayToCatch } from "../shape/takeover.ts";
import { OUTCOME } from "./outcome.ts";

/** How a row is to be read: something was done, nothing was done and that may surprise, or mere upkeep. */
export type Tone = "done" | "care" | "alert" | "quiet";

export interface Became {
  text: string;
  tone: Tone;
}

/** Names that only the show knows. */
export interface RowNames {
  /** The mapping's name or what it is called otherwise. */
  mapping: string;
  /** Of the parameter with this place in the function of the mapping's action. */
  parameter: (place: number) => string;
}

const percent = (value01: number) => `${Math.round(value01 * 100)} %`;

export function becameWords(entry: TrafficEntry, names: RowNames): Became {
  switch (entry.code) {
    case OUTCOME.sent:
      return { text: names.mapping || "sent", tone: "done" };
    case OUTCOME.noControl:
      return { text: "nothing sent: the surface has no control for this message", tone: "care" };
    case OUTCOME.noMapping:
      return { text: "nothing sent: not mapped", tone: "care" };
    case OUTCOME.mappingOff:
      return { text: `nothing sent: ${names.mapping} is switched off`, tone: "care" };
    case OUTCOME.notHere:
      return { text: `nothing sent: ${names.mapping} holds on another layer or page`, tone: "care" };
    case OUTCOME.waitingToCatch:
      return { text: `waiting: ${wayToCatch(entry.a, entry.b)} to ${percent(entry.b)} to catch`, tone: "care" };
    case OUTCOME.released:
      return { text: "release: nothing to let go", tone: "quiet" };
    case OUTCOME.outOfRange:
      return { text: `nothing sent: the desk has no ${names.parameter(entry.b)} ${entry.a}`, tone: "care" };
    case OUTCOME.pageUnknown:
      return { text: "nothing sent: the desk has not said which page is up", tone: "care" };
    case OUTCOME.partOfValue:
      return { text: "one part of a value", tone: "quiet" };
    case OUTCOME.selectionUnknown:
      return { text: "nothing sent: the desk has not said what is selected", tone: "care" };
    case OUTCOME.valueUnknown:
      return { text: "nothing sent: the value it follows is not known", tone: "care" };
    case OUTCOME.bypassed:
      return { text: "nothing sent: out of service", tone: "care" };
    case OUTCOME.waitingForGesture:
      return { text: "waiting: tap, hold or double tap", tone: "quiet" };
    case OUTCOME.conditionFalse:
      return { text: `nothing sent: what ${names.mapping} depends on is not so`, tone: "care" };
    case OUTCOME.shaped:
      return { text: "nothing sent: its shape leaves the value as it was", tone: "quiet" };
    case OUTCOME.delayed:
      return { text: `${names.mapping}, in ${entry.a} ms`, tone: "done" };
    case OUTCOME.endOfList:
      return { text: `nothing sent: ${names.mapping} is at the end of its list`, tone: "care" };
    case OUTCOME.keptForDesk:
      return { text: `${names.mapping}: kept until the desk answers`, tone: "care" };
    case OUTCOME.deskSilent:
      return { text: "nothing sent: the desk does not answer", tone: "care" };
    case OUTCOME.deskRefused:
      return { text: "refused by the desk", tone: "alert" };
    case OUTCOME.stream:
      return { text: "meters", tone: "quiet" };
    case OUTCOME.routed:
      return { text: "passed on", tone: "done" };
    case OUTCOME.passedOn:
      return { text: "passed on by a route", tone: "done" };
    case OUTCOME.ownMessage:
      return { text: names.mapping || "a message of its own", tone: "done" };
    case OUTCOME.noActions:
      return { text: `nothing sent: ${names.mapping} has no action that is on`, tone: "care" };
    case OUTCOME.looped:
      return { text: "stopped: the surface was hearing its own lights", tone: "alert" };
    case OUTCOME.malformed:
      return {
        text: `ignored: ${entry.length === 0 ? entry.a : entry.length} bytes that are no message`,
        tone: "alert",
      };
    case OUTCOME.refused:
      return { text: `refused: ${entry.reason ?? "it was not understood"}`, tone: "alert" };
    case OUTCOME.noCrossing:
      return { text: "nothing sent: a switch acts where the fader crosses its middle", tone: "quiet" };
    case OUTCOME.notAControl:
      return { text: "not from a control", tone: "quiet" };
    case OUTCOME.reported:
      return { text: entry.a === 1 ? "one value changed" : `${entry.a} values changed`, tone: "done" };
    case OUTCOME.confirmed:
      return { text: `answered in ${Math.max(1, Math.round(entry.a))} ms`, tone: "done" };
    case OUTCOME.dueLater:
      return { text: `holds in ${Math.round(entry.a)} ms, as its time tag says`, tone: "done" };
    case OUTCOME.unheard:
      return { text: "ignored: the desk’s profile does not know this address", tone: "care" };
    case OUTCOME.pulse:
      return { text: `heartbeat, ${Math.max(1, Math.round(entry.a))} ms`, tone: "quiet" };
    case OUTCOME.unchanged:
      return { text: "nothing new", tone: "quiet" };
    case OUTCOME.action:
      return { text: names.mapping, tone: "done" };
    case OUTCOME.letGo:
      return { text: names.mapping ? `${names.mapping} let go` : "let go", tone: "done" };
    case OUTCOME.upkeep:
      return { text: "subscription, query or heartbeat", tone: "quiet" };
    case OUTCOME.light:
      return { text: SHOWN[entry.b] ?? "light", tone: "quiet" };
    default:
      return { text: "", tone: "quiet" };
  }
}

/** What was shown on a surface, by the second number of its outcome. */
const SHOWN = ["light", "motor", "ring", "text"];

/** Rows that tell of upkeep only, which the list can leave out. */
export function isUpkeepCode(code: number): boolean {
  return code === OUTCOME.pulse || code === OUTCOME.upkeep || code === OUTCOME.stream;
}
