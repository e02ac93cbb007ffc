/** Which names the server answers to: only pages of our own address. Other sites must not reach the show through somebody's browser. */
import type { IncomingMessage } from "node:http";
import { isIP } from "node:net";
import { hostname, type NetworkInterfaceInfo, networkInterfaces } from "node:os";

const SAFE_METHODS = new Set(["GET", "HEAD", "OPTIONS"]);
const LOOPBACK = ["127.0.0.1", "localhost", "[::1]"];
/** Cards come and go while a show runs; this often, in ms, they are looked at again. */
const LOOK_EVERY_MS = 5000;
/** What a proxy says of who asks. Nobody is believed who says it, and who comes through a proxy is not of this computer. */
const FORWARDED = ["x-forwarded-proto", "x-forwarded-host", "x-forwarded-for", "x-forwarded-port", "forwarded", "via"];

export interface Gate {
  /** "http" or "https". */
  readonly scheme: "http" | "https";
  /** Names this server answers to, with the port where a browser says it: "127.0.0.1:4780". */
  hosts(): ReadonlySet<string>;
}

export interface GateSettings {
  /** What the server listens on: an address, a name, or 0.0.0.0 and :: for every card. */
  readonly host: string;
  readonly port: number;
  readonly isSecure?: boolean;
  /** More names that others know this computer by. */
  readonly names?: readonly string[];
}

/** What the system tells of this computer. */
export interface System {
  cards(): Readonly<Record<string, readonly NetworkInterfaceInfo[] | undefined>>;
  hostname(): string;
  nowMs(): number;
}

const SYSTEM: System = { cards: networkInterfaces, hostname, nowMs: () => performance.now() };

export function isLoopbackHost(host: string): boolean {
  return host === "localhost" || host === "::1" || host === "[::1]" || /^127\.\d+\.\d+\.\d+$/.test(host);
}

function isEveryCard(host: string): boolean {
  return host === "0.0.0.0" || host === "::" || host === "[::]" || host === "";
}

/** As it stands in an address: IPv6 in brackets (RFC 3986, section 3.2.2), without a zone, in small letters. */
function inAddress(name: string): string {
  const bare = name.replace(/^\[|\]$/g, "").replace(/%.*$/, "");
  return (isIP(bare) === 6 ? `[${bare}]` : bare).toLowerCase();
}

/** The addresses of this computer's cards that others reach it by, those of version 4 first. */
export function ownAddresses(system: System = SYSTEM): string[] {
  const all = Object.values(system.cards()).flatMap((card) => card ?? []);
  const outside = all.filter((a) => !a.internal);
  return [...outside.filter((a) => a.family === "IPv4"), ...outside.filter((a) => a.family !== "IPv4")].map((a) =>
    inAddress(a.address),
  );
}

/** The names, without a port, that a server with these settings is reached by. */
function namesOf({ host, names = [] }: GateSettings, system: System): string[] {
  // What somebody took the trouble to say is what people are to use.
  const more = names.map(inAddress);
  if (isLoopbackHost(host)) return [...new Set([...more, ...LOOPBACK, inAddress(host)])];
  const machine = system.hostname().toLowerCase();
  const own = machine === "" ? [] : machine.includes(".") ? [machine] : [machine, `${machine}.local`];
  if (isEveryCard(host)) return [...new Set([...more, ...LOOPBACK, ...ownAddresses(system), ...own])];
  return [...new Set([...more, inAddress(host), ...own])];
}

export function gateFor(settings: GateSettings, system: System = SYSTEM): Gate {
  const scheme = settings.isSecure ? "https" : "http";
  let known: { atMs: number; hosts: ReadonlySet<string> } | null = null;
  const look = (): ReadonlySet<string> => {
    // A browser leaves out the port that its scheme has anyway (RFC 9110, section 4.2.1).
    const isUsual = settings.port === (settings.isSecure ? 443 : 80);
    const names = namesOf(settings, system);
    return new Set(names.flatMap((n) => (isUsual ? [n, `${n}:${settings.port}`] : [`${n}:${settings.port}`])));
  };
  return {
    scheme,
    hosts: () => {
      const nowMs = system.nowMs();
      if (known === null || nowMs - known.atMs > LOOK_EVERY_MS) known = { atMs: nowMs, hosts: look() };
      return known.hosts;
    },
  };
}

/** Where others reach the server, for people to open: names that were given, then addresses, then its own names. Empty: only this computer does. */
export function waysIn(settings: GateSettings, system: System = SYSTEM): string[] {
  if (isLoopbackHost(settings.host)) return [];
  const isUsual = settings.port === (settings.isSecure ? 443 : 80);
  return namesOf(settings, system)
    .filter((name) => !LOOPBACK.includes(name) && !name.startsWith("[fe80:"))
    .map((name) => `${settings.isSecure ? "https" : "http"}://${name}${isUsual ? "" : `:${settings.port}`}`);
}

/** A request for another name than ours comes through somebody else's name server. */
export function hostAllowed(gate: Gate, request: IncomingMessage): boolean {
  return gate.hosts().has((request.headers.host ?? "").toLowerCase());
}

/** Requests that change something, and every live socket, must come from our own page. */
export function originAllowed(gate: Gate, request: IncomingMessage, always: boolean): boolean {
  if (!always && SAFE_METHODS.has(request.method ?? "GET")) return true;
  const origin = request.headers.origin;
  // No origin: not a browser. A browser always sends it with a socket, and with what is not a plain read.
  if (origin === undefined) return !always || request.headers["sec-fetch-site"] === undefined;
  const start = `${gate.scheme}://`;
  return origin.startsWith(start) && gate.hosts().has(origin.slice(start.length).toLowerCase());
}

/** Whether somebody at this computer itself asks, and not somebody else through a proxy on it. */
export function isFromHere(request: IncomingMessage): boolean {
  const from = (request.socket.remoteAddress ?? "").replace(/^::ffff:(?=\d+\.)/i, "");
  return isLoopbackHost(from) && FORWARDED.every((name) => request.headers[name] === undefined);
}

/** Takes away what a proxy would say: nothing behind the border may believe it. */
export function forgetForwarded(request: IncomingMessage): void {
  for (const name of FORWARDED) delete request.headers[name];
}
