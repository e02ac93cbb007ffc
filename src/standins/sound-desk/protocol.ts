/** The sound desk's own protocol over OSC, as documented in PROTOCOL.md. */
import { encodeOsc } from "../../core/osc/encode.ts";
import type { OscArgument, OscMessage } from "../../core/osc/types.ts";
import { inBundles, numberOf, readMessages } from "../kit/osc.ts";
import type { OscRequest } from "../kit/osc-desk.ts";
import {
  BUS_COUNT,
  CHANNEL_COUNT,
  type Change,
  type Command,
  SCENE_COUNT,
  type SoundDesk,
  type Switch,
} from "./desk.ts";

/** The requests of a datagram, or null where it is not OSC. */
export function readRequests(bytes: Uint8Array): OscRequest<Command>[] | null {
  return readMessages(bytes)?.map(requestOf) ?? null;
}

const SWITCHES: readonly string[] = ["mute", "solo", "gate", "limiter"] satisfies Switch[];

function requestOf({ address, args }: OscMessage): OscRequest<Command> {
  const value = numberOf(args[0]);
  const parts = address.split("/").slice(1);
  if (parts.length === 1) {
    const [word] = parts;
    if (word === "tell-all") return { kind: "ask" };
    if (word === "follow") return { kind: "listen" };
    if (word === "leave") return { kind: "leave" };
    if (word === "beat" && value !== null) return { kind: "pulse", number: value };
  }
  if (parts[0] === "tell" && parts.length > 1) return { kind: "ask-one", what: parts.slice(1).join("/") };
  const command = parts[0] === "do" && value !== null ? commandOf(parts.slice(1), value) : null;
  return command ? { kind: "command", command } : { kind: "unknown" };
}

function commandOf([what, a, field, b]: readonly string[], value: number): Command | null {
  if (what === "select" && a === undefined) return { kind: "select", channel: value };
  if (what === "layer" && a === undefined) return { kind: "layer", layer: value };
  if (what === "scene" && a === undefined) return { kind: "scene", scene: value };
  const number = Number(a);
  if (what === "bus" && field === "level" && b === undefined) return { kind: "bus", bus: number, value };
  if (what !== "channel") return null;
  if (field === "send" && b !== undefined) return { kind: "send", channel: number, bus: Number(b), value };
  if (b !== undefined) return null;
  if (field === "level" || field === "pan") return { kind: field, channel: number, value };
  return SWITCHES.includes(field ?? "") ? { kind: field as Switch, channel: number, on: value !== 0 } : null;
}

/** The message that tells a change. */
export function tell(desk: SoundDesk, change: Change): OscMessage {
  switch (change.kind) {
    case "selected":
      return is("selected", int(desk.selected));
    case "layer":
      return is("layer", int(desk.layer));
    case "scene":
      return is("scene", int(desk.scene), text(desk.sceneName(desk.scene)));
    case "scene-name":
      return is(`scene/${change.scene}/name`, text(desk.sceneName(change.scene)));
    case "bus":
      return is(`bus/${change.bus}/level`, float(desk.buses[change.bus - 1]!));
    case "bus-name":
      return is(`bus/${change.bus}/name`, text(desk.busNames[change.bus - 1]!));
    case "send":
      return is(
        `channel/${change.channel}/send/${change.bus}`,
        float(desk.channels[change.channel - 1]!.sends[change.bus - 1]!),
      );
    default:
      return is(`channel/${change.channel}/${change.kind}`, fieldOf(desk, change.channel, change.kind));
  }
}

function fieldOf(desk: SoundDesk, channel: number, field: "level" | "pan" | Switch | "name" | "colour"): OscArgument {
  const c = desk.channels[channel - 1]!;
  const [name, colour] = desk.names[channel - 1]!;
  switch (field) {
    case "level":
    case "pan":
      return float(c[field]);
    case "name":
      return text(name);
    case "colour":
      return { type: "r", value: `${colour}ff` };
    default:
      return int(c[field] ? 1 : 0);
  }
}

/** The whole state, as datagrams: what is up and selected first. */
export function wholeState(desk: SoundDesk): Uint8Array[] {
  return inBundles(everything().map((change) => tell(desk, change)));
}

function everything(): Change[] {
  const changes: Change[] = [{ kind: "layer" }, { kind: "selected" }, { kind: "scene" }];
  for (let channel = 1; channel <= CHANNEL_COUNT; channel++)
    for (const kind of ["name", "colour", "level", "mute", "solo", "pan", "gate", "limiter"] as const)
      changes.push({ kind, channel });
  for (let bus = 1; bus <= BUS_COUNT; bus++) changes.push({ kind: "bus-name", bus }, { kind: "bus", bus });
  for (let scene = 1; scene <= SCENE_COUNT; scene++) changes.push({ kind: "scene-name", scene });
  for (let channel = 1; channel <= CHANNEL_COUNT; channel++)
    for (let bus = 1; bus <= BUS_COUNT; bus++) changes.push({ kind: "send", channel, bus });
  return changes;
}

/** One thing by its address below "/is/"; null where there is none of that name. */
export function oneState(desk: SoundDesk, what: string): Uint8Array | null {
  const found = everything()
    .map((change) => tell(desk, change))
    .find(({ address }) => address === `/is/${what}`);
  return found ? encodeOsc(found) : null;
}

/** All meters at one moment. */
export function meters(desk: SoundDesk, atMs: number): Uint8Array[] {
  return inBundles(desk.channels.map((_, i) => is(`channel/${i + 1}/meter`, float(desk.meter(i + 1, atMs)))));
}

export function tellBytes(desk: SoundDesk, change: Change): Uint8Array {
  return encodeOsc(tell(desk, change));
}

export function beatBack(number: number): Uint8Array {
  return encodeOsc({ kind: "message", address: "/beat/back", args: [int(number)] });
}

function is(address: string, ...args: OscArgument[]): OscMessage {
  return { kind: "message", address: `/is/${address}`, args };
}
const int = (value: number): OscArgument => ({ type: "i", value });
const float = (value: number): OscArgument => ({ type: "f", value });
const text = (value: string): OscArgument => ({ type: "s", value });
