/** What every transport offers the engine. */
import type { PortState } from "../../core/live/protocol.ts";

export interface PortEvents {
  message(bytes: Uint8Array): void;
  /** The network said that nobody listens at the other end. */
  refused(): void;
  state(state: PortState): void;
}

export interface Port {
  open(): void;
  /** Sends a copy of these bytes; they may be overwritten as soon as this returns. */
  send(bytes: Uint8Array, offset: number, length: number): void;
  close(): Promise<void>;
  readonly counted: {
    readonly in: number;
    readonly out: number;
    /** Messages that could not be sent, or that came in and were none. */
    readonly dropped: number;
    /** How often the network or the system said no. */
    readonly refused: number;
  };
}

/** Receive buffer of every UDP socket, in bytes: the default loses bursts above about 30,000 messages a second. */
export const RECEIVE_BUFFER_BYTES = 4 * 1024 * 1024;

export const OPEN: PortState = { state: "open", detail: "" };
export const WAITING: PortState = { state: "waiting", detail: "" };

/** The address to listen on for a peer: loopback for a peer on this machine, every interface for one outside. */
export function listenAddressFor(host: string): string {
  return host === "localhost" || host.startsWith("127.") ? "127.0.0.1" : "0.0.0.0";
}

/** The system's reason in words. */
export function failureWords(error: NodeJS.ErrnoException, port: number): string {
  switch (error.code) {
    case "EADDRINUSE":
      return `port ${port} is already used on this computer`;
    case "EACCES":
      return `this computer does not allow port ${port}`;
    case "EADDRNOTAVAIL":
      return "this computer does not have that address";
    case "ENOTFOUND":
    case "EAI_AGAIN":
      return "that name is not known on this network";
    case "ENETUNREACH":
    case "EHOSTUNREACH":
      return "there is no way to that address from this computer";
    default:
      return error.code ? `the system says ${error.code}` : error.message;
  }
}
