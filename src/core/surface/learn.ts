/**
 * Learn (rule 5): from a window of messages, which control somebody moved, what kind it is and how it says so. It
 * works without a profile, and names the others that moved in the same window.
 */

import type { Control, ControlMessage } from "../format/surface-profile.ts";
import { FIRST_CHANNEL_MODE } from "../midi/controllers.ts";
import { decodeShort } from "../midi/message.ts";
import { widen7 } from "../midi/pair-14.ts";
import { decodeRelative, RELATIVE_ENCODINGS, type RelativeEncoding } from "../midi/relative.ts";

/** One message of the window, with the source it came from. */
export interface HeardMessage {
  readonly source: string;
  readonly atMs: number;
  readonly bytes: Uint8Array;
}

export interface LearnCandidate {
  readonly source: string;
  readonly kind: "pad" | "button" | "fader" | "encoder" | "program" | "sysex" | "transport";
  readonly sends: ControlMessage;
  readonly behaviour: Control["behaviour"];
  /** 0..1: how sure it is of the kind and the encoding. */
  readonly confidence: number;
  /** How far it was moved, in whole ways from end to end; presses count one each. */
  readonly moved: number;
  readonly messages: number;
}

export interface Learned {
  readonly best: LearnCandidate | null;
  /** The others that were heard, the most moved first. */
  readonly others: readonly LearnCandidate[];
}

/** What is not listened to: whole sources, or single controls that will not stand still. */
export interface Ignored {
  readonly sources?: ReadonlySet<string>;
  /** As `candidateKey` names them. */
  readonly controls?: ReadonlySet<string>;
}

/** A name for one control of one source, for the list of those to ignore. */
export function candidateKey(source: string, sends: ControlMessage): string {
  return `${source} ${JSON.stringify(sends)}`;
}

/** A pair of halves this close together is one value, in ms. */
const PAIR_MS = 10;
/** Messages from which kinds are told apart with full confidence. */
const ENOUGH = 8;

interface Group {
  readonly source: string;
  readonly key: string;
  readonly channel: number;
  readonly number: number;
  readonly values: number[];
  readonly atMs: number[];
}

/** Judges a window of messages. The order of the answer does not depend on how the window was cut. */
export function learn(window: readonly HeardMessage[], ignored: Ignored = {}): Learned {
  const groups = new Map<string, Group>();
  const candidates: LearnCandidate[] = [];
  const presses = new Map<string, { on: number[]; off: number; both: boolean }>();
  const parameters = new Map<string, { registered: boolean; msb: number; lsb: number }>();

  for (const { source, atMs, bytes } of window) {
    if (ignored.sources?.has(source)) continue;
    if (bytes[0] === 0xf0) {
      candidates.push(sysexCandidate(source, bytes));
      continue;
    }
    const m = decodeShort(bytes[0] ?? 0, bytes[1] ?? 0, bytes[2] ?? 0);
    switch (m?.kind) {
      case "note-on":
      case "note-off": {
        const key = `${source}|note|${m.channel}|${m.note}`;
        const p = presses.get(key) ?? { on: [], off: 0, both: false };
        if (m.kind === "note-on") p.on.push(m.velocity);
        else p.off++;
        presses.set(key, p);
        break;
      }
      case "controller":
        if (m.number < FIRST_CHANNEL_MODE && !nameParameter(source, m.channel, m.number, m.value))
          gather(source, dataEntryKey(source, m.channel, m.number), m.channel, m.number, m.value, atMs);
        break;
      case "bend":
        gather(source, "bend", m.channel, 0, m.value14, atMs);
        break;
      case "program":
        candidates.push(one(source, "program", { kind: "program", channel: m.channel, number: m.number }));
        break;
      case "start":
      case "stop":
      case "continue":
        candidates.push(one(source, "transport", { kind: "transport", message: m.kind }));
        break;
      default:
        break; // clock, active sensing and pressure say nothing about which control was meant
    }
  }
  // A release alone belongs to a press before the window.
  for (const [key, p] of presses) if (p.on.length > 0) candidates.push(noteCandidate(key, p));
  candidates.push(...controllerCandidates([...groups.values()]));
  const merged = mergeSame(candidates).filter((c) => !ignored.controls?.has(candidateKey(c.source, c.sends)));
  merged.sort((a, b) => b.moved - a.moved || b.confidence - a.confidence || b.messages - a.messages);
  return { best: merged[0] ?? null, others: merged.slice(1) };

  function gather(source: string, kind: string, channel: number, number: number, value: number, atMs: number): void {
    const key = `${source}|${kind}|${channel}|${kind.includes("rpn") ? 0 : number}`;
    const group = groups.get(key) ?? { source, key: kind, channel, number, values: [], atMs: [] };
    group.values.push(value);
    group.atMs.push(atMs);
    groups.set(key, group);
  }
  /** True for the controllers that name a parameter number. */
  function nameParameter(source: string, channel: number, number: number, value: number): boolean {
    if (number < 98 || number > 101) return false;
    const key = `${source} ${channel}`;
    const registered = number >= 100;
    const p = parameters.get(key);
    const named = p && p.registered === registered ? p : { registered, msb: -1, lsb: -1 };
    if (number === 99 || number === 101) named.msb = value;
    else named.lsb = value;
    parameters.set(key, named);
    return true;
  }
  function dataEntryKey(source: string, channel: number, number: number): string {
    const p = parameters.get(`${source} ${channel}`);
    if (!p || p.msb < 0 || p.lsb < 0 || (number !== 6 && number !== 38)) return "controller";
    const part = number === 6 ? "msb" : "lsb";
    return `${p.registered ? "rpn" : "nrpn"} ${(p.msb << 7) | p.lsb} ${part}`;
  }
}

function one(source: string, kind: LearnCandidate["kind"], sends: ControlMessage): LearnCandidate {
  return { source, kind, sends, behaviour: "one-shot", confidence: 0.9, moved: 1, messages: 1 };
}

/** The first bytes name it: the maker and what comes before anything that may be a value. */
function sysexCandidate(source: string, bytes: Uint8Array): LearnCandidate {
  const prefix = Array.from(bytes.subarray(0, Math.max(2, bytes.length - 2)), (b) =>
    b.toString(16).padStart(2, "0").toUpperCase(),
  ).join(" ");
  return { ...one(source, "sysex", { kind: "sysex", prefix: prefix.slice(0, 600).trim() }), confidence: 0.5 };
}

function noteCandidate(key: string, p: { on: number[]; off: number }): LearnCandidate {
  const [source, , channel, number] = key.split("|") as [string, string, string, string];
  const sends: ControlMessage = { kind: "note", channel: Number(channel), number: Number(number) };
  const velocities = new Set(p.on);
  // Two presses and no release at all: the unit says "on" both times.
  const bothOn = p.on.length >= 2 && p.off === 0;
  const hasRange = velocities.size > 1 || (p.on.length > 0 && !velocities.has(127));
  return {
    source,
    kind: hasRange ? "pad" : "button",
    sends,
    behaviour: bothOn ? "latches-both-on" : "springs-back",
    confidence: p.on.length > 0 && p.off > 0 ? 1 : bothOn ? 0.6 : 0.7,
    moved: p.on.length,
    messages: p.on.length + p.off,
  };
}

function controllerCandidates(groups: readonly Group[]): LearnCandidate[] {
  const out: LearnCandidate[] = [];
  const used = new Set<Group>();
  for (const g of groups) {
    const lsb = lsbOf(g, groups);
    if (!lsb) continue;
    used.add(g).add(lsb);
    const sends: ControlMessage = g.key.includes("rpn")
      ? parameterMessage(g)
      : { kind: "controller-14", channel: g.channel, number: g.number };
    const values = g.values.map((v, i) => (v << 7) | (lsb.values[Math.min(i, lsb.values.length - 1)] ?? 0));
    out.push(fader(g.source, sends, values, 16_383, g.values.length + lsb.values.length));
  }
  for (const g of groups) {
    if (used.has(g)) continue;
    if (g.key === "bend") {
      out.push(fader(g.source, { kind: "bend", channel: g.channel }, g.values, 16_383, g.values.length));
    } else if (g.key.includes("rpn")) {
      if (!g.key.endsWith("lsb"))
        out.push(fader(g.source, parameterMessage(g), g.values.map(widen7), 16_383, g.values.length));
    } else out.push(plainController(g));
  }
  return out;
}

function parameterMessage(g: Group): ControlMessage {
  const [kind, number] = g.key.split(" ") as ["rpn" | "nrpn", string, string];
  return { kind, channel: g.channel, number: Number(number) };
}

/** The group that is the other half of this one, where the two always come together. */
function lsbOf(g: Group, groups: readonly Group[]): Group | undefined {
  if (g.key.endsWith(" msb"))
    return groups.find(
      (o) => o.source === g.source && o.channel === g.channel && o.key === g.key.replace(" msb", " lsb"),
    );
  if (g.key !== "controller" || g.number > 31) return undefined;
  const other = groups.find(
    (o) => o.source === g.source && o.key === "controller" && o.channel === g.channel && o.number === g.number + 32,
  );
  if (!other) return undefined;
  const together = g.atMs.filter((t) => other.atMs.some((u) => Math.abs(t - u) <= PAIR_MS)).length;
  return together * 2 >= g.atMs.length ? other : undefined;
}

function fader(
  source: string,
  sends: ControlMessage,
  values: readonly number[],
  max: number,
  messages: number,
): LearnCandidate {
  const moved = travel(values) / max;
  const confidence = Math.min(1, 0.5 + values.length / (2 * ENOUGH));
  return { source, kind: "fader", sends, behaviour: "absolute", confidence, moved, messages };
}

function plainController(g: Group): LearnCandidate {
  const { source, channel, number, values } = g;
  const messages = values.length;
  const distinct = new Set(values);
  const plain: ControlMessage = { kind: "controller", channel, number };
  // Only 127 and 0, or one value and 0: a button.
  if (distinct.size <= 2 && distinct.has(0) && (distinct.has(127) || messages <= 3))
    return {
      source,
      kind: "button",
      sends: plain,
      behaviour: "springs-back",
      confidence: distinct.size === 2 ? 1 : 0.6,
      moved: Math.max(1, values.filter((v) => v > 0).length),
      messages,
    };
  const encoding = relativeEncoding(values);
  if (encoding) {
    const steps = values.reduce((n, v) => n + Math.abs(decodeRelative(encoding.encoding, v)), 0);
    return {
      source,
      kind: "encoder",
      sends: { kind: "relative", channel, number, encoding: encoding.encoding },
      behaviour: "relative",
      confidence: encoding.confidence,
      moved: steps / 127,
      messages,
    };
  }
  if (distinct.size === 1 && distinct.has(127))
    return {
      source,
      kind: "button",
      sends: plain,
      behaviour: messages > 1 ? "latches-both-on" : "springs-back",
      confidence: 0.5,
      moved: messages,
      messages,
    };
  return fader(source, plain, values, 127, messages);
}

/** Steps of a slow hand are small: the values lie close around the encoding's ends, and repeat. */
const SLOW_STEPS = 8;
/** A step to the right and one to the left lie so far apart, but for offset 64. */
const FAR_APART = 48;

function relativeEncoding(values: readonly number[]): { encoding: RelativeEncoding; confidence: number } | null {
  if (values.length < 3) return null;
  const repeats = values.filter((v, i) => i > 0 && v === values[i - 1]).length;
  const fits = RELATIVE_ENCODINGS.filter((e) =>
    values.every((v) => {
      const steps = decodeRelative(e, v);
      return steps !== 0 && Math.abs(steps) <= SLOW_STEPS;
    }),
  );
  // A fader passes through neighbours and says no value twice; an encoder says the same step again and again, or jumps
  // from one end to the other. Around the middle, where steps of offset 64 lie, a fader has neighbours too.
  const jumps = values.some((v, i) => i > 0 && Math.abs(v - values[i - 1]!) >= FAR_APART);
  if (fits.length === 0 || (repeats === 0 && !jumps)) return null;
  // 1 to 8 alone may be two's complement or sign bit; 127 or 65 tells them apart.
  const sure = fits.length === 1 ? Math.min(1, 0.6 + values.length / (2 * ENOUGH)) : 0.5;
  return { encoding: fits[0]!, confidence: sure };
}

function travel(values: readonly number[]): number {
  let sum = 0;
  for (let i = 1; i < values.length; i++) sum += Math.abs(values[i]! - values[i - 1]!);
  return sum;
}

function mergeSame(candidates: readonly LearnCandidate[]): LearnCandidate[] {
  const merged = new Map<string, LearnCandidate>();
  for (const c of candidates) {
    const key = candidateKey(c.source, c.sends);
    const known = merged.get(key);
    merged.set(key, known ? { ...known, moved: known.moved + c.moved, messages: known.messages + c.messages } : c);
  }
  return [...merged.values()];
}
