/** The worker thread's entry: an engine, a clock and a message port. */
import { readlinkSync } from "node:fs";
// Imported, because the global of this name is a getter that is asked at each call.
import { performance } from "node:perf_hooks";
import { getHeapStatistics } from "node:v8";
import { parentPort, workerData } from "node:worker_threads";
import { Engine } from "./engine.ts";
import { MemoryWatch } from "./memory-watch.ts";
import type { FromEngine, NumberedMessage, ToEngine } from "./messages.ts";
import { Progress } from "./progress.ts";

const server = parentPort;
if (!server) throw new Error("The engine runs in a worker thread.");

// Wall-clock time that never goes back: the offset is taken once, the rest is the monotonic clock.
// `performance.timeOrigin` is a getter that checks its receiver at each call.
const originMs = performance.timeOrigin;
const nowMs = () => originMs + performance.now();

/** With a large show these may take longer than a thread that stands still is given. */
const TAKES_LONG = new Set<ToEngine["kind"]>(["load", "load-warm", "patch", "warm"]);

const progress = new Progress((workerData as { progress?: SharedArrayBuffer } | null)?.progress);
progress.thread = ownThread();
const tell = (message: FromEngine, transfer?: ArrayBuffer[]) => server.postMessage(message, transfer ?? []);
const memory = new MemoryWatch(() => {
  const { used_heap_size: used, heap_size_limit: limit } = getHeapStatistics();
  return { used, limit };
});
let reason = "it ended without a reason";
/** By the clock of this computer and its time zone. */
const secondsOfDay = (atMs: number) => {
  const now = new Date(atMs);
  return now.getHours() * 3600 + now.getMinutes() * 60 + now.getSeconds() + now.getMilliseconds() / 1000;
};
const engine = new Engine(tell, nowMs, {
  secondsOfDay,
  ticked: () => {
    progress.tick();
    if (!memory.isTooMuch(nowMs())) return;
    reason = "it took more and more memory";
    process.exit(1);
  },
});

server.on("message", ([number, message]: NumberedMessage) => {
  progress.begin(number);
  progress.isBusy = TAKES_LONG.has(message.kind);
  engine.handle(message);
  if (message.kind === "retire") process.exit(0); // after what came before it, and with nothing begun
  progress.isBusy = false;
  if (message.kind === "load" || message.kind === "load-warm") memory.begin(nowMs());
  progress.end(number);
});

/**
 * A fault of ours: the engine goes on from what is known, in the same thread and with its ports, and loses no more than
 * the message in hand. Where that does not help, another thread takes over. The stack is not touched before the death is
 * told: to map it to the sources takes longer than to recover.
 */
process.on("uncaughtException", (error: Error) => {
  progress.isBusy = false;
  reason = String(error?.message ?? error);
  if (engine.recover()) {
    tell({ kind: "recovered", reason });
    return;
  }
  process.exit(1);
});
// However it ends where it still can say so: that a thread is gone is noticed only once it has been cleared away.
process.on("exit", () => {
  engine.leave();
  tell({ kind: "dying", reason });
});
tell({ kind: "ready" });

/** The number of this thread as Linux has it (proc(5), `/proc/thread-self`); 0 on other systems. */
function ownThread(): number {
  try {
    return Number(readlinkSync("/proc/thread-self").split("/").pop()) || 0;
  } catch {
    return 0;
  }
}
