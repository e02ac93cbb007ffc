/** The worker thread's entry: an engine, a clock and a message port. */
// Imported, because the global of this name is a getter that is asked at each call.
import { performance } from "node:perf_hooks";
import { parentPort } from "node:worker_threads";
import { Engine } from "./engine.ts";
import type { ToEngine } from "./messages.ts";

const server = parentPort;
if (!server) throw new Error("The engine runs in a worker thread.");

// Wall-clock time that never goes back: the offset is taken once, the rest is the monotonic clock.
// `performance.timeOrigin` is a getter that checks its receiver at each call.
const originMs = performance.timeOrigin;
const nowMs = () => originMs + performance.now();

const engine = new Engine((message, transfer) => server.postMessage(message, transfer ?? []), nowMs);
server.on("message", (message: ToEngine) => engine.handle(message));
server.postMessage({ kind: "ready" });
