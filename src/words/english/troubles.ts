/** Why a port is not open, in English: clauses that go on a sentence, and what to do. */
import type { Language } from "../language.ts";

export const TROUBLES: Language["troubles"] = {
  "port-in-use": {
    says: (t) => `port ${t.port} is already used on this computer`,
    remedy: "Close the program that has it, or choose another port.",
    example: { code: "port-in-use", port: 9101 },
  },
  "port-forbidden": {
    says: (t) => `this computer does not allow port ${t.port}`,
    remedy: "Choose a port above 1023.",
    example: { code: "port-forbidden", port: 80 },
  },
  "not-our-address": {
    says: () => "this computer does not have that address",
    remedy: "Check the address, and whether the network is plugged in.",
    example: { code: "not-our-address" },
  },
  "unknown-name": {
    says: () => "that name is not known on this network",
    remedy: "Check how it is spelt, or use the address in numbers.",
    example: { code: "unknown-name" },
  },
  "no-route": {
    says: () => "there is no way to that address from this computer",
    remedy: "Check the network cable, and whether both are on the same network.",
    example: { code: "no-route" },
  },
  "nobody-listens": {
    says: (t) => `no${t.broker ? " broker" : "body"} listens on port ${t.port} there`,
    remedy: "Check that it is running and that the port is the one it listens on.",
    example: { code: "nobody-listens", port: 9100, broker: false },
  },
  "closed-by-peer": {
    says: (t) => `the ${t.broker ? "broker" : "desk"} closed the connection`,
    remedy: "Nothing has to be done if it was switched off; otherwise look at what it says.",
    example: { code: "closed-by-peer", broker: false },
  },
  "not-framed": {
    says: () => "what comes is not framed by lengths; try SLIP",
    remedy: "Choose “OSC over TCP, framed by SLIP” in its address.",
    example: { code: "not-framed" },
  },
  "nobody-connected": {
    says: (t) => `nobody has connected to port ${t.port} yet`,
    remedy: "Enter this computer’s address and this port at the desk.",
    example: { code: "nobody-connected", port: 9100 },
  },
  "not-let-in": {
    says: () => "it does not let us in with this user and password",
    remedy: "“Change address” has both.",
    example: { code: "not-let-in" },
  },
  "no-answer-in-time": {
    says: () => "it does not answer in time",
    remedy: "Check that it is running; its profile says how long an answer is waited for.",
    example: { code: "no-answer-in-time" },
  },
  "answer-too-long": {
    says: () => "its answer is too long",
    remedy: "Ask it for less.",
    example: { code: "answer-too-long" },
  },
  "not-in-browser": {
    says: (t) => `no open browser has “${t.device}”`,
    remedy: "Plug it in where a browser has this page open, and look for devices there.",
    example: { code: "not-in-browser", device: "Deck grid" },
  },
  "not-on-computer": {
    says: (t) => `this computer has no “${t.device}” now`,
    remedy: "Plug it in; it is taken back by itself.",
    example: { code: "not-on-computer", device: "Deck grid" },
  },
  "no-computer-midi": {
    says: (t) => `MIDI of this computer is out of reach: ${t.reason}`,
    remedy: "Use a browser’s MIDI instead, or install the computer’s sound system.",
    example: { code: "no-computer-midi", reason: "no sound system" },
  },
  "nobody-in-session": {
    says: () => "no peer of the session is connected",
    remedy: "Invite one, or let one in.",
    example: { code: "nobody-in-session" },
  },
  "nothing-heard": {
    says: (t) => `nobody sends universe ${t.universe}`,
    remedy: "Check the universe and the network of the lighting desk.",
    example: { code: "nothing-heard", universe: 1 },
  },
  system: {
    says: (t) => `the system says ${t.reason}`,
    remedy: "Search for this word, or ask whoever looks after the computer.",
    example: { code: "system", reason: "EMFILE" },
  },
};
