import { EventEmitter, once } from "node:events";
import { describe, expect, test } from "vitest";
import { CablePort, Cables } from "./cables.ts";

function end(cables: Cables, name: string, input: boolean, onMessage: (bytes: Uint8Array) => void = () => {}) {
  const events = new EventEmitter();
  const heard: number[][] = [];
  const port = new CablePort(
    cables,
    { name, input },
    {
      message: (bytes) => {
        heard.push([...bytes]);
        onMessage(bytes);
        events.emit("message");
      },
      refused: () => {},
      state: (state) => events.emit(state.state),
    },
  );
  port.open();
  return { port, events, heard };
}

describe("cables inside the program", () => {
  test("bring every message to everybody who listens at the other end, in order, and to nobody else", async () => {
    const cables = new Cables();
    const [one, two, other] = [end(cables, "bells", true), end(cables, "bells", true), end(cables, "drums", true)];
    const { port } = end(cables, "bells", false);
    const bytes = Uint8Array.of(0, 0x90, 36, 127);
    port.send(bytes, 1, 3);
    bytes.fill(1); // the cable has taken a copy
    port.send(Uint8Array.of(0x80, 36, 0), 0, 3);
    expect(one.heard).toEqual([]); // not before this turn is over
    await once(two.events, "message");
    const both = [
      [0x90, 36, 127],
      [0x80, 36, 0],
    ];
    expect([one.heard, two.heard, other.heard]).toEqual([both, both, []]);
    expect([port.counted, one.port.counted.in]).toEqual([{ in: 0, out: 2, dropped: 0, refused: 0 }, 2]);
  });
  test("in a ring go on for ever without holding up anything else, and are cut by closing an end", async () => {
    const cables = new Cables();
    const back = end(cables, "a", false);
    const ring = end(cables, "a", true, (bytes) => back.port.send(bytes, 0, bytes.length));
    back.port.send(Uint8Array.of(0xf8), 0, 1);
    for (let n = 0; n < 20; n++) await new Promise((done) => setImmediate(done));
    expect(ring.port.counted.in).toBeGreaterThan(5);
    await ring.port.close();
    const { in: heard } = ring.port.counted;
    for (let n = 0; n < 3; n++) await new Promise((done) => setImmediate(done));
    expect(ring.port.counted.in).toBe(heard);
  });
  test("drop what is too much at once, count it, and carry the rest", async () => {
    const cables = new Cables();
    const { port } = end(cables, "a", false);
    const listener = end(cables, "a", true);
    for (let n = 0; n < 5000; n++) port.send(Uint8Array.of(0xf8), 0, 1);
    await once(listener.events, "message");
    expect([port.counted, listener.heard.length]).toEqual([{ in: 0, out: 4096, dropped: 904, refused: 0 }, 4096]);
  });
  test("an end that listens cannot send, and a closed end does neither", async () => {
    const cables = new Cables();
    const listener = end(cables, "a", true);
    const { port } = end(cables, "a", false);
    listener.port.send(Uint8Array.of(1), 0, 1);
    await port.close();
    port.send(Uint8Array.of(1), 0, 1);
    expect([listener.port.counted.dropped, port.counted.dropped]).toEqual([1, 1]);
  });
});
