/**
 * The live socket: every open browser gets a snapshot, then batches of changes. A browser that falls behind is
 * left out until its queue is empty and then gets a fresh snapshot, so that nothing piles up. Nothing wakes up
 * while nothing changes.
 */
import type { IncomingMessage } from "node:http";
import type { Duplex } from "node:stream";
import { type WebSocket, WebSocketServer } from "ws";
import { problemsOf } from "../../core/format/problem.ts";
import { mayDo } from "../../core/format/roles.ts";
import { withShowJson } from "../../core/format/show-json.ts";
import { BEAT_EVERY_MS } from "../../core/live/beat.ts";
import { MESSAGE_ROLES, SESSION_ENDED } from "../../core/live/message-roles.ts";
import {
  BATCHES_PER_S,
  ClientMessage,
  type Device,
  type LiveChanges,
  MAX_CLIENT_MESSAGE_BYTES,
  type ServerMessage,
} from "../../core/live/protocol.ts";
import { problemAdvice, problemWords } from "../../words/problems.ts";
import type { Who } from "../access/who.ts";
import type { TrafficCursor, TrafficLog } from "./traffic-log.ts";

/** Bytes that may wait for a browser before it counts as behind, and below which it has caught up. */
const BEHIND_BYTES = 1024 * 1024;
const CAUGHT_UP_BYTES = 64 * 1024;
/** Bytes of traffic that may wait for a browser: what it is late with comes later, and nothing else waits for it. */
const TRAFFIC_BYTES = 512 * 1024;
/**
 * A batch that went out late lets the next come that much earlier, up to this, in ms. So the engine's pace, which
 * swings by a tick, is followed without a timer of our own for every other batch.
 */
const LATE_MS = 10;
/** How much of a refused message is shown. */
const BEGINNING_CHARS = 80;
/** Live sockets from one address: more than anybody has windows, and few enough to be served. */
const MOST_PER_ADDRESS = 64;
/** Messages a browser may get wrong before it is shut out. */
const MAX_FAULTS = 50;

export const LIVE_PATH = "/live";

export interface HubEvents {
  message(client: LiveClient, message: ClientMessage): void;
  /** A message of a browser was refused: why, its beginning, and its length in bytes (0 = it was not read to its end). */
  refused(reason: string, beginning: string, length: number): void;
  /** A browser's MIDI devices changed, or it went away. */
  devicesChanged(): void;
  /** A browser went away. */
  left(client: LiveClient): void;
  /** What a page is told first, and anew where it was left out for a while. */
  snapshot(client: Pick<LiveClient, "who" | "shows">): ServerMessage;
  /** The show that runs and the one that is edited are not the same now. */
  areTwoShows(): boolean;
  /** What changed since the last call, or null. */
  changes(): LiveChanges | null;
  readonly traffic: TrafficLog;
}

export interface LiveClient {
  readonly number: number;
  readonly who: Who;
  devices: readonly Device[];
  /** The show that runs, or the one that is edited. */
  shows: "running" | "edited";
  send(message: ServerMessage): void;
}

interface Client extends LiveClient {
  readonly socket: WebSocket;
  behind: boolean;
  faults: number;
  /** How far it has been told of the traffic; null = it does not watch. */
  traffic: TrafficCursor | null;
}

export class LiveHub {
  readonly #events: HubEvents;
  readonly #sockets = new WebSocketServer({ noServer: true, maxPayload: MAX_CLIENT_MESSAGE_BYTES });
  readonly #clients = new Set<Client>();
  /** Sockets that are open, by where they come from. */
  readonly #perAddress = new Map<string, number>();
  /** The next batch, where one is on its way. */
  #timer: NodeJS.Timeout | null = null;
  #immediate: NodeJS.Immediate | null = null;
  /** While anybody listens: a page that hears nothing knows that it knows nothing. */
  #beating: NodeJS.Timeout | null = null;
  /** When the next batch may go out, in ms. */
  #dueMs = Number.NEGATIVE_INFINITY;
  #next = 1;

  constructor(events: HubEvents) {
    this.#events = events;
  }

  /** There is something to tell: it goes out at the end of this turn, or when the pace allows the next batch. */
  changed(): void {
    if (this.#timer || this.#immediate) return;
    const waitMs = this.#dueMs - performance.now();
    // Not a timer of 0 ms: that would be one more wake-up for each batch of the engine.
    if (waitMs <= 0) this.#immediate = setImmediate(() => this.#batch());
    else this.#timer = setTimeout(() => this.#batch(), waitMs);
  }

  /** As `changed`, where all of it is known by now: it goes out at once, if the pace allows. */
  changedWhole(): void {
    if (this.#dueMs > performance.now()) {
      this.changed();
      return;
    }
    if (this.#timer) clearTimeout(this.#timer);
    if (this.#immediate) clearImmediate(this.#immediate);
    this.#batch();
  }

  get clients(): ReadonlySet<LiveClient> {
    return this.#clients;
  }

  /** Takes over an upgrade whose origin has been checked, of somebody who may look. */
  upgrade(request: IncomingMessage, socket: Duplex, head: Buffer, who: Who): void {
    const from = request.socket.remoteAddress ?? "";
    const open = this.#perAddress.get(from) ?? 0;
    if (open >= MOST_PER_ADDRESS) {
      socket.end("HTTP/1.1 503 Service Unavailable\r\nconnection: close\r\n\r\n");
      return;
    }
    this.#sockets.handleUpgrade(request, socket, head, (ws) => {
      this.#perAddress.set(from, (this.#perAddress.get(from) ?? 0) + 1);
      ws.once("close", () => {
        const left = (this.#perAddress.get(from) ?? 1) - 1;
        if (left > 0) this.#perAddress.set(from, left);
        else this.#perAddress.delete(from);
      });
      this.#add(ws, who);
    });
  }

  /** Closes what a session has open, because it is over. */
  endSession(id: string): void {
    for (const { who, socket } of this.#clients)
      if (who.session === id) socket.close(SESSION_ENDED, "not let in any more");
  }

  /** Sends to every browser at once, or to those that show one of two shows: it must not wait for the next batch. */
  broadcast(message: ServerMessage, shows?: LiveClient["shows"]): void {
    const text = message.kind === "show" ? withShowJson(message) : JSON.stringify(message);
    for (const client of this.#clients)
      if (!client.behind && (shows ?? client.shows) === client.shows) client.socket.send(text);
  }

  #stopBeating(): void {
    if (this.#beating) clearInterval(this.#beating);
    this.#beating = null;
  }

  close(): void {
    this.#stopBeating();
    if (this.#timer) clearTimeout(this.#timer);
    if (this.#immediate) clearImmediate(this.#immediate);
    for (const client of this.#clients) client.socket.terminate();
    this.#sockets.close();
  }

  #add(socket: WebSocket, who: Who): void {
    const client: Client = {
      number: this.#next++,
      who,
      socket,
      behind: false,
      faults: 0,
      traffic: null,
      devices: [],
      shows: "edited",
      send: (message) => socket.send(JSON.stringify(message)),
    };
    this.#clients.add(client);
    this.#beating ??= setInterval(() => this.broadcast({ kind: "beat" }), BEAT_EVERY_MS);
    socket.on("message", (data, binary) => this.#message(client, binary ? null : String(data)));
    // Too long a message, or a broken connection: the socket closes, and the browser comes back by itself.
    socket.on("error", (error: NodeJS.ErrnoException) => {
      if (error.code === "WS_ERR_UNSUPPORTED_MESSAGE_LENGTH")
        this.#events.refused(`longer than ${MAX_CLIENT_MESSAGE_BYTES} bytes.`, "", 0);
    });
    socket.on("close", () => {
      this.#clients.delete(client);
      if (this.#clients.size === 0) this.#stopBeating();
      this.#events.left(client);
      if (client.devices.length > 0) this.#events.devicesChanged();
    });
    client.send(this.#events.snapshot(client));
  }

  #message(client: Client, text: string | null): void {
    const read = readClientMessage(text);
    if (!read.ok) {
      this.#events.refused(read.reason, (text ?? "").slice(0, BEGINNING_CHARS), text?.length ?? 0);
      client.send({ kind: "refused", reason: read.reason });
      if (++client.faults >= MAX_FAULTS) client.socket.close(1008, "too many messages that were not understood");
      return;
    }
    const { message } = read;
    const needs = MESSAGE_ROLES[message.kind];
    if (!mayDo(client.who.role, needs)) {
      const reason = problemAdvice({ code: "needs-role", path: [], needs, has: client.who.role });
      client.send({ kind: "refused", reason });
      return;
    }
    if (message.kind === "devices") {
      client.devices = message.devices;
      this.#events.devicesChanged();
      return;
    }
    if (message.kind === "shows") {
      const isOther = client.shows !== message.show;
      client.shows = message.show;
      if (isOther && this.#events.areTwoShows()) client.send(this.#events.snapshot(client));
      return;
    }
    if (message.kind === "watch-traffic") {
      client.traffic = message.on ? this.#events.traffic.cursor(message.history) : null;
      this.changed();
      return;
    }
    this.#events.message(client, message);
  }

  #batch(): void {
    this.#timer = this.#immediate = null;
    this.#dueMs = Math.max(this.#dueMs, performance.now() - LATE_MS) + 1000 / BATCHES_PER_S;
    let again = false;
    for (const client of this.#clients) {
      if (client.socket.bufferedAmount > BEHIND_BYTES) client.behind = true;
      else if (client.behind && client.socket.bufferedAmount < CAUGHT_UP_BYTES) {
        client.behind = false;
        client.send(this.#events.snapshot(client));
      }
      if (client.behind) again = true; // looks again whether its queue is empty
    }
    const changes = this.#events.changes();
    if (changes && this.#clients.size > 0) {
      const text = JSON.stringify({ kind: "batch", live: changes } satisfies ServerMessage);
      for (const client of this.#clients) if (!client.behind) client.socket.send(text);
    }
    for (const client of this.#clients) if (client.traffic && this.#tellTraffic(client, client.traffic)) again = true;
    if (again) this.changed();
  }

  /** Rows that a browser has not had, as many as its line takes now. True: there are more. */
  #tellTraffic({ socket }: Client, cursor: TrafficCursor): boolean {
    while (socket.bufferedAmount < TRAFFIC_BYTES) {
      const frame = this.#events.traffic.next(cursor);
      if (!frame) return false;
      socket.send(frame);
    }
    return true;
  }
}

type ReadMessage = { ok: true; message: ClientMessage } | { ok: false; reason: string };

/** Checks what a browser sent. */
export function readClientMessage(text: string | null): ReadMessage {
  if (text === null) return { ok: false, reason: "Expected text, found bytes." };
  let data: unknown;
  try {
    data = JSON.parse(text);
  } catch {
    return { ok: false, reason: "Expected a JSON message." };
  }
  const parsed = ClientMessage.safeParse(data);
  if (parsed.success) return { ok: true, message: parsed.data };
  const first = problemsOf(parsed.error)[0];
  return { ok: false, reason: first ? problemWords(first) : "Expected a message." };
}
