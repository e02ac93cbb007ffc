/**
 * The page's end of the live socket: comes back by itself and never queues while away. The page and what it is told come
 * from the same server; what another build of it says is not taken, for it may mean something else.
 */

import { SESSION_ENDED } from "../../core/live/message-roles.ts";
import type { ClientMessage, ServerMessage } from "../../core/live/protocol.ts";
import { applyChanges, fromSnapshot, withPatches, withShow } from "./apply-changes.ts";
import { Heard } from "./heard.ts";
import { NOTHING_CHOSEN, type PageStore } from "./store.ts";

const FIRST_RETRY_MS = 200;
const LONGEST_RETRY_MS = 3000;
const CONNECT_WITHIN_MS = 10_000;

export interface LiveSocket {
  send(message: ClientMessage): void;
  close(): void;
}

export interface SocketEvents {
  /** The connection is there (again): say anew what the server has to know. */
  opened(): void;
  deviceMidi(name: string, nth: number, bytes: readonly number[]): void;
  refused(reason: string): void;
  /** The server is not heard since then, in ms by the clock on the wall; null = it is heard again. */
  lost(sinceMs: number | null): void;
  /** Something that this page should know. */
  notice(text: string): void;
  /** Somebody let hands play. */
  play(): void;
  /** This page is not let in any more. */
  out(): void;
  /** Rows of traffic (core/trace/traffic-frame.ts). */
  traffic(frame: ArrayBuffer): void;
}

export function openSocket(store: PageStore, events: SocketEvents): LiveSocket {
  let socket: WebSocket | null = null;
  let closed = false;
  let opened = false;
  let retryMs = FIRST_RETRY_MS;
  // The first message of every connection is a snapshot, which says whose it is.
  let isOurs = false;
  let retry: ReturnType<typeof setTimeout> | undefined;

  const heard = new Heard({ lost: events.lost, givenUp: () => socket?.close() });
  const hear = (text: string) => {
    const message = read(text);
    const wasOurs = isOurs;
    if (message?.kind === "snapshot") isOurs = message.build === store.getState().build;
    if (message && isOurs) receive(store, message, { ...events, outOfStep: () => socket?.close() });
    else if (message === null || wasOurs || message.kind === "snapshot")
      events.refused("This page is older than the server. Load it again.");
  };
  const connect = () => {
    isOurs = false;
    heard.opening();
    const opening = new WebSocket(`${location.protocol === "https:" ? "wss" : "ws"}://${location.host}/live`);
    opening.binaryType = "arraybuffer";
    socket = opening;
    // A network that swallows the attempt must not keep the page waiting for ever.
    setTimeout(() => {
      if (opening.readyState === WebSocket.CONNECTING) opening.close();
    }, CONNECT_WITHIN_MS);
    socket.onopen = () => {
      retryMs = FIRST_RETRY_MS;
      opened = true;
      store.setState({ connection: "open" });
      events.opened();
    };
    socket.onmessage = ({ data }: MessageEvent<unknown>) => {
      if (socket === opening) heard.now();
      if (data instanceof ArrayBuffer) events.traffic(data);
      else hear(String(data));
    };
    socket.onclose = ({ code }) => {
      if (socket !== opening) return;
      store.setState({ connection: "closed" });
      if (closed) return;
      if (code === SESSION_ENDED) events.out();
      // Why it was not opened is not told to a page: it asks.
      else if (!opened) void isOut().then((out) => out && !closed && events.out());
      if (opened) heard.closed();
      opened = false;
      retry = setTimeout(connect, retryMs);
      retryMs = Math.min(retryMs * 2, LONGEST_RETRY_MS);
    };
  };
  connect();
  return {
    send: (message) => {
      if (socket?.readyState === WebSocket.OPEN) socket.send(JSON.stringify(message));
    },
    close: () => {
      closed = true;
      heard.stop();
      clearTimeout(retry);
      socket?.close();
    },
  };
}

/** Whether the server is there and lets this page in no more. */
async function isOut(): Promise<boolean> {
  try {
    return (await fetch("/health", { method: "HEAD" })).status === 401;
  } catch {
    return false; // it is not there, which is said elsewhere
  }
}

/** Null where it is no message at all. */
function read(text: string): ServerMessage | null {
  try {
    const data: unknown = JSON.parse(text);
    return typeof data === "object" && data !== null && "kind" in data ? (data as ServerMessage) : null;
  } catch {
    return null;
  }
}

function receive(store: PageStore, message: ServerMessage, events: SocketEvents & { outOfStep(): void }): void {
  switch (message.kind) {
    case "snapshot":
      store.setState({
        live: fromSnapshot(message),
        who: message.who,
        withPassword: message.withPassword,
        onHold: message.onHold,
      });
      return;
    case "batch":
      store.setState((s) => ({ live: applyChanges(s.live, message.live) }));
      return;
    case "show":
      store.setState((s) => ({
        live: withShow(s.live, message.show, message.history, message.live),
        withPassword: message.withPassword,
        // What was chosen in one show is something else in another.
        ...(s.live.history.show === message.history.show ? {} : NOTHING_CHOSEN),
      }));
      return;
    case "show-patches": {
      const { live } = store.getState();
      const { history, patches } = message;
      // A turn was missed, which cannot be: the next connection begins with the whole.
      if (live.history.show !== history.show || live.history.turn + 1 !== history.turn) events.outOfStep();
      else
        store.setState({ live: withPatches(live, patches, history, message.live), withPassword: message.withPassword });
      return;
    }
    case "on-hold":
      // The next time nothing is asked before somebody wants to know.
      store.setState({ onHold: message.onHold, ...(message.onHold ? {} : { holdOpen: false }) });
      return;
    case "beat":
      return;
    case "device-midi":
      events.deviceMidi(message.name, message.nth, message.bytes);
      return;
    case "browser-devices":
      store.setState({ browserDevices: message.devices });
      return;
    case "play":
      events.play();
      return;
    case "notice":
      events.notice(message.text);
      return;
    case "refused":
      events.refused(message.reason);
      return;
    default:
      message satisfies never;
  }
}
