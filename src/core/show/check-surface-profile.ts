/** What Zod cannot see in a surface profile: names twice, messages twice, kinds that do not fit, banks that lead out. */
import { wholeMidi } from "../midi/parser.ts";
import { parseHexBytes } from "../midi/words.ts";
import { expandBanks } from "../surface/internal-banks.ts";
import { twice } from "./check-names.ts";
import type { Path, Problem } from "./problem.ts";
import type { Control, SurfaceProfile } from "./surface-profile.ts";

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
  twice(profile.controls, "control", ["controls"], problems);
  twice(profile.palettes, "palette", ["palettes"], problems);
  twice(profile.banks ?? [], "bank", ["banks"], problems);
  const keys = new Set<string>();
  const palettes = new Set(profile.palettes.map((p) => p.id));
  profile.controls.forEach((c, i) => {
    const path = ["controls", i];
    const allowed = behavioursOf(c);
    if (allowed && !allowed.includes(c.behaviour))
      problems.push({
        code: "not-valid",
        path: [...path, "behaviour"],
        expected: allowed.map((b) => `“${b}”`).join(" or "),
      });
    if (c.light && !palettes.has(c.light.palette))
      problems.push({ code: "unknown-id", path: [...path, "light", "palette"], what: "palette", id: c.light.palette });
    checkKeys(c, path, keys, problems);
    if (c.banked && !profile.banks)
      problems.push({ code: "not-valid", path: [...path, "banked"], expected: "banks in the profile" });
  });
  const controls = new Map(profile.controls.map((c) => [c.id, c]));
  twice(profile.displays ?? [], "display", ["displays"], problems);
  profile.displays?.forEach((d, i) => {
    if (!controls.has(d.of))
      problems.push({ code: "unknown-id", path: ["displays", i, "of"], what: "control", id: d.of });
  });
  profile.controls.forEach((c, i) => {
    if (c.motor && c.behaviour !== "absolute")
      problems.push({
        code: "not-valid",
        path: ["controls", i, "motor"],
        expected: "a motor only where a place is sent",
      });
  });
  for (const [key, list] of [
    ["init", profile.init],
    ["teardown", profile.teardown],
  ] as const)
    list?.forEach((hex, i) => {
      if (!wholeMessages(hex))
        problems.push({ code: "not-valid", path: [key, i], expected: "whole MIDI messages as hexadecimal pairs" });
    });
  const places = new Map(profile.controls.map((c, i) => [c.id, i]));
  checkMessages(expandBanks(profile), (id) => places.get(id.split(".")[0]!) ?? places.get(id) ?? 0, problems);
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
function checkMessages(profile: SurfaceProfile, place: (id: string) => number, problems: Problem[]): void {
  const owners = new Map<string, string>();
  for (const control of profile.controls) {
    const path: Path = ["controls", place(control.id), "sends"];
    const { sends } = control;
    if ("channel" in sends && (sends.channel < 1 || sends.channel > 16))
      problems.push({ code: "out-of-range", path, what: "channel", value: sends.channel, from: 1, to: 16 });
    if ("number" in sends && sends.number !== undefined && sends.kind !== "nrpn" && sends.kind !== "rpn") {
      if (sends.number < 0 || sends.number > 127)
        problems.push({ code: "out-of-range", path, what: "number", value: sends.number, from: 0, to: 127 });
    }
    for (const key of messageKeys(control)) {
      const owner = owners.get(key);
      if (owner !== undefined && owner !== control.id)
        problems.push({ code: "template", path, detail: `the control “${owner}” already sends ${key}.` });
      else owners.set(key, control.id);
    }
  }
}

/** The messages that mean this control, in words. Cues and SysEx may overlap: the more exact one is looked at first. */
function messageKeys({ sends, touch, pressure }: Control): string[] {
  const keys: string[] = [];
  switch (sends.kind) {
    case "note":
      keys.push(`note ${sends.number} on channel ${sends.channel}`);
      break;
    case "controller":
    case "relative":
    case "clicks":
      keys.push(`controller ${sends.number} on channel ${sends.channel}`);
      break;
    case "controller-14":
      keys.push(`controller ${sends.number} on channel ${sends.channel}`);
      keys.push(`controller ${sends.number + 32} on channel ${sends.channel}`);
      break;
    case "nrpn":
    case "rpn":
      keys.push(`${sends.kind} ${sends.number} on channel ${sends.channel}`);
      break;
    case "bend":
    case "channel-pressure":
      keys.push(`${sends.kind} on channel ${sends.channel}`);
      break;
    case "program":
      keys.push(`program ${sends.number ?? ""} on channel ${sends.channel}`);
      break;
    case "poly-pressure":
      keys.push(`pressure on note ${sends.number} on channel ${sends.channel}`);
      break;
    case "transport":
      keys.push(sends.message);
      break;
    case "song-position":
    case "time-code":
      keys.push(sends.kind);
      break;
    case "sysex":
      keys.push(`SysEx ${sends.prefix.toUpperCase()}`);
      break;
    case "show-control":
    case "machine-control":
    case "any":
      break;
    default:
      sends satisfies never;
  }
  if (touch) keys.push(`${touch.kind} ${touch.number} on channel ${touch.channel}`);
  if (pressure)
    keys.push(
      pressure.kind === "poly-pressure"
        ? `pressure on note ${pressure.number} on channel ${pressure.channel}`
        : `channel-pressure on channel ${pressure.channel}`,
    );
  return keys;
}

/** `taken`: keys of the controls before it. */
function checkKeys({ keys, behaviour }: Control, path: Path, taken: Set<string>, problems: Problem[]): void {
  if (!keys) return;
  const wanted = behaviour === "relative" ? 2 : behaviour === "absolute" ? 0 : 1;
  if (keys.length !== wanted)
    problems.push({
      code: "not-valid",
      path: [...path, "keys"],
      expected: ["no key: a fader is not pressed", "one key that presses it", "two keys, down and up"][wanted]!,
    });
  keys.forEach((key, k) => {
    if (taken.has(key)) problems.push({ code: "twice", path: [...path, "keys", k], what: "key", id: key });
    taken.add(key);
  });
}
