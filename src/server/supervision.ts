/**
 * Keeps an engine running: starts it in a worker thread, hands it the show, and when it dies starts another
 * with what the dead one knew.
 */
import { Worker } from "node:worker_threads";
import type { FromEngine, ToEngine } from "../engine/messages.ts";

/** Pause before the first restart and the longest one, in ms. */
const FIRST_PAUSE_MS = 20;
const LONGEST_PAUSE_MS = 5000;
/** An engine that ran this long has recovered; the next fault starts from the first pause again. */
const RECOVERED_AFTER_MS = 10_000;
const STOP_WITHIN_MS = 1500;
/** What hands do without an engine waits this long, in ms, and so many messages. */
const WAITS_MS = 5000;
const MAX_WAITING = 2000;
/** What the next engine is not to hear of: it is told anew, or it was about what the dead one had. */
const OF_ONE_ENGINE = new Set<ToEngine["kind"]>(["load", "bridge", "free-slab"]);

export interface SupervisionEvents {
  /** A new engine is ready: give it the show. `restarts` counts from 0. */
  started(restarts: number): void;
  message(message: FromEngine): void;
  died(reason: string): void;
}

export class EngineSupervision {
  readonly #file: URL;
  readonly #events: SupervisionEvents;
  #worker: Worker | null = null;
  #restarts = 0;
  #pauseMs = FIRST_PAUSE_MS;
  #startedAtMs = 0;
  #stopping = false;
  /** The engine runs and has been given the show. */
  #ready = false;
  #waiting: { message: ToEngine; atMs: number }[] = [];

  constructor(file: URL, events: SupervisionEvents) {
    this.#file = file;
    this.#events = events;
  }

  /** Starts the engine and resolves when it is ready. */
  start(): Promise<void> {
    return new Promise((resolve) => this.#spawn(resolve));
  }

  /**
   * Gives the engine a message. What hands do while there is none waits for the next one: a release must not be lost.
   * A press of long ago must not come as a surprise, so what waited too long is dropped, and then all is let go.
   */
  send(message: ToEngine): void {
    if (this.#ready) this.#worker?.postMessage(message);
    else if (!OF_ONE_ENGINE.has(message.kind) && this.#waiting.length < MAX_WAITING)
      this.#waiting.push({ message, atMs: performance.now() });
  }

  #flush(): void {
    const waiting = this.#waiting;
    this.#waiting = [];
    const oldestMs = performance.now() - WAITS_MS;
    const fresh = waiting.filter((w) => w.atMs >= oldestMs);
    if (fresh.length < waiting.length) this.send({ kind: "release-all" });
    for (const { message } of fresh) this.send(message);
  }

  async stop(): Promise<void> {
    this.#stopping = true;
    const worker = this.#worker;
    if (!worker) return;
    const stopped = new Promise<void>((resolve) => {
      const limit = setTimeout(resolve, STOP_WITHIN_MS);
      worker.on("message", (message: FromEngine) => {
        if (message.kind !== "stopped") return;
        clearTimeout(limit);
        resolve();
      });
    });
    this.send({ kind: "stop" });
    await stopped;
    await worker.terminate();
  }

  #spawn(ready: () => void): void {
    const worker = new Worker(this.#file);
    this.#worker = worker;
    this.#startedAtMs = performance.now();
    let reason = "it ended without a reason";
    worker.on("message", (message: FromEngine) => {
      if (message.kind !== "ready") {
        this.#events.message(message);
        return;
      }
      this.#ready = true;
      this.#events.started(this.#restarts); // which gives it the show; what waited comes after that
      this.#flush();
      ready();
    });
    worker.on("error", (error) => {
      reason = error.stack ?? error.message;
      if (worker === this.#worker) this.#ready = false;
    });
    worker.on("exit", () => this.#exited(worker, reason));
  }

  #exited(worker: Worker, reason: string): void {
    if (worker !== this.#worker) return;
    this.#worker = null;
    this.#ready = false;
    if (this.#stopping) return;
    this.#events.died(reason);
    if (performance.now() - this.#startedAtMs > RECOVERED_AFTER_MS) this.#pauseMs = FIRST_PAUSE_MS;
    this.#restarts++;
    setTimeout(() => this.#spawn(() => {}), this.#pauseMs);
    this.#pauseMs = Math.min(this.#pauseMs * 2, LONGEST_PAUSE_MS);
  }
}
