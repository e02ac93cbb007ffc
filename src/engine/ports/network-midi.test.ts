import { createSocket } from "node:dgram";
import { once } from "node:events";
import { afterEach, describe, expect, test, vi } from "vitest";
import type { NetworkSession } from "../../core/format/show.ts";
import type { SessionLive } from "../../core/live/protocol.ts";
import { troubleWords } from "../../words/troubles.ts";
import { NetworkMidiPort, NetworkSessions } from "./network-midi.ts";

const LOOPBACK = "127.0.0.1";
const PORTS = { a: 19_604, b: 19_606, proxy: 19_608 };
const clock = () => performance.timeOrigin + performance.now();
const open: NetworkSessions[] = [];
const closing: (() => void)[] = [];

afterEach(async () => {
  await Promise.all(open.splice(0).map((s) => s.close()));
  for (const close of closing.splice(0)) close();
});

function session(port: number, more: Partial<NetworkSession> = {}): NetworkSession {
  return {
    id: "n",
    name: `End ${port}`,
    port,
    reach: "this-computer",
    admission: "everyone",
    allowed: [],
    invites: [],
    announced: false,
    ...more,
  };
}

/** One program with one session, and a surface's two ports on it. */
class End {
  readonly sessions = new NetworkSessions(clock);
  readonly heard: string[] = [];
  readonly states: string[] = [];
  readonly input: NetworkMidiPort;
  readonly output: NetworkMidiPort;

  constructor(config: NetworkSession) {
    open.push(this.sessions);
    this.sessions.set([config]);
    this.input = new NetworkMidiPort(
      this.sessions,
      { session: "n", input: true },
      { message: (b) => this.heard.push(Buffer.from(b).toString("hex")), refused: () => {}, state: () => {} },
    );
    this.output = new NetworkMidiPort(
      this.sessions,
      { session: "n", input: false },
      {
        message: () => {},
        refused: () => {},
        state: (s) => this.states.push(`${s.state} ${troubleWords(s.trouble)}`.trim()),
      },
    );
    this.input.open();
    this.output.open();
  }

  send(...bytes: number[]): void {
    this.output.send(Uint8Array.from(bytes), 0, bytes.length);
  }

  get live(): SessionLive {
    return this.sessions.reports().n!;
  }

  get peers(): string {
    return this.live.peers.map((p) => p.state).join();
  }
}

const INVITE_B = [{ host: LOOPBACK, port: PORTS.b }];

describe("MIDI sessions over real sockets", () => {
  test("an invitation is taken; MIDI goes both ways; what has not been heard yet says so", async () => {
    const a = new End(session(PORTS.a, { invites: INVITE_B }));
    expect(a.states).toEqual(["waiting"]);
    a.send(0x90, 60, 100);
    expect(a.output.counted).toMatchObject({ out: 0, refused: 1 });
    const b = new End(session(PORTS.b));
    await vi.waitFor(() => expect([a.peers, b.peers]).toEqual(["connected", "connected"]), 5000);
    expect(a.states.at(-1)).toBe("open");
    a.send(0x90, 61, 100);
    b.send(0xb0, 7, 64);
    await vi.waitFor(() => expect([a.heard, b.heard]).toEqual([["b00740"], ["903d64"]]));
    expect([a.output.counted.out, b.input.counted.in]).toEqual([1, 1]);
    expect(a.live.peers[0]).toMatchObject({ name: `End ${PORTS.b}`, host: LOOPBACK, in: 1, out: 1, lost: 0 });
  });

  test("a peer that goes is told of as left, lets go of what it held, and is taken back", async () => {
    const a = new End(session(PORTS.a, { invites: INVITE_B }));
    const b = new End(session(PORTS.b));
    await vi.waitFor(() => expect(b.peers).toBe("connected"), 5000);
    a.send(0x90, 60, 100);
    await vi.waitFor(() => expect(b.heard).toEqual(["903c64"]));
    await a.sessions.close();
    await vi.waitFor(() => expect(b.heard).toEqual(["903c64", "803c40"]));
    await vi.waitFor(() =>
      expect([b.peers, b.states.at(-1)]).toEqual(["ended", "waiting no peer of the session is connected"]),
    );
    a.sessions.set([session(PORTS.a, { invites: INVITE_B })]);
    await vi.waitFor(() => expect(b.peers).toBe("connected"), 5000);
  });

  test("a name that leads nowhere is said; one that does is shown as it was typed", async () => {
    const invites = [
      { host: "localhost", port: PORTS.b },
      { host: "nowhere.invalid", port: 5004 },
    ];
    const a = new End(session(PORTS.a, { invites }));
    new End(session(PORTS.b));
    await vi.waitFor(() => expect(a.peers).toBe("connected,unknown"), 5000);
    expect(a.live.peers.map((p) => p.host)).toEqual(["localhost", "nowhere.invalid"]);
  });

  test("a port in use is said in words, and opened once it is free", async () => {
    const taken = createSocket("udp4").bind(PORTS.a + 1, LOOPBACK);
    await once(taken, "listening");
    const a = new End(session(PORTS.a));
    await vi.waitFor(() =>
      expect(a.live.port).toEqual({ state: "failed", trouble: { code: "port-in-use", port: PORTS.a + 1 } }),
    );
    taken.close();
    await vi.waitFor(() => expect(a.live.port.state).toBe("open"), 5000);
  });

  test("another name or port is another session, on the same ports of the show", async () => {
    const a = new End(session(PORTS.a, { invites: INVITE_B }));
    const b = new End(session(PORTS.b));
    await vi.waitFor(() => expect(a.peers).toBe("connected"), 5000);
    b.sessions.set([session(PORTS.b, { name: "Quay" })]);
    await vi.waitFor(() => expect(a.live.peers[0]).toMatchObject({ state: "connected", name: "Quay" }), 15_000);
    a.send(0x90, 60, 100);
    await vi.waitFor(() => expect(b.heard).toEqual(["903c64"]));
  });

  test("garbage at either port changes nothing", async () => {
    const a = new End(session(PORTS.a, { invites: INVITE_B }));
    const b = new End(session(PORTS.b));
    await vi.waitFor(() => expect(b.peers).toBe("connected"), 5000);
    const stranger = createSocket("udp4");
    closing.push(() => stranger.close());
    for (const port of [PORTS.b, PORTS.b + 1])
      for (const hex of ["", "ff", "ffff494e", "80e10001", "8061000100000000000000ff43903c40", "00".repeat(2000)])
        stranger.send(Buffer.from(hex, "hex"), port, LOOPBACK);
    a.send(0x90, 60, 100);
    await vi.waitFor(() => expect(b.heard).toEqual(["903c64"]));
    expect(b.live.peers).toHaveLength(1);
  });
});

/** Passes datagrams on between two ends, both ports; every fifth is lost, doubled or overtaken. */
async function proxy(target: number, at: number): Promise<() => number> {
  let carried = 0;
  let state = 3;
  const chance = () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 0x1_0000_0000;
  };
  for (const which of [0, 1]) {
    const socket = createSocket("udp4").bind(at + which, LOOPBACK);
    let caller: { address: string; port: number } | null = null;
    await once(socket, "listening");
    closing.push(() => socket.close());
    const pass = (bytes: Uint8Array, port: number) => {
      carried++;
      if (chance() < 0.2) return;
      const times = chance() < 0.2 ? 2 : 1;
      const send = () => socket.send(bytes, port, LOOPBACK, () => {});
      for (let i = 0; i < times; i++)
        if (chance() < 0.2) closing.push(...[setTimeout(send, 1 + chance() * 6)].map((t) => () => clearTimeout(t)));
        else send();
    };
    socket.on("message", (bytes, from) => {
      if (from.port === target + which) {
        if (caller) pass(bytes, caller.port);
      } else {
        caller = from;
        pass(bytes, target + which);
      }
    });
  }
  return () => carried;
}

test("two programs through a network that loses, doubles and reorders a fifth: alike after each quiet moment", async () => {
  const carried = await proxy(PORTS.b, PORTS.proxy);
  const a = new End(session(PORTS.a, { invites: [{ host: LOOPBACK, port: PORTS.proxy }] }));
  const b = new End(session(PORTS.b));
  await vi.waitFor(() => expect([a.peers, b.peers]).toEqual(["connected", "connected"]), 10_000);
  let state = 11;
  const upTo = (n: number) => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return Math.floor((state / 0x1_0000_0000) * n);
  };
  const said: string[][] = [[], []];
  for (let i = 0; i < 5000; i++) {
    const end = upTo(2);
    const kinds = [
      [0x90, 36 + upTo(24), 1 + upTo(127)],
      [0x80, 36 + upTo(24), 64],
      [0xb0, 1 + upTo(31), upTo(128)],
      [0xe0, upTo(128), upTo(128)],
    ];
    const message = kinds[upTo(kinds.length)]!;
    (end === 0 ? a : b).send(...message);
    said[end]!.push(Buffer.from(message).toString("hex"));
    if (i % 5 === 4) await new Promise((resolve) => setImmediate(resolve));
    if (i % 1000 < 999) continue;
    await vi.waitFor(() => expect(standing(b.heard)).toEqual(standing(said[0]!)), 5000);
    await vi.waitFor(() => expect(standing(a.heard)).toEqual(standing(said[1]!)), 5000);
  }
  expect(carried()).toBeGreaterThan(1000);
  expect(a.live.peers[0]!.lost).toBeGreaterThan(50);
  expect(b.live.peers[0]!.repaired).toBeGreaterThan(50);
}, 60_000);

/** How a unit would stand after these messages. */
function standing(messages: readonly string[]): Map<string, string> {
  const at = new Map<string, string>();
  for (const m of messages) {
    const [status, first, second] = [m.slice(0, 2), m.slice(2, 4), m.slice(4)];
    if (status === "80") at.delete(`note ${first}`);
    else if (status === "90") at.set(`note ${first}`, second);
    else if (status === "b0") at.set(`controller ${first}`, second);
    else at.set(status, first + second);
  }
  return at;
}
