import { afterEach, describe, expect, test, vi } from "vitest";
import { troubleWords } from "../../words/troubles.ts";
import { Strangers } from "../strangers.ts";
import { ComputerMidi, ComputerMidiPort } from "./computer-midi.ts";
import { loadMidiSystem, type MidiSystem } from "./midi-system.ts";

afterEach(() => {
  vi.useRealTimers();
});

/** A computer whose devices are plugged in and out by hand. */
class Computer implements MidiSystem {
  devices: string[] = [];
  readonly hasVirtual = true;
  readonly opened: (string | number)[] = [];
  readonly sent: string[] = [];
  closed = 0;
  hear: (bytes: Uint8Array) => void = () => {};
  isTaken = false;

  inputs() {
    return this.devices;
  }
  outputs() {
    return this.devices;
  }
  openInput(place: number | string, message: (bytes: Uint8Array) => void) {
    if (this.isTaken) throw new Error("another program has it");
    this.opened.push(place);
    this.hear = message;
    return { close: () => this.closed++ };
  }
  openOutput(place: number | string) {
    this.opened.push(place);
    return { send: (b: Uint8Array) => this.sent.push(Buffer.from(b).toString("hex")), close: () => this.closed++ };
  }
}

function port(midi: ComputerMidi, isInput: boolean, more: { device?: string; nth?: number; virtual?: boolean } = {}) {
  const heard: string[] = [];
  const states: string[] = [];
  const own = new ComputerMidiPort(midi, { kind: "computer-midi", device: "Grid", nth: 1, ...more }, isInput, {
    message: (b) => heard.push(Buffer.from(b).toString("hex")),
    refused: () => {},
    state: (s) => states.push(s.trouble ? `${s.state}: ${troubleWords(s.trouble)}` : s.state),
  });
  own.open();
  return { own, heard, states };
}

describe("MIDI of the computer", () => {
  test("nothing is loaded before somebody wants it", async () => {
    const load = vi.fn(async () => new Computer());
    const midi = new ComputerMidi(load);
    expect([load.mock.calls.length, midi.live.state]).toEqual([0, "not-looked"]);
    await midi.look();
    await midi.look();
    expect([load.mock.calls.length, midi.live.state]).toEqual([1, "open"]);
    midi.close();
  });

  test("a device that comes is opened, one that goes is waited for, and taken back wherever it is plugged in", async () => {
    vi.useFakeTimers();
    const computer = new Computer();
    const midi = new ComputerMidi(async () => computer);
    const input = port(midi, true);
    await vi.advanceTimersByTimeAsync(10);
    expect(input.states).toEqual(["waiting", "waiting: this computer has no “Grid” now"]);
    computer.devices = ["Other 20:0", "Grid 24:0"];
    await vi.advanceTimersByTimeAsync(1000);
    expect([input.states.at(-1), computer.opened]).toEqual(["open", [1]]);
    computer.hear(Uint8Array.of(0x90, 60, 100));
    expect(input.heard).toEqual(["903c64"]);
    computer.devices = ["Other 20:0"];
    await vi.advanceTimersByTimeAsync(1000);
    expect([input.states.at(-1), computer.closed]).toEqual(["waiting: this computer has no “Grid” now", 1]);
    computer.devices = ["Grid 32:0", "Other 20:0"];
    await vi.advanceTimersByTimeAsync(1000);
    expect([input.states.at(-1), computer.opened]).toEqual(["open", [1, 0]]);
    await input.own.close();
    expect(computer.closed).toBe(2);
    midi.close();
  });

  test("of two alike each is its own; a virtual port has the name it is given", async () => {
    const computer = new Computer();
    computer.devices = ["Grid 20:0", "Grid 24:0"];
    const midi = new ComputerMidi(async () => computer);
    await midi.look();
    const second = port(midi, false, { nth: 2 });
    port(midi, false, { device: "Lantern", virtual: true });
    expect(computer.opened).toEqual([1, "Lantern"]);
    second.own.send(Uint8Array.of(9, 0x90, 60, 100, 9), 1, 3);
    expect([computer.sent, second.own.counted.out]).toEqual([["903c64"], 1]);
    midi.close();
  });

  test("one that another program has is said, and tried again", async () => {
    vi.useFakeTimers();
    const computer = new Computer();
    computer.devices = ["Grid"];
    computer.isTaken = true;
    const midi = new ComputerMidi(async () => computer);
    const { states } = port(midi, true);
    await vi.advanceTimersByTimeAsync(10);
    expect(states.at(-1)).toBe("failed: the system says another program has it");
    computer.isTaken = false;
    await vi.advanceTimersByTimeAsync(1000);
    expect(states.at(-1)).toBe("open");
    midi.close();
  });

  test("where it does not load, one line says so", async () => {
    const midi = new ComputerMidi(() => Promise.reject(new Error("no sound system")));
    const { states, own } = port(midi, false);
    await midi.look();
    expect([midi.live.state, midi.live.detail]).toEqual(["none", "no sound system"]);
    expect(states.at(-1)).toBe("failed: MIDI of this computer is out of reach: no sound system");
    own.send(Uint8Array.of(0x90, 60, 100), 0, 3);
    expect(own.counted).toMatchObject({ out: 0, refused: 1 });
  });

  test("the package itself either opens this computer's MIDI or rejects with a reason", async () => {
    const loaded = await loadMidiSystem().catch((error: Error) => error);
    if (loaded instanceof Error) expect(loaded.message).not.toBe("");
    else expect(Array.isArray(loaded.inputs())).toBe(true);
  });

  test("what nobody uses is heard and asked what it is, until somebody uses it or it is gone", async () => {
    vi.useFakeTimers();
    let nowMs = 0;
    const strangers = new Strangers(() => (nowMs += 1000));
    const computer = new Computer();
    computer.devices = ["Cliff", "Own port"];
    const midi = new ComputerMidi(async () => computer, strangers);
    port(midi, false, { device: "Own port", virtual: true }); // others see it as an input
    await midi.look();
    expect(computer.opened).toEqual(["Own port", 0]);
    computer.hear(Uint8Array.of(0xf8));
    expect([strangers.list(), computer.sent]).toEqual([[], []]);
    computer.hear(Uint8Array.of(0x90, 36, 100));
    computer.hear(Uint8Array.of(0xf0, 0x7e, 0, 6, 2, 0x41, 1, 0, 2, 0, 9, 9, 9, 9, 0xf7));
    computer.hear(Uint8Array.of(0x90, 36, 0));
    expect(computer.sent).toEqual(["f07e7f0601f7"]);
    expect(strangers.list()).toMatchObject([
      { kind: "computer-device", device: "Cliff", nth: 1, hasOutput: true, identity: "41 01 00 02 00", in: 3 },
    ]);
    vi.advanceTimersByTime(1000);
    expect(computer.closed).toBe(1); // the way out, by which it was asked
    const used = port(midi, true, { device: "Cliff" });
    expect([used.states.at(-1), strangers.list(), computer.closed]).toEqual(["open", [], 2]);
    await used.own.close();
    vi.advanceTimersByTime(1000);
    computer.hear(Uint8Array.of(0x90, 36, 100));
    expect(strangers.list()).toHaveLength(1);
    computer.devices = ["Own port"];
    vi.advanceTimersByTime(1000);
    expect(strangers.list()).toEqual([]);
    midi.close();
  });
});
