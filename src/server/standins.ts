/** Stand-ins, each as a process of its own: those of the demo, or one in the place of a desk that is not there yet. */
import { type ChildProcess, fork } from "node:child_process";
import { fileURLToPath } from "node:url";
import type { Show } from "../core/format/show.ts";
import { STAND_INS } from "../standins/table.mjs";
import type { WantedStandIns } from "./wanted-standins.ts";

export type StandInId = keyof typeof STAND_INS;
export type StandInPorts = Record<StandInId, number>;

export interface StandIn {
  readonly name: string;
  stop(): Promise<void>;
}

export class StandInFailed extends Error {}

/** The stand-ins of this program: each is started when it is wanted first. */
export class StandIns {
  readonly #folder: URL;
  readonly #demo: Show;
  readonly #running = new Map<StandInId, Promise<StandIn>>();
  #wanted: WantedStandIns | null = null;

  /** `demo`: the show whose desks they stand in for. */
  constructor(folder: URL, ports: StandInPorts, demo: Show) {
    this.#folder = folder;
    this.#demo = atStandIns(demo, ports);
  }

  /** The demo show, with its desks where their stand-ins are. */
  get demoShow(): Show {
    return this.#demo;
  }

  /** Starts that of this kind of desk; the desk as a show has it, or null where none stands in for such a desk. */
  async start(profile: string): Promise<Show["desks"][number] | null> {
    const desk = this.#demo.desks.find((d) => d.profile === profile);
    if (!desk) return null;
    await this.#started(desk.id as StandInId);
    this.#wanted?.add(desk.id);
    return desk;
  }

  /**
   * Those that were started for a show are started again with the server, as long as it has their desks. `wanted` keeps
   * which they are; `failed` is told of one that does not start, where perhaps the desk itself is by now.
   */
  async startAgain(wanted: WantedStandIns, desks: Show["desks"], failed: (error: Error) => void): Promise<void> {
    this.#wanted = wanted;
    const isAt = (a: Show["desks"][number], b: Show["desks"][number]) =>
      a.profile === b.profile &&
      (a.midi ? JSON.stringify(a.midi) === JSON.stringify(b.midi) : a.host === b.host && a.port === b.port);
    const again = this.#demo.desks.filter((d) => wanted.has(d.id) && desks.some((own) => isAt(own, d)));
    await Promise.all(again.map((d) => this.#started(d.id as StandInId).catch(failed)));
  }

  async startAll(): Promise<void> {
    await Promise.all((Object.keys(STAND_INS) as StandInId[]).map((id) => this.#started(id)));
  }

  async stop(): Promise<void> {
    await Promise.allSettled([...this.#running.values()].map(async (starting) => (await starting).stop()));
  }

  #started(id: StandInId): Promise<StandIn> {
    const { name, folder } = STAND_INS[id];
    const known = this.#running.get(id);
    if (known) return known;
    const starting = startStandIn(name, new URL(`${folder}.mjs`, this.#folder));
    this.#running.set(id, starting);
    // One that did not start may the next time, once its port is free.
    starting.catch(() => this.#running.delete(id));
    return starting;
  }
}

function startStandIn(name: string, file: URL): Promise<StandIn> {
  // What Node.js is told for the engine is not for them: it would only make the start slower.
  const execArgv = ["--enable-source-maps"];
  const child = fork(fileURLToPath(file), [], { stdio: ["ignore", "inherit", "inherit", "ipc"], execArgv });
  return new Promise((resolve, reject) => {
    child.once("message", () => resolve({ name, stop: () => stop(child) }));
    child.once("exit", (code) =>
      reject(
        new StandInFailed(
          `The stand-in ${name} did not start (exit code ${code}); its reason stands above. Start without it: --no-standins`,
        ),
      ),
    );
  });
}

/** The demo show with its desks where their stand-ins are. */
export function atStandIns(show: Show, ports: StandInPorts): Show {
  const desks = show.desks.map((desk) => {
    const port = ports[desk.id as StandInId];
    if (port === undefined) return desk;
    const at = { ...desk, port, listenPort: port + 1 };
    if (desk.midi?.in.kind !== "midi-udp" || desk.midi.out.kind !== "midi-udp") return at;
    return { ...at, midi: { in: { ...desk.midi.in, port: port + 1 }, out: { ...desk.midi.out, port } } };
  });
  return { ...show, desks };
}

function stop(child: ChildProcess): Promise<void> {
  if (child.exitCode !== null || child.signalCode !== null) return Promise.resolve();
  return new Promise((resolve) => {
    child.once("exit", () => resolve());
    child.kill("SIGTERM");
    child.kill("SIGCONT"); // a frozen stand-in must wake up to end
  });
}
