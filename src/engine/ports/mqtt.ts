/** Lines as messages of an MQTT broker (3.1.1 or 5), by which several computers share one show network. */
import { randomBytes } from "node:crypto";
import type { MqttClient } from "mqtt";
import type { Login } from "../../core/format/show.ts";
import type { PortTrouble } from "../../core/live/port-trouble.ts";
import { topicLine, topicMessageOf } from "../../core/stream/topic-line.ts";
import { failed, OPEN, type Port, type PortEvents, systemTrouble, WAITING, waiting } from "./port.ts";
import { Retrying } from "./retrying.ts";

export interface BrokerAddress {
  host: string;
  port: number;
  version: "3.1.1" | "5";
  /** Topics that are listened to, with wildcards. */
  topics: readonly string[];
  /** A line that the broker says for us when we are gone; empty = none. */
  will: string;
  login?: Login;
}

const CONNECT_WITHIN_MS = 5000;
const KEEP_ALIVE_S = 10;
/** Messages that may be on their way; past it they are dropped and counted. */
const MOST_WAITING = 1024;

export class MqttPort implements Port {
  readonly counted = { in: 0, out: 0, dropped: 0, refused: 0 };
  readonly #address: BrokerAddress;
  readonly #events: PortEvents;
  readonly #decoder = new TextDecoder();
  readonly #encoder = new TextEncoder();
  #client: MqttClient | null = null;
  #isOpen = false;
  #waiting = 0;
  readonly #retrying = new Retrying(
    () => this.#open(),
    (error) => this.#failed(troubleOf(error, this.#address.port)),
  );

  constructor(address: BrokerAddress, events: PortEvents) {
    this.#address = address;
    this.#events = events;
  }

  open(): void {
    this.#retrying.now();
  }

  #open(): void {
    this.#events.state(WAITING);
    // Loaded when the first broker is wanted: it is a third of what an engine has to read when it starts.
    import("mqtt")
      // As a package it has its parts by their names, bundled only as a whole.
      .then((mqtt) => this.#connect(mqtt.connect ?? mqtt.default.connect))
      .catch((error: Error) => {
        this.#failed(troubleOf(error, this.#address.port));
        this.#retrying.again();
      });
  }

  #connect(connect: typeof import("mqtt").connect): void {
    if (this.#retrying.isStopped) return;
    const { host, port, version, topics, will, login } = this.#address;
    const last = topicMessageOf(will);
    const client = connect({
      protocol: "mqtt",
      host,
      port,
      protocolVersion: version === "5" ? 5 : 4,
      clientId: `velvet-${randomBytes(6).toString("hex")}`,
      clean: true,
      keepalive: KEEP_ALIVE_S,
      connectTimeout: CONNECT_WITHIN_MS,
      reconnectPeriod: 0, // ours has pauses that grow and differ
      ...(login ? { username: login.user, password: login.password } : {}),
      ...(last ? { will: { topic: last.topic, payload: Buffer.from(last.payload), qos: 0, retain: last.retain } } : {}),
    });
    this.#client = client;
    client.on("connect", () => {
      client.subscribe([...topics], { qos: 0 }, (error) => {
        if (client !== this.#client) return;
        if (error) this.#failed({ code: "system", reason: error.message });
        else this.#opened();
      });
    });
    client.on("message", (topic, payload) => {
      this.counted.in++;
      this.#events.message(this.#encoder.encode(topicLine(topic, this.#decoder.decode(payload))));
    });
    client.on("error", (error: Trouble) => {
      if (client !== this.#client) return;
      if (error.code === "ECONNREFUSED") this.#events.refused();
      this.#failed(troubleOf(error, port));
    });
    client.on("close", () => this.#again(client));
  }

  send(bytes: Uint8Array, offset: number, length: number): void {
    const client = this.#client;
    if (!client || !this.#isOpen) {
      this.counted.refused++; // there is no connection, and the state says so
      return;
    }
    const message = topicMessageOf(this.#decoder.decode(bytes.subarray(offset, offset + length)));
    if (!message || this.#waiting >= MOST_WAITING) {
      this.counted.dropped++;
      return;
    }
    this.counted.out++;
    this.#waiting++;
    client.publish(message.topic, message.payload, { qos: 0, retain: message.retain }, () => {
      this.#waiting--;
    });
  }

  async close(): Promise<void> {
    this.#retrying.stop();
    this.#isOpen = false;
    const client = this.#client;
    this.#client = null;
    // One that is not connected has nobody to say goodbye to.
    if (client) await client.endAsync(!client.connected);
  }

  #opened(): void {
    this.#isOpen = true;
    this.#retrying.worked();
    this.#events.state(OPEN);
  }

  #failed(trouble: PortTrouble): void {
    this.counted.refused++;
    this.#events.state(failed(trouble));
  }

  #again(client: MqttClient): void {
    if (this.#retrying.isStopped || client !== this.#client) return;
    if (this.#isOpen) this.#events.state(waiting({ code: "closed-by-peer", broker: true }));
    this.#isOpen = false;
    this.#waiting = 0;
    this.#client = null;
    client.removeAllListeners();
    client.on("error", () => {}); // it is done with
    client.end(true);
    this.#retrying.again();
  }
}

/** Wrong user or password, and not allowed: MQTT 3.1.1, table 3.1, and MQTT 5, table 3-1. */
const LOGIN_CODES = new Set([0x04, 0x05, 0x86, 0x87]);

type Trouble = Error & { code?: number | string };

/** The broker's reasons have numbers and a sentence, those of the system a word. */
function troubleOf(error: Trouble, port: number): PortTrouble {
  if (typeof error.code === "number" && LOGIN_CODES.has(error.code)) return { code: "not-let-in" };
  if (typeof error.code !== "string") return { code: "system", reason: error.message };
  const trouble = systemTrouble(error as NodeJS.ErrnoException, port);
  return trouble.code === "nobody-listens" ? { ...trouble, broker: true } : trouble;
}
