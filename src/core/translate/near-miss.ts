/**
 * Near misses: for a message that no mapping took, the mappings that differ from it in one thing only. It answers the
 * question people ask at two in the morning: why does this button do nothing?
 */

import { GESTURES } from "../format/gestures.ts";
import type { ControlMessage } from "../format/surface-profile.ts";
import { decodeShort } from "../midi/message.ts";
import type { Context } from "../run-state/context.ts";

export type Difference = "channel" | "number" | "kind" | "layer" | "page" | "off" | "bypassed" | "condition";

export interface NearMiss {
  readonly mapping: string;
  readonly differs: Difference;
  /** What the mapping has instead of what was heard: a number, a kind of message, or names of the show. */
  readonly wanted: readonly (string | number)[];
  /** Of a condition: which of the mapping's, or CHORD, and the value it finds, or NOT_KNOWN. */
  readonly condition?: { readonly nth: number; readonly value: number };
}

/** Near misses at the most: the nearest first. */
const MOST = 8;
/** Numbers this far away count as a slip of the hand or of a bank. */
const NEAR_NUMBERS = 16;

interface HeardKey {
  readonly kind: "note" | "controller" | "bend" | "program";
  readonly channel: number;
  readonly number: number;
}

/** `bypassed` tells for a control of the show whether its commands are bypassed. */
export function nearMisses(
  context: Context,
  surface: number,
  bytes: Uint8Array,
  bypassed: (control: number) => boolean = () => false,
): NearMiss[] {
  const heard = keyOf(bytes);
  if (!heard) return [];
  const { compiled } = context;
  const { profile, firstControl } = compiled.surfaces[surface]!;
  const found: { miss: NearMiss; far: number }[] = [];
  profile.controls.forEach((control, c) => {
    const own = messageOf(control.sends);
    if (!own) return;
    const differs = difference(heard, own);
    if (differs === null) return;
    const first = (firstControl + c) * GESTURES;
    for (let slot = first; slot < first + GESTURES; slot++)
      for (let k = compiled.candidateStart[slot]!; k < compiled.candidateStart[slot + 1]!; k++) {
        const m = compiled.candidates[k]!;
        const mapping = compiled.show.mappings[m]!;
        const here = scopeDifferences(context, m, bypassed(firstControl + c));
        if (differs === "none" && here.length === 1) found.push({ miss: { mapping: mapping.id, ...here[0]! }, far: 0 });
        if (differs !== "none" && here.length === 0)
          found.push({
            miss: { mapping: mapping.id, differs, wanted: wanted(own, differs) },
            far: differs === "number" ? Math.abs(own.number - heard.number) : 1,
          });
      }
  });
  return found
    .sort((a, b) => a.far - b.far)
    .slice(0, MOST)
    .map((f) => f.miss);
}

/** Everything that keeps a mapping from holding at this moment. */
function scopeDifferences(context: Context, m: number, bypassed: boolean): Omit<NearMiss, "mapping">[] {
  const { compiled, facts } = context;
  const mapping = compiled.show.mappings[m]!;
  const out: Omit<NearMiss, "mapping">[] = [];
  if (!mapping.on) out.push({ differs: "off", wanted: [] });
  if (bypassed) out.push({ differs: "bypassed", wanted: [] });
  const layer = compiled.show.layers[context.layerAt(compiled.mappingControl[m]!)]!.id;
  if (mapping.layers.length > 0 && !mapping.layers.includes(layer))
    out.push({
      differs: "layer",
      wanted: mapping.layers.map((id) => compiled.show.layers.find((l) => l.id === id)?.name ?? id),
    });
  if (mapping.pages) {
    const page = facts.page(compiled.mappingPageDesk[m]!);
    if (page === null || !mapping.pages.in.includes(page)) out.push({ differs: "page", wanted: mapping.pages.in });
  }
  if (!context.conditionsHold(m)) {
    const nth = context.failedCondition(m);
    out.push({ differs: "condition", wanted: [], condition: { nth, value: context.conditionValue(m, nth) } });
  }
  return out;
}

function keyOf(bytes: Uint8Array): HeardKey | null {
  const m = decodeShort(bytes[0] ?? 0, bytes[1] ?? 0, bytes[2] ?? 0);
  switch (m?.kind) {
    case "note-on":
    case "note-off":
      return { kind: "note", channel: m.channel, number: m.note };
    case "controller":
      return { kind: "controller", channel: m.channel, number: m.number };
    case "bend":
      return { kind: "bend", channel: m.channel, number: 0 };
    case "program":
      return { kind: "program", channel: m.channel, number: m.number };
    default:
      return null;
  }
}

function messageOf(sends: ControlMessage): HeardKey | null {
  switch (sends.kind) {
    case "note":
      return { kind: "note", channel: sends.channel, number: sends.number };
    case "controller":
    case "controller-14":
    case "relative":
    case "clicks":
      return { kind: "controller", channel: sends.channel, number: sends.number };
    case "bend":
      return { kind: "bend", channel: sends.channel, number: 0 };
    case "program":
      return sends.number === undefined ? null : { kind: "program", channel: sends.channel, number: sends.number };
    default:
      return null;
  }
}

/** "none" = it is the very message; null = more than one thing differs. */
function difference(heard: HeardKey, own: HeardKey): "none" | "channel" | "number" | "kind" | null {
  const kind = heard.kind !== own.kind;
  const channel = heard.channel !== own.channel;
  const number = heard.number !== own.number;
  if (!kind && !channel && !number) return "none";
  if (!kind && channel && !number) return "channel";
  if (!kind && !channel && number && Math.abs(heard.number - own.number) <= NEAR_NUMBERS) return "number";
  return kind && !channel && !number ? "kind" : null;
}

function wanted(own: HeardKey, differs: "channel" | "number" | "kind"): [string | number] {
  return [own[differs]];
}
