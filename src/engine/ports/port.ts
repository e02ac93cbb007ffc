/** What every transport offers the engine. */
import { isIPv6 } from "node:net";
import type { PortTrouble } from "../../core/live/port-trouble.ts";
import type { PortState } from "../../core/live/protocol.ts";

export interface PortEvents {
  message(bytes: Uint8Array): void;
  /** The network said that nobody listens at the other end. */
  refused(): void;
  state(state: PortState): void;
  /** Somebody called who is not the peer, and was not let in. */
  stranger?(host: string): void;
}

export interface Port {
  open(): void;
  /** Sends a copy of these bytes; they may be overwritten as soon as this returns. */
  send(bytes: Uint8Array, offset: number, length: number): void;
  close(): Promise<void>;
  readonly counted: {
    readonly in: number;
    readonly out: number;
    /** Messages that could not be sent, or that came in and were not valid. */
    readonly dropped: number;
    /** How often the network or the system said no. */
    readonly refused: number;
  };
}

/** Receive buffer of every UDP socket, in bytes: the default loses bursts above about 30,000 messages a second. */
export const RECEIVE_BUFFER_BYTES = 4 * 1024 * 1024;

export const OPEN: PortState = { state: "open" };
export const WAITING: PortState = { state: "waiting" };

export function failed(trouble: PortTrouble): PortState {
  return { state: "failed", trouble };
}
export function waiting(trouble: PortTrouble): PortState {
  return { state: "waiting", trouble };
}

/** The address to listen on for a peer: loopback for a peer on this machine, every interface for one outside. */
export function listenAddressFor(host: string): string {
  if (isIPv6(host)) return host === "::1" ? "::1" : "::";
  return host === "localhost" || host.startsWith("127.") ? "127.0.0.1" : "0.0.0.0";
}

/** The system's reason (its codes are those of POSIX and getaddrinfo). */
export function systemTrouble(error: NodeJS.ErrnoException, port: number): PortTrouble {
  switch (error.code) {
    case "EADDRINUSE":
      return { code: "port-in-use", port };
    case "EACCES":
      return { code: "port-forbidden", port };
    case "EADDRNOTAVAIL":
      return { code: "not-our-address" };
    case "ENOTFOUND":
    case "EAI_AGAIN":
    case "EAI_FAIL":
    case "EAI_NONAME":
    case "EAI_NODATA":
      return { code: "unknown-name" };
    case "ENETUNREACH":
    case "EHOSTUNREACH":
    case "ENETDOWN":
    case "EHOSTDOWN":
      return { code: "no-route" };
    case "ECONNREFUSED":
      return { code: "nobody-listens", port, broker: false };
    default:
      return { code: "system", reason: error.code ?? error.message };
  }
}
