/**
 * Keeps an engine running: starts it in a worker thread, hands it the show, and when it dies another takes over with
 * what the dead one knew. One that is loaded already waits for that. Messages to the engine are numbered, so that of
 * those the dead one had not begun none is lost, and none that it had begun is carried out twice.
 */
import { Worker } from "node:worker_threads";
import type { FromEngine, ToEngine } from "../engine/messages.ts";
import { Progress } from "../engine/progress.ts";
import { threadTimeMs } from "./thread-time.ts";

/** Pause before a restart that follows another within `RECOVERED_AFTER_MS`, and the longest one, in ms. */
const FIRST_PAUSE_MS = 20;
const LONGEST_PAUSE_MS = 5000;
/** So many deaths in that time are no reason to pause: a spare is there each time. */
const DEATHS_WITHOUT_PAUSE = 12;
/** So many that die one after the other before they have loaded the show: it is the show. */
const FAILED_LOADS = 3;
/** An engine that ran this long has recovered; the next fault starts from no pause again. */
const RECOVERED_AFTER_MS = 10_000;
const STOP_WITHIN_MS = 1500;
/** What hands do without an engine waits this long, in ms, and so many messages. */
const WAITS_MS = 5000;
const MAX_WAITING = 2000;
/** The spare is made once the engine has been given the show and has settled, in ms. */
const SPARE_AFTER_MS = 400;
/** After an edit, once nothing more was edited for so long, the spare gets ready for the show as it is then, in ms. */
const WARM_AFTER_MS = 1000;
/** How often it is looked whether the engine moves, and how long it may stand still, also while it loads a show, in ms. */
const LOOK_EVERY_MS = 50;
const STANDS_STILL_MS = 500;
/**
 * One that hangs has had a processor for all of that time, but for what passed before it was first looked at, in ms. One
 * that has not waits for its turn, as on a computer that is busy with something else: it is left alone much longer, and
 * it is not the show that did it.
 */
const TURNS_MS = STANDS_STILL_MS - 2 * LOOK_EVERY_MS;
const WAITS_FOR_ITS_TURN_MS = 5000;
/** Where the system does not tell which of the two it is. */
const NOT_KNOWN_WHICH_MS = 1000;
const LOADS_WITHIN_MS = 30_000;
/** An engine that could not leave its ports has them until its thread is gone; so long that is waited for, in ms. */
const GONE_WITHIN_MS = 1000;
/** Memory an engine may take, in MB; past it, it ends instead of making the whole computer slow. */
const MOST_MEMORY_MB = 1024;
/** Numbers of messages stay below what a field of the progress can hold. */
const NUMBERS_UP_TO = 0x7fff_0000;
/** What the next engine is not to hear of: it is told anew, or it was about what the dead one had. */
const OF_ONE_ENGINE = new Set<ToEngine["kind"]>([
  "load",
  "load-warm",
  "patch",
  "warm",
  "bridge",
  "free-slab",
  "fail",
  "retire",
]);

export interface SupervisionEvents {
  /**
   * A new engine is ready: give it the show. `restarts` counts from 0; `warmed`: the number of the load it was made warm
   * with, -1 = none.
   */
  started(restarts: number, warmed: number): void;
  message(message: FromEngine): void;
  /** The engine has ended to make way for one that is ready for another show, which starts next. */
  retired(): void;
  /** The spare did not get ready for the show that it was to take over with: the engine has to load it itself. */
  notHandedOver(): void;
  /** What a spare gets ready with. */
  warmedWith(): Extract<ToEngine, { kind: "warm" }> | null;
  died(reason: string): void;
  /** It died at loading this show again and again, and is not started until it gets another one. */
  cannotLoad(reason: string): void;
}

/**
 * A worker thread and what it shares. It may be made before anybody supervises it: to load takes a while, in which the
 * server has its own things to do.
 */
export class EngineThread {
  readonly worker: Worker;
  readonly progress = new Progress();
  isReady = false;
  /** The load it was made warm with; -1 = none. */
  warmed = -1;
  /** It gets ready; and while it did, the show changed again. */
  isWarming = false;
  warmsAgain = false;
  reason = "it ended without a reason";
  /** It holds no port any more. */
  hasLeft = false;
  /** It was told to make way. */
  isRetiring = false;
  /** It got no processor. */
  wasStarved = false;

  constructor(file: URL) {
    this.worker = new Worker(file, {
      workerData: { progress: this.progress.shared },
      resourceLimits: { maxOldGenerationSizeMb: MOST_MEMORY_MB },
    });
    this.worker.on("message", (message: FromEngine) => {
      if (message.kind === "ready") this.isReady = true;
    });
    this.worker.on("error", (error: Error) => {
      this.reason = error.message;
    });
    this.worker.on("exit", () => {
      this.hasLeft = true;
    });
  }
}

interface Sent {
  readonly number: number;
  readonly message: ToEngine;
  readonly atMs: number;
}

export class EngineSupervision {
  readonly #file: URL;
  readonly #events: SupervisionEvents;
  #engine: EngineThread | null = null;
  #spare: EngineThread | null = null;
  #spareDue: NodeJS.Timeout | null = null;
  #restarts = 0;
  #deaths: number[] = [];
  #pauseMs = FIRST_PAUSE_MS;
  #stopping = false;
  /** No engine is started any more, until there is another show. */
  #hasGivenUp = false;
  /** The engine has loaded the show that it was given, and how many before it did not. */
  #hasLoaded = false;
  #failedLoads = 0;
  /** The engine runs and has been given the show. */
  #isFed = false;
  #next = 1;
  /** Given to the engine, and not known to be begun; the oldest first. */
  #sent: Sent[] = [];
  #waiting: Sent[] = [];
  #looking: NodeJS.Timeout | null = null;
  #warming: NodeJS.Timeout | null = null;
  #firstReady: (() => void) | null = null;
  /** While the spare gets ready to take over with another show: until when it may take. */
  #handingOver: NodeJS.Timeout | null = null;

  /** `warm`: the first engine, where it was made already. */
  constructor(file: URL, events: SupervisionEvents, warm: EngineThread | null = null) {
    this.#file = file;
    this.#events = events;
    this.#spare = warm;
  }

  /** Starts the engine and resolves when it is ready. */
  start(): Promise<void> {
    this.#watch();
    return new Promise((resolve) => {
      this.#firstReady = resolve;
      this.#takeOver(this.#supervised(this.#spare ?? new EngineThread(this.#file)));
      this.#spare = null;
    });
  }

  /**
   * Gives the engine a message. What hands do while there is none waits for the next one: a release must not be lost.
   * A press of long ago must not come as a surprise, so what waited too long is dropped, and then all is let go.
   */
  send(message: ToEngine): void {
    if (this.#isFed && this.#engine) this.#post(this.#engine, { number: 0, message, atMs: performance.now() });
    else if (!OF_ONE_ENGINE.has(message.kind) && this.#waiting.length < MAX_WAITING)
      this.#waiting.push({ number: 0, message, atMs: performance.now() });
  }

  #post({ worker, progress }: EngineThread, { message, atMs }: Sent): void {
    const number = this.#next++;
    if (!OF_ONE_ENGINE.has(message.kind)) {
      const { begun } = progress;
      while (this.#sent.length > 0 && this.#sent[0]!.number <= begun) this.#sent.shift();
      this.#sent.push({ number, message, atMs });
    }
    worker.postMessage([number, message]);
  }

  #flush(): void {
    const waiting = this.#waiting;
    this.#waiting = [];
    const oldestMs = performance.now() - WAITS_MS;
    const fresh = waiting.filter((w) => w.atMs >= oldestMs);
    if (fresh.length < waiting.length) this.send({ kind: "release-all" });
    for (const sent of fresh) this.#post(this.#engine!, sent);
  }

  async stop(): Promise<void> {
    this.#stopping = true;
    if (this.#looking) clearInterval(this.#looking);
    if (this.#spareDue) clearTimeout(this.#spareDue);
    if (this.#warming) clearTimeout(this.#warming);
    this.#endHandingOver();
    const ended = (thread: EngineThread | null) =>
      thread ? Promise.race([thread.worker.terminate(), after(GONE_WITHIN_MS)]) : null;
    const spare = ended(this.#spare);
    const engine = this.#engine;
    if (engine) {
      const stopped = new Promise<void>((resolve) => {
        const limit = setTimeout(resolve, STOP_WITHIN_MS);
        const end = () => {
          clearTimeout(limit);
          resolve();
        };
        engine.worker.on("message", (message: FromEngine) => message.kind === "stopped" && end());
        engine.worker.on("exit", end);
      });
      this.send({ kind: "stop" });
      await stopped;
      await ended(engine);
    }
    await spare;
  }

  #supervised(thread: EngineThread): EngineThread {
    thread.worker.on("message", (message: FromEngine) => this.#heard(thread, message));
    thread.worker.on("error", () => this.#died(thread));
    thread.worker.on("exit", () => this.#died(thread));
    return thread;
  }

  #heard(thread: EngineThread, message: FromEngine): void {
    if (message.kind === "ready") {
      if (thread === this.#engine) this.#feed();
      else if (thread === this.#spare) this.#warm(thread);
      return;
    }
    if (message.kind === "warmed") {
      if (thread === this.#spare) this.#warmed(thread);
      return;
    }
    if (thread !== this.#engine) return; // what a dead one said on its way
    if (message.kind === "dying") {
      thread.reason = message.reason;
      thread.hasLeft = true;
      this.#died(thread);
      return;
    }
    if (message.kind === "loaded") {
      this.#hasLoaded = true;
      this.#failedLoads = 0;
    }
    this.#events.message(message);
  }

  /**
   * The spare gets ready for the show as it is now, while the engine goes on with the one before, and then takes over: a
   * large show is put in without anybody waiting for it. False = there is no spare that could.
   */
  handOver(): boolean {
    if (!this.#spare?.isReady || !this.#isFed) return false;
    // Its time runs from the first change on: whoever goes on editing must not put it off for ever.
    this.#handingOver ??= setTimeout(() => this.#notHandedOver(), LOADS_WITHIN_MS);
    // It gets ready now; once more behind that would hold it up when it takes over.
    if (this.#warming) clearTimeout(this.#warming);
    this.#warm(this.#spare);
    return true;
  }

  /** The spare is at it; what changes now has to reach it too. */
  get isHandingOver(): boolean {
    return this.#handingOver !== null;
  }

  #warmed(spare: EngineThread): void {
    spare.isWarming = false;
    if (spare.warmsAgain) this.#warm(spare);
    else if (this.#handingOver) this.#retire();
  }

  #retire(): void {
    this.#endHandingOver();
    if (!this.#engine) return; // it died: the spare is on its way already
    this.#engine.isRetiring = true;
    this.#post(this.#engine, { number: 0, message: { kind: "retire" }, atMs: performance.now() });
  }

  #notHandedOver(): void {
    if (!this.#handingOver) return;
    this.#endHandingOver();
    this.#events.notHandedOver();
  }

  #endHandingOver(): void {
    if (this.#handingOver) clearTimeout(this.#handingOver);
    this.#handingOver = null;
  }

  /** One at a time: those of shows that are over would only hold it up. */
  #warm(thread: EngineThread): void {
    thread.warmsAgain = thread.isWarming;
    const warm = thread.isWarming ? null : this.#events.warmedWith();
    if (!warm) return;
    thread.isWarming = true;
    thread.warmed = warm.load;
    thread.worker.postMessage([0, warm]);
  }

  /** There is another show: the spare gets ready for it, and an engine that could not load the last one gets its chance. */
  showChanged(): void {
    if (this.#warming) clearTimeout(this.#warming);
    this.#warming = setTimeout(() => {
      if (this.#spare?.isReady) this.#warm(this.#spare);
    }, WARM_AFTER_MS);
    this.#failedLoads = 0;
    if (!this.#engine && this.#hasGivenUp) this.#replace();
  }

  #takeOver(thread: EngineThread): void {
    this.#engine = thread;
    if (thread.isReady) this.#feed();
  }

  /** Gives an engine that is ready the show, and then what waited for it. */
  #feed(): void {
    // Numbers begin anew long before they would not fit; nothing is under way to this engine yet.
    if (this.#next > NUMBERS_UP_TO) this.#next = 1;
    this.#isFed = true;
    this.#hasLoaded = false;
    this.#events.started(this.#restarts, this.#engine?.warmed ?? -1);
    this.#flush();
    this.#firstReady?.();
    this.#firstReady = null;
    if (this.#spareDue) clearTimeout(this.#spareDue);
    this.#spareDue = setTimeout(() => {
      this.#spare ??= this.#supervised(new EngineThread(this.#file));
    }, SPARE_AFTER_MS);
  }

  #died(thread: EngineThread): void {
    if (thread === this.#spare) {
      this.#spare = null;
      this.#notHandedOver();
    }
    if (thread !== this.#engine) return;
    this.#endHandingOver();
    this.#engine = null;
    this.#isFed = false;
    const gone = thread.worker.terminate();
    if (this.#stopping) return;
    // What it had not begun goes to the next one, before all that comes later.
    const { begun } = thread.progress;
    this.#waiting.unshift(...this.#sent.filter((s) => s.number > begun));
    this.#sent = [];
    if (thread.isRetiring) {
      this.#events.retired();
      this.#replaceAfter(thread, gone);
      return;
    }
    this.#events.died(thread.reason);
    this.#restarts++;
    if (!this.#hasLoaded && !thread.wasStarved && ++this.#failedLoads >= FAILED_LOADS) {
      this.#waiting = []; // what hands did meanwhile was for another show
      this.#hasGivenUp = true;
      this.#events.cannotLoad(thread.reason);
      return;
    }
    const nowMs = performance.now();
    this.#deaths = [...this.#deaths.filter((t) => nowMs - t < RECOVERED_AFTER_MS), nowMs];
    if (this.#deaths.length <= DEATHS_WITHOUT_PAUSE) {
      this.#pauseMs = FIRST_PAUSE_MS;
      this.#replaceAfter(thread, gone);
      return;
    }
    setTimeout(() => this.#replace(), this.#pauseMs);
    this.#pauseMs = Math.min(this.#pauseMs * 2, LONGEST_PAUSE_MS);
  }

  /** The next one finds the ports free. */
  #replaceAfter(thread: EngineThread, gone: Promise<number>): void {
    if (thread.hasLeft) this.#replace();
    else void Promise.race([gone, after(GONE_WITHIN_MS)]).then(() => this.#replace());
  }

  #replace(): void {
    if (this.#engine || this.#stopping) return;
    this.#hasGivenUp = false;
    const spare = this.#spare;
    this.#spare = null;
    this.#takeOver(spare ?? this.#supervised(new EngineThread(this.#file)));
  }

  /** An engine that stands still is as dead as one that ended, and does not say so. */
  #watch(): void {
    let ticks = -1;
    let movedAtMs = performance.now();
    let lookedAtMs = movedAtMs;
    /** What its thread had had of a processor when it was first seen to stand still. */
    let hadAtFirstMs: number | null = null;
    this.#looking = setInterval(() => {
      const nowMs = performance.now();
      const engine = this.#engine;
      // Where we stood still ourselves, the computer slept or was too busy for anybody.
      const weSlept = nowMs - lookedAtMs > 2 * LOOK_EVERY_MS;
      lookedAtMs = nowMs;
      if (!engine || !this.#isFed || weSlept || engine.progress.ticks !== ticks || engine.progress.done === 0) {
        ticks = engine?.progress.ticks ?? -1;
        movedAtMs = nowMs;
        hadAtFirstMs = null;
        return;
      }
      const hadMs = threadTimeMs(engine.progress.thread);
      const stillMs = nowMs - movedAtMs;
      hadAtFirstMs ??= hadMs;
      const turns = hadMs === null || hadAtFirstMs === null ? null : hadMs - hadAtFirstMs >= TURNS_MS;
      const mayMs = turns === null ? NOT_KNOWN_WHICH_MS : turns ? STANDS_STILL_MS : WAITS_FOR_ITS_TURN_MS;
      if (stillMs < (engine.progress.isBusy ? LOADS_WITHIN_MS : mayMs)) return;
      engine.wasStarved = turns === false;
      engine.reason = `it stood still for ${Math.round(nowMs - movedAtMs)} ms`;
      this.#died(engine);
    }, LOOK_EVERY_MS);
  }
}

function after(ms: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, ms).unref());
}
