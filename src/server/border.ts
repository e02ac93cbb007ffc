/**
 * The border of the server: what comes in over HTTP and as an upgrade. Whatever somebody sends, nothing of it is thrown
 * past here: a request that cannot be understood gets its answer, and a handler that fails answers for itself alone.
 */
import type { IncomingMessage, Server, ServerResponse } from "node:http";
import type { Duplex } from "node:stream";
import { forgetForwarded, type Gate, hostAllowed, isFromHere, originAllowed } from "./guard-requests.ts";

const SECURITY_HEADERS = {
  "x-content-type-options": "nosniff",
  "x-frame-options": "DENY",
  "referrer-policy": "no-referrer",
  "cross-origin-opener-policy": "same-origin",
};

/** How long somebody may take to say a request's head, and all of it, in ms. */
const HEAD_WITHIN_MS = 10_000;
const REQUEST_WITHIN_MS = 60_000;
/** Longest target of a request, in characters; longer ones are answered with 414 (RFC 9110, section 15.5.15). */
const MAX_TARGET_CHARS = 4096;

/**
 * How long a connection is kept between two requests, in ms. A browser takes one for its next request without asking; the
 * shorter it is kept, the more often a request meets its end, and is lost.
 */
const KEPT_BETWEEN_REQUESTS_MS = 75_000;
/** What is answered where a request cannot be read, by the code of the parser's error (RFC 9110, 15.5.9; RFC 6585, 5). */
const UNREADABLE: Readonly<Record<string, string>> = {
  ERR_HTTP_REQUEST_TIMEOUT: "408 Request Timeout",
  HPE_HEADER_OVERFLOW: "431 Request Header Fields Too Large",
};

export interface Inside {
  /** Answers a request whose target and origin are in order; may fail, at once or later. `isHere`: this computer asks. */
  request(request: IncomingMessage, response: ServerResponse, isHere: boolean): unknown;
  /** Takes over a socket that asks for this path, or answers false. */
  upgrade(path: string, request: IncomingMessage, socket: Duplex, head: Buffer, isHere: boolean): boolean;
  /** Something inside failed; it has been answered. */
  failed(error: unknown): void;
}

/**
 * The path of a request's target; null where it is no path of ours. Only the origin form is taken (RFC 9112, section
 * 3.2.1), and a path does not begin with two slashes: whoever reads that as an address finds a host in it.
 */
export function pathOfTarget(target: string | undefined): string | null {
  if (!target?.startsWith("/") || target.startsWith("//") || target.length > MAX_TARGET_CHARS) return null;
  try {
    const { pathname, host } = new URL(target, "http://here");
    return host === "here" && !pathname.startsWith("//") ? pathname : null;
  } catch {
    return null;
  }
}

/** Puts the border between a server and what is inside. */
export function guardBorder(server: Server, gate: Gate, inside: Inside): void {
  server.headersTimeout = HEAD_WITHIN_MS;
  server.requestTimeout = REQUEST_WITHIN_MS;
  server.keepAliveTimeout = KEPT_BETWEEN_REQUESTS_MS;
  server.on("request", (request, response) => {
    // A browser that goes away while it is answered is no fault of anybody.
    request.on("error", () => {});
    response.on("error", () => {});
    try {
      answer(gate, inside, request, response);
    } catch (error) {
      fail(inside, response, error);
    }
  });
  server.on("upgrade", (request, socket, head) => {
    socket.on("error", () => {});
    try {
      const path = pathOfTarget(request.url);
      const allowed = path !== null && hostAllowed(gate, request) && originAllowed(gate, request, true);
      if (!allowed || !inside.upgrade(path, request, socket, head, isFromHere(request))) socket.destroy();
    } catch (error) {
      socket.destroy();
      inside.failed(error);
    }
  });
  // It asks for a tunnel to somewhere else; there is none here.
  server.on("connect", (_request, socket) => socket.destroy());
  server.on("clientError", refuse);
}

/** Answers a connection on which no request came that can be read. */
function refuse(error: NodeJS.ErrnoException, socket: Duplex & { bytesRead?: number }): void {
  // A browser opens connections ahead of its requests. One on which nothing was asked is closed without a word: what we
  // said there would be taken for the answer to the request that is just on its way.
  if (!socket.writable || socket.bytesRead === 0) socket.destroy();
  else socket.end(`HTTP/1.1 ${UNREADABLE[error.code ?? ""] ?? "400 Bad Request"}\r\nconnection: close\r\n\r\n`);
}

function answer(gate: Gate, inside: Inside, request: IncomingMessage, response: ServerResponse): void {
  for (const [name, value] of Object.entries(SECURITY_HEADERS)) response.setHeader(name, value);
  const isHere = isFromHere(request);
  forgetForwarded(request);
  if (!hostAllowed(gate, request) || !originAllowed(gate, request, false)) {
    say(response, 403, "Velvet Hinge answers only to its own pages.");
    return;
  }
  if (pathOfTarget(request.url) === null) {
    const tooLong = (request.url?.length ?? 0) > MAX_TARGET_CHARS;
    say(response, tooLong ? 414 : 400, "This is no address of a page here.");
    return;
  }
  const done = inside.request(request, response, isHere);
  if (done instanceof Promise) done.catch((error: unknown) => fail(inside, response, error));
}

function fail(inside: Inside, response: ServerResponse, error: unknown): void {
  inside.failed(error);
  if (response.headersSent) response.destroy();
  else say(response, 500, "Something went wrong here; the engine is not touched by it.");
}

/** A sentence as the whole answer. */
export function say(response: ServerResponse, status: number, sentence: string): void {
  response.writeHead(status, { "content-type": "text/plain; charset=utf-8", connection: "close" });
  response.end(sentence);
}
