/**
 * What every browser test gets: the built application and the stand-in desk, each its own process on ports of its
 * own, with show and desk as they were at the start. The stand-in is asked over its own page's endpoints, never through us.
 */
import { type ChildProcess, fork, spawn } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { type BrowserContext, test as base, expect, type Locator, type Page } from "@playwright/test";
import { portVariables, STAND_INS } from "../../src/standins/table.mjs";

const DIST = join(import.meta.dirname, "..", "..", "dist");
const FIRST_PORT = 21_000;
const PORTS_A_WORKER = 20;
/** The place of a second application, beyond those of the workers. */
const SECOND = 20;

type StandInId = keyof typeof STAND_INS;
const STAND_IN_IDS = Object.keys(STAND_INS) as StandInId[];

/** Where a stand-in listens and shows its page; we hear its answers one port after the first. */
export interface StandInPorts {
  port: number;
  web: number;
}
interface Ports {
  web: number;
  standIns: Record<StandInId, StandInPorts>;
}

function portsOf(worker: number): Ports {
  const first = FIRST_PORT + worker * PORTS_A_WORKER;
  const standIns = {} as Record<StandInId, StandInPorts>;
  for (const [i, id] of STAND_IN_IDS.entries()) standIns[id] = { port: first + 1 + i * 3, web: first + 3 + i * 3 };
  return { web: first, standIns };
}

export interface DeskState {
  pages: { name: string; level: number; on: boolean; flash: boolean }[][];
  pageUp: number;
  grand: number;
  blackout: boolean;
  cue: number;
  listeners: number;
}
export interface VisionState {
  mixes: { preview: number; program: number; bar: number; length: number; auto: boolean }[];
  keys: boolean[];
  aux: number;
  audio: number[];
  listeners: number;
}
export interface SoundState {
  channels: { level: number; mute: boolean; solo: boolean; pan: number; sends: number[] }[];
  selected: number;
  layer: number;
  scene: number;
  listeners: number;
}
export interface BellState {
  kit: number;
  volume: number;
  counted: Record<string, number>;
}

/** A stand-in as a person stands at it; without a type of its own it is the lighting desk. */
export class StandIn<S = DeskState> {
  readonly ports: StandInPorts;
  readonly #id: StandInId;
  #process: ChildProcess | null = null;

  constructor(id: StandInId, ports: StandInPorts) {
    this.#id = id;
    this.ports = ports;
  }

  get url(): string {
    return `http://127.0.0.1:${this.ports.web}`;
  }

  async start(): Promise<void> {
    const { port, web } = this.ports;
    const file = join(DIST, "standins", `${STAND_INS[this.#id].folder}.mjs`);
    this.#process = fork(file, ["--port", String(port), "--web-port", String(web)], { silent: true });
    const child = this.#process;
    await Promise.race([
      once(child, "message"),
      once(child, "exit").then(([code]) => {
        throw new Error(`the stand-in ended with exit code ${code}`);
      }),
    ]);
  }

  /** Its power is cut. */
  async kill(): Promise<void> {
    const child = this.#process;
    this.#process = null;
    if (!child || child.exitCode !== null || child.signalCode !== null) return;
    child.kill("SIGKILL");
    await once(child, "exit");
  }

  /** It freezes: its address is there, and nothing answers. */
  freeze(): void {
    this.#process?.kill("SIGSTOP");
  }
  thaw(): void {
    this.#process?.kill("SIGCONT");
  }

  async state(): Promise<S> {
    return (await (await fetch(`${this.url}/state`)).json()) as S;
  }

  /** Playback `n` of page `p` of the lighting desk, both counted from 1. */
  async playback(p: number, n: number) {
    return ((await this.state()) as DeskState).pages[p - 1]![n - 1]!;
  }

  /** Makes a fault, which holds until it is taken away. */
  async fault(fault: Record<string, unknown>): Promise<void> {
    const response = await fetch(`${this.url}/fault`, { method: "POST", body: JSON.stringify(fault) });
    expect(response.status).toBe(200);
  }

  /** Somebody does something at the desk. */
  async act(command: Record<string, unknown>): Promise<void> {
    const response = await fetch(`${this.url}/act`, { method: "POST", body: JSON.stringify(command) });
    expect(response.status).toBe(200);
  }
}

export class Application {
  /** All of them, by the id of their desk. */
  readonly #all: Readonly<Record<StandInId, StandIn<unknown>>>;
  readonly desk: StandIn;
  readonly vision: StandIn<VisionState>;
  readonly sound: StandIn<SoundState>;
  readonly bell: StandIn<BellState>;
  readonly url: string;
  readonly output: string[] = [];
  readonly #ports: Ports;
  readonly #data = mkdtempSync(join(tmpdir(), "velvet-e2e-"));
  #process: ChildProcess | null = null;
  /** The show as it was at the start. */
  #first: string | null = null;

  constructor(ports: Ports) {
    this.#ports = ports;
    this.#all = Object.fromEntries(STAND_IN_IDS.map((id) => [id, new StandIn(id, ports.standIns[id])])) as Record<
      StandInId,
      StandIn<unknown>
    >;
    this.desk = this.#all.lights as StandIn;
    this.vision = this.#all.vision as StandIn<VisionState>;
    this.sound = this.#all.sound as StandIn<SoundState>;
    this.bell = this.#all.bell as StandIn<BellState>;
    this.url = `http://127.0.0.1:${ports.web}`;
  }

  get standIns(): StandIn<unknown>[] {
    return Object.values(this.#all);
  }

  async start(flags: readonly string[] = ["--demo", "--no-standins"]): Promise<void> {
    const child = spawn(
      process.execPath,
      [join(DIST, "main.mjs"), "--port", String(this.#ports.web), "--data", this.#data, ...flags],
      {
        env: {
          ...process.env,
          VELVET_FAULTS: "1",
          ...Object.fromEntries(
            STAND_IN_IDS.flatMap((id) => [
              [portVariables(id).port, String(this.#ports.standIns[id].port)],
              [portVariables(id).webPort, String(this.#ports.standIns[id].web)],
            ]),
          ),
        },
      },
    );
    this.#process = child;
    child.stderr.on("data", (piece: Buffer) => this.output.push(String(piece)));
    await new Promise<void>((resolve, reject) => {
      child.stdout.on("data", (piece: Buffer) => {
        this.output.push(String(piece));
        if (String(piece).includes("is ready on")) resolve();
      });
      child.once("exit", (code) => reject(new Error(`exit code ${code}: ${this.output.join("")}`)));
    });
  }

  /** Stops as Ctrl-C does; answers the exit code. */
  async stop(): Promise<number | null> {
    const child = this.#process;
    this.#process = null;
    if (!child || child.exitCode !== null) return child?.exitCode ?? null;
    child.kill("SIGINT");
    const [code] = (await once(child, "exit")) as [number | null];
    return code;
  }

  /** It stands still: its address is there, and nothing comes from it. */
  freeze(): void {
    this.#process?.kill("SIGSTOP");
  }
  thaw(): void {
    this.#process?.kill("SIGCONT");
  }

  async reset(): Promise<void> {
    this.output.length = 0;
    await this.desk.act({ kind: "reset" });
    await this.post("/api/hold", { do: "put-in" }); // a test may have left edits on hold
    const show = await this.show();
    this.#first ??= JSON.stringify(show);
    if (JSON.stringify(show) !== this.#first) expect((await this.put(this.#first)).status).toBe(200);
    // Shows that a test began are put away.
    for (const { id, isOpen } of await this.shows())
      if (!isOpen) expect((await this.post("/api/shows", { do: "delete", id })).status).toBe(200);
  }

  /** The shows that are there, the open one first. */
  async shows(): Promise<{ id: number; name: string; deletedAtMs: number | null; isOpen: boolean }[]> {
    const { shows } = (await (await fetch(`${this.url}/api/shows`)).json()) as {
      shows: { id: number; name: string; deletedAtMs: number | null; isOpen: boolean }[];
    };
    return shows.filter((s) => s.deletedAtMs === null);
  }

  /** Opens another of the shows. */
  async openShow(name: string): Promise<void> {
    const id = (await this.shows()).find((s) => s.name === name)!.id;
    expect((await this.post("/api/shows", { do: "open", id })).status).toBe(200);
  }

  clean(): void {
    rmSync(this.#data, { recursive: true, force: true });
  }

  post(path: string, body?: unknown, headers: Record<string, string> = {}): Promise<Response> {
    return fetch(`${this.url}${path}`, {
      method: "POST",
      headers: { "content-type": "application/json", ...headers },
      ...(body === undefined ? {} : { body: typeof body === "string" ? body : JSON.stringify(body) }),
    });
  }

  /** Opens a show document. */
  put(document: string): Promise<Response> {
    return fetch(`${this.url}/api/show`, {
      method: "PUT",
      headers: { "content-type": "application/json" },
      body: document,
    });
  }

  async show(): Promise<{ name: string; mappings: { id: string; control: string; actions: unknown[] }[] }> {
    return (await (await fetch(`${this.url}/api/show`)).json()) as never;
  }
}

/** A second program beside the first, with the demo's show and none of its desks; it is the test's to stop and clean. */
export function secondApplication(): Application {
  return new Application(portsOf(SECOND + test.info().parallelIndex));
}

interface Fixtures {
  desk: StandIn;
  /** Desk and show as they were at the start. */
  fresh: undefined;
}

interface WorkerFixtures {
  velvet: Application;
  /** The browser of a person who has opened the application before: its scripts need not be compiled for each test. */
  visited: BrowserContext;
}

/** Forgets all that a page may have kept, but for the files of the application. */
async function forget(context: BrowserContext, page: Page, origin: string): Promise<void> {
  await context.clearCookies();
  await context.clearPermissions();
  const devtools = await context.newCDPSession(page);
  await devtools.send("Storage.clearDataForOrigin", { origin, storageTypes: "local_storage,indexeddb,cache_storage" });
  await devtools.detach();
}

export const test = base.extend<Fixtures, WorkerFixtures>({
  // One application for all tests of a worker: to start it takes longer than most tests.
  velvet: [
    // biome-ignore lint/correctness/noEmptyPattern: Playwright wants an object pattern
    async ({}, use, info) => {
      const velvet = new Application(portsOf(info.parallelIndex));
      await Promise.all(velvet.standIns.map((s) => s.start()));
      await velvet.start();
      await use(velvet);
      await velvet.stop();
      await Promise.all(velvet.standIns.map((s) => s.kill()));
      velvet.clean();
    },
    { scope: "worker" },
  ],
  visited: [
    async ({ browser }, use) => {
      const context = await browser.newContext({ viewport: { width: 1280, height: 800 } });
      await use(context);
      await context.close();
    },
    { scope: "worker" },
  ],
  context: async ({ visited }, use) => {
    await use(visited);
    for (const page of visited.pages()) await page.close();
  },
  fresh: [
    async ({ velvet }, use) => {
      await velvet.reset();
      await use(undefined);
    },
    { auto: true },
  ],
  desk: async ({ velvet }, use) => use(velvet.desk),
  page: async ({ context, velvet }, use) => {
    const page = await context.newPage();
    await forget(context, page, velvet.url);
    const faults: string[] = [];
    page.on("pageerror", (error) => faults.push(error.message));
    page.on("console", (message) => {
      // What the network or a server that starts refuses while a test has stopped it is no fault of the page, nor an edit refused.
      if (message.type() === "error" && !/ERR_CONNECTION_REFUSED|WebSocket connection|409|422|503/.test(message.text()))
        faults.push(message.text());
    });
    await use(page);
    expect(faults, "errors in the browser's console").toEqual([]);
  },
});

export { expect };

/** Opens a place and waits until its islands run and the desk has answered. */
export async function openPlace(page: Page, velvet: Application, place: "connect" | "map" | "run"): Promise<void> {
  await page.goto(`${velvet.url}/${place}`);
  await expect(page.locator("html[data-ready]")).toBeAttached();
}

/** What more can be done with a surface or desk of Connect. */
export async function more(page: Page, unit: string, item: string): Promise<void> {
  await page.getByRole("button", { name: `More of ${unit}`, exact: true }).click();
  await page.getByRole("menuitem", { name: item }).click();
}

/** What is done with the show as a whole, under its name. */
export async function openShowMenu(page: Page): Promise<Locator> {
  await page.getByTitle("What is done with the show").click();
  const menu = page.getByRole("dialog", { name: "This show" });
  await expect(menu).toBeVisible();
  return menu;
}

/** The list of kinds of one's own. */
export async function openKinds(page: Page): Promise<Locator> {
  await (await openShowMenu(page)).getByRole("button", { name: /Kinds of your own/ }).click();
  return page.getByRole("dialog", { name: "Kinds of your own" });
}

/**
 * The rows of all traffic that a text is in, once the list shows no others. Only rows in view are on the page, and desks answer
 * all the time: what is not looked for may have moved out of sight.
 */
export async function trafficOf(page: Page, text: string): Promise<Locator> {
  const field = page.getByLabel("Filter by text, number or control");
  await field.fill(text);
  await field.blur(); // keys are for the page again
  const rows = page.getByRole("listbox", { name: "Messages, newest first" }).locator("[data-row]");
  await expect(rows.filter({ hasText: text }).first()).toBeVisible();
  await expect(rows.filter({ hasNotText: text })).toHaveCount(0);
  return rows;
}

/** The surface that the map shows. */
export async function chooseSurface(page: Page, name: string): Promise<void> {
  await page.getByRole("combobox", { name: "Surface" }).click();
  await page.getByRole("option", { name }).click();
}

export function control(page: Page, id: string): Locator {
  return page.locator(`[data-control="${id}"]`);
}

/** The light of a control, as it was drawn from MIDI bytes. */
export async function expectLight(page: Page, id: string, mode: "off" | "dim" | "full" | "pulse"): Promise<void> {
  await expect(control(page, id)).toHaveAttribute("data-lamp", mode);
}

/** Drags a fader from where it is to a position 0..1 in small steps. */
export async function dragFader(page: Page, id: string, from01: number, to01: number): Promise<void> {
  const box = (await control(page, id).boundingBox())!;
  const margin = 14;
  const y = (v: number) => box.y + margin + (1 - v) * (box.height - 2 * margin);
  const x = box.x + box.width / 2;
  await page.mouse.move(x, y(from01));
  await page.mouse.down();
  await page.mouse.move(x, y(to01), { steps: 12 });
  await page.mouse.up();
}
