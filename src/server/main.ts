/** The server: pages, live socket, database and engine in one process, on one port. */
import { chmodSync, mkdirSync, readFileSync } from "node:fs";
import type { ServerResponse } from "node:http";
import { join } from "node:path";
import type { Duplex } from "node:stream";
import { fileURLToPath } from "node:url";
import { setFlagsFromString } from "node:v8";
import demoShow from "../../examples/lantern-regatta.show.json" with { type: "json" };
import { emptyShow, type Show } from "../core/format/show.ts";
import { problemWords } from "../words/problems.ts";
import { Access } from "./access/access.ts";
import { admit } from "./access/admit.ts";
import { needsOf, verdict } from "./access/endpoints.ts";
import { ensurePasscode } from "./access/first-passcode.ts";
import { Application } from "./application.ts";
import { guardBorder, pathOfTarget, say } from "./border.ts";
import { DatabaseTaken, lockDatabase } from "./database/lock.ts";
import { mendDatabase, NewerDatabase } from "./database/open.ts";
import { UnreadableShow } from "./database/open-show.ts";
import { isStorageError, Storage, storageFault } from "./database/storage.ts";
import { gateFor, isLoopbackHost, waysIn } from "./guard-requests.ts";
import { CannotListen, listen, makeServer } from "./listen.ts";
import { LIVE_PATH } from "./live/hub.ts";
import { openLog } from "./log.ts";
import { NODE_FLAGS, READY_FLAG } from "./node-flags.mjs";
import { readOptions } from "./options.ts";
import { StandInFailed, StandIns } from "./standins.ts";
import { serveStatic } from "./static-files.ts";
import { EngineThread } from "./supervision.ts";
import { WantedStandIns } from "./wanted-standins.ts";

type AstroHandler = (
  request: import("node:http").IncomingMessage,
  response: import("node:http").ServerResponse,
  next: (error?: unknown) => void,
  locals: App.Locals,
) => unknown;

// `npm start` gives them on the command line. For who starts this file by hand they hold at least in the engine's thread.
for (const flag of NODE_FLAGS) setFlagsFromString(flag);

const STARTING = "Velvet Hinge is starting.";

function leave(sentence: string): never {
  console.error(sentence);
  process.exit(1);
}

/** A stop takes a second or two; past this something hangs, in ms. */
const STOPS_WITHIN_MS = 10_000;

async function main(): Promise<void> {
  process.umask(0o077); // what is stored is for whoever runs this, and for nobody else
  const read = readOptions(process.argv.slice(2), process.env);
  if (!read.ok) leave(read.sentence);
  const { options } = read;
  const { server, watch } = makeServer(options.tls);
  // Who asks while we start is told so: a request that nobody listens to would hang for ever.
  const early = {
    request: (_: unknown, response: ServerResponse) => response.writeHead(503, { "retry-after": "1" }).end(STARTING),
    upgrade: (_: unknown, socket: Duplex) => socket.on("error", () => {}).destroy(),
  };
  server.on("request", early.request);
  server.on("upgrade", early.upgrade);
  await listen(server, options.host, options.port); // first of all: a port in use must leave everything else untouched

  const here = new URL(".", import.meta.url);
  const engineFile = new URL("./engine.mjs", here);
  const engine = new EngineThread(engineFile); // it loads while the rest does
  const standIns = new StandIns(new URL("./standins/", here), options.standInPorts, demoShow as unknown as Show);
  if (options.standIns) await standIns.startAll();
  const { dataFolder } = options;
  const name = options.demo ? "demo" : "velvet-hinge";
  mkdirSync(dataFolder, { recursive: true });
  chmodSync(dataFolder, 0o700); // passwords of desks lie in it
  const lock = await lockDatabase(dataFolder, name, { pid: process.pid, port: options.port });
  const log = openLog(dataFolder, options.logLevel);
  const mended = await mendDatabase(dataFolder, name, new Date());
  if (mended !== null) {
    log.write("error", "database-damaged", { sentence: mended });
    console.error(mended);
  }
  const storage = await Storage.open(dataFolder, name);
  const application = await Application.start(storage, {
    log,
    engineFile,
    engine,
    // The demo is read like any other document.
    firstShow: () => (options.demo ? standIns.demoShow : emptyShow("New show")),
    faults: options.faults,
    build: buildOf(here),
    journalFile: join(dataFolder, `${name}.now.json`),
    onHoldFile: join(dataFolder, `${name}.on-hold.json`),
  });
  if (options.restore !== null) {
    const answer = await application.restore(options.restore);
    if (!answer.ok) leave(answer.problems.join(" "));
    console.log(`The show was restored: ${answer.label}.`);
  }
  application.keepBackups();
  const noStandIn = (error: Error) => {
    log.write("warn", "stand-in-failed", { reason: error.message });
    console.error(error.message);
  };
  if (options.standInsAgain) {
    const wanted = new WantedStandIns(join(dataFolder, `${name}.stand-ins.json`), noStandIn);
    // Nothing waits for them: their desks answer once they are there.
    void standIns.startAgain(wanted, application.show.desks, noStandIn);
  }
  const way = { host: options.host, port: options.port, isSecure: options.tls !== null, names: options.names };
  const access = await Access.open(storage, {
    log,
    port: options.port,
    isSecure: way.isSecure,
    waysIn: () => waysIn(way),
    ended: (session) => application.hub.endSession(session),
  });
  const lacking = isLoopbackHost(options.host) ? null : await ensurePasscode(access, options.passcode);
  if (lacking !== null) {
    await application.stop();
    leave(lacking);
  }
  const astro = new URL("./server/entry.mjs", here).href;
  const { handler } = (await import(astro)) as { handler: AstroHandler };
  const client = fileURLToPath(new URL("./client", here));

  server.off("request", early.request);
  server.off("upgrade", early.upgrade);
  guardBorder(server, gateFor(way), {
    request: (request, response, isHere) => {
      if (serveStatic(client, request, response)) return undefined; // what the program is drawn with holds nothing of the show
      const who = access.who(request, isHere);
      if (!admit(pathOfTarget(request.url)!, request, response, who)) return undefined;
      const address = request.socket.remoteAddress ?? "";
      return handler(request, response, (error) => notFound(response, error), {
        application,
        access,
        standIns,
        who,
        address,
      });
    },
    upgrade: (path, request, socket, head, isHere) => {
      if (path !== LIVE_PATH) return false;
      const who = access.who(request, isHere);
      if (who && verdict(needsOf("UPGRADE", path), who.role) === "let-in")
        application.hub.upgrade(request, socket, head, who);
      else socket.end("HTTP/1.1 401 Unauthorized\r\nconnection: close\r\n\r\n");
      return true;
    },
    failed: (error) => {
      log.write("error", "request-failed", { reason: String(error) });
      console.error(error);
    },
  });
  log.write("info", "started", { pid: process.pid, host: options.host, port: options.port, node: process.version });

  const unwatch = watch((error) => {
    log.write(error ? "error" : "info", "certificate", { renewed: error === null, reason: error?.message });
    if (error) console.error(`The new certificate cannot be used, the old one goes on: ${error.message}`);
  });
  const others = waysIn(way);
  console.log(
    `Velvet Hinge is ready on ${way.isSecure ? "https" : "http"}://${nameHere(options.host)}:${options.port}`,
  );
  if (others.length > 0) console.log(`Others come in by their passcode at ${others.join(" or ")}`);
  if (options.standIns) console.log("The demo show and its stand-ins are running. Ctrl-C stops everything.");

  process.send?.({ kind: "ready" });
  // Its parent may be killed: the show goes on without one.
  process.on("disconnect", () => {});
  setFlagsFromString(READY_FLAG);
  let stopping = false;
  const stop = async () => {
    if (stopping) return;
    stopping = true;
    setTimeout(() => {
      // A thread that cannot be ended would hold the whole program; what has to be kept is on the disk by now.
      console.error("The program did not stop by itself and is ended. What it keeps is stored.");
      process.kill(process.pid, "SIGKILL");
    }, STOPS_WITHIN_MS).unref();
    unwatch();
    await application.stop();
    await standIns.stop();
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
    await storage.close();
    log.write("info", "stopped");
    await log.end();
    await lock.free();
    process.exit(0);
  };
  // Ctrl-C, a request to end, and a terminal that is closed: what is held is let go.
  for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"] as const) process.on(signal, () => void stop());
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

/** What to call this computer by, on itself. */
function nameHere(host: string): string {
  if (host === "0.0.0.0" || host === "::") return "127.0.0.1";
  return host.includes(":") ? `[${host.replace(/^\[|\]$/g, "")}]` : host;
}

function notFound(response: ServerResponse, error: unknown): void {
  if (error) console.error(error);
  if (error) say(response, 500, "Something went wrong here; the engine is not touched by it.");
  else say(response, 404, "There is no such page.");
}

main().catch((error: unknown) => {
  if (
    error instanceof NewerDatabase ||
    error instanceof StandInFailed ||
    error instanceof DatabaseTaken ||
    error instanceof CannotListen
  )
    leave(error.message);
  if (error instanceof UnreadableShow)
    leave(
      `The stored show cannot be read:\n${error.problems.map((p) => `  ${problemWords(p, { document: error.document, profiles: error.profiles })}`).join("\n")}`,
    );
  const read = readOptions(process.argv.slice(2), process.env);
  if (!read.ok || !isStorageError(error)) throw error;
  leave(`${NOT_OPENED[storageFault(error, read.options.dataFolder)]} (${(error as Error).message})`);
});

const NOT_OPENED = {
  full: "The disk with the data folder is full. Make room there, or choose another folder: --data FOLDER",
  gone: "The data folder cannot be opened. Choose another one: --data FOLDER",
  "read-only": "The data folder cannot be written to. Change its rights, or choose another one: --data FOLDER",
  damaged: "The stored shows are damaged. Restore a backup, or choose another folder: --data FOLDER",
  failed: "The disk with the data folder refuses. Check it, or choose another folder: --data FOLDER",
} as const;
