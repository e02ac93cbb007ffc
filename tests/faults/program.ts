/** A program of ours under faults, and a desk that writes down what reaches it: both real processes and real sockets. */
import { type ChildProcess, spawn } from "node:child_process";
import { createSocket, type Socket } from "node:dgram";
import { once } from "node:events";
import { mkdtempSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { WebSocket } from "ws";
import { NODE_FLAGS } from "../../src/server/node-flags.mjs";

const HERE = import.meta.dirname;

/** A program that could not be asked, or that is not as it should be before a scene can begin. */
export class SceneBroken extends Error {}

export class Program {
  readonly port: number;
  readonly data = mkdtempSync(join(tmpdir(), "velvet-faults-"));
  output = "";
  #child: ChildProcess | null = null;
  #exit: Promise<number | null> = Promise.resolve(null);

  constructor(port: number) {
    this.port = port;
  }

  get url(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** With `underParent` as `npm start` runs it; else the server alone. */
  async start({ underParent = false, flags = [] as string[], env = {} as NodeJS.ProcessEnv } = {}): Promise<void> {
    const main = join(HERE, "main.mjs");
    const args = ["--port", String(this.port), "--data", this.data, ...flags];
    const script = `import { keepRunning } from ${JSON.stringify(join(HERE, "parent.mjs"))};
      keepRunning(${JSON.stringify(main)}, ${JSON.stringify(args)}, { nodeFlags: ${JSON.stringify(NODE_FLAGS)} });`;
    const child = spawn(
      process.execPath,
      underParent ? ["--input-type=module", "-e", script] : [...NODE_FLAGS, main, ...args],
      { stdio: ["ignore", "pipe", "pipe"], env: { ...process.env, VELVET_FAULTS: "1", ...env } },
    );
    this.#child = child;
    this.#exit = once(child, "exit").then(([code]) => code as number | null);
    const before = this.output.length;
    for (const stream of [child.stdout, child.stderr])
      stream!.on("data", (piece: Buffer) => {
        this.output += String(piece);
      });
    await until(() => this.output.slice(before).includes("is ready on") || child.exitCode !== null, 20_000);
    if (child.exitCode !== null) throw new SceneBroken(this.output.slice(before));
  }

  /** Pid of the server: of the child where it runs under a parent. */
  async pid(): Promise<number> {
    return ((await (await fetch(`${this.url}/health`)).json()) as { pid: number }).pid;
  }

  signal(signal: NodeJS.Signals): void {
    this.#child?.kill(signal);
  }

  exited(): Promise<number | null> {
    return this.#exit;
  }

  async isAlive(): Promise<boolean> {
    try {
      return (await fetch(`${this.url}/api/show`, { signal: AbortSignal.timeout(3000) })).ok;
    } catch {
      return false;
    }
  }

  put(show: object): Promise<Response> {
    return fetch(`${this.url}/api/show`, {
      method: "PUT",
      headers: { "content-type": "application/json" },
      body: JSON.stringify(show),
    });
  }

  post(path: string, body?: unknown): Promise<Response> {
    return fetch(`${this.url}${path}`, {
      method: "POST",
      headers: { "content-type": "application/json" },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
  }

  /** Its live socket, open. */
  async live(): Promise<WebSocket> {
    const socket = new WebSocket(`ws://127.0.0.1:${this.port}/live`, { origin: this.url });
    socket.on("error", () => {});
    await once(socket, "open");
    return socket;
  }

  async end(): Promise<void> {
    this.signal("SIGTERM");
    await this.#exit;
    try {
      rmSync(this.data, { recursive: true, force: true });
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code !== "EBUSY") throw error; // a disk of its own, which its scene takes away
    }
  }
}

/** A message of OSC 1.0 with whole numbers and floats; written anew here, so that no fault of ours is believed. */
function readOsc(bytes: Buffer): { address: string; values: number[] } {
  const textAt = (at: number) => bytes.toString("latin1", at, bytes.indexOf(0, at));
  const padded = (text: string) => (text.length + 4) & ~3;
  const address = textAt(0);
  const tags = textAt(padded(address));
  let at = padded(address) + padded(tags);
  const values = Array.from(tags.slice(1), (tag) => {
    const value = tag === "f" ? bytes.readFloatBE(at) : bytes.readInt32BE(at);
    at += 4;
    return value;
  });
  return { address, values };
}

function intMessage(address: string, value: number): Buffer {
  const padded = (text: string) => text + "\0".repeat(4 - (text.length % 4));
  const bytes = Buffer.from(`${padded(address)}${padded(",i")}\0\0\0\0`, "latin1");
  bytes.writeInt32BE(value, bytes.length - 4);
  return bytes;
}

/**
 * A desk by OSC over UDP that writes down what it hears, and answers heartbeats as the quay lighting desk does. All it
 * is asked costs the same however long it has run: what looks at it must not hold up what is measured.
 */
export class Desk {
  /** How many messages it has heard, and how many of them set something. */
  heard = 0;
  sets = 0;
  /** How many changes were set: what is only sent again is none. */
  changes = 0;
  /** When each of the sets came, in ms, the oldest first. */
  readonly #setAtMs: number[] = [];
  readonly #values = new Map<string, number>();
  #socket: Socket | null = null;

  async open(port: number): Promise<void> {
    const socket = createSocket({ type: "udp4", recvBufferSize: 4 * 1024 * 1024 });
    this.#socket = socket;
    socket.on("message", (bytes, from) => {
      const { address, values } = readOsc(bytes);
      const tell = (to: string, value: number) => socket.send(intMessage(to, value), from.port, from.address);
      if (address === "/pulse") {
        tell("/pulse/back", values[0] ?? 0);
        return;
      }
      this.heard++;
      if (address.startsWith("/set/")) {
        const what = address.slice("/set/".length);
        this.sets++;
        this.#setAtMs.push(performance.now());
        if (this.#values.get(what) !== values[0]) this.changes++;
        this.#values.set(what, values[0] ?? 0);
        tell(`/now/${what}`, values[0] ?? 0);
      } else if (address.startsWith("/ask/")) {
        const what = address.slice("/ask/".length);
        tell(`/now/${what}`, this.#values.get(what) ?? 0);
      }
    });
    socket.bind(port, "127.0.0.1");
    await once(socket, "listening");
  }

  /** Flashes that are on. */
  flashesOn(): number {
    return [...this.#values].filter(([what, value]) => what.endsWith("/flash") && value === 1).length;
  }

  /** The longest time in which nothing was set, of those that reach into a window, in ms. */
  longestGap(fromMs: number, toMs: number): number {
    let gap = 0;
    for (let i = this.#setAtMs.length - 1; i > 0 && this.#setAtMs[i]! >= fromMs; i--)
      if (this.#setAtMs[i - 1]! <= toMs) gap = Math.max(gap, this.#setAtMs[i]! - this.#setAtMs[i - 1]!);
    return gap;
  }

  close(): void {
    this.#socket?.close();
  }
}

/** Waits for something to be so, up to a limit; answers whether it is. */
export async function until(isSo: () => boolean | Promise<boolean>, limitMs = 10_000): Promise<boolean> {
  const endMs = performance.now() + limitMs;
  while (performance.now() < endMs) {
    if (await isSo()) return true;
    await new Promise((resolve) => setTimeout(resolve, 5));
  }
  return isSo();
}

export function percentile(list: readonly number[], part: number): number {
  const sorted = [...list].sort((a, b) => a - b);
  return sorted[Math.min(sorted.length - 1, Math.floor(part * sorted.length))] ?? Number.NaN;
}
