/** What Zod cannot see in a surface profile: names twice, messages twice, kinds that do not fit, banks that lead out. */

import type { Path, Problem, SentMessage } from "../format/problem.ts";
import type { Control, SurfaceProfile } from "../format/surface-profile.ts";
import { parseHexBytes } from "../midi/hex.ts";
import { wholeMidi } from "../midi/parser.ts";
import { COMMAND_DATA, CUE_NAMES } from "../midi/show-control.ts";
import { expandBanks } from "../surface/internal-banks.ts";
import { duplicates } from "./check-names.ts";

type Behaviour = Control["behaviour"];

const SWITCHES: readonly Behaviour[] = ["springs-back", "latches", "latches-both-on"];
/** Behaviours each kind of message can have; what is not named can have any. */
const BEHAVIOURS: Partial<Record<Control["sends"]["kind"], readonly Behaviour[]>> = {
  note: [...SWITCHES, "one-shot"],
  controller: [...SWITCHES, "one-shot", "absolute"],
  bend: ["absolute"],
  "controller-14": ["absolute"],
  nrpn: ["absolute"],
  rpn: ["absolute"],
  relative: ["relative"],
  clicks: ["relative"],
  "poly-pressure": ["absolute"],
  "channel-pressure": ["absolute"],
  transport: ["one-shot"],
  "song-position": ["absolute"],
  "time-code": ["absolute"],
  "show-control": ["one-shot"],
  "machine-control": ["one-shot"],
};

export function checkSurfaceProfile(profile: SurfaceProfile): Problem[] {
  const problems: Problem[] = [];
  duplicates(profile.controls, "control", ["controls"], problems);
  duplicates(profile.palettes, "palette", ["palettes"], problems);
  duplicates(profile.banks ?? [], "surface-bank", ["banks"], problems);
  const keys = new Set<string>();
  const palettes = new Set(profile.palettes.map((p) => p.id));
  profile.controls.forEach((c, i) => {
    const path = ["controls", i];
    const allowed = behavioursOf(c);
    if (allowed && !allowed.includes(c.behaviour))
      problems.push({
        code: "not-valid",
        path: [...path, "behaviour"],
        expected: { is: "behaviour", behaviours: allowed },
      });
    if (c.light && !palettes.has(c.light.palette))
      problems.push({ code: "unknown-id", path: [...path, "light", "palette"], what: "palette", id: c.light.palette });
    if (c.sends.kind === "show-control")
      for (const field of CUE_NAMES)
        if (c.sends[field] !== undefined && !COMMAND_DATA[c.sends.command][field])
          problems.push({
            code: "not-valid",
            path: [...path, "sends", field],
            expected: { is: "rule", rule: "cue-of-command" },
          });
    checkKeys(c, path, keys, problems);
    if (c.banked && !profile.banks)
      problems.push({ code: "not-valid", path: [...path, "banked"], expected: { is: "rule", rule: "needs-banks" } });
  });
  const controls = new Map(profile.controls.map((c) => [c.id, c]));
  duplicates(profile.displays ?? [], "display", ["displays"], problems);
  profile.displays?.forEach((d, i) => {
    if (!controls.has(d.of))
      problems.push({ code: "unknown-id", path: ["displays", i, "of"], what: "control", id: d.of });
  });
  profile.controls.forEach((c, i) => {
    if (c.motor && c.behaviour !== "absolute")
      problems.push({
        code: "not-valid",
        path: ["controls", i, "motor"],
        expected: { is: "rule", rule: "motor-of-fader" },
      });
  });
  for (const [key, list] of [
    ["init", profile.init],
    ["teardown", profile.teardown],
  ] as const)
    list?.forEach((hex, i) => {
      if (!wholeMessages(hex))
        problems.push({ code: "not-valid", path: [key, i], expected: { is: "rule", rule: "whole-midi" } });
    });
  const indexes = new Map(profile.controls.map((c, i) => [c.id, i]));
  checkMessages(expandBanks(profile), (id) => indexes.get(id.split(".")[0]!) ?? indexes.get(id) ?? 0, problems);
  return problems;
}

function wholeMessages(hex: string): boolean {
  const bytes = parseHexBytes(hex);
  return bytes !== null && wholeMidi(bytes);
}

function behavioursOf(c: Control): readonly Behaviour[] | undefined {
  if (c.sends.kind === "program") return c.sends.number === undefined ? ["absolute"] : ["one-shot"];
  if (c.sends.kind === "sysex") return c.sends.valueAt === undefined ? ["one-shot"] : ["absolute", "springs-back"];
  if (c.sends.kind !== "any") return BEHAVIOURS[c.sends.kind];
  return c.sends.of === "note" ? ["springs-back"] : c.sends.of === "controller" ? ["absolute"] : ["one-shot"];
}

/** Every message belongs to one control, and stays a message in every bank. */
function checkMessages(profile: SurfaceProfile, indexOf: (id: string) => number, problems: Problem[]): void {
  const owners = new Map<string, string>();
  for (const control of profile.controls) {
    const path: Path = ["controls", indexOf(control.id), "sends"];
    const { sends } = control;
    if ("channel" in sends && (sends.channel < 1 || sends.channel > 16))
      problems.push({ code: "out-of-range", path, what: "channel", value: sends.channel, from: 1, to: 16 });
    if ("number" in sends && sends.number !== undefined && sends.kind !== "nrpn" && sends.kind !== "rpn") {
      if (sends.number < 0 || sends.number > 127)
        problems.push({ code: "out-of-range", path, what: "number", value: sends.number, from: 0, to: 127 });
    }
    for (const message of messagesOf(control)) {
      const key = `${message.kind} ${message.number ?? ""} ${message.channel ?? ""}`;
      const owner = owners.get(key);
      if (owner !== undefined && owner !== control.id) problems.push({ code: "sent-twice", path, message, by: owner });
      else owners.set(key, control.id);
    }
  }
}

/** The messages that mean this control. Cues and SysEx may overlap: the more exact one is looked at first. */
function messagesOf({ sends, touch, pressure }: Control): SentMessage[] {
  const all: SentMessage[] = [];
  switch (sends.kind) {
    case "note":
    case "controller":
    case "nrpn":
    case "rpn":
    case "poly-pressure":
    case "bend":
    case "channel-pressure":
    case "program":
      all.push(sends);
      break;
    case "relative":
    case "clicks":
      all.push({ ...sends, kind: "controller" });
      break;
    case "controller-14":
      // MIDI 1.0, "Control Change": the LSB of controller n is controller n + 32.
      for (const number of [sends.number, sends.number + 32])
        all.push({ kind: "controller", number, channel: sends.channel });
      break;
    case "transport":
      all.push({ kind: sends.message });
      break;
    case "song-position":
    case "time-code":
      all.push({ kind: sends.kind });
      break;
    case "sysex":
      all.push({ kind: "sysex", number: sends.prefix.toUpperCase() });
      break;
    case "show-control":
    case "machine-control":
    case "any":
      break;
    default:
      sends satisfies never;
  }
  if (touch) all.push(touch);
  if (pressure) all.push(pressure);
  return all.map(({ kind, number, channel }) => ({
    kind,
    ...(number === undefined ? {} : { number }),
    ...(channel === undefined ? {} : { channel }),
  }));
}

/** `taken`: keys of the controls before it. */
function checkKeys({ keys, behaviour }: Control, path: Path, taken: Set<string>, problems: Problem[]): void {
  if (!keys) return;
  const wanted = behaviour === "relative" ? 2 : behaviour === "absolute" ? 0 : 1;
  if (keys.length !== wanted)
    problems.push({
      code: "not-valid",
      path: [...path, "keys"],
      expected: { is: "rule", rule: (["no-key", "one-key", "two-keys"] as const)[wanted] },
    });
  keys.forEach((key, k) => {
    if (taken.has(key)) problems.push({ code: "duplicate-id", path: [...path, "keys", k], what: "key", id: key });
    taken.add(key);
  });
}
