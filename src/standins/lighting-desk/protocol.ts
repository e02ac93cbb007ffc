/** The stand-in's own protocol over OSC, as documented in PROTOCOL.md. */
import { encodeOsc } from "../../core/osc/encode.ts";
import type { OscArgument, OscMessage } from "../../core/osc/types.ts";
import { inBundles, numberOf, readMessages } from "../kit/osc.ts";
import type { OscRequest } from "../kit/osc-desk.ts";
import { type Change, type Command, type LightingDesk, PAGES, PLAYBACKS_A_PAGE, type Playback } from "./desk.ts";

/** The requests of a datagram, or null where it is not OSC. */
export function readRequests(bytes: Uint8Array): OscRequest<Command>[] | null {
  return readMessages(bytes)?.map(requestOf) ?? null;
}

function requestOf(message: OscMessage): OscRequest<Command> {
  const unknown = { kind: "unknown" } as const;
  const value = numberOf(message.args[0]);
  const parts = message.address.split("/").slice(1);
  if (parts[0] === "ask" && parts.length === 1) return { kind: "ask" };
  if (parts[0] === "ask") return { kind: "ask-one", what: parts.slice(1).join("/") };
  if (parts[0] === "listen" && parts.length === 1) return { kind: "listen" };
  if (parts[0] === "leave" && parts.length === 1) return { kind: "leave" };
  if (parts[0] === "pulse" && parts.length === 1) return value === null ? unknown : { kind: "pulse", number: value };
  if (parts[0] !== "set") return unknown;
  const command = commandOf(parts.slice(1), value);
  return command ? { kind: "command", command } : unknown;
}

function commandOf(parts: readonly string[], value: number | null): Command | null {
  switch (parts.join("/")) {
    case "cue/go":
      return { kind: "cue-go" };
    case "cue/back":
      return { kind: "cue-back" };
    case "reset":
      return { kind: "reset" };
    case "grand":
      return value === null ? null : { kind: "grand", value };
    case "blackout":
      return value === null ? null : { kind: "blackout", value: value !== 0 };
    case "page":
      return value === null ? null : { kind: "page", value };
    case "page/step":
      return value === null ? null : { kind: "page-step", value };
  }
  if (parts.length !== 4 || parts[0] !== "playback") return null;
  const page = Number(parts[1]);
  const playback = Number(parts[2]);
  if (parts[3] === "go") return { kind: "go", page, playback };
  if (value === null) return null;
  if (parts[3] === "level") return { kind: "level", page, playback, value };
  if (parts[3] === "on" || parts[3] === "flash") return { kind: parts[3], page, playback, value: value !== 0 };
  return null;
}

/** The message that tells a change. */
export function tell(desk: LightingDesk, change: Change): OscMessage {
  switch (change.kind) {
    case "page":
      return now("page", { type: "i", value: desk.pageUp });
    case "page-name":
      return now(`page/${change.page}/name`, { type: "s", value: desk.pageNames[change.page - 1]! });
    case "grand":
      return now("grand", { type: "f", value: desk.grand });
    case "blackout":
      return now("blackout", { type: "i", value: desk.blackout ? 1 : 0 });
    case "cue":
      return now("cue", { type: "i", value: desk.cue }, { type: "s", value: desk.cueName });
    case "playback": {
      const playback = desk.pages[change.page - 1]![change.playback - 1]!;
      return now(`playback/${change.page}/${change.playback}/${change.field}`, fieldArgument(playback, change.field));
    }
    default:
      return change satisfies never;
  }
}

function fieldArgument(playback: Playback, field: keyof Playback): OscArgument {
  switch (field) {
    case "level":
      return { type: "f", value: playback.level };
    case "on":
      return { type: "i", value: playback.on ? 1 : 0 };
    case "flash":
      return { type: "i", value: playback.flash ? 1 : 0 };
    case "name":
      return { type: "s", value: playback.name };
    case "colour":
      return { type: "r", value: `${playback.colour}ff` };
    default:
      return field satisfies never;
  }
}

function now(address: string, ...args: OscArgument[]): OscMessage {
  return { kind: "message", address: `/now/${address}`, args };
}

/** The whole state, as datagrams: page and cue first, then every playback, the page that is up before the others. */
export function wholeState(desk: LightingDesk): Uint8Array[] {
  const changes: Change[] = [{ kind: "page" }, { kind: "grand" }, { kind: "blackout" }, { kind: "cue" }];
  for (let page = 1; page <= PAGES; page++) changes.push({ kind: "page-name", page });
  const order = [desk.pageUp, ...Array.from({ length: PAGES }, (_, i) => i + 1).filter((p) => p !== desk.pageUp)];
  for (const page of order)
    for (let playback = 1; playback <= PLAYBACKS_A_PAGE; playback++)
      for (const field of ["name", "colour", "level", "on", "flash"] as const)
        changes.push({ kind: "playback", page, playback, field });
  return inBundles(changes.map((c) => tell(desk, c)));
}

/** One thing by its address below "/now/"; null where there is none of that name. */
export function oneState(desk: LightingDesk, what: string): Uint8Array | null {
  const single = { page: "page", grand: "grand", blackout: "blackout", cue: "cue" }[what];
  if (single) return encodeOsc(tell(desk, { kind: single } as Change));
  const [of, page, playback, field] = what.split("/");
  const found = of === "playback" ? desk.pages[Number(page) - 1]?.[Number(playback) - 1] : undefined;
  if (!found || field === undefined || !Object.hasOwn(found, field)) return null;
  const change = { kind: "playback", page: Number(page), playback: Number(playback), field: field as keyof Playback };
  return encodeOsc(tell(desk, change as Change));
}

export function tellBytes(desk: LightingDesk, change: Change): Uint8Array {
  return encodeOsc(tell(desk, change));
}

export function pulseBack(number: number): Uint8Array {
  return encodeOsc({ kind: "message", address: "/pulse/back", args: [{ type: "i", value: number }] });
}
