/** What things are called in English. */
import type { Language } from "../language.ts";

export const THINGS: Language["things"] = {
  surface: "surface",
  desk: "desk",
  "surface-or-desk": "surface or desk",
  layer: "layer",
  mapping: "mapping",
  action: "action",
  group: "group",
  bank: "bank",
  variable: "variable",
  bundle: "bundle",
  route: "route",
  session: "session",
  "surface-profile": "kind of surface",
  "desk-profile": "kind of desk",
  control: "control",
  palette: "palette",
  display: "display",
  "surface-bank": "bank of the surface",
  key: "key",
  channel: "channel",
  parameter: "parameter",
  "function-parameter": "parameter of this function",
  state: "state",
  function: "function",
  "page-function": "function with the page as its only parameter",
};

export const GESTURES: Language["gestures"] = {
  press: "Press",
  move: "Move",
  release: "Release",
  tap: "Tap",
  hold: "Hold",
  double: "Double tap",
  "while-held": "While held",
  turn: "Turn",
  "turn-left": "Turn left",
  "turn-right": "Turn right",
  pressure: "Pressure",
  touch: "Touch",
  untouch: "Let go",
};

export const CONTROL_KINDS: Language["controlKinds"] = {
  pad: "pad",
  button: "button",
  key: "key",
  fader: "fader",
  knob: "knob",
};

export const BEHAVIOURS: Language["behaviours"] = {
  "springs-back": "springs back",
  latches: "latches",
  "latches-both-on": "latches, says on both times",
  "one-shot": "has no release",
  absolute: "stays where it is put",
  relative: "turns without end",
};

export const MESSAGES: Language["messages"] = { osc: "an OSC message", midi: "MIDI", line: "a line of text" };

export const WIRES: Language["wires"] = {
  osc: "an OSC address",
  lines: "a line",
  midi: "a MIDI message",
  inside: "nothing",
};
