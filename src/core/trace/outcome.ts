/**
 * What became of a message. One table; the codes in rows of traffic, the tone of a row, what counts as taken or as upkeep,
 * and the words (src/words) follow from it. `a` and `b` are the two numbers that a row carries beside its code.
 */

/** How a row is to be read: something was done, a hand is needed, something is wrong, or it is of no matter. */
export type Tone = "good" | "care" | "alert" | "quiet";

/** What a person can do about it, where there is something. */
export type Mend =
  | "map-control"
  | "add-control"
  | "switch-on"
  | "show-mapping"
  | "add-action"
  | "end-bypass"
  | "try-desk"
  | "rearm"
  | "edit-profile";

export interface OutcomeFacts {
  /** As it stands in rows and on the live socket; never changed, never used again. */
  readonly code: number;
  readonly tone: Tone;
  /** A mapping took the message, whatever it then sent: a route of what is unmapped leaves it alone. */
  readonly taken?: true;
  /** Nothing a person did or sees: left out of the list unless it is asked for, and of the bottom line. */
  readonly upkeep?: true;
  /** No mapping took it: one that differs in one thing may have been meant (near-miss.ts). */
  readonly untaken?: true;
  /** Seen in the list, but not worth the bottom line, where it would push away what is. */
  readonly inListOnly?: true;
  readonly mend?: Mend;
}

export const OUTCOMES = {
  // In from a surface.
  /** Its actions were sent. a = value of the first. */
  sent: { code: 0, tone: "good", taken: true },
  noControl: { code: 1, tone: "care", untaken: true, mend: "add-control" },
  noMapping: { code: 2, tone: "care", untaken: true, mend: "map-control" },
  mappingOff: { code: 3, tone: "care", untaken: true, mend: "switch-on" },
  /** Mapped, but not on this layer or page. */
  notHere: { code: 4, tone: "care", untaken: true, mend: "show-mapping" },
  /** a = where the fader stands, b = where it has to go, 0..1. */
  waitingToCatch: { code: 5, tone: "care", taken: true },
  /** A release with nothing to let go; the press before it is what people want to read. */
  released: { code: 6, tone: "quiet", inListOnly: true },
  /** a = the number that was asked for, b = which parameter of the function. */
  outOfRange: { code: 7, tone: "care", taken: true, mend: "show-mapping" },
  /** The desk has not said which page is up. */
  pageUnknown: { code: 8, tone: "care", taken: true, mend: "try-desk" },
  /** The mapping has no action that is on. */
  noActions: { code: 9, tone: "care", mend: "add-action" },
  /** Stopped by the guard: the message was our own coming back. */
  looped: { code: 10, tone: "alert", mend: "rearm" },
  /** Bytes that are no valid message. a = how many. */
  malformed: { code: 11, tone: "alert" },
  /** Below or above the middle without crossing it: a fader on a switch. */
  noCrossing: { code: 12, tone: "quiet", taken: true },
  /** Clock, active sensing and other messages no control sends. */
  notAControl: { code: 13, tone: "quiet" },
  /** Half of a value in two messages, or the number of a parameter: the other half decides. */
  partOfValue: { code: 14, tone: "quiet" },
  /** The desk has not said what is selected. */
  selectionUnknown: { code: 16, tone: "care", taken: true, mend: "try-desk" },
  /** The value of another state that decides a number is not known. */
  valueUnknown: { code: 17, tone: "care", taken: true, mend: "try-desk" },
  /** An action takes a number from the message that this one has not. a = which of MESSAGE_PARTS, b = the parameter. */
  noSuchPart: { code: 45, tone: "care", taken: true, mend: "show-mapping" },
  /** Out of service: the control or its group is bypassed. */
  bypassed: { code: 18, tone: "care", untaken: true, mend: "end-bypass" },
  /** Whether it is a tap, a hold or a double tap is not decided yet. */
  waitingForGesture: { code: 19, tone: "quiet", taken: true },
  /**
   * A condition does not hold, or another control is not held. b = which of the mapping's conditions, or CHORD;
   * a = the value it found, or NOT_KNOWN.
   */
  conditionFalse: { code: 25, tone: "care", untaken: true, mend: "show-mapping" },
  /** The shape sends nothing: outside its range, the same side of a threshold, or not plausible. */
  shaped: { code: 26, tone: "quiet", taken: true },
  /** Its first action waits. a = how long, in ms. */
  delayed: { code: 27, tone: "good", taken: true },
  /** A list of steps is at its end. */
  endOfList: { code: 28, tone: "care", taken: true, mend: "show-mapping" },
  /** Its desk does not answer: the newest value is kept for when it does. */
  keptForDesk: { code: 35, tone: "care", mend: "try-desk" },
  /** Its desk does not answer: nothing is sent. */
  deskSilent: { code: 36, tone: "care", mend: "try-desk" },
  /** Hands teach: it chose the control, or showed what it is, and did nothing else. */
  taught: { code: 49, tone: "quiet" },
  /** Passed on by a route, with no mapping. */
  routed: { code: 29, tone: "good" },
  // In from a browser over the live socket.
  /** Not understood, or too long. */
  refused: { code: 15, tone: "alert" },
  // In from a desk.
  /** a = how many values changed. */
  reported: { code: 20, tone: "good" },
  /** It confirmed what was sent. a = ms since then; the cause is the row that was sent. */
  confirmed: { code: 21, tone: "good" },
  /** No state of its profile listens to this. */
  unheard: { code: 22, tone: "care", mend: "edit-profile" },
  /** An answer to the heartbeat. a = round trip in ms. */
  pulse: { code: 23, tone: "quiet", upkeep: true },
  unchanged: { code: 24, tone: "quiet", inListOnly: true },
  /** It was asked, by us and not by a hand, and says what was known. */
  answer: { code: 44, tone: "quiet", upkeep: true },
  /** It refused a command; the cause is the row that was sent. */
  deskRefused: { code: 37, tone: "alert" },
  /** Meters and the like, which change all the time. */
  stream: { code: 38, tone: "quiet", upkeep: true },
  /** A bundle that is carried out at its own time. a = in how many ms. */
  dueLater: { code: 39, tone: "good" },
  /** It did not take what was sent, also not when that was sent again; the cause is the row. */
  notTaken: { code: 43, tone: "alert" },
  /** Its address patterns fit more than one datagram may change; the rest of it was left out. */
  patternsTooWide: { code: 41, tone: "alert" },
  /** An address pattern that is none. a = how many letters it has. */
  badPattern: { code: 46, tone: "alert" },
  /** A bundle for a time so far ahead that the clocks of the two cannot agree: it was carried out at once. */
  otherClock: { code: 47, tone: "care" },
  /** A bundle that was carried out at once, because as many as may already wait for their time. a = how many. */
  noRoomToWait: { code: 48, tone: "care" },
  // Out.
  /** To a desk: an action. a = value, b = index of the state it changes, or -1. */
  action: { code: 30, tone: "good" },
  /** To a desk: an action again, because nothing told that it arrived. a and b as for an action. */
  sentAgain: { code: 42, tone: "care", inListOnly: true },
  /** To a desk: what was held is let go. a and b as for an action. */
  letGo: { code: 31, tone: "good" },
  /** To a desk: subscription, query or heartbeat. */
  upkeep: { code: 32, tone: "quiet", upkeep: true },
  /** By a route. */
  passedOn: { code: 33, tone: "good" },
  /** A message of one's own. */
  ownMessage: { code: 34, tone: "good" },
  /** To a surface: what it shows. b = which of SHOWN. */
  light: { code: 40, tone: "quiet", inListOnly: true },
} as const satisfies Record<string, OutcomeFacts>;

export type Outcome = keyof typeof OUTCOMES;
export const ALL_OUTCOMES = Object.keys(OUTCOMES) as Outcome[];

/** A code as it stands in a row. */
export type OutcomeCode = (typeof OUTCOMES)[Outcome]["code"];

type Codes = { readonly [O in Outcome]: (typeof OUTCOMES)[O]["code"] };
/** The codes by their names, for whoever writes rows. */
export const OUTCOME = Object.fromEntries(ALL_OUTCOMES.map((o) => [o, OUTCOMES[o].code])) as Codes;

const BY_CODE = new Map<number, Outcome>(ALL_OUTCOMES.map((o) => [OUTCOMES[o].code, o]));

/** The outcome of a code; undefined for one that an older or newer program wrote. */
export function outcomeOf(code: number): Outcome | undefined {
  return BY_CODE.get(code);
}

/** What the table says of a code; of one that is not known, nothing. */
export function outcomeFacts(code: number): OutcomeFacts | undefined {
  const outcome = BY_CODE.get(code);
  return outcome && OUTCOMES[outcome];
}

/** Codes of the outcomes for which the table says so: looked up at each message. */
export function codesWhere(says: (facts: OutcomeFacts) => boolean): ReadonlySet<number> {
  return new Set(ALL_OUTCOMES.filter((o) => says(OUTCOMES[o])).map((o) => OUTCOMES[o].code));
}

/** In the place of a condition: the other control that has to be held is not. */
export const CHORD = -1;
/** In the place of a value: the desk has not said it. A number, because rows and JSON have no other kind. */
export const NOT_KNOWN = Number.MIN_SAFE_INTEGER;

/** What a row of the outcome `light` shows, by its second number. */
export const SHOWN = { light: 0, motor: 1, ring: 2, text: 3 } as const;
export type Shown = keyof typeof SHOWN;
