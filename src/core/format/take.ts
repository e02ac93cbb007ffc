/**
 * A take: a recording of traffic as JSON Lines. The first line names the format; every other line is one
 * message with its time in ms, the surface or desk it came from or went to, and its bytes or its OSC content.
 */
import { z } from "zod";
import { hexBytes, parseHexBytes } from "../midi/hex.ts";
import { decodeOsc } from "../osc/decode.ts";
import { encodeOsc } from "../osc/encode.ts";
import { IMMEDIATELY, type OscArgument, type OscMessage, type OscPacket } from "../osc/types.ts";
import { Id } from "./ids.ts";
import { type Problem, problemsOf } from "./problem.ts";
import { newestOf, parseJson, type Read } from "./read-format.ts";
import { rule } from "./rules.ts";
import { NEWEST, TAKE_FORMAT } from "./versions.ts";
import type { MessageKind } from "./wires.ts";

const TakeHead = z.strictObject({ format: z.literal(TAKE_FORMAT), version: z.literal(NEWEST[TAKE_FORMAT]) });

const Whole = z.string().regex(/^-?[0-9]+$/, rule("whole-digits"));
const HexText = z.string().refine((t) => parseHexBytes(t) !== null, rule("hex-bytes"));
const Byte = z.int().min(0).max(255);

/** One OSC argument. 64-bit numbers are texts of digits; blobs are hex pairs. */
const OscArgumentJson: z.ZodType<OscArgumentJson> = z.lazy(() =>
  z.discriminatedUnion("type", [
    z.strictObject({ type: z.literal("i"), value: z.int32() }),
    z.strictObject({ type: z.enum(["f", "d"]), value: z.number() }),
    z.strictObject({ type: z.enum(["s", "S"]), value: z.string() }),
    z.strictObject({ type: z.literal("c"), value: z.string().length(1) }),
    z.strictObject({
      type: z.literal("r"),
      value: z.string().regex(/^#[0-9a-fA-F]{8}$/, rule("colour-with-alpha")),
    }),
    z.strictObject({ type: z.enum(["h", "t"]), value: Whole }),
    z.strictObject({ type: z.literal("b"), value: HexText }),
    z.strictObject({ type: z.literal("m"), value: z.tuple([Byte, Byte, Byte, Byte]) }),
    z.strictObject({ type: z.enum(["T", "F", "N", "I"]) }),
    z.strictObject({ type: z.literal("["), value: z.array(OscArgumentJson) }),
  ]),
);
export type OscArgumentJson =
  | { type: "i"; value: number }
  | { type: "f" | "d"; value: number }
  | { type: "s" | "S"; value: string }
  | { type: "c"; value: string }
  | { type: "r"; value: string }
  | { type: "h" | "t"; value: string }
  | { type: "b"; value: string }
  | { type: "m"; value: [number, number, number, number] }
  | { type: "T" | "F" | "N" | "I" }
  | { type: "["; value: OscArgumentJson[] };

/** What was heard may be a pattern, or no address that a profile could have. */
const HeardAddress = z.string().regex(/^\//, rule("heard-address"));

const OscMessageJson = z.strictObject({ address: HeardAddress, args: z.array(OscArgumentJson) });
type OscMessageJson = z.infer<typeof OscMessageJson>;

const Head = {
  ms: z.number().min(0),
  /** A surface or a desk of the show, by its id. */
  port: Id,
  dir: z.enum(["in", "out"]),
};

/** One line after the first. */
export const TakeEntry = z.union([
  z.strictObject({ ...Head, midi: HexText }),
  z.strictObject({ ...Head, osc: z.union([OscMessageJson, z.array(OscMessageJson).min(1)]) }),
  z.strictObject({ ...Head, line: z.string().max(8192) }),
]);
export type TakeEntry = z.infer<typeof TakeEntry>;

/** Reads a take. Faults name their line, counted from 1. */
export function readTake(text: string): Read<TakeEntry[]> {
  const problems: Problem[] = [];
  const entries: TakeEntry[] = [];
  let lastMs = 0;
  text.split("\n").forEach((line, i) => {
    if (line.trim() === "" && i > 0) return;
    const at = ["lines", i];
    const json = parseJson(line);
    const read = json.ok && i === 0 ? newestOf(json.value, TAKE_FORMAT) : json;
    if (!read.ok) {
      problems.push(...read.problems.map((p) => ({ ...p, path: [...at, ...p.path] })));
      return;
    }
    const parsed = (i === 0 ? TakeHead : TakeEntry).safeParse(read.value);
    if (!parsed.success) {
      problems.push(...problemsOf(parsed.error).map((p) => ({ ...p, path: [...at, ...p.path] })));
      return;
    }
    if (i === 0) return;
    const entry = parsed.data as TakeEntry;
    if (entry.ms < lastMs)
      problems.push({ code: "not-valid", path: [...at, "ms"], expected: { is: "time-not-before", ms: lastMs } });
    lastMs = Math.max(lastMs, entry.ms);
    entries.push(entry);
  });
  return problems.length > 0 ? { ok: false, problems } : { ok: true, value: entries };
}

export function writeTake(entries: readonly TakeEntry[]): string {
  const head = { format: TAKE_FORMAT, version: NEWEST[TAKE_FORMAT] };
  return `${[head, ...entries].map((e) => JSON.stringify(e)).join("\n")}\n`;
}

/** The bytes of an entry, as they are on the wire. */
export function entryBytes(entry: TakeEntry): Uint8Array {
  if ("midi" in entry) return parseHexBytes(entry.midi)!;
  if ("line" in entry) return new TextEncoder().encode(entry.line);
  if (!Array.isArray(entry.osc)) return encodeOsc(messageFrom(entry.osc));
  return encodeOsc({ kind: "bundle", timeTag: IMMEDIATELY, elements: entry.osc.map(messageFrom) });
}

export function takeEntry(
  ms: number,
  port: string,
  dir: "in" | "out",
  bytes: Uint8Array,
  kind: MessageKind,
): TakeEntry {
  switch (kind) {
    case "midi":
      return midiEntry(ms, port, dir, bytes);
    case "osc":
      return oscEntry(ms, port, dir, bytes);
    case "line":
      return { ms, port, dir, line: new TextDecoder().decode(bytes) };
    default:
      return kind satisfies never;
  }
}

export function midiEntry(ms: number, port: string, dir: "in" | "out", bytes: Uint8Array): TakeEntry {
  return { ms, port, dir, midi: hexBytes(bytes) };
}

/** An entry for a datagram; one that is not OSC is kept as its bytes. */
export function oscEntry(ms: number, port: string, dir: "in" | "out", bytes: Uint8Array): TakeEntry {
  const decoded = decodeOsc(bytes);
  if (!decoded.ok) return { ms, port, dir, midi: hexBytes(bytes) };
  const messages = messagesOf(decoded.packet).map(messageTo);
  return { ms, port, dir, osc: decoded.packet.kind === "message" ? messages[0]! : messages };
}

function messagesOf(packet: OscPacket): OscMessage[] {
  return packet.kind === "message" ? [packet] : packet.elements.flatMap(messagesOf);
}

function messageFrom(json: OscMessageJson): OscMessage {
  return { kind: "message", address: json.address, args: json.args.map(argumentFrom) };
}

function messageTo(message: OscMessage): OscMessageJson {
  return { address: message.address, args: message.args.map(argumentTo) };
}

function argumentFrom(json: OscArgumentJson): OscArgument {
  switch (json.type) {
    case "h":
    case "t":
      return { type: json.type, value: BigInt(json.value) };
    case "b":
      return { type: "b", value: parseHexBytes(json.value)! };
    case "[":
      return { type: "[", value: json.value.map(argumentFrom) };
    default:
      return json as OscArgument; // the other types are the same in both forms
  }
}

function argumentTo(arg: OscArgument): OscArgumentJson {
  switch (arg.type) {
    case "h":
    case "t":
      return { type: arg.type, value: String(arg.value) };
    case "b":
      return { type: "b", value: hexBytes(arg.value) };
    case "[":
      return { type: "[", value: arg.value.map(argumentTo) };
    case "f":
      // The shortest decimal that is this 32-bit float again: 0.1, not 0.10000000149011612.
      return { type: "f", value: shortestFloat(arg.value) };
    default:
      return arg as OscArgumentJson;
  }
}

function shortestFloat(value: number): number {
  for (let digits = 1; digits < 9; digits++) {
    const short = Number(value.toPrecision(digits));
    if (Math.fround(short) === Math.fround(value)) return short;
  }
  return value;
}
