/** Checks that help, in English. */
import type { Language } from "../language.ts";
import { oneOf } from "./lists.ts";

export const ADVICE: Language["advice"] = {
  clash: {
    says: (a) => `Two mappings of ${a.control} say the same; ${a.wins ? "this one wins" : "the other one wins"}.`,
    remedy: "Change where one of them holds.",
    mend: "Switch this one off",
  },
  "layer-unreachable": {
    says: (a) => `Nothing enters the layer ${oneOf(a.layers)}, so this mapping never holds.`,
    remedy: "Map a control to it.",
  },
  "page-unreachable": {
    says: (a) => `The desk has pages ${a.from} to ${a.to}; this mapping holds on none of them.`,
    remedy: "Choose pages that the desk has.",
  },
  "radio-alone": {
    says: (a) => `No other mapping is in the group “${a.group}”, so there is nothing to switch off.`,
    remedy: "Put another mapping into the group, or take this one out.",
  },
  "outside-range": {
    says: (a) =>
      `This action reaches ${a.parameter} ${a.reaches[0]} to ${a.reaches[1]}; the desk has ${a.from} to ${a.to}. ${a.never ? "It never sends anything." : "Outside of that it sends nothing."}`,
    remedy: "Move the range, or the bank it follows.",
  },
  "reserved-range": {
    says: () => "Controllers 120 to 127 are channel mode messages and are not read as controls.",
    remedy: "End the range at 119.",
    mend: "End it at 119",
  },
  "reserved-controller": {
    says: (a) => `Controller ${a.number} is a channel mode message: it can silence or reset the unit that hears it.`,
    remedy: "Choose a number below 120.",
  },
  "own-number": {
    says: (a) =>
      `${a.surface} sends this message itself, from ${a.control}, on the same port: it may light or move it.${a.free === null ? "" : ` The next free number is ${a.free}.`}`,
    remedy: "Choose a number that the surface does not use.",
  },
  "route-to-itself": {
    says: (a) =>
      `The route ${a.route} sends what it hears back to where it came from. A unit that echoes will be stopped by the guard.`,
    remedy: "Choose another end for it.",
  },
  "desk-feeds-input": {
    says: (a) => `${a.desk} sends to the very port that ${a.input} listens on: what goes out comes in again.`,
    remedy: "Choose another port for one of them.",
  },
  "surface-hears-itself": {
    says: (a) => `${a.surface} sends to the very port it listens on: its own lights come in as presses.`,
    remedy: "Choose another port for one of the two.",
  },
};
