/** Runs the stand-in lighting desk: a UDP socket for OSC, and a web page of its own to touch it at the desk. */
import { createSocket, type RemoteInfo } from "node:dgram";
import { existsSync, readFileSync } from "node:fs";
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { basename, join } from "node:path";
import { parseArgs } from "node:util";
import { type Change, type Command, LightingDesk } from "./desk.ts";
import page from "./page.html";
import { pulseBack, type Request, readRequests, tellBytes, wholeState } from "./protocol.ts";

/** How long a subscription holds without being renewed, in ms. */
const SUBSCRIPTION_MS = 10_000;
const MAX_COMMAND_BYTES = 2000;
const HOST = "127.0.0.1";

const { values } = parseArgs({
  options: {
    port: { type: "string", default: process.env.VELVET_LIGHTS_PORT ?? "9100" },
    "web-port": { type: "string", default: process.env.VELVET_LIGHTS_WEB_PORT ?? "4781" },
  },
});

const desk = new LightingDesk();
const subscribers = new Map<string, { host: string; port: number; untilMs: number }>();
const watchers = new Set<ServerResponse>();
const counted = { requests: 0, notOsc: 0, unknown: 0, refused: 0 };
const socket = createSocket({ type: "udp4", recvBufferSize: 4 * 1024 * 1024 });

function carryOut(command: Command): boolean {
  const changes = desk.act(command);
  if (!changes) {
    counted.refused++;
    return false;
  }
  for (const change of changes) publish(change);
  return true;
}

function publish(change: Change): void {
  const bytes = tellBytes(desk, change);
  const nowMs = Date.now();
  for (const [key, s] of subscribers) {
    if (s.untilMs < nowMs) subscribers.delete(key);
    else socket.send(bytes, s.port, s.host);
  }
  scheduleEvents();
}

let eventsDue = false;
// A page is redrawn at most 30 times a second, however fast the faders move.
function scheduleEvents(): void {
  if (eventsDue || watchers.size === 0) return;
  eventsDue = true;
  setTimeout(() => {
    eventsDue = false;
    const event = `data: ${JSON.stringify(state())}\n\n`;
    for (const watcher of watchers) watcher.write(event);
  }, 33);
}

function state() {
  const { pages, pageNames, pageUp, grand, blackout, cue, cueName } = desk;
  return { pages, pageNames, pageUp, grand, blackout, cue, cueName, subscribers: subscribers.size, counted };
}

function answer(request: Request, from: RemoteInfo): void {
  counted.requests++;
  const key = `${from.address}:${from.port}`;
  switch (request.kind) {
    case "command":
      carryOut(request.command);
      return;
    case "ask":
      for (const bytes of wholeState(desk)) socket.send(bytes, from.port, from.address);
      return;
    case "listen":
      subscribers.set(key, { host: from.address, port: from.port, untilMs: Date.now() + SUBSCRIPTION_MS });
      scheduleEvents();
      return;
    case "leave":
      subscribers.delete(key);
      scheduleEvents();
      return;
    case "pulse":
      socket.send(pulseBack(request.number), from.port, from.address);
      return;
    case "unknown":
      counted.unknown++;
      return;
    default:
      request satisfies never;
  }
}

socket.on("message", (bytes, from) => {
  const requests = readRequests(bytes);
  if (requests) for (const request of requests) answer(request, from);
  else counted.notOsc++;
});
// A subscriber that went away makes the network refuse what we tell it; its subscription runs out by itself.
socket.on("error", (error: NodeJS.ErrnoException) => {
  if (error.code !== "EADDRINUSE" && error.code !== "EACCES") return;
  console.error(`The stand-in lighting desk cannot listen on UDP port ${values.port}: it is in use.`);
  process.exit(1);
});

function serve(request: IncomingMessage, response: ServerResponse): void {
  const { pathname } = new URL(request.url ?? "/", "http://desk");
  switch (`${request.method} ${pathname}`) {
    case "GET /":
      reply(response, 200, "text/html; charset=utf-8", page);
      return;
    case "GET /favicon.ico":
      response.writeHead(204).end();
      return;
    case "GET /state":
      reply(response, 200, "application/json", JSON.stringify(state()));
      return;
    case "GET /events":
      response.writeHead(200, { "content-type": "text/event-stream", "cache-control": "no-store" });
      response.write(`data: ${JSON.stringify(state())}\n\n`);
      watchers.add(response);
      request.on("close", () => watchers.delete(response));
      return;
    case "POST /act":
      void act(request, response);
      return;
    default:
      if (request.method === "GET" && pathname.startsWith("/fonts/")) font(pathname, response);
      else reply(response, 404, "text/plain", "There is nothing here.");
  }
}

// The fonts lie beside the built stand-in; it fetches nothing from anywhere.
function font(path: string, response: ServerResponse): void {
  const file = join(import.meta.dirname, "fonts", basename(path));
  if (file.endsWith(".woff2") && existsSync(file)) reply(response, 200, "font/woff2", readFileSync(file));
  else reply(response, 404, "text/plain", "There is nothing here.");
}

async function act(request: IncomingMessage, response: ServerResponse): Promise<void> {
  const origin = request.headers.origin;
  if (origin !== undefined && origin !== `http://${request.headers.host}`)
    return reply(response, 403, "text/plain", "Only the desk's own page may touch it.");
  let text = "";
  for await (const piece of request) {
    text += piece;
    if (text.length > MAX_COMMAND_BYTES) return reply(response, 413, "text/plain", "Too long for a command.");
  }
  const command = readCommand(text);
  if (!command || !carryOut(command)) return reply(response, 400, "text/plain", "This is not a command of the desk.");
  reply(response, 200, "application/json", "{}");
}

const KINDS = new Set([
  "level",
  "on",
  "go",
  "flash",
  "cue-go",
  "cue-back",
  "grand",
  "blackout",
  "page",
  "page-step",
  "reset",
]);
const SWITCHES = new Set(["on", "flash", "blackout"]);

function readCommand(text: string): Command | null {
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    return null;
  }
  if (typeof data !== "object" || data === null) return null;
  const { kind, page: p, playback, value } = data as Record<string, unknown>;
  if (typeof kind !== "string" || !KINDS.has(kind)) return null;
  if (!["number", "undefined"].includes(typeof p) || !["number", "undefined"].includes(typeof playback)) return null;
  const wanted = SWITCHES.has(kind)
    ? "boolean"
    : ["go", "cue-go", "cue-back", "reset"].includes(kind)
      ? "undefined"
      : "number";
  return typeof value === wanted ? (data as Command) : null;
}

function reply(response: ServerResponse, status: number, type: string, body: string | Buffer): void {
  response.writeHead(status, {
    "content-type": type,
    "content-security-policy":
      "default-src 'self'; style-src 'self' 'unsafe-inline'; script-src 'self' 'unsafe-inline'",
    "x-content-type-options": "nosniff",
  });
  response.end(body);
}

const web = createServer(serve);
web.on("error", () => {
  console.error(`The stand-in lighting desk cannot show its page on port ${values["web-port"]}: it is in use.`);
  process.exit(1);
});
socket.bind(Number(values.port), HOST, () => {
  web.listen(Number(values["web-port"]), HOST, () => {
    console.log(
      `Stand-in lighting desk: OSC on ${HOST}:${values.port}, its page on http://${HOST}:${values["web-port"]}`,
    );
    process.send?.({ kind: "ready" });
  });
});

let stopped = false;
function stop(): void {
  if (stopped) return; // by a signal, and then by the end of the line to the application
  stopped = true;
  for (const watcher of watchers) watcher.end();
  web.close();
  web.closeAllConnections();
  socket.close();
  if (process.connected) process.disconnect();
}
process.once("SIGINT", stop);
process.once("SIGTERM", stop);
// Started by the application, it must not outlive it.
process.once("disconnect", stop);
