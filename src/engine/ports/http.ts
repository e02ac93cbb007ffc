/**
 * Lines as HTTP requests to one host, one after the other; each answer comes in as a line. All desks of one host share
 * one queue, so that commands arrive in the order they were given.
 */
import { Agent, type IncomingMessage, request } from "node:http";
import type { Login } from "../../core/format/show.ts";
import type { PortTrouble } from "../../core/live/port-trouble.ts";
import { answerLine, type HttpRequest, requestOf } from "../../core/stream/http-line.ts";
import { failed, OPEN, type Port, type PortEvents, systemTrouble, WAITING } from "./port.ts";

export interface HttpAddress {
  host: string;
  port: number;
  headers: Readonly<Record<string, string>>;
  /** Longest wait for an answer. */
  timeoutMs: number;
  /** Told with every request (RFC 7617, "Basic"), unless the header fields have an authorization of their own. */
  login?: Login;
}

/** Requests that may wait; past it they are dropped and counted, for the other end is too slow. */
const MOST_WAITING = 64;
/** Longest answer that is read, in bytes. */
const LONGEST_ANSWER = 65_536;

/** RFC 9110, section 15.5.2. */
const UNAUTHORIZED = 401;

function authorization(login: Login | undefined): Record<string, string> {
  if (!login) return {};
  return { authorization: `Basic ${Buffer.from(`${login.user}:${login.password}`).toString("base64")}` };
}

interface Queue {
  users: number;
  readonly agent: Agent;
  readonly waiting: (() => Promise<void>)[];
  isBusy: boolean;
}

const QUEUES = new Map<string, Queue>();

export class HttpPort implements Port {
  readonly counted = { in: 0, out: 0, dropped: 0, refused: 0 };
  readonly #address: HttpAddress;
  readonly #events: PortEvents;
  readonly #decoder = new TextDecoder();
  readonly #encoder = new TextEncoder();
  readonly #abort = new AbortController();
  readonly #fields: Readonly<Record<string, string>>;
  #queue: Queue | null = null;
  #isFailed = false;

  constructor(address: HttpAddress, events: PortEvents) {
    this.#address = address;
    this.#fields = { ...authorization(address.login), ...address.headers };
    this.#events = events;
  }

  open(): void {
    this.#queue = QUEUES.get(this.#key) ?? {
      users: 0,
      agent: new Agent({ keepAlive: true, maxSockets: 1 }),
      waiting: [],
      isBusy: false,
    };
    QUEUES.set(this.#key, this.#queue);
    this.#queue.users++;
    this.#events.state(WAITING);
    this.#events.state(OPEN); // whether anybody is there, the first answer tells
  }

  send(bytes: Uint8Array, offset: number, length: number): void {
    const asked = requestOf(this.#decoder.decode(bytes.subarray(offset, offset + length)));
    const queue = this.#queue;
    if (!asked || !queue || queue.waiting.length >= MOST_WAITING) {
      this.counted.dropped++;
      return;
    }
    queue.waiting.push(() => this.#ask(asked, queue.agent));
    void work(queue);
  }

  close(): Promise<void> {
    this.#abort.abort();
    const queue = this.#queue;
    this.#queue = null;
    if (queue && --queue.users === 0) {
      QUEUES.delete(this.#key);
      queue.agent.destroy();
    }
    return Promise.resolve();
  }

  get #key(): string {
    return `${this.#address.host}:${this.#address.port}`;
  }

  async #ask(asked: HttpRequest, agent: Agent): Promise<void> {
    if (this.#abort.signal.aborted) return;
    this.counted.out++;
    try {
      const { status, line } = await this.#answer(asked, agent);
      if (status === UNAUTHORIZED) this.#notLetIn();
      else if (this.#isFailed) {
        this.#events.state(OPEN);
        this.#isFailed = false;
      }
      this.counted.in++;
      this.#events.message(this.#encoder.encode(line));
    } catch (error) {
      if (!this.#abort.signal.aborted) this.#failed(error as NodeJS.ErrnoException);
    }
  }

  #answer({ method, path, body, contentType }: HttpRequest, agent: Agent): Promise<Answer> {
    const { host, port, timeoutMs } = this.#address;
    const withBody = body === "" ? {} : { "content-type": contentType, "content-length": Buffer.byteLength(body) };
    return new Promise((resolve, reject) => {
      const signal = AbortSignal.any([this.#abort.signal, AbortSignal.timeout(timeoutMs)]);
      const asking = request({ agent, host, port, method, path, signal, headers: { ...withBody, ...this.#fields } });
      asking.on("error", reject);
      asking.on("response", (response) => readAnswer(response).then(resolve, reject));
      asking.end(body);
    });
  }

  #notLetIn(): void {
    this.counted.refused++;
    this.#isFailed = true;
    this.#events.state(failed({ code: "not-let-in" }));
  }

  #failed(error: NodeJS.ErrnoException): void {
    this.counted.refused++;
    this.#isFailed = true;
    if (error.code === "ECONNREFUSED") this.#events.refused();
    this.#events.state(failed(troubleOf(error, this.#address.port)));
  }
}

function troubleOf(error: NodeJS.ErrnoException, port: number): PortTrouble {
  if (error instanceof AnswerTooLong) return { code: "answer-too-long" };
  const isLate = error.name === "AbortError" || error.name === "TimeoutError";
  return isLate ? { code: "no-answer-in-time" } : systemTrouble(error, port);
}

class AnswerTooLong extends Error {}

interface Answer {
  readonly status: number;
  readonly line: string;
}

async function readAnswer(response: IncomingMessage): Promise<Answer> {
  const pieces: Buffer[] = [];
  let length = 0;
  for await (const piece of response as AsyncIterable<Buffer>) {
    length += piece.length;
    if (length > LONGEST_ANSWER) throw new AnswerTooLong();
    pieces.push(piece);
  }
  const status = response.statusCode ?? 0;
  return { status, line: answerLine(status, Buffer.concat(pieces).toString()) };
}

async function work(queue: Queue): Promise<void> {
  if (queue.isBusy) return;
  queue.isBusy = true;
  for (let next = queue.waiting.shift(); next; next = queue.waiting.shift()) await next();
  queue.isBusy = false;
}
