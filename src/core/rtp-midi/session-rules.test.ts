import { describe, expect, test } from "vitest";
import { type ListItem, writeCommands } from "./commands.ts";
import { readJournal, writeJournal } from "./journal.ts";
import { readPacketHead, writePacket } from "./packet.ts";
import { Session, type SessionOptions, type Which } from "./session.ts";
import { readSessionPacket, type SessionPacket, writeSessionPacket } from "./session-packets.ts";
import { StreamSender } from "./stream-sender.ts";

const hexOf = (m: Uint8Array) => [...m].map((b) => b.toString(16).padStart(2, "0")).join(" ");
const NO_JOURNAL = writeJournal({ checkpoint: 0, channels: [] });

/** A session, and peers whose every datagram is made by hand. */
class Table {
  nowMs = 1000;
  readonly heard: string[] = [];
  readonly out: { which: Which; port: number; bytes: Uint8Array }[] = [];
  readonly session: Session;

  constructor(options: Partial<SessionOptions> = {}) {
    this.session = new Session(
      { name: "Here", ssrc: 1, admission: "everyone", allowed: [], invites: [], ...options },
      {
        datagram: (which, _host, port, bytes) => this.out.push({ which, port, bytes }),
        message: (m) => this.heard.push(hexOf(m)),
        chance: () => 0.5,
        connected: () => {},
      },
    );
  }

  say(which: Which, port: number, packet: SessionPacket): void {
    this.session.receive(which, writeSessionPacket(packet), "peer", which === "control" ? port : port + 1, this.nowMs);
  }

  /** What was said to a port since the last look, by its letters; MIDI as "midi". */
  said(port: number): string[] {
    const own = this.out.filter((d) => d.port === port || d.port === port + 1);
    for (const d of own) this.out.splice(this.out.indexOf(d), 1);
    return own.map(({ bytes }) => readSessionPacket(bytes)?.kind ?? "midi");
  }

  join(port: number, ssrc: number, name = `Peer ${ssrc}`, token = ssrc * 7): void {
    this.say("control", port, { kind: "invite", token, ssrc, name });
    this.say("data", port, { kind: "invite", token, ssrc, name });
  }

  midi(port: number, ssrc: number, sequence: number, ...messages: number[][]): void {
    const items = messages.map((m): ListItem => ({ delta: 0, bytes: Uint8Array.from(m) }));
    const head = { sequence, timestamp: 0, ssrc };
    const packet = writePacket(head, true, writeCommands(items, true), NO_JOURNAL);
    this.session.receive("data", packet, "peer", port + 1, this.nowMs);
  }

  wait(ms: number): void {
    for (const end = this.nowMs + ms; this.nowMs < end; this.nowMs++) this.session.tick(this.nowMs);
  }

  states(): string[] {
    return this.session.reports().map((r) => `${r.name} ${r.state}`);
  }
}

describe("who comes and goes", () => {
  test("a peer that comes back by another port ends what it was by the old one, and is answered at the new", () => {
    const table = new Table();
    table.join(5004, 9);
    table.midi(5004, 9, 1, [0x90, 60, 100]);
    table.join(6004, 9, "Peer 9", 77);
    expect(table.heard).toEqual(["90 3c 64", "80 3c 40"]);
    expect(table.states()).toEqual(["Peer 9 ended", "Peer 9 connected"]);
    table.said(6004);
    table.midi(6004, 9, 1, [0x90, 61, 100]);
    table.say("data", 6004, { kind: "clock", ssrc: 9, count: 0, times: [5n, 0n, 0n] });
    table.wait(50);
    expect(table.said(6004)).toEqual(expect.arrayContaining(["clock", "feedback"]));
    expect(table.heard.at(-1)).toBe("90 3d 64");
  });
  test("only those who are connected take a place; who finds none hears no; a name on the list always finds one", () => {
    const table = new Table({ allowed: ["Prompt corner"] });
    // Those who ask at the first port only, and those who have gone.
    for (let n = 0; n < 200; n++)
      table.say("control", 7000 + 2 * n, { kind: "invite", token: n, ssrc: 5000 + n, name: "Half" });
    for (let n = 0; n < 32; n++) table.join(10_000 + 2 * n, 100 + n);
    expect(table.states().filter((s) => s.endsWith("connected"))).toHaveLength(32);
    table.join(20_000, 900);
    expect(table.said(20_000)).toEqual(["refuse", "refuse"]);
    table.join(20_002, 901, "Prompt corner");
    expect(table.said(20_002)).toEqual(["accept", "accept", "midi"]);
    table.say("control", 10_000, { kind: "bye", token: 700, ssrc: 100, name: "" });
    table.say("control", 10_002, { kind: "bye", token: 707, ssrc: 101, name: "" });
    table.join(20_000, 900);
    expect(table.said(20_000)).toEqual(["accept", "accept", "midi"]);
    expect(table.session.reports().length).toBeLessThan(120);
  });
  test("who asks at the second port without having been let in at the first hears no, and nobody is connected", () => {
    const table = new Table();
    table.say("data", 5004, { kind: "invite", token: 5, ssrc: 9, name: "Hasty" });
    expect([table.said(5004), table.states()]).toEqual([["refuse"], []]);
  });
  test("who was let in and never came, or asked and went away, hears no in the end", () => {
    const table = new Table();
    table.say("control", 5004, { kind: "invite", token: 5, ssrc: 9, name: "Slow" });
    expect(table.said(5004)).toEqual(["accept"]);
    table.wait(31_000);
    expect(table.said(5004)).toEqual(["refuse"]);
  });
  test.each<[string, number, Partial<SessionPacket>]>([
    ["with another token", 5004, { token: 1 } as never],
    ["from another port", 9000, {}],
    ["of another number", 5004, { ssrc: 10 } as never],
  ])("a parting %s parts nobody", (_, port, more) => {
    const table = new Table();
    table.join(5004, 9);
    table.say("control", port, { kind: "bye", token: 63, ssrc: 9, name: "", ...more } as SessionPacket);
    expect(table.states()).toEqual(["Peer 9 connected"]);
    table.say("control", 5004, { kind: "bye", token: 63, ssrc: 9, name: "" });
    expect(table.states()).toEqual(["Peer 9 ended"]);
  });
  test("times of a clock go back as they came, all 64 bits", () => {
    const table = new Table();
    table.join(5004, 9);
    table.out.length = 0;
    const time = 0xfedc_ba98_7654_3211n;
    table.say("data", 5004, { kind: "clock", ssrc: 9, count: 0, times: [time, 0n, 0n] });
    expect(readSessionPacket(table.out[0]!.bytes)).toMatchObject({ count: 1, times: [time, 10_000n, 0n] });
  });
});

describe("one number out of place (RFC 3550, A.1)", () => {
  const playing = () => {
    const table = new Table();
    table.join(5004, 9);
    for (let n = 1; n <= 3; n++) table.midi(5004, 9, n, [0xb0, 7, n]);
    table.heard.length = 0;
    return table;
  };
  test.each([20, 50, 1000, 5000, 40_000])("does not silence a stream: %i ahead", (ahead) => {
    const table = playing();
    table.midi(5004, 9, 3 + ahead, [0xb0, 8, 1]);
    for (let n = 4; n <= 8; n++) {
      table.midi(5004, 9, n, [0xb0, 7, n]);
      table.wait(2);
    }
    expect(table.heard).toEqual([4, 5, 6, 7, 8].map((n) => `b0 07 0${n}`));
  });
  test.each([20, 1000, 40_000])("two in a row are a stream that goes on there: %i ahead", (ahead) => {
    const table = playing();
    for (let n = 0; n < 3; n++) table.midi(5004, 9, (3 + ahead + n) & 0xffff, [0xb0, 7, 40 + n]);
    expect(table.heard).toEqual(["b0 07 28", "b0 07 29", "b0 07 2a"]);
  });
  test("one alone is believed when nothing else comes", () => {
    const table = playing();
    table.midi(5004, 9, 60, [0xb0, 7, 40]);
    table.wait(100);
    expect(table.heard).toEqual(["b0 07 28"]);
    table.midi(5004, 9, 61, [0xb0, 7, 41]);
    expect(table.heard.at(-1)).toBe("b0 07 29");
  });
  test("a packet that comes late or twice says nothing", () => {
    const table = playing();
    for (const n of [3, 2, 1]) table.midi(5004, 9, n, [0xb0, 7, 99]);
    table.wait(100);
    expect(table.heard).toEqual([]);
  });
});

describe("a peer that never says what has arrived", () => {
  test("gets packets that fit into one piece, whatever is played, and that is told", () => {
    const table = new Table();
    table.join(5004, 9);
    table.out.length = 0;
    let longest = 0;
    let journals = 0;
    for (let n = 0; n < 4000; n++) {
      const channel = n % 16;
      table.session.send(Uint8Array.of(0x90 | channel, n % 128, 1 + (n % 127)), table.nowMs);
      table.session.send(Uint8Array.of(0xb0 | channel, (n * 7) % 120, n % 128), table.nowMs);
      table.session.send(Uint8Array.of(0xa0 | channel, (n * 3) % 128, n % 128), table.nowMs);
      table.wait(1);
    }
    for (const { bytes } of table.out) {
      if (readSessionPacket(bytes)) continue;
      longest = Math.max(longest, bytes.length);
      const head = readPacketHead(bytes)!;
      // The journal stands behind the commands, and is one.
      const list =
        bytes[head.from]! & 0x80
          ? 2 + (((bytes[head.from]! & 0x0f) << 8) | bytes[head.from + 1]!)
          : 1 + (bytes[head.from]! & 0x0f);
      if (readJournal(bytes, head.from + list, head.end)) journals++;
    }
    expect(longest).toBeLessThanOrEqual(1200);
    expect(journals).toBe(table.out.filter((d) => !readSessionPacket(d.bytes)).length);
    expect(table.session.reports()[0]).toMatchObject({ isUnanswered: true });
  });
  test("is told of the last two seconds, and then of nothing more", () => {
    const sender = new StreamSender(1, 0);
    let packets = 0;
    let last = 0;
    for (let ms = 0; ms < 20_000; ms++) {
      if (ms < 100) sender.add(Uint8Array.of(0xb0, 7, ms), ms);
      const out = sender.flush(ms);
      packets += out.length;
      if (out.length > 0) last = ms;
    }
    expect([sender.isUnanswered, packets < 120, last < 2300]).toEqual([true, true, true]);
  });
  test("one that answers is not called so", () => {
    const sender = new StreamSender(1, 0);
    for (let n = 0; n < 50; n++) {
      sender.add(Uint8Array.of(0xb0, 7, n), n);
      sender.flush(n);
      sender.acknowledge(n & 0xffff);
    }
    expect(sender.isUnanswered).toBe(false);
  });
});

describe("what is written to a parameter", () => {
  const list = (packet: Uint8Array) => {
    const { from } = readPacketHead(packet)!;
    return hexOf(packet.subarray(from + 1, from + 1 + (packet[from]! & 0x0f)));
  };
  test("has its number before it again, until the peer has said that it knows it", () => {
    const sender = new StreamSender(1, 0);
    for (const [c, v] of [
      [99, 1],
      [98, 2],
    ] as const)
      sender.add(Uint8Array.of(0xb0, c, v), 0);
    sender.flush(0);
    sender.add(Uint8Array.of(0xb0, 6, 5), 1);
    expect(list(sender.flush(1)[0]!)).toBe("b0 63 01 00 62 02 00 06 05");
    sender.acknowledge(1);
    sender.add(Uint8Array.of(0xb0, 6, 6), 2);
    expect(list(sender.flush(2)[0]!)).toBe("b0 06 06");
  });
});
