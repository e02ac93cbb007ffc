/** The page's end of the live socket, with a socket that the test holds. */
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { liveStateOf } from "../../../tests/rig/row-names.ts";
import { mapping, showWith, toggle } from "../../../tests/rig/shows.ts";
import { SESSION_ENDED } from "../../core/live/message-roles.ts";
import type { ServerMessage, Snapshot } from "../../core/live/protocol.ts";
import { type LiveSocket, openSocket } from "./socket.ts";
import { createPageStore, type PageStore } from "./store.ts";

class Held {
  static readonly CONNECTING = 0;
  static readonly OPEN = 1;
  static newest: Held;
  readyState = Held.OPEN;
  onopen?: () => void;
  onmessage?: (event: { data: unknown }) => void;
  onclose?: (event: { code: number }) => void;
  constructor() {
    Held.newest = this;
  }
  send(): void {}
  close(): void {
    this.onclose?.({ code: 1000 });
  }
}

const show = showWith([mapping("pad-1", toggle(1))]);
const snapshot = (build: string, name = show.name): Snapshot => {
  const { history, compiled } = liveStateOf(show);
  return {
    kind: "snapshot",
    build,
    who: { role: "edit", isHere: true },
    withPassword: [],
    onHold: null,
    show: { ...show, name },
    history,
    surfaceProfiles: compiled.surfaces.map((s) => s.profile),
    deskProfiles: compiled.desks.map((d) => d.profile),
    live: { atMs: 0 },
  };
};

describe("what the server says", () => {
  let store: PageStore;
  let refused: string[];
  let outs = 0;
  let socket: LiveSocket;
  const hear = (message: ServerMessage | string) =>
    Held.newest.onmessage?.({ data: typeof message === "string" ? message : JSON.stringify(message) });
  const batch = (atMs: number): ServerMessage => ({ kind: "batch", live: { atMs } });

  beforeEach(() => {
    vi.useFakeTimers();
    vi.stubGlobal("WebSocket", Held);
    vi.stubGlobal("location", { host: "127.0.0.1" });
    refused = [];
    store = createPageStore(snapshot("one"));
    const nothing = () => {};
    outs = 0;
    const events = {
      opened: nothing,
      deviceMidi: nothing,
      notice: nothing,
      play: nothing,
      traffic: nothing,
      lost: nothing,
    };
    socket = openSocket(store, { ...events, refused: (reason) => refused.push(reason), out: () => outs++ });
  });
  afterEach(() => {
    socket.close();
    vi.unstubAllGlobals();
    vi.useRealTimers();
  });

  test.each([401, 200, 503])(
    "a page that cannot connect asks why: it is out where the answer is 401, not with %s",
    async (status) => {
      const asked = Promise.resolve({ status });
      vi.stubGlobal("fetch", () => asked);
      Held.newest.onclose?.({ code: 1006 });
      await vi.waitFor(() => expect(outs).toBe(status === 401 ? 1 : 0));
    },
  );

  test("a page whose session is ended is out", () => {
    Held.newest.onopen?.();
    Held.newest.onclose?.({ code: SESSION_ENDED });
    expect(outs).toBe(1);
  });

  test("is taken from a server of the same build", () => {
    hear(snapshot("one", "Renamed"));
    hear(batch(7));
    expect([store.getState().live.show.name, store.getState().live.atMs, refused]).toEqual(["Renamed", 7, []]);
  });

  const renamed = (turn: number, name: string): ServerMessage => ({
    kind: "show-patches",
    patches: [{ op: "replace", path: ["name"], value: name }],
    history: { ...snapshot("one").history, turn },
    live: { atMs: turn },
    withPassword: [],
  });
  test("an edit is put into the show of the turn before it; where one was missed, the whole is asked for", () => {
    hear(snapshot("one"));
    const { turn } = store.getState().live.history;
    hear(renamed(turn + 1, "Next"));
    expect([store.getState().live.show.name, store.getState().live.history.turn]).toEqual(["Next", turn + 1]);
    const before = Held.newest;
    hear(renamed(turn + 3, "Missed one"));
    expect(store.getState().live.show.name).toBe("Next");
    vi.runOnlyPendingTimers();
    expect(Held.newest).not.toBe(before);
    hear(snapshot("one", "Whole"));
    expect(store.getState().live.show.name).toBe("Whole");
  });

  test("is not taken from another build, which is told once for each connection", () => {
    hear(snapshot("two", "Renamed"));
    for (let i = 1; i < 9; i++) hear(batch(i));
    expect([store.getState().live.show.name, store.getState().live.atMs]).toEqual([show.name, 0]);
    expect(refused).toEqual(["This page is older than the server. Load it again."]);
  });

  test("is taken again when the server of this build is back", () => {
    hear(snapshot("two"));
    Held.newest.close();
    vi.runOnlyPendingTimers();
    hear(snapshot("one", "Back"));
    expect(store.getState().live.show.name).toBe("Back");
  });

  test("is looked at only after a snapshot, and what is no message at all does no harm", () => {
    hear(batch(3));
    for (const odd of ["", "{", "null", "3", "[]", '{"live":{}}']) hear(odd);
    expect(store.getState().live.atMs).toBe(0);
    hear(snapshot("one"));
    hear(batch(4));
    expect(store.getState().live.atMs).toBe(4);
  });
});
