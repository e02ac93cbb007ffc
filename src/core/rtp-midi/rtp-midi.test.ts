import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { type ListItem, readCommands, writeCommands } from "./commands.ts";
import { HeardState } from "./heard-state.ts";
import { type ControllerLog, type Journal, readJournal, writeJournal } from "./journal.ts";
import { readPacketHead, writePacket } from "./packet.ts";
import { SentHistory } from "./sent-history.ts";
import { SysExGathering, segmentsOf } from "./sysex-segments.ts";

const bytes = (hex: string) => Uint8Array.from(hex.split(" "), (x) => Number.parseInt(x, 16));
const hexOf = (list: Uint8Array) => [...list].map((b) => b.toString(16).padStart(2, "0")).join(" ");
const item = (delta: number, hex: string): ListItem => ({ delta, bytes: bytes(hex) });
const read = (hex: string) => readCommands(bytes(hex), 0)?.items.map((i) => `${i.delta}: ${hexOf(i.bytes)}`) ?? null;

describe("the packet (RFC 3550, 5.1; RFC 6295, 2.1)", () => {
  test("the head says which, when and who; the marker, that there are commands", () => {
    const packet = writePacket(
      { sequence: 0x1234, timestamp: 0x89abcdef, ssrc: 0xf5aa1122 },
      true,
      bytes("03 90 3c 40"),
    );
    expect(hexOf(packet)).toBe("80 e1 12 34 89 ab cd ef f5 aa 11 22 03 90 3c 40");
    expect(readPacketHead(packet)).toEqual({
      sequence: 0x1234,
      timestamp: 0x89abcdef,
      ssrc: 0xf5aa1122,
      from: 12,
      end: 16,
    });
  });

  test.each([
    ["another version", "40 61 00 01 00 00 00 00 00 00 00 01 00"],
    ["another kind of payload", "80 60 00 01 00 00 00 00 00 00 00 01 00"],
    ["no payload", "80 61 00 01 00 00 00 00 00 00 00 01"],
    ["an extension that is not there", "90 61 00 01 00 00 00 00 00 00 00 01 00"],
    ["more padding than packet", "a0 61 00 01 00 00 00 00 00 00 00 01 00 ff"],
  ])("%s is refused", (_, hex) => expect(readPacketHead(bytes(hex))).toBeNull());

  test("sources, an extension and padding are passed over", () => {
    const hex = "b1 61 00 01 00 00 00 00 00 00 00 01 00 00 00 02 be de 00 01 aa bb cc dd 03 90 3c 40 00 02";
    expect(readPacketHead(bytes(hex))).toMatchObject({ from: 24, end: 28 });
  });
});

describe("the list of commands (RFC 6295, 3)", () => {
  test("a short list has its length in the head; the first command needs no time", () => {
    expect(hexOf(writeCommands([item(0, "90 3c 40")], true))).toBe("43 90 3c 40");
    expect(read("03 90 3c 40")).toEqual(["0: 90 3c 40"]);
  });

  test("times stand between commands, in one to four octets (3.1), and before the first where flag Z says so", () => {
    const list = [item(5, "90 3c 40"), item(0x7f, "b0 07 01"), item(0x80, "80 3c 40"), item(0x0f_ff_ff_ff, "f8")];
    const section = writeCommands(list, false);
    expect(hexOf(section)).toBe("a0 12 05 90 3c 40 7f b0 07 01 81 00 80 3c 40 ff ff ff 7f f8");
    expect(readCommands(section, 0)?.items).toEqual(list);
  });

  test("running status is used and understood; real-time does not end it, system common does (3.2)", () => {
    expect(hexOf(writeCommands([item(0, "90 3c 40"), item(1, "90 3e 40")], false))).toBe("06 90 3c 40 01 3e 40");
    expect(read("08 90 3c 40 00 f8 01 3e 40")).toEqual(["0: 90 3c 40", "0: f8", "1: 90 3e 40"]);
    expect(read("08 90 3c 40 00 f6 01 3e 40")).toBeNull();
  });

  test("a list may be empty, and may end with a time", () => {
    expect(read("00")).toEqual([]);
    expect(read("04 90 3c 40 05")).toEqual(["0: 90 3c 40"]);
  });

  test.each([
    ["it is longer than the packet", "04 90 3c 40"],
    ["a command ends too early", "02 90 3c"],
    ["data without a status", "02 3c 40"],
    ["a status among the data", "03 90 bc 40"],
    ["a time of five octets", "2f ff ff ff ff 7f 90 3c 40 00 00 00 00 00 00 00"],
    ["a command that does not exist", "01 f4"],
    ["SysEx that never ends", "03 f0 01 02"],
    ["SysEx with a note inside", "05 f0 01 90 3c f7"],
  ])("refused: %s", (_, hex) => expect(read(hex)).toBeNull());

  test("whatever is written is read again", () => {
    const message = fc.oneof(
      fc.tuple(fc.integer({ min: 0x80, max: 0xbf }), byte7(), byte7()),
      fc.tuple(fc.integer({ min: 0xc0, max: 0xdf }), byte7()),
      fc.tuple(fc.integer({ min: 0xe0, max: 0xef }), byte7(), byte7()),
      fc.constantFrom([0xf1, 3], [0xf2, 1, 2], [0xf3, 4], [0xf6], [0xf8], [0xfe], [0xff], [0xf0, 1, 2, 0xf7]),
    );
    const entry = fc.tuple(fc.integer({ min: 0, max: 0x0f_ff_ff_ff }), message);
    fc.assert(
      fc.property(fc.array(entry, { maxLength: 60 }), fc.boolean(), (list, hasJournal) => {
        const items = list.map(([delta, m]): ListItem => ({ delta, bytes: Uint8Array.from(m) }));
        const section = writeCommands(items, hasJournal);
        expect(readCommands(section, 0)).toEqual({ items, hasJournal, end: section.length });
      }),
    );
  });
});

function byte7() {
  return fc.integer({ min: 0, max: 127 });
}

describe("long messages in segments (RFC 6295, 3.2)", () => {
  test("the first ends with F0, those between begin with F7 and end with F0, the last ends with F7", () => {
    const parts = segmentsOf(bytes("f0 01 02 03 04 05 f7"), 2);
    expect(parts.map(hexOf)).toEqual(["f0 01 02 f0", "f7 03 04 f0", "f7 05 f7"]);
  });

  test("a message of any length comes together again", () => {
    fc.assert(
      fc.property(fc.array(byte7(), { maxLength: 300 }), fc.integer({ min: 1, max: 64 }), (data, most) => {
        const message = Uint8Array.of(0xf0, ...data, 0xf7);
        const gathering = new SysExGathering();
        const whole = segmentsOf(message, most).map((p) => gathering.take(p));
        expect(whole.at(-1)).toEqual(message);
        expect(whole.slice(0, -1).every((w) => w === null)).toBe(true);
      }),
    );
  });

  test.each([
    ["cancelled", ["f0 01 f0", "f7 f4"]],
    ["its beginning is lost", ["f7 01 f0", "f7 02 f7"]],
  ])("nothing comes of it: %s", (_, parts) => {
    const gathering = new SysExGathering();
    expect(parts.map((p) => gathering.take(bytes(p))).every((w) => w === null)).toBe(true);
  });

  test("an end that was dropped at the source (F5) is put back", () => {
    expect(hexOf(new SysExGathering().take(bytes("f0 01 02 f5"))!)).toBe("f0 01 02 f7");
  });
});

describe("the recovery journal (RFC 6295, 5 and appendix A)", () => {
  /** Bytes worked out by hand from the figures of the appendix. */
  const FIGURES: [string, string, Omit<Journal["channels"][number], "channel">][] = [
    ["A.2 chapter P: with its bank", "05 81 02", { program: { isOld: false, program: 5, bank: { msb: 1, lsb: 2 } } }],
    ["A.2 chapter P: without a bank", "85 00 00", { program: { isOld: true, program: 5, bank: null } }],
    [
      "A.3 chapter C: value, toggle and count",
      "02 07 40 c0 81 fb c2",
      {
        controllers: [
          { controller: 7, tool: "value", value: 64, isOld: false },
          { controller: 64, tool: "toggle", value: 1, isOld: true },
          { controller: 123, tool: "count", value: 2, isOld: true },
        ],
      },
    ],
    [
      "A.4 chapter M: RPN 0 has 2 and is named still",
      "20 06 00 00 82 02",
      {
        parameters: {
          isOld: false,
          isOpen: true,
          logs: [{ isOld: false, registered: true, number: 0, msb: 2, lsb: -1, steps: 0 }],
        },
      },
    ],
    [
      "A.4 chapter M: NRPN 130 with both halves and two steps down, then half of another number",
      "40 0a 85 82 81 e2 01 02 80 02",
      {
        parameters: {
          isOld: false,
          pending: { registered: false, msb: 5 },
          isOpen: false,
          logs: [{ isOld: true, registered: false, number: 130, msb: 1, lsb: 2, steps: -2 }],
        },
      },
    ],
    ["A.5 chapter W: the middle", "00 40", { bend: { value: 8192, isOld: false } }],
    [
      "A.6 chapter N: one note on, two let go",
      "01 79 bc e4 10 00 40",
      {
        notes: {
          on: [{ note: 60, velocity: 100, play: true, isOld: true }],
          off: [59, 73],
          areOffOld: false,
        },
      },
    ],
    [
      "A.6 chapter N: notes on, none let go",
      "81 f1 3c e4",
      { notes: { on: [{ note: 60, velocity: 100, play: true, isOld: false }], off: [], areOffOld: true } },
    ],
    ["A.8 chapter T", "85", { pressure: { value: 5, isOld: true } }],
    ["A.9 chapter A", "00 3c 07", { keyPressures: [{ note: 60, value: 7, isOld: false }] }],
  ];
  const FLAGS: Record<string, number> = { P: 0x80, C: 0x40, M: 0x20, W: 0x10, N: 0x08, T: 0x02, A: 0x01 };

  test.each(FIGURES)("%s", (name, chapter, told) => {
    const letter = /chapter (\w)/.exec(name)![1]!;
    const content = bytes(chapter);
    const length = 3 + content.length;
    const journal = Uint8Array.of(0x20, 0x12, 0x34, 2 << 3, length, FLAGS[letter]!, ...content);
    const found = readJournal(journal, 0, journal.length);
    expect(found).toEqual({ checkpoint: 0x1234, channels: [{ channel: 2, ...told }] });
    const written = writeJournal(found!);
    expect(hexOf(written.subarray(5))).toBe(hexOf(journal.subarray(5)));
  });

  /** Appendix B: the system journal, worked out by hand from its figures. */
  const SYSTEM: [string, string, NonNullable<Journal["system"]>][] = [
    [
      "B.1 chapter D: a tune request and a song",
      "40 05 30 81 04",
      { tunes: { isOld: true, count: 1 }, song: { isOld: false, number: 4 } },
    ],
    [
      "B.3 chapter Q: started, no clock yet",
      "10 03 40",
      { sequencer: { isOld: false, isRunning: true, hasBegun: false, clocks: 0 } },
    ],
    [
      "B.3 chapter Q: stopped at clock 70,000",
      "10 05 31 11 70",
      { sequencer: { isOld: false, isRunning: false, hasBegun: true, clocks: 70_000 } },
    ],
    [
      "B.5 chapter X: a cue, the last octet of it marked",
      "04 0a 2f 01 7f 01 02 01 01 b1",
      { sysEx: [{ isOld: false, count: 1, message: bytes("f0 7f 01 02 01 01 31 f7") }] },
    ],
  ];
  test.each(SYSTEM)("%s", (_, hex, system) => {
    const journal = Uint8Array.of(0x40, 0x12, 0x34, ...bytes(hex));
    expect(readJournal(journal, 0, journal.length)).toEqual({ checkpoint: 0x1234, channels: [], system });
    expect(hexOf(writeJournal({ checkpoint: 0x1234, channels: [], system }))).toBe(hexOf(journal));
  });

  test("128 notes that are on are told with LEN 127, LOW 15 and HIGH 0; 127 with HIGH 1 (A.6.1)", () => {
    for (const count of [127, 128]) {
      const on = Array.from({ length: count }, (_, note) => ({ note, velocity: 1, play: true, isOld: false }));
      const journal: Journal = { checkpoint: 1, channels: [{ channel: 0, notes: { on, off: [], areOffOld: true } }] };
      const written = writeJournal(journal);
      expect([written[6]! & 0x7f, written[7]]).toEqual([127, count === 128 ? 0xf0 : 0xf1]);
      expect(readJournal(written, 0, written.length)).toEqual(journal);
    }
  });

  test("a chapter M or a system journal that cannot be read tells nothing, and chapter E is passed over", () => {
    const system = "00 04 aa bb";
    // M: two octets of head and two of content; E: one log; T.
    const channel = "00 0b 26 00 04 11 22 00 3c 05 09";
    const journal = bytes(`60 00 01 ${system} ${channel}`);
    expect(readJournal(journal, 0, journal.length)).toEqual({
      checkpoint: 1,
      channels: [{ channel: 0, pressure: { value: 9, isOld: false } }],
    });
    expect(readJournal(journal, 0, journal.length - 1)).toBeNull();
  });

  test("flag S of the whole is set only where nothing in it was in the packet before (5)", () => {
    const history = new SentHistory();
    history.add(bytes("b0 07 40"), 10);
    history.add(bytes("e0 00 20"), 11);
    expect(writeJournal(history.journal(10, 12))[0]! & 0x80).toBe(0);
    expect(writeJournal(history.journal(10, 13))[0]! & 0x80).toBe(0x80);
  });

  test("what has arrived is not told again", () => {
    const history = new SentHistory();
    history.add(bytes("b0 07 40"), 10);
    history.add(bytes("90 3c 40"), 11);
    history.forget(10);
    expect(history.journal(11, 12).channels).toMatchObject([{ notes: { on: [{ note: 60 }] } }]);
    history.forget(11);
    expect(history.isEmpty).toBe(true);
    expect(hexOf(writeJournal(history.journal(12, 12)))).toBe("80 00 0c");
  });

  test("any journal that is written is read again", () => {
    const told = { isOld: fc.boolean() };
    const unique = <T extends object>(key: keyof T, of: fc.Arbitrary<T>): fc.Arbitrary<T[]> =>
      fc.uniqueArray(of, { minLength: 1, maxLength: 40, selector: (x) => x[key] });
    const controllerLog: fc.Arbitrary<ControllerLog> = fc.record({
      ...told,
      controller: byte7(),
      tool: fc.constant("value"),
      value: byte7(),
    });
    const keyPressure: fc.Arbitrary<{ note: number; value: number; isOld: boolean }> = fc.record({
      ...told,
      note: byte7(),
      value: byte7(),
    });
    const channel = fc.record(
      {
        program: fc.record({
          ...told,
          program: byte7(),
          bank: fc.option(fc.record({ msb: byte7(), lsb: byte7() })),
        }),
        bend: fc.record({ ...told, value: fc.integer({ min: 0, max: 16_383 }) }),
        pressure: fc.record({ ...told, value: byte7() }),
        controllers: unique("controller", controllerLog),
        keyPressures: unique("note", keyPressure),
      },
      { requiredKeys: [] },
    );
    fc.assert(
      fc.property(fc.array(channel, { minLength: 1, maxLength: 16 }), (list) => {
        const journal = { checkpoint: 7, channels: list.map((c, i) => ({ channel: i, ...c })) };
        const written = writeJournal(journal);
        expect(readJournal(written, 0, written.length)).toEqual(journal);
        for (let end = 0; end < written.length; end++) expect(readJournal(written, 0, end)).toBeNull();
      }),
      { numRuns: 50 },
    );
  });
});

describe("what a journal puts right", () => {
  /** Says `lost` into a history whose other end has heard only `before`. */
  // Every end has heard something before: what came before the first packet is nobody's loss.
  function repaired(before: string[], lost: string[]): string[] {
    const history = new SentHistory();
    const heard = new HeardState();
    for (const [i, m] of [...before, ...lost].entries()) history.add(bytes(m), i);
    for (const m of before) heard.hear(bytes(m));
    const said: string[] = [];
    heard.repair(history.journal(0, before.length + lost.length), (m) => said.push(hexOf(m)));
    return said;
  }

  test.each([
    ["a release is made up for", ["90 3c 40"], ["80 3c 40"], ["80 3c 40"]],
    ["a release as a note of velocity 0", ["90 3c 40"], ["90 3c 00"], ["80 3c 40"]],
    ["a press is made up for", [], ["90 3c 40"], ["90 3c 40"]],
    ["a press that was let go of is not played", [], ["90 3c 40", "80 3c 40"], []],
    ["a note played anew with another velocity", ["90 3c 40"], ["80 3c 40", "90 3c 50"], ["80 3c 40", "90 3c 50"]],
    ["of a fader the newest", ["b0 07 10"], ["b0 07 20", "b0 07 30"], ["b0 07 30"]],
    ["what is as it should be stays", ["b0 07 30", "e0 00 20"], ["b0 07 30", "e0 00 20"], []],
    ["a program with its bank", [], ["b0 00 01", "b0 20 02", "c0 05"], ["b0 00 01", "b0 20 02", "c0 05"]],
    ["a bank that was chosen after the program", [], ["c0 05", "b0 00 01"], ["c0 05", "b0 00 01"]],
    ["a bend", [], ["e0 7f 7f"], ["e0 7f 7f"]],
    ["pressures", [], ["d0 05", "a0 3c 06"], ["d0 05", "a0 3c 06"]],
    ["all notes off, twice in the same words", ["b0 7b 00"], ["b0 7b 00"], ["b0 7b 00"]],
    ["all notes off lets go", ["90 3c 40"], ["b0 7b 00"], ["b0 7b 00"]],
    ["what was set after a reset holds", [], ["b0 01 10", "b0 79 00", "b0 01 20"], ["b0 79 00", "b0 01 20"]],
    [
      "a parameter's number comes before its value",
      [],
      ["b0 65 00", "b0 64 01", "b0 06 40"],
      ["b0 65 00", "b0 64 01", "b0 06 40"],
    ],
    [
      "a value goes to its own parameter, whatever was named before",
      ["b0 65 00", "b0 64 00", "b0 06 02"],
      ["b0 63 00", "b0 62 05", "b0 06 0a"],
      ["b0 63 00", "b0 62 05", "b0 06 0a"],
    ],
    ["the parameter that is named now", ["b0 65 00", "b0 64 00"], ["b0 64 01"], ["b0 65 00", "b0 64 01"]],
    ["half of a number", [], ["b0 63 05"], ["b0 63 05"]],
    [
      "none that is named any more",
      ["b0 65 00", "b0 64 00", "b0 06 02"],
      ["b0 65 7f", "b0 64 7f"],
      ["b0 65 7f", "b0 64 7f"],
    ],
    ["steps", ["b0 65 00", "b0 64 00"], ["b0 60 7f", "b0 60 7f", "b0 61 7f"], ["b0 60 7f"]],
    ["a bank whose upper half was never said", [], ["b0 20 02", "c0 05"], ["b0 00 00", "b0 20 02", "c0 05"]],
    [
      "pressure of notes that are all off says nothing",
      ["90 3c 40", "d0 05"],
      ["d0 7f", "a0 3c 07", "b0 7b 00"],
      ["b0 7b 00"],
    ],
    ["a cue of show control", ["f0 7f 01 02 01 01 31 f7"], ["f0 7f 01 02 01 01 32 f7"], ["f0 7f 01 02 01 01 32 f7"]],
    ["the same cue twice", ["f0 7f 01 02 01 01 f7"], ["f0 7f 01 02 01 01 f7"], ["f0 7f 01 02 01 01 f7"]],
    ["a start", [], ["fa"], ["fa"]],
    ["a start with its clocks", [], ["fa", "f8", "f8"], ["fa", "f8", "f8"]],
    ["a stop", ["fa"], ["fc"], ["fc"]],
    ["a clock", ["fa", "f8"], ["f8", "f8"], ["f8", "f8"]],
    ["going on from a place", [], ["f2 10 01", "fb"], ["f2 10 01", "fb"]],
    ["a song, a tune request, a reset", [], ["f3 04", "f6", "ff"], ["ff", "f6", "f3 04"]],
  ])("%s", (_, before, lost, said) => expect(repaired(before, lost)).toEqual(said));

  test("a pedal that is told by its turns (A.3.2)", () => {
    const heard = new HeardState();
    heard.hear(bytes("b0 40 7f"));
    const said: string[] = [];
    const tell = (value: number) =>
      heard.repair(
        {
          checkpoint: 0,
          channels: [{ channel: 0, controllers: [{ controller: 64, tool: "toggle", value, isOld: false }] }],
        },
        (m) => said.push(hexOf(m)),
      );
    tell(1);
    tell(2);
    tell(2);
    expect(said).toEqual(["b0 40 00"]);
  });

  const controllerOf = (...numbers: number[]) =>
    fc.tuple(fc.constant(0xb0), fc.constantFrom(...numbers), byte7()).map((m) => Uint8Array.from(m));
  const anyMessage = fc.oneof(
    fc
      .tuple(fc.constantFrom(0x80, 0x90), fc.integer({ min: 60, max: 62 }), fc.integer({ min: 1, max: 127 }))
      .map((m) => Uint8Array.from(m)),
    controllerOf(0, 32, 7, 64),
    controllerOf(6, 38),
    fc
      .tuple(fc.constant(0xb0), fc.constantFrom(98, 99, 100, 101), fc.constantFrom(0, 1, 127))
      .map((m) => Uint8Array.from(m)),
    controllerOf(96, 97),
    controllerOf(121, 123),
    fc.tuple(fc.constantFrom(0xc0, 0xd0), byte7()).map((m) => Uint8Array.from(m)),
    fc.tuple(fc.constant(0xe0), byte7(), byte7()).map((m) => Uint8Array.from(m)),
    fc.constantFrom([0xfa], [0xfb], [0xfc], [0xf8], [0xf8], [0xf3, 1], [0xf3, 2]).map((m) => Uint8Array.from(m)),
    fc.nat(2).map((cue) => bytes(`f0 7f 01 02 01 01 3${cue} f7`)),
  );
  /** What an instrument and a show stand at after these messages. */
  function stands(messages: readonly Uint8Array[]): object {
    const state = {
      notes: new Set<number>(),
      controllers: new Map<number, number>(),
      program: "",
      bank: [0, 0],
      bend: -1,
      pressure: -1,
    };
    const parameters = new Map<string, { msb: number; lsb: number; steps: number }>();
    let named = { kind: -1, msb: -1, lsb: -1 };
    const cues: number[] = [];
    let song = -1;
    let runs = false;
    for (const [status = 0, a = 0, b = 0, ...rest] of messages) {
      switch (status) {
        case 0x80:
          state.notes.delete(a);
          break;
        case 0x90:
          state.notes.add(a);
          break;
        case 0xc0:
          state.program = `${a} of ${state.bank}`;
          break;
        case 0xd0:
          state.pressure = a;
          break;
        case 0xe0:
          state.bend = a | (b << 7);
          break;
        case 0xf0:
          cues.push(rest.at(-2)!);
          break;
        case 0xf3:
          song = a;
          break;
        case 0xfa:
        case 0xfb:
          runs = true;
          break;
        case 0xfc:
          runs = false;
          break;
        case 0xb0: {
          const kind = a >= 100 ? 1 : 0;
          const isNamed = named.msb >= 0 && named.lsb >= 0 && (named.msb !== 127 || named.lsb !== 127);
          if (a === 0) state.bank = [b, state.bank[1]!];
          else if (a === 32) state.bank = [state.bank[0]!, b];
          else if (a >= 98 && a <= 101) {
            if (named.kind !== kind) named = { kind, msb: -1, lsb: -1 };
            named = a % 2 === 1 ? { kind, msb: b, lsb: -1 } : { ...named, lsb: b };
          } else if (isNamed && [6, 38, 96, 97].includes(a)) {
            const key = JSON.stringify(named);
            const p = parameters.get(key) ?? { msb: -1, lsb: -1, steps: 0 };
            if (a === 6) parameters.set(key, { msb: b, lsb: -1, steps: 0 });
            else if (a === 38) parameters.set(key, { ...p, lsb: b, steps: 0 });
            else parameters.set(key, { ...p, steps: p.steps + (a === 96 ? 1 : -1) });
          } else if (a === 121) {
            named = { kind: -1, msb: -1, lsb: -1 };
            state.controllers.delete(64);
            state.bend = state.pressure = -1;
          } else if (a === 123) {
            state.notes.clear();
            state.pressure = -1;
          } else if (a === 7 || a === 64) state.controllers.set(a, b);
          break;
        }
        default:
      }
    }
    const isNamed = named.msb >= 0 && named.lsb >= 0 && (named.msb !== 127 || named.lsb !== 127);
    return {
      ...state,
      notes: [...state.notes].sort(),
      controllers: [...state.controllers].sort(),
      // Steps up and down again are none.
      parameters: [...parameters]
        .map(([k, p]) => [k, p.msb, Math.max(0, p.lsb), p.steps])
        .filter(([, msb, lsb, steps]) => msb !== -1 || lsb !== 0 || steps !== 0)
        .sort(),
      named: isNamed ? named : null,
      cues: cues.sort(),
      song,
      runs,
    };
  }
  /** Without second halves of numbers whose first half nobody can know: of the other kind, after the one that names none, or deselected. */
  function sane(packets: [Uint8Array[], boolean][]): [Uint8Array[], boolean][] {
    let halves: [number, number] = [-1, -1];
    let kind = -1;
    return packets.map(([messages, isLost]) => [
      messages.filter(([status, a = 0, b = 0]) => {
        if (status === 0xb0 && a === 121) kind = -1; // it deselects
        if (status !== 0xb0 || a < 98 || a > 101) return true;
        if (a % 2 === 1) {
          halves = [b, -1];
          kind = a;
        } else if (a !== kind - 1 || (halves[0] === 127 && halves[1] !== -1)) return false;
        else halves = [halves[0], b];
        return true;
      }),
      isLost,
    ]);
  }
  /** Packets in hex, those that are lost behind a "-". */
  function packetsOf(...texts: string[]): [Uint8Array[], boolean][] {
    return texts.map((text) => [
      text
        .replace("-", "")
        .split(", ")
        .filter((hex) => hex !== "")
        .map(bytes),
      text.startsWith("-"),
    ]);
  }
  test("whichever packets are lost, an instrument stands as if none were", () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(fc.array(anyMessage, { minLength: 1, maxLength: 4 }), fc.boolean()), { maxLength: 25 }),
        fc.nat(3),
        (packets, answeredEvery) => {
          const history = new SentHistory();
          const heard = new HeardState();
          const sent: Uint8Array[] = [];
          const arrived: Uint8Array[] = [];
          let had = 0;
          let newest = 0;
          // The first packet, which is empty, arrives; the last too, so that its journal is heard.
          for (const [i, [messages, isLost]] of [[[], false], ...sane(packets), [[], false]].entries() as Iterable<
            [number, [Uint8Array[], boolean]]
          >) {
            const sequence = i + 1;
            const written = writeJournal(history.journal(had + 1, sequence));
            for (const m of messages) history.add(m, sequence);
            sent.push(...messages);
            if (isLost) continue;
            const journal = readJournal(written, 0, written.length)!;
            if (sequence > newest + 1) heard.repair(journal, (m) => arrived.push(m), sequence, newest === 0);
            newest = sequence;
            for (const m of messages) {
              heard.hear(m, sequence);
              arrived.push(m);
            }
            if (answeredEvery > 0 && sequence % answeredEvery === 0) {
              had = sequence;
              history.forget(sequence);
            }
          }
          expect(stands(arrived)).toEqual(stands(sent));
        },
      ),
      {
        numRuns: 2000,
        // Seen once in many thousand: steps that had arrived were taken back where a lost packet named their parameter
        // again; a program was missing where only its bank was another.
        examples: [
          [packetsOf("b0 63 00, b0 62 00, b0 60 00", "", "-b0 62 00"), 1],
          [packetsOf("c0 03", "b0 00 00, b0 20 01", "-c0 03"), 0],
        ],
      },
    );
  });
});
