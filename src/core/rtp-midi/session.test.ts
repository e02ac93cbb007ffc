import { describe, expect, test } from "vitest";
import { type Admission, Session, type SessionOptions, type Which } from "./session.ts";
import { readSessionPacket, writeSessionPacket } from "./session-packets.ts";

/** The same chances each time (a linear congruential generator). */
function chances(seed: number): () => number {
  let state = seed;
  return () => {
    state = (Math.imul(state, 1664525) + 1013904223) >>> 0;
    return state / 0x1_0000_0000;
  };
}

interface Weather {
  lose: number;
  double: number;
  /** Longest way, in ms: datagrams overtake each other. */
  longestMs: number;
}

const CALM: Weather = { lose: 0, double: 0, longestMs: 1 };

/** Two sessions and the network between them, on a clock of its own. */
class Wire {
  nowMs = 1000;
  weather = CALM;
  /** How far the clock of the second end is ahead, in ms. */
  readonly aheadMs = 5000;
  readonly heard: string[][] = [[], []];
  readonly ends: Session[];
  readonly sent: { which: Which; bytes: Uint8Array }[] = [];
  readonly #chance = chances(7);
  #onTheWay: { atMs: number; to: number; which: Which; bytes: Uint8Array; from: number }[] = [];

  constructor(...options: Partial<SessionOptions>[]) {
    this.ends = options.map(
      (o, i) =>
        new Session(
          { name: `End ${i}`, ssrc: 100 + i, admission: "everyone", allowed: [], invites: [], ...o },
          {
            datagram: (which, host, _port, bytes) => this.#carry(i, Number(host), which, bytes),
            message: (m) => this.heard[i]!.push([...m].map((b) => b.toString(16).padStart(2, "0")).join(" ")),
            chance: this.#chance,
            connected: () => {},
          },
        ),
    );
  }

  #carry(from: number, to: number, which: Which, bytes: Uint8Array): void {
    this.sent.push({ which, bytes });
    const { lose, double, longestMs } = this.weather;
    if (this.#chance() < lose) return;
    const atMs = () => this.nowMs + 0.5 + this.#chance() * (longestMs - 0.5);
    this.#onTheWay.push({ atMs: atMs(), to, which, bytes, from });
    if (this.#chance() < double) this.#onTheWay.push({ atMs: atMs(), to, which, bytes, from });
  }

  clock(end: number): number {
    return end === 1 ? this.nowMs + this.aheadMs : this.nowMs;
  }

  run(forMs: number, each: (nowMs: number) => void = () => {}): void {
    const untilMs = this.nowMs + forMs;
    while (this.nowMs < untilMs) {
      this.nowMs += 0.5;
      each(this.nowMs);
      for (const d of this.#onTheWay.filter((x) => x.atMs <= this.nowMs).sort((a, b) => a.atMs - b.atMs)) {
        this.#onTheWay.splice(this.#onTheWay.indexOf(d), 1);
        this.ends[d.to]?.receive(
          d.which,
          d.bytes,
          String(d.from),
          d.which === "control" ? 5004 : 5005,
          this.clock(d.to),
        );
      }
      for (const [i, end] of this.ends.entries()) end.tick(this.clock(i));
    }
  }

  send(end: number, ...message: number[]): void {
    this.ends[end]!.send(Uint8Array.from(message), this.clock(end));
  }

  state(end: number): string {
    return this.ends[end]!.reports()
      .map((r) => r.state)
      .join();
  }
}

const TO_1 = { host: "1", port: 5004 };
const TO_0 = { host: "0", port: 5004 };

describe("the packets of the session", () => {
  test("an invitation and its answer carry token, number and name; a parting no name", () => {
    const invite = { kind: "invite", token: 0x01020304, ssrc: 0xf5060708, name: "Quay" } as const;
    const bytes = writeSessionPacket(invite);
    expect(Buffer.from(bytes).toString("hex")).toBe("ffff494e0000000201020304f50607085175617900");
    expect(readSessionPacket(bytes)).toEqual(invite);
    expect(writeSessionPacket({ ...invite, kind: "bye" })).toHaveLength(16);
  });

  test("clock and feedback", () => {
    const clock = { kind: "clock", ssrc: 9, count: 2, times: [1n, 2n ** 64n - 1n, 3n] } as const;
    expect(readSessionPacket(writeSessionPacket(clock))).toEqual(clock);
    const feedback = { kind: "feedback", ssrc: 9, sequence: 65_535 } as const;
    expect(readSessionPacket(writeSessionPacket(feedback))).toEqual(feedback);
  });

  test.each([
    "",
    "ffff",
    "ffff49",
    "ffff5858000000020000000000000000",
    "ffff494e0000000300000000000000004100",
    "ffff434b000000090300",
  ])("no packet: %s", (hex) => expect(readSessionPacket(Buffer.from(hex, "hex"))).toBeNull());
});

describe("a session", () => {
  test("is agreed on both ports, and carries MIDI both ways", () => {
    const wire = new Wire({ invites: [TO_1] }, {});
    wire.run(50);
    expect([wire.state(0), wire.state(1)]).toEqual(["connected", "connected"]);
    expect(wire.ends[0]!.reports()[0]!.name).toBe("End 1");
    wire.send(0, 0x90, 60, 100);
    wire.send(0, 0xb0, 7, 64);
    wire.send(1, 0xe0, 0, 64);
    wire.run(20);
    expect(wire.heard).toEqual([["e0 00 40"], ["90 3c 64", "b0 07 40"]]);
  });

  test("a long message arrives whole, in packets that fit", () => {
    const wire = new Wire({ invites: [TO_1] }, {});
    wire.run(50);
    const data = Array.from({ length: 5000 }, (_, i) => i % 128);
    wire.send(0, 0xf0, ...data, 0xf7);
    wire.run(50);
    expect(wire.heard[1]).toHaveLength(1);
    expect(wire.heard[1]![0]!.split(" ").map((pair) => Number.parseInt(pair, 16))).toEqual([0xf0, ...data, 0xf7]);
    expect(Math.max(...wire.sent.map((s) => s.bytes.length))).toBeLessThan(1400);
  });

  test("the clocks: how far apart they are is known at both ends within a millisecond", () => {
    const wire = new Wire({ invites: [TO_1] }, {});
    wire.weather = { lose: 0, double: 0, longestMs: 3 };
    wire.run(3000);
    const [a, b] = wire.ends.map((e) => e.reports()[0]!);
    expect(Math.abs(a!.offsetMs - wire.aheadMs)).toBeLessThan(1);
    expect(Math.abs(b!.offsetMs + wire.aheadMs)).toBeLessThan(1);
    expect(a!.latencyMs).toBeGreaterThan(0);
    expect(a!.latencyMs).toBeLessThan(3);
  });

  test("two that invite each other make one session", () => {
    const wire = new Wire({ invites: [TO_1] }, { invites: [TO_0] });
    wire.run(1500);
    expect([wire.state(0), wire.state(1)]).toEqual(["connected", "connected"]);
    wire.send(0, 0x90, 60, 100);
    wire.run(20);
    expect(wire.heard[1]).toEqual(["90 3c 64"]);
  });

  test.each<[Admission, string, string]>([
    ["everyone", "connected", "connected"],
    ["ask", "inviting", "asking"],
    ["listed", "refused", "refused"],
  ])("admission %s", (admission, caller, called) => {
    const wire = new Wire({ invites: [TO_1] }, { admission });
    wire.run(100);
    expect([wire.state(0), wire.state(1)]).toEqual([caller, called]);
  });

  test("one that is on the list may join, and nobody else", () => {
    const wire = new Wire({ invites: [TO_1] }, { admission: "listed", allowed: ["End 0"] });
    wire.run(100);
    expect(wire.state(0)).toBe("connected");
  });

  test("one that asks is let in, or not, by hand", () => {
    for (const yes of [true, false]) {
      const wire = new Wire({ invites: [TO_1] }, { admission: "ask" });
      wire.run(2000);
      expect(wire.state(1)).toBe("asking");
      wire.ends[1]!.answer(TO_0, yes, wire.clock(1));
      wire.run(100);
      expect(wire.state(0)).toBe(yes ? "connected" : "refused");
    }
  });

  test("one that began anew between the two ports is asked at the first again", () => {
    const wire = new Wire({ invites: [TO_1] }, {});
    const [, other] = wire.ends;
    wire.ends[1] = new Session(
      { name: "Forgets", ssrc: 9, admission: "everyone", allowed: [], invites: [] },
      {
        // It says yes at the first port and is gone before it is asked at the second.
        datagram: (which, _host, _port, bytes) => {
          if (which === "control") wire.ends[0]!.receive("control", bytes, "1", 5004, wire.nowMs);
          wire.ends[1] = other!;
        },
        message: () => {},
        chance: () => 0.5,
        connected: () => {},
      },
    );
    wire.run(15_000);
    expect([wire.state(0), wire.state(1)]).toEqual(["connected", "connected"]);
  });

  test("one that asks and goes away is not shown for ever; one that was refused by hand is not asked about again", () => {
    const wire = new Wire({ invites: [TO_1] }, { admission: "ask" });
    wire.run(100);
    wire.ends[1]!.answer(TO_0, false, wire.clock(1));
    wire.run(20_000);
    expect([wire.state(0), wire.state(1)]).toEqual(["refused", "refused"]);
    const gone = new Wire({ invites: [TO_1] }, { admission: "ask" });
    gone.run(100);
    expect(gone.state(1)).toBe("asking");
    gone.weather = { ...CALM, lose: 1 };
    gone.run(31_000);
    expect(gone.ends[1]!.reports()).toEqual([]);
  });

  test("who parts is told of as ended, and what it held is let go", () => {
    const wire = new Wire({ invites: [TO_1] }, {});
    wire.run(50);
    wire.send(0, 0x90, 60, 100);
    wire.run(20);
    wire.ends[0]!.close(wire.clock(0));
    wire.run(20);
    expect(wire.state(1)).toBe("ended");
    expect(wire.heard[1]).toEqual(["90 3c 64", "80 3c 40"]);
  });

  test("who is silent is noticed, and invited until it is there again", () => {
    const wire = new Wire({ invites: [TO_1] }, {});
    wire.run(3000);
    wire.weather = { ...CALM, lose: 1 };
    wire.run(12_000);
    expect(wire.state(0)).toBe("inviting");
    wire.weather = CALM;
    wire.run(10_000);
    expect([wire.state(0), wire.state(1)]).toEqual(["connected", "connected"]);
  });

  test("a stranger's packets are not heard", () => {
    const wire = new Wire({ invites: [TO_1] }, {});
    wire.run(50);
    wire.send(0, 0x90, 60, 100);
    wire.run(5);
    const { bytes } = wire.sent.findLast((s) => s.which === "data" && s.bytes[0] === 0x80)!;
    const next = bytes.slice();
    next[3] = next[3]! + 1;
    wire.ends[1]!.receive("data", next, "9", 5005, wire.clock(1));
    expect(wire.ends[1]!.dropped).toBe(1);
    expect(wire.heard[1]).toEqual(["90 3c 64"]);
  });
});

describe("a network that loses, doubles and reorders every fifth datagram", () => {
  /** How a synthesizer would stand after these messages. */
  function standing(messages: readonly string[]): Map<string, string> {
    const at = new Map<string, string>();
    for (const m of messages) {
      const [status, first, second] = m.split(" ") as [string, string, string];
      const channel = status[1]!;
      if (status[0] === "8" || (status[0] === "9" && second === "00")) at.delete(`note ${channel} ${first}`);
      else if (status[0] === "9") at.set(`note ${channel} ${first}`, second);
      else if (status[0] === "b" || status[0] === "a") at.set(`${status} ${first}`, second);
      else at.set(status, `${first} ${second}`);
    }
    return at;
  }

  test("5,000 random messages: after each quiet second both ends stand alike, with no stuck note", () => {
    const wire = new Wire({ invites: [TO_1] }, {});
    wire.run(50);
    wire.weather = { lose: 0.2, double: 0.2, longestMs: 8 };
    const chance = chances(42);
    const upTo = (n: number) => Math.floor(chance() * n);
    const said: string[][] = [[], []];
    let quiet = 0;
    for (let i = 0; i < 5000; i++) {
      const end = upTo(2);
      const channel = upTo(3);
      const kinds = [
        [0x90 | channel, 36 + upTo(24), 1 + upTo(127)],
        [0x80 | channel, 36 + upTo(24), 64],
        [0xb0 | channel, 1 + upTo(31), upTo(128)],
        [0xe0 | channel, upTo(128), upTo(128)],
        [0xd0 | channel, upTo(128)],
        [0xa0 | channel, 36 + upTo(24), upTo(128)],
        [0xc0 | channel, upTo(128)],
      ];
      const message = kinds[upTo(kinds.length)]!;
      wire.send(end, ...message);
      said[end]!.push(message.map((b) => b.toString(16).padStart(2, "0")).join(" "));
      wire.run(upTo(5));
      if (i % 250 < 249) continue;
      wire.run(1000);
      quiet++;
      expect(standing(wire.heard[1]!)).toEqual(standing(said[0]!));
      expect(standing(wire.heard[0]!)).toEqual(standing(said[1]!));
    }
    expect(quiet).toBe(20);
    const reports = wire.ends.flatMap((e) => e.reports());
    expect(reports.every((r) => r.lost > 300 && r.repaired > 100)).toBe(true);
  });

  test("every cue arrives, once and in its order; starts, stops and parameters as well", () => {
    const wire = new Wire({ invites: [TO_1] }, {});
    wire.run(50);
    wire.weather = { lose: 0.2, double: 0.2, longestMs: 8 };
    const chance = chances(99);
    const cues: string[] = [];
    const transport: string[] = [];
    const parameters = new Map<number, number>();
    for (let n = 0; n < 400; n++) {
      const cue = [0xf0, 0x7f, 1, 2, 1, n % 10 === 0 ? 2 : 1, ...[...String(n % 50)].map((c) => c.charCodeAt(0)), 0xf7];
      wire.send(0, ...cue);
      cues.push(cue.map((b) => b.toString(16).padStart(2, "0")).join(" "));
      wire.run(chance() * 60);
      const command = n % 2 === 0 ? 0xfa : 0xfc;
      wire.send(0, command);
      transport.push(command.toString(16));
      const [number, value] = [n % 5, Math.floor(chance() * 128)];
      wire.send(0, 0xb0, 99, 0);
      wire.run(chance() * 10);
      wire.send(0, 0xb0, 98, number);
      wire.send(0, 0xb0, 6, value);
      parameters.set(number, value);
      wire.run(chance() * 60);
    }
    wire.run(1000);
    const heard = wire.heard[1]!;
    expect(heard.filter((m) => m.startsWith("f0"))).toEqual(cues);
    // A start and the stop right behind it may both be lost: then it stands still, as it should.
    const ran = heard.filter((m) => m === "fa" || m === "fc");
    expect(ran.every((m, i) => m !== ran[i - 1])).toBe(true);
    expect([ran.length > 0.97 * transport.length, ran.at(-1)]).toEqual([true, transport.at(-1)]);
    const read = new Map<number, number>();
    const named = { msb: -1, lsb: -1 };
    for (const m of heard.filter((x) => x.startsWith("b0"))) {
      const [, controller, value] = m.split(" ").map((x) => Number.parseInt(x, 16)) as [number, number, number];
      if (controller === 99) Object.assign(named, { msb: value, lsb: -1 });
      else if (controller === 98) named.lsb = value;
      else if (controller === 6) {
        expect(named.msb).toBe(0);
        read.set(named.lsb, value);
      }
    }
    expect([...read].sort()).toEqual([...parameters].sort());
  });
});
