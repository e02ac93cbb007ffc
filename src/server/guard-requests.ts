/** Who may ask: only pages of our own address. Other sites must not reach the show through somebody's browser. */
import type { IncomingMessage } from "node:http";

const SAFE_METHODS = new Set(["GET", "HEAD", "OPTIONS"]);

export interface Gate {
  /** Names this server answers to, with the port: "127.0.0.1:4780". */
  hosts: ReadonlySet<string>;
}

export function gateFor(host: string, port: number): Gate {
  const names = new Set([`${host}:${port}`]);
  if (host === "127.0.0.1" || host === "localhost" || host === "::1")
    for (const name of ["127.0.0.1", "localhost", "[::1]"]) names.add(`${name}:${port}`);
  return { hosts: names };
}

/** A request for another name than ours comes through somebody else's name server. */
export function hostAllowed(gate: Gate, request: IncomingMessage): boolean {
  return gate.hosts.has(request.headers.host ?? "");
}

/** Requests that change something, and every live socket, must come from our own page. */
export function originAllowed(gate: Gate, request: IncomingMessage, always: boolean): boolean {
  if (!always && SAFE_METHODS.has(request.method ?? "GET")) return true;
  const origin = request.headers.origin;
  // No origin: not a browser. A browser always sends it with a socket, and with what is not a plain read.
  if (origin === undefined) return !always || request.headers["sec-fetch-site"] === undefined;
  return origin.startsWith("http://") && gate.hosts.has(origin.slice("http://".length));
}
