/** What became of a message, as a code with two numbers. `words.ts` turns it into a sentence. */

export const OUTCOME = {
  /** In from a surface: its actions were sent. a = value of the first. */
  sent: 0,
  noControl: 1,
  noMapping: 2,
  /** The mapping is switched off. */
  mappingOff: 3,
  /** Mapped, but not on this layer or page. */
  notHere: 4,
  /** a = where the fader stands, b = where it has to go, 0..1. */
  waitingToCatch: 5,
  /** A release with nothing to let go. */
  released: 6,
  /** a = the number that was asked for, b = which parameter. */
  outOfRange: 7,
  /** The page is not known: the desk has not said which is up. */
  pageUnknown: 8,
  /** The mapping has no action that is on. */
  noActions: 9,
  /** Stopped by the guard: the message was our own coming back. */
  looped: 10,
  /** Bytes that are no message. a = how many. */
  malformed: 11,
  /** Below or above the middle without crossing it: a fader on a switch. */
  noCrossing: 12,
  /** Clock, active sensing and other messages no control sends. */
  notAControl: 13,
  /** Half of a value in two messages, or the number of a parameter: the other half decides. */
  partOfValue: 14,
  /** The desk has not said what is selected. */
  selectionUnknown: 16,
  /** The value of another state that decides a number is not known. */
  valueUnknown: 17,
  /** Out of service: the control or its group is bypassed. */
  bypassed: 18,
  /** Whether it is a tap, a hold or a double tap is not decided yet. */
  waitingForGesture: 19,
  /** A condition does not hold, or another control is not held. */
  conditionFalse: 25,
  /** The shape sends nothing: outside its range, the same side of a threshold, or not plausible. */
  shaped: 26,
  /** Its first action waits. a = how long, in ms. */
  delayed: 27,
  /** A list of steps is at its end. */
  endOfList: 28,
  /** Its desk does not answer: the newest value is kept for when it does. */
  keptForDesk: 35,
  /** Its desk does not answer: nothing is sent. */
  deskSilent: 36,
  /** Passed on by a route, with no mapping. */
  routed: 29,
  /** In from a browser over the live socket: not understood, or too long. */
  refused: 15,
  /** In from a desk: a = how many values changed. */
  reported: 20,
  /** In from a desk: it confirmed what was sent. a = ms since then; the cause is the row that was sent. */
  confirmed: 21,
  /** In from a desk: no state listens to this address. */
  unheard: 22,
  /** In from a desk: an answer to the heartbeat. a = round trip in ms. */
  pulse: 23,
  /** In from a desk: nothing new. */
  unchanged: 24,
  /** In from a desk: it refused a command; the cause is the row that was sent. */
  deskRefused: 37,
  /** In from a desk: meters and the like, which change all the time. */
  stream: 38,
  /** In from a desk: a bundle that is carried out at its own time. a = in how many ms. */
  dueLater: 39,
  /** Out to a desk: an action. a = value, b = index of the state it changes, or -1. */
  action: 30,
  /** Out to a desk: what was held is let go. */
  letGo: 31,
  /** Out to a desk: subscription, query or heartbeat. */
  upkeep: 32,
  /** Out by a route. */
  passedOn: 33,
  /** Out: a message of one's own. */
  ownMessage: 34,
  /** Out to a surface: what it shows. b = 0 a light, 1 a motor, 2 a ring, 3 a text. */
  light: 40,
} as const;

export type OutcomeCode = (typeof OUTCOME)[keyof typeof OUTCOME];
