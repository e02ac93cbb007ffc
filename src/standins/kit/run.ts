/** Runs a stand-in as a process: its wire, its faults, and a page of its own to touch it as somebody who stands there. */
import { existsSync, readFileSync } from "node:fs";
import { createServer, type IncomingMessage, type ServerResponse } from "node:http";
import { basename, join } from "node:path";
import { parseArgs } from "node:util";
import { portVariables, STAND_INS } from "../table.mjs";
import { changedFaults, type FaultSettings, type Faults, NO_FAULTS } from "./faults.ts";
import style from "./kit.css";
import script from "./kit.script";
import { HOST, type Wire } from "./wire.ts";

const MAX_COMMAND_BYTES = 2000;
/** A page is redrawn at most 30 times a second, however fast the faders move. */
const EVENTS_EVERY_MS = 33;
/** How long it is gone when it is switched off and on, in ms. */
const RESTART_MS = 1000;

export interface StandInParts {
  name: string;
  page: string;
  wire: Wire;
  faults: Faults;
  /** All of it, for its page. */
  state(): object;
  /** Carries out a command of its page; false = it is none. */
  act(command: Record<string, unknown>): boolean;
  /** Everything as it was when it was switched on. */
  reset(): void;
  /** Says one message that nobody asked for. */
  flood(): void;
}

export interface StandInPorts {
  port: number;
  webPort: number;
  /** Where it sends by itself, if it does. */
  toPort: number;
}

/** Ports from flags, or from its variables, or those of its table. */
export function portsFor(id: keyof typeof STAND_INS): StandInPorts {
  const { values } = parseArgs({
    options: { port: { type: "string" }, "web-port": { type: "string" }, "to-port": { type: "string" } },
  });
  const variables = portVariables(id);
  const port = Number(values.port ?? process.env[variables.port] ?? STAND_INS[id].port);
  return {
    port,
    webPort: Number(values["web-port"] ?? process.env[variables.webPort] ?? STAND_INS[id].webPort),
    toPort: Number(values["to-port"] ?? port + 1),
  };
}

/** Answers `changed`, to be called whenever what the page shows has changed. */
export function runStandIn(parts: StandInParts, { port, webPort }: StandInPorts): { changed(): void } {
  const { name, wire, faults } = parts;
  const watchers = new Set<ServerResponse>();
  let eventsDue: NodeJS.Timeout | null = null;
  let restart: NodeJS.Timeout | null = null;
  const all = () => JSON.stringify({ ...parts.state(), listeners: wire.listeners, faults: faults.settings });

  function changed(): void {
    if (eventsDue || watchers.size === 0) return;
    eventsDue = setTimeout(() => {
      eventsDue = null;
      const event = `data: ${all()}\n\n`;
      for (const watcher of watchers) watcher.write(event);
    }, EVENTS_EVERY_MS);
  }

  async function setFaults(next: FaultSettings): Promise<void> {
    const refused = faults.settings.refuse;
    faults.set(next, parts.flood);
    if (next.refuse && !refused) await wire.close();
    if (!next.refuse && refused) await wire.open();
    changed();
  }

  async function switchOffAndOn(): Promise<void> {
    if (restart) return;
    wire.forget();
    await wire.close();
    parts.reset();
    restart = setTimeout(() => {
      restart = null;
      if (!faults.settings.refuse) void wire.open().then(changed);
    }, RESTART_MS);
  }

  async function command(acts: boolean, request: IncomingMessage, response: ServerResponse): Promise<void> {
    const { origin } = request.headers;
    if (origin !== undefined && origin !== `http://${request.headers.host}`)
      return reply(response, 403, "text/plain", "Only its own page may touch it.");
    let text = "";
    for await (const piece of request) {
      text += piece;
      if (text.length > MAX_COMMAND_BYTES) return reply(response, 413, "text/plain", "Too long for a command.");
    }
    const data = parse(text);
    if (!data) return reply(response, 400, "text/plain", "This is not a command.");
    if (data.kind === "restart") {
      await switchOffAndOn();
    } else if (acts) {
      if (!parts.act(data)) return reply(response, 400, "text/plain", "This is not a command of it.");
    } else {
      const next = data.kind === "none" ? NO_FAULTS : changedFaults(faults.settings, data);
      if (!next) return reply(response, 400, "text/plain", "This is not a fault.");
      await setFaults(next);
    }
    changed();
    reply(response, 200, "application/json", "{}");
  }

  const web = createServer((request, response) =>
    serve(request, response, { page: parts.page, all, watchers, command }),
  );
  web.on("error", () => leave(`The stand-in ${name} cannot show its page on port ${webPort}: it is in use.`));
  wire.open().then(
    () =>
      web.listen(webPort, HOST, () => {
        console.log(`Stand-in ${name}: on ${HOST}:${port}, its page on http://${HOST}:${webPort}`);
        process.send?.({ kind: "ready" });
      }),
    () => leave(`The stand-in ${name} cannot listen on port ${port}: it is in use.`),
  );

  let stopped = false;
  function stop(): void {
    if (stopped) return; // by a signal, and then by the end of the line to the application
    stopped = true;
    faults.stop();
    for (const timer of [eventsDue, restart]) if (timer) clearTimeout(timer);
    for (const watcher of watchers) watcher.end();
    web.close();
    web.closeAllConnections();
    void wire.close().then(() => process.exit(0));
  }
  process.once("SIGINT", stop);
  process.once("SIGTERM", stop);
  // Started by the application, it must not outlive it.
  process.once("disconnect", stop);
  return { changed };
}

interface Served {
  page: string;
  all(): string;
  /** Pages that are told of every change. */
  watchers: Set<ServerResponse>;
  command(acts: boolean, request: IncomingMessage, response: ServerResponse): Promise<void>;
}

function serve(request: IncomingMessage, response: ServerResponse, { page, all, watchers, command }: Served): void {
  const { pathname } = new URL(request.url ?? "/", "http://desk");
  switch (`${request.method} ${pathname}`) {
    case "GET /":
      reply(response, 200, "text/html; charset=utf-8", page);
      return;
    case "GET /kit.css":
      reply(response, 200, "text/css; charset=utf-8", style);
      return;
    case "GET /kit.js":
      reply(response, 200, "text/javascript; charset=utf-8", script);
      return;
    case "GET /favicon.ico":
      response.writeHead(204).end();
      return;
    case "GET /state":
      reply(response, 200, "application/json", all());
      return;
    case "GET /events":
      response.writeHead(200, { "content-type": "text/event-stream", "cache-control": "no-store" });
      response.write(`data: ${all()}\n\n`);
      watchers.add(response);
      request.on("close", () => watchers.delete(response));
      return;
    case "POST /act":
    case "POST /fault":
      void command(pathname === "/act", request, response);
      return;
    default:
      if (request.method === "GET" && pathname.startsWith("/fonts/")) font(pathname, response);
      else reply(response, 404, "text/plain", "There is nothing here.");
  }
}

function leave(sentence: string): never {
  console.error(sentence);
  process.exit(1);
}

function parse(text: string): Record<string, unknown> | null {
  try {
    const data: unknown = JSON.parse(text);
    return typeof data === "object" && data !== null ? (data as Record<string, unknown>) : null;
  } catch {
    return null;
  }
}

// The fonts lie beside the built stand-in; it fetches nothing from anywhere.
function font(path: string, response: ServerResponse): void {
  const file = join(import.meta.dirname, "fonts", basename(path));
  if (file.endsWith(".woff2") && existsSync(file)) reply(response, 200, "font/woff2", readFileSync(file));
  else reply(response, 404, "text/plain", "There is nothing here.");
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
