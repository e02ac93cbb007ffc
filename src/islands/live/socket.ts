/** The page's end of the live socket: comes back by itself, checks what arrives, and never queues while away. */
import { type ClientMessage, ServerMessage } from "../../core/live/protocol.ts";
import { applyChanges, fromSnapshot, withShow } from "./apply-changes.ts";
import type { PageStore } from "./store.ts";

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
  /** Something that this page should know. */
  notice(text: string): void;
  /** Rows of traffic (core/trace/traffic-frame.ts). */
  traffic(frame: ArrayBuffer): void;
}

export function openSocket(store: PageStore, events: SocketEvents): LiveSocket {
  let socket: WebSocket | null = null;
  let closed = false;
  let retryMs = FIRST_RETRY_MS;
  let retry: ReturnType<typeof setTimeout> | undefined;

  const connect = () => {
    const opening = new WebSocket(`ws://${location.host}/live`);
    opening.binaryType = "arraybuffer";
    socket = opening;
    // A network that swallows the attempt must not keep the page waiting for ever.
    setTimeout(() => {
      if (opening.readyState === WebSocket.CONNECTING) opening.close();
    }, CONNECT_WITHIN_MS);
    socket.onopen = () => {
      retryMs = FIRST_RETRY_MS;
      store.setState({ connection: "open" });
      events.opened();
    };
    socket.onmessage = ({ data }: MessageEvent<unknown>) => {
      if (data instanceof ArrayBuffer) events.traffic(data);
      else receive(store, String(data), events);
    };
    socket.onclose = () => {
      store.setState({ connection: "closed" });
      if (closed) return;
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
      clearTimeout(retry);
      socket?.close();
    },
  };
}

function receive(store: PageStore, text: string, events: SocketEvents): void {
  const parsed = ServerMessage.safeParse(JSON.parse(text));
  if (!parsed.success) {
    // Server and page are of different versions: a fresh page fits again.
    events.refused("This page is older than the server. Load it again.");
    return;
  }
  const message = parsed.data;
  switch (message.kind) {
    case "snapshot":
      store.setState({ live: fromSnapshot(message) });
      return;
    case "batch":
      store.setState((s) => ({ live: applyChanges(s.live, message.live) }));
      return;
    case "show":
      store.setState((s) => ({ live: withShow(s.live, message.show, message.history, message.live) }));
      return;
    case "device-midi":
      events.deviceMidi(message.name, message.nth, message.bytes);
      return;
    case "browser-devices":
      store.setState({ browserDevices: message.devices });
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
