/** The server: pages, live socket, database and engine in one process, on one port. */
import { readFileSync } from "node:fs";
import { createServer, type ServerResponse } from "node:http";
import type { Duplex } from "node:stream";
import { fileURLToPath } from "node:url";
import { setFlagsFromString } from "node:v8";
import demoShow from "../../examples/lantern-regatta.show.json" with { type: "json" };
import { emptyShow, type Show } from "../core/format/show.ts";
import { problemWords } from "../words/problems.ts";
import { Application } from "./application.ts";
import { NewerDatabase, openDatabase } from "./database/open.ts";
import { UnreadableShow } from "./database/show-store.ts";
import { gateFor, hostAllowed, originAllowed } from "./guard-requests.ts";
import { LIVE_PATH } from "./live/hub.ts";
import { NODE_FLAGS, READY_FLAG } from "./node-flags.mjs";
import { type Options, readOptions } from "./options.ts";
import { atStandIns, type StandIn, StandInFailed, startStandIns } from "./standins.ts";
import { serveStatic } from "./static-files.ts";

type AstroHandler = (
  request: import("node:http").IncomingMessage,
  response: import("node:http").ServerResponse,
  next: (error?: unknown) => void,
  locals: App.Locals,
) => void;

const SECURITY_HEADERS = {
  "x-content-type-options": "nosniff",
  "x-frame-options": "DENY",
  "referrer-policy": "no-referrer",
  "cross-origin-opener-policy": "same-origin",
};

// `npm start` gives them on the command line. For who starts this file by hand they hold at least in the engine's thread.
for (const flag of NODE_FLAGS) setFlagsFromString(flag);

const STARTING = "Velvet Hinge is starting.";

function leave(sentence: string): never {
  console.error(sentence);
  process.exit(1);
}

async function main(): Promise<void> {
  const read = readOptions(process.argv.slice(2), process.env);
  if (!read.ok) leave(read.sentence);
  const { options } = read;
  const server = createServer();
  // Who asks while we start is told so: a request that nobody listens to would hang for ever.
  const early = {
    request: (_: unknown, response: ServerResponse) => response.writeHead(503, { "retry-after": "1" }).end(STARTING),
    upgrade: (_: unknown, socket: Duplex) => socket.destroy(),
  };
  server.on("request", early.request);
  server.on("upgrade", early.upgrade);
  await listen(server, options); // first of all: a port in use must leave everything else untouched

  const here = new URL(".", import.meta.url);
  const standIns: StandIn[] = options.standIns ? await startStandIns(new URL("./standins/", here)) : [];
  const database = await openDatabase(options.dataFolder, options.demo ? "demo.sqlite" : "velvet-hinge.sqlite");
  const application = await Application.start(database, {
    engineFile: new URL("./engine.mjs", here),
    // The demo is read like any other document.
    firstShow: () =>
      options.demo ? atStandIns(demoShow as unknown as Show, options.standInPorts) : emptyShow("New show"),
    faults: options.faults,
    build: buildOf(here),
  });
  const astro = new URL("./server/entry.mjs", here).href;
  const { handler } = (await import(astro)) as { handler: AstroHandler };
  const client = fileURLToPath(new URL("./client", here));
  const gate = gateFor(options.host, options.port);

  server.off("request", early.request);
  server.off("upgrade", early.upgrade);
  server.on("request", (request, response) => {
    for (const [name, value] of Object.entries(SECURITY_HEADERS)) response.setHeader(name, value);
    if (!hostAllowed(gate, request) || !originAllowed(gate, request, false)) {
      response.writeHead(403, { "content-type": "text/plain; charset=utf-8" });
      response.end("Velvet Hinge answers only to its own pages.");
      return;
    }
    if (serveStatic(client, request, response)) return;
    handler(request, response, (error) => notFound(response, error), { application });
  });
  server.on("upgrade", (request, socket, head) => {
    const path = new URL(request.url ?? "/", "http://here").pathname;
    if (path === LIVE_PATH && hostAllowed(gate, request) && originAllowed(gate, request, true))
      application.hub.upgrade(request, socket, head);
    else socket.destroy();
  });

  console.log(`Velvet Hinge is ready on http://${options.host}:${options.port}`);
  if (options.standIns) console.log("The demo show and its stand-ins are running. Ctrl-C stops everything.");

  setFlagsFromString(READY_FLAG);
  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    await application.stop();
    await Promise.all(standIns.map((s) => s.stop()));
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
    await database.close();
    process.exit(0);
  };
  process.on("SIGINT", () => void stop());
  process.on("SIGTERM", () => void stop());
}

/** What tells this build from others: the stamp of the pages, which tools/build.mjs leaves beside the programs. */
function buildOf(here: URL): string {
  try {
    const stamp = JSON.parse(readFileSync(new URL("./stamp.json", here), "utf8")) as { pages?: unknown };
    return String(stamp.pages);
  } catch {
    return "unstamped";
  }
}

function listen(server: ReturnType<typeof createServer>, { host, port }: Options): Promise<void> {
  return new Promise((resolve) => {
    server.once("error", (error: NodeJS.ErrnoException) => {
      if (error.code === "EADDRINUSE")
        leave(`Port ${port} on ${host} is in use. Stop what uses it, or choose another: --port ${port + 1}`);
      leave(`Velvet Hinge cannot listen on ${host}:${port}: ${error.message}`);
    });
    server.listen(port, host, resolve);
  });
}

function notFound(response: import("node:http").ServerResponse, error: unknown): void {
  if (error) console.error(error);
  response.writeHead(error ? 500 : 404, { "content-type": "text/plain; charset=utf-8" });
  response.end(error ? "Something went wrong here; the engine is not touched by it." : "There is no such page.");
}

main().catch((error: unknown) => {
  if (error instanceof NewerDatabase || error instanceof StandInFailed) leave(error.message);
  if (error instanceof UnreadableShow)
    leave(
      `The stored show cannot be read:\n${error.problems.map((p) => `  ${problemWords(p, { document: error.document, profiles: error.profiles })}`).join("\n")}`,
    );
  throw error;
});
