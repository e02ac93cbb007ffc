/** Problems of documents and edits in English: what is so, why, and what to do. */
import type { StorageFault } from "../../core/format/problem.ts";
import type { Language } from "../language.ts";
import { EXPECTED, TEMPLATE_FAULTS } from "./expected.ts";
import { oneOf } from "./lists.ts";
import { CONTROL_KINDS, GESTURES, THINGS } from "./names.ts";

const path: readonly (string | number)[] = [];

export const PROBLEMS: Language["problems"] = {
  "not-json": {
    says: (p) => `this is not a JSON document (${p.reason})`,
    cause: "The file was cut short, is of another kind, or was edited by hand and has a slip in it.",
    remedy: "Choose another file, or mend the spot that is named.",
    example: { code: "not-json", path, reason: "Unexpected end of JSON input" },
  },
  "too-long": {
    says: (p) => `this is longer than ${p.maxBytes} bytes`,
    cause: "The document is larger than any show can be.",
    remedy: "Check that it is the file you meant.",
    example: { code: "too-long", path, maxBytes: 262_144 },
  },
  "wrong-format": {
    says: (p) => `expected a document of the format “${p.expected}”, found ${p.found}`,
    cause: "Another kind of document was opened: a profile where a show was wanted, or a file of another program.",
    remedy: "Choose a file of that format.",
    example: { code: "wrong-format", path: ["format"], expected: "velvet-hinge/show", found: "null" },
  },
  "newer-version": {
    says: (p) => `version ${p.found} was written by a newer Velvet Hinge; this one reads up to version ${p.newest}`,
    cause: "The document was saved by a newer program.",
    remedy: "Open it with that one, or update this one.",
    example: { code: "newer-version", path: ["version"], newest: 2, found: 3 },
  },
  "not-valid": {
    says: (p) => EXPECTED[p.expected.is](p.expected as never),
    cause: "A field is missing, is of another type, or breaks a rule of the format.",
    example: { code: "not-valid", path: ["name"], expected: { is: "rule", rule: "name" } },
  },
  "unknown-id": {
    says: (p) => `there is no ${THINGS[p.what]} “${p.id}”`,
    cause: "Something names a thing that the show or the profile does not have, or has no longer.",
    remedy: "Choose one that is there.",
    example: { code: "unknown-id", path: ["mappings", 0, "surface"], what: "surface", id: "deck" },
  },
  "duplicate-id": {
    says: (p) => `duplicate id: there is another ${THINGS[p.what]} “${p.id}”`,
    cause: "Two things of one list have the same id.",
    remedy: "Give one of them another.",
    example: { code: "duplicate-id", path: ["desks", 1, "id"], what: "desk", id: "lights" },
  },
  "in-use": {
    says: (p) => `the ${THINGS[p.what]} “${p.id}” is used by ${userOf(p)}`,
    cause: "Something was to be removed on which other things stand.",
    remedy: "Change or remove that first.",
    example: { code: "in-use", path: ["mappings", 0], what: "desk", id: "lights", by: "mapping", control: "pad-1" },
  },
  "out-of-range": {
    says: (p) => `${p.what} ${p.value}: the desk has ${p.from} to ${p.to}`,
    cause: "A number lies outside of what the desk, the function or the bank has.",
    remedy: "Choose a number in that range.",
    example: { code: "out-of-range", path, what: "channel", value: 99, from: 1, to: 32 },
  },
  "too-many-values": {
    says: (p) => `this kind of desk would keep ${p.count} values; ${p.most} are the most`,
    cause: "The ranges of the parameters of its states, multiplied, are too many.",
    remedy: "Make the ranges of its parameters smaller.",
    example: { code: "too-many-values", path: ["states"], count: 70_000, most: 65_536 },
  },
  "missing-number": {
    says: (p) => `${p.parameter} has no number`,
    cause: "An action does not say which one of its desk it means.",
    remedy: "Choose a number, or let it follow the page, the selection or a bank.",
    example: { code: "missing-number", path, parameter: "channel" },
  },
  "missing-target": {
    says: (p) => `this action needs a ${p.target === "port" ? "surface or desk" : p.target} to act on`,
    cause: "An action of Velvet Hinge itself does not say what it acts on.",
    remedy: "Choose one.",
    example: { code: "missing-target", path, target: "mapping" },
  },
  "wrong-gesture": {
    says: (p) =>
      `a ${CONTROL_KINDS[p.control]} of this kind has no “${GESTURES[p.gesture]}”; it has ${oneOf(p.can.map((g) => GESTURES[g]))}`,
    cause: "The control cannot make the gesture that the mapping waits for.",
    remedy: "Choose one of those.",
    example: { code: "wrong-gesture", path, gesture: "press", control: "fader", can: ["move"] },
  },
  "no-page": {
    says: (p) => `the desk “${p.desk}” has no pages to follow`,
    cause: "A number follows the page of a desk whose kind does not know pages, or has no function that sets them.",
    remedy: "Choose a fixed number or another desk.",
    example: { code: "no-page", path, desk: "vision" },
  },
  "no-selection": {
    says: (p) => `the desk “${p.desk}” does not tell what is selected`,
    cause: "A number follows the selection of a desk whose kind does not tell one.",
    remedy: "Choose a fixed number or another desk.",
    example: { code: "no-selection", path, desk: "lights" },
  },
  cycle: {
    says: (p) => `this mapping would run itself without end: ${p.way.map((id) => `“${id}”`).join(" runs ")}`,
    cause: "Mappings run each other in a ring.",
    remedy: "Let one of them run something else.",
    example: { code: "cycle", path, way: ["a", "b", "a"] },
  },
  template: {
    says: (p) => TEMPLATE_FAULTS[p.fault](p as never),
    cause: "A message of a profile has a name in braces that leads nowhere, braces that do not pair, or a wrong field.",
    example: { code: "template", path, fault: "braces", text: "/page/{page" },
  },
  "heard-twice": {
    says: (p) => `“${p.heard}” is already heard by the state “${p.by}”`,
    cause: "Two states of a profile take the same message of the desk, and only one could be meant.",
    remedy: "Make one of the two say what sets it apart.",
    example: { code: "heard-twice", path, heard: "/page", by: "page" },
  },
  "sent-twice": {
    says: ({ message: { kind, number, channel }, by }) =>
      `the control “${by}” already sends ${kind}${number === undefined ? "" : ` ${number}`}${channel === undefined ? "" : ` on channel ${channel}`}`,
    cause: "Two controls of a surface send the same message, so nothing could tell them apart.",
    remedy: "Give one of them another number or channel.",
    example: { code: "sent-twice", path, message: { kind: "note", number: 36, channel: 1 }, by: "pad-1" },
  },
  "range-twice": {
    says: (p) => `another mapping already calls other messages “${p.control}”`,
    cause: "Two ranges of messages of one surface have the same name.",
    remedy: "Give one of them another name.",
    example: { code: "range-twice", path, control: "all-notes" },
  },
  "nothing-to-undo": {
    says: () => "there is nothing to undo",
    cause: "The show is as it was when it was opened first.",
    example: { code: "nothing-to-undo", path },
  },
  "nothing-to-redo": {
    says: () => "there is nothing to do again",
    cause: "Nothing was undone, or something else was changed since.",
    example: { code: "nothing-to-redo", path },
  },
  "step-does-not-fit": {
    says: (p) => `“${p.label}” was recorded by another version and does not fit the show any more`,
    cause: "The step of the history would make a show that is not valid in this version.",
    remedy: "The show stays as it is. Make the change by hand.",
    example: { code: "step-does-not-fit", path, label: "change the profile Harbour lights" },
  },
  "not-saved": {
    says: (p) =>
      `the change was not made, because it could not be stored: ${STORAGE[p.reason]}; the show that runs is untouched${
        p.copy === null ? "" : `, and a copy of it is in ${p.copy}`
      }`,
    cause: "The disk with the data folder is full, gone, read-only or damaged.",
    remedy: "Make room or bring the folder back, then make the change again.",
    example: { code: "not-saved", path, reason: "full", copy: "/home/quay/velvet-hinge-emergency.show.json" },
  },
  "changed-elsewhere": {
    says: () => "the stored show is not the one that runs: another program has changed it",
    cause: "Two programs work with one data folder, past the lock that should keep the second one out.",
    remedy: "Stop one of them. Keep a copy of the show first.",
    example: { code: "changed-elsewhere", path },
  },
  "edits-on-hold": {
    says: ({ what }) =>
      what === "show"
        ? "edits are on hold, and another show cannot be opened meanwhile"
        : `edits are on hold, and this changes a ${THINGS[what]}, which the show runs on`,
    cause: "While edits are on hold only mappings, names, notes, lights and sleep can be changed.",
    remedy: "Put the edits in first, or throw them away: the button at the top says “on hold”.",
    example: { code: "edits-on-hold", path, what: "desk" },
  },
  "no-such-backup": {
    says: () => "there is no good backup of that name",
    cause: "The file was removed since the list was made, or it is damaged.",
    remedy: "Choose another one.",
    example: { code: "no-such-backup", path },
  },
  "no-such-show": {
    says: () => "there is no such show here",
    cause: "It was deleted in another window, or so long ago that it cannot be recovered.",
    remedy: "Open the list of shows again and choose another one.",
    example: { code: "no-such-show", path },
  },
  "no-such-version": {
    says: () => "this version is no longer kept",
    cause: "It was undone, or so many edits came after it that it was thinned out.",
    remedy: "Choose the one before or after it.",
    example: { code: "no-such-version", path },
  },
  "not-signed-in": {
    says: () => "this browser has not been let in",
    cause: "Its session was ended, was not used for 30 days, or there never was one.",
    remedy: "Load the page again and give a passcode.",
    example: { code: "not-signed-in", path },
  },
  "needs-role": {
    says: (p) => `this needs the role “${p.needs}”; you are here to ${p.has}`,
    cause: "The passcode that you came in by lets you do less than this.",
    remedy: "Leave, and come in with a passcode that does.",
    example: { code: "needs-role", path, needs: "edit", has: "run" },
  },
  "wrong-passcode": {
    says: () => "this is not the passcode",
    cause: "It was mistyped, or has been changed.",
    remedy: "Type it again, or ask who set it.",
    example: { code: "wrong-passcode", path },
  },
  "too-many-tries": {
    says: (p) => `too many wrong passcodes: the next one is looked at in ${p.waitS} s`,
    cause: "After a few wrong passcodes each one makes the next wait longer, so that nobody can guess.",
    remedy: "Wait, or let somebody who is in show you a pairing code: that needs no passcode.",
    example: { code: "too-many-tries", path, waitS: 30 },
  },
  "pairing-over": {
    says: () => "this pairing code was used already, or is older than ten minutes",
    cause: "A pairing code lets in one device, once.",
    remedy: "Ask for a new one.",
    example: { code: "pairing-over", path },
  },
  "passcode-length": {
    says: (p) => `a passcode has ${p.least} to ${p.most} characters`,
    cause: "A shorter one could be guessed.",
    remedy: "Three or four words are easy to remember and hard to guess.",
    example: { code: "passcode-length", path, least: 8, most: 200 },
  },
  "passcode-taken": {
    says: (p) => `this is the passcode of the role “${p.role}” already`,
    cause: "The passcode tells which role somebody comes in as, so each role has its own.",
    remedy: "Choose another one.",
    example: { code: "passcode-taken", path, role: "run" },
  },
  "passcode-needed": {
    says: () => "the role “edit” keeps its passcode as long as others can reach this computer",
    cause: "The program was started with --host, for more than this computer.",
    remedy: "Set another passcode, or start without --host.",
    example: { code: "passcode-needed", path },
  },
  "no-such-session": {
    says: () => "this device is no longer let in",
    cause: "Its session was ended in another window, or by itself.",
    example: { code: "no-such-session", path },
  },
};

const STORAGE: Record<StorageFault, string> = {
  full: "the disk is full",
  gone: "the data folder is gone",
  "read-only": "the data folder cannot be written to",
  damaged: "the stored file is damaged",
  failed: "the disk refused it",
};

function userOf({ by, control, name }: { by: keyof typeof THINGS; control?: string; name?: string }): string {
  if (control === undefined) return `a ${THINGS[by]}`;
  return `the ${THINGS[by]} of ${control}${name ? ` “${name}”` : ""}`;
}
