import { beforeEach, describe, expect, test } from "vitest";
import { rowNamesOf } from "../../../tests/rig/row-names.ts";
import { library, mapping, showWith, sound, synth, toggle, vision } from "../../../tests/rig/shows.ts";
import { searchWords } from "../../words/traffic.ts";
import { parseHexBytes } from "../midi/hex.ts";
import { encodeOsc } from "../osc/encode.ts";
import { OUTCOME, type OutcomeCode } from "./outcome.ts";
import { REST_BYTES_KEPT, ROWS_KEPT } from "./row-pieces.ts";
import { decodeTrafficFrame, encodeTrafficFrame } from "./traffic-frame.ts";
import { trafficNames } from "./traffic-names.ts";
import { MOST_REST_BYTES } from "./traffic-rests.ts";
import { DIRECTION_OUT, SIDE_DESK, TrafficRing } from "./traffic-ring.ts";
import { NO_FILTER, type TrafficFilter, TrafficStore, type WordsOf } from "./traffic-store.ts";

const show = showWith([mapping("pad-1", toggle(1), { name: "Lantern" })], {
  desks: [...showWith([]).desks, vision, sound, synth],
});
const names = trafficNames(show, library.profiles);

const rowNames = rowNamesOf(show);
const wordsOf: WordsOf = (entry, control) => searchWords(entry, control, rowNames);

let store: TrafficStore;
let next = 0;
/** Adds a block of rows that `write` puts into a ring. */
function add(write: (ring: TrafficRing) => void): void {
  const ring = new TrafficRing(4096);
  write(ring);
  const block = ring.drain()!;
  store.append(next, 1, block, ring.takeRests());
  next += block.byteLength / 160;
}
const text = (t: string) => new TextEncoder().encode(t);

beforeEach(() => {
  store = new TrafficStore(wordsOf);
  store.setNames(1, names);
  next = 0;
});

describe("the list of traffic", () => {
  beforeEach(() =>
    add((ring) => {
      const long = (flags: number, device: number, bytes: Uint8Array, code: OutcomeCode, mapping = -1, subject = -1) =>
        ring.outcome(ring.long(1000, flags, device, bytes, 0, bytes.length), code, mapping, subject, 1, 0, 0);
      ring.outcome(ring.short(1000, 0, 0, 0x90, 36, 127, 3), OUTCOME.sent, 0, 0, 1, 0, 0); // 0: pad 1
      long(DIRECTION_OUT | SIDE_DESK, 0, encodeOsc({ kind: "message", address: "/ask", args: [] }), OUTCOME.upkeep); // 1
      ring.outcome(ring.short(1000, 0, 0, 0x90, 37, 127, 3), OUTCOME.noMapping, -1, 1, 0, 0, 0); // 2: pad 2
      long(SIDE_DESK, 1, text('at name 2 "Buoy camera"'), OUTCOME.reported); // 3
      long(DIRECTION_OUT | SIDE_DESK, 3, parseHexBytes("F0 7D 01 F7")!, OUTCOME.action); // 4
      ring.outcome(ring.short(1000, 0, 0, 0xb0, 20, 64, 3), OUTCOME.noControl, -1, -1, 0, 0, 0); // 5
      long(SIDE_DESK, 2, text("meters"), OUTCOME.stream); // 6
    }),
  );
  const found = (filter: Partial<TrafficFilter>) => {
    store.setFilter({ ...NO_FILTER, ...filter });
    return store.all().map((e) => e.seq);
  };
  test.each<[string, Partial<TrafficFilter>, number[]]>([
    ["everything but heartbeats and meters", {}, [0, 2, 3, 4, 5]],
    ["with them", { upkeep: true }, [0, 1, 2, 3, 4, 5, 6]],
    ["only out", { ways: "out", upkeep: true }, [1, 4]],
    ["one device", { device: "lights", upkeep: true }, [1]],
    ["one control", { control: "pad-2" }, [2]],
    ["notes", { kind: "note" }, [0, 2]],
    ["controllers", { kind: "controller" }, [5]],
    ["SysEx", { kind: "sysex" }, [4]],
    ["lines", { kind: "line" }, [3]],
    ["OSC", { kind: "osc", upkeep: true }, [1, 6]],
    ["bytes in hex", { text: "90 25" }, [2]],
    ["a note by name", { text: "c1" }, [0]],
    ["a number in decimal", { text: "note 37" }, [2]],
    ["a control by name", { text: "pad 1" }, [0]],
    ["a mapping by name", { text: "lantern" }, [0]],
    ["what became of it", { text: "not mapped" }, [2]],
    ["an address", { text: "/ask", upkeep: true }, [1]],
    ["a word of a line", { text: "buoy" }, [3]],
    ["nothing", { text: "moon" }, []],
  ])("%s", (_name, filter, wanted) => {
    expect(found(filter)).toEqual(wanted);
  });
  test("the newest stand first, a window at a time", () => {
    found({ upkeep: true });
    expect(store.window(1, 2).map((e) => e.seq)).toEqual([5, 4]);
    expect(store.window(6, 10).map((e) => e.seq)).toEqual([0]);
    expect(store.window(20, 10)).toEqual([]);
  });
  test("a browser’s refused message stands among them", () => {
    store.appendRefused(next, { atMs: 5, reason: "nonsense", hex: "7b7d", length: 2 });
    expect(store.window(0, 1)[0]).toMatchObject({ side: "browser", code: OUTCOME.refused, seq: 7 });
    expect(found({ device: "deck" })).toEqual([0, 2, 5]);
  });
});

describe("two hundred thousand rows", () => {
  const press = (count: number) =>
    add((ring) => {
      for (let i = 0; i < count; i++)
        ring.outcome(ring.short(next + i, 0, 0, 0x90, 36 + (i % 2), 127, 3), OUTCOME.sent, 0, i % 2, 1, 0, 0);
    });
  test("are kept, the oldest go, and any of them is found", () => {
    for (let n = 0; n < 60; n++) press(4000);
    expect([store.kept, store.matched]).toEqual([ROWS_KEPT, ROWS_KEPT]);
    expect(store.window(ROWS_KEPT - 1, 5).map((e) => e.seq)).toEqual([40_000]);
    store.setFilter({ ...NO_FILTER, text: "note 37" });
    expect(store.matched).toBe(ROWS_KEPT / 2);
    expect(store.window(0, 1)[0]).toMatchObject({ seq: 239_999, control: "pad-2" });
  });
  test("while the list is held nothing of it is lost, and what comes is counted", () => {
    for (let n = 0; n < 50; n++) press(4000);
    store.hold(true);
    for (let n = 0; n < 30; n++) press(4000);
    expect([store.matched, store.waiting, store.kept]).toEqual([ROWS_KEPT, 120_000, 320_000]);
    expect(store.window(ROWS_KEPT - 1, 1)[0]!.seq).toBe(0);
    store.hold(false);
    expect([store.kept, store.matched, store.waiting]).toEqual([ROWS_KEPT, ROWS_KEPT, 0]);
  });
  test("rows that are told a second time are not doubled", () => {
    press(10);
    const before = next;
    next = 4;
    press(10);
    expect([before, store.kept, store.matched]).toEqual([10, 14, 14]);
  });
});

describe("messages that are longer than a row", () => {
  const long = (length: number, seed: number) => Uint8Array.from({ length }, (_, i) => (i * 7 + seed) & 255);
  const bytesOf = (entries: readonly { hex: string }[]) => entries.map((e) => parseHexBytes(e.hex)!);
  const write = (ring: TrafficRing, bytes: Uint8Array) =>
    ring.outcome(ring.long(1000, SIDE_DESK, 0, bytes, 0, bytes.length), OUTCOME.reported, -1, -1, 0, 0, 0);

  test("are whole where all is asked for, and only begun in what is looked at", () => {
    const messages = [long(97, 1), long(96, 2), long(3000, 3)];
    add((ring) => {
      for (const bytes of messages) write(ring, bytes);
    });
    expect(bytesOf(store.all())).toEqual(messages);
    expect(bytesOf(store.window(0, 3)).map((b) => b.length)).toEqual([96, 96, 96]);
  });
  test("that leave from a block of words are whole too", () => {
    const words = new Int32Array(64).map((_, i) => i * 0x01020304);
    add((ring) => {
      ring.toDesk(1000, 0, words, 16, 201, OUTCOME.action, 0, 0, 0, 0, 0);
      ring.toDesk(1000, 0, words, 8, 100, OUTCOME.action, 0, 0, 0, 0, 0);
    });
    const all = new Uint8Array(words.buffer);
    expect(bytesOf(store.all())).toEqual([all.slice(16, 217), all.slice(8, 108)]);
  });
  test("over the live socket, joined with those of other blocks", () => {
    const ring = new TrafficRing(16);
    const blocks: Uint8Array[] = [];
    const rests: ArrayBuffer[] = [];
    const messages = [long(500, 4), long(101, 5)];
    for (const bytes of messages) {
      write(ring, bytes);
      blocks.push(ring.drain()!);
      rests.push(ring.takeRests()!);
    }
    const frame = encodeTrafficFrame({ log: 1, first: 0, load: 1 }, blocks, rests);
    const back = decodeTrafficFrame(frame.buffer as ArrayBuffer)!;
    store.append(0, 1, back.rows, back.rests);
    expect(bytesOf(store.all())).toEqual(messages);
  });
  test("beyond what is kept of them the rows stay, and only their beginnings", () => {
    const size = MOST_REST_BYTES - 64;
    const blocks = Math.ceil(REST_BYTES_KEPT / size) + 1;
    for (let n = 0; n < blocks; n++) add((ring) => write(ring, new Uint8Array(size)));
    // Two were too many: they hold a little less than what is kept is a multiple of.
    expect(store.all([0, 1, 2, blocks - 1]).map((e) => e.hex.length / 2)).toEqual([96, 96, size, size]);
  });
  test("that come faster than they are taken are begun, and counted on as ever", () => {
    add((ring) => {
      write(ring, long(MOST_REST_BYTES, 1));
      write(ring, long(150, 2));
      write(ring, long(MOST_REST_BYTES, 3));
    });
    expect(store.all().map((e) => e.hex.length / 2)).toEqual([MOST_REST_BYTES, 150, 96]);
  });
});

describe("rows that are chosen", () => {
  beforeEach(() =>
    add((ring) => {
      for (let i = 0; i < 8; i++)
        ring.outcome(ring.short(i, 0, 0, 0x90, 36 + (i % 2), 127, 3), OUTCOME.sent, 0, i % 2, 1, 0, 0);
    }),
  );
  test("come oldest first, whatever the filter is now", () => {
    store.setFilter({ ...NO_FILTER, control: "pad-2" });
    expect(store.all([6, 1, 3]).map((e) => e.seq)).toEqual([1, 3, 6]);
    expect(store.all([99])).toEqual([]);
  });
  test("from one row to another are those that pass, in either order", () => {
    store.setFilter({ ...NO_FILTER, control: "pad-2" });
    expect([store.between(1, 6), store.between(7, 4), store.between(2, 2)]).toEqual([[1, 3, 5], [5, 7], []]);
  });
  test("while the list is held, nothing that came since is between", () => {
    store.hold(true);
    add((ring) => ring.outcome(ring.short(9, 0, 0, 0x90, 36, 127, 3), OUTCOME.sent, 0, 0, 1, 0, 0));
    expect(store.between(6, 99)).toEqual([6, 7]);
  });
});

describe("messages a second", () => {
  test("by device and direction, counted once whatever the filter", () => {
    add((ring) => {
      for (const [ms, count] of [
        [60_000, 3],
        [61_000, 5],
        [62_000, 1],
      ] as const)
        for (let i = 0; i < count; i++)
          ring.outcome(ring.short(ms + i, 0, 0, 0x90, 36, 127, 3), OUTCOME.sent, 0, 0, 1, 0, 0);
    });
    store.setFilter({ ...NO_FILTER, text: "nothing like this" });
    const [rate] = store.rates();
    expect([rate!.device, rate!.out, rate!.perS.slice(-3)]).toEqual(["deck", false, [0, 3, 5]]);
  });
});

describe("rows on the live socket", () => {
  test("are read back as they were sent, with their head", () => {
    const ring = new TrafficRing(16);
    ring.outcome(ring.short(5, 0, 0, 0x90, 36, 127, 3), OUTCOME.sent, 0, 0, 1, 0, 0);
    const block = ring.drain()!;
    const frame = encodeTrafficFrame({ log: 1, first: 7, load: 2, names: { é: 1 } }, [block], []);
    const back = decodeTrafficFrame(frame.buffer as ArrayBuffer)!;
    expect([back.head, new Uint8Array(back.rows)]).toEqual([
      { log: 1, first: 7, load: 2, names: { é: 1 } },
      new Uint8Array(block),
    ]);
  });
  test.each([
    ["nothing", new Uint8Array(0)],
    ["a length beyond its end", Uint8Array.of(255, 0, 0, 0, 1)],
    ["a head that is no JSON", Uint8Array.of(2, 0, 0, 0, 120, 120, 0, 0)],
    ["a head of another kind", encodeTrafficFrame({ log: 1, first: -1, load: 0 }, [], [])],
    ["more beside the rows than there is", encodeTrafficFrame({ log: 1, first: 0, load: 0, rests: 64 }, [], [])],
  ])("%s is refused", (_name, bytes) => {
    expect(decodeTrafficFrame(Uint8Array.from(bytes).buffer)).toBeNull();
  });
});
