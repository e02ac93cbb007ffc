import { describe, expect, test } from "vitest";
import { Rig } from "../../../tests/rig/rig.ts";
import { action, fixed, mapping, showOn } from "../../../tests/rig/shows.ts";
import { control, encoder, fader, once, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import type { ControlMessage } from "../format/surface-profile.ts";
import { MESSAGE_PARTS, type MessagePart, NO_PART } from "../midi/message-parts.ts";
import { PARTS_OF } from "../surface/parts-of.ts";

/** Each kind of message, with all the numbers that it carries; what is not named here it has not. */
const TABLE: [kind: ControlMessage["kind"], hex: string, parts: Partial<Record<MessagePart, number>>][] = [
  ["note", "91 3C 40", { channel: 2, number: 60, value: 64 }],
  ["controller", "B2 07 05", { channel: 3, number: 7, value: 5 }],
  ["controller-14", "B0 01 40 B0 21 01", { channel: 1, number: 1, value: 8193 }],
  ["nrpn", "B0 63 02 B0 62 2C B0 06 01 B0 26 02", { channel: 1, number: 300, value: 130 }],
  ["rpn", "B0 65 00 B0 64 05 B0 06 01 B0 26 02", { channel: 1, number: 5, value: 130 }],
  ["relative", "B0 10 02", { channel: 1, number: 16, value: 2 }],
  ["clicks", "B0 11 01", { channel: 1, number: 17, value: 1 }],
  ["bend", "E4 01 40", { channel: 5, value: 8193 }],
  ["poly-pressure", "A0 28 07", { channel: 1, number: 40, value: 7 }],
  ["channel-pressure", "D6 09", { channel: 7, value: 9 }],
  ["program", "B7 00 01 B7 20 02 C7 05", { channel: 8, number: 5, bank: 130 }],
  ["program", "C9 05", { channel: 10, number: 5 }],
  ["sysex", "F0 7D 01 07 F7", { value: 7 }],
  ["sysex", "F0 7D 02 F7", {}],
  ["transport", "FA", {}],
  ["song-position", "F2 01 40", { value: 8193 }],
  ["show-control", "F0 7F 09 02 01 01 31 32 F7", { device: 9, command: 1, cue: 12, "cue-before": 12, "cue-after": 0 }],
  [
    "show-control",
    "F0 7F 09 02 01 01 31 32 2E 35 00 33 00 34 F7",
    { device: 9, command: 1, "cue-before": 12, "cue-after": 5, list: 3, path: 4 },
  ],
  ["show-control", "F0 7F 09 02 01 01 31 32 2E 30 35 F7", { device: 9, command: 1, "cue-before": 12 }],
  ["show-control", "F0 7F 09 02 01 01 F7", { device: 9, command: 1 }],
  ["show-control", "F0 7F 09 02 01 07 03 F7", { device: 9, command: 7, number: 3 }],
  ["show-control", "F0 7F 09 02 01 06 02 01 01 00 F7", { device: 9, command: 6, number: 130, value: 1 }],
  ["machine-control", "F0 7F 03 06 02 F7", { device: 3, command: 2 }],
  ["machine-control", "F0 7F 03 06 44 02 00 09 F7", { device: 3, command: 0x44, number: 1 }],
  ["any", "9F 48 7F", { channel: 16, number: 72, value: 127 }],
  ["time-code", "F0 7F 7F 01 01 21 00 00 00 F7", {}],
];

const profile = surfaceProfile([
  control("note", { kind: "note", channel: 2, number: 60 }),
  fader("controller", { kind: "controller", channel: 3, number: 7 }),
  fader("controller-14", { kind: "controller-14", channel: 1, number: 1 }),
  fader("nrpn", { kind: "nrpn", channel: 1, number: 300 }),
  fader("rpn", { kind: "rpn", channel: 1, number: 5 }),
  encoder("relative", { kind: "relative", channel: 1, number: 16, encoding: "twos-complement" }),
  encoder("clicks", { kind: "clicks", channel: 1, number: 17, right: 1, left: 0 }),
  fader("bend", { kind: "bend", channel: 5 }),
  fader("poly-pressure", { kind: "poly-pressure", channel: 1, number: 40 }),
  fader("channel-pressure", { kind: "channel-pressure", channel: 7 }),
  once("program", { kind: "program", channel: 8, number: 5 }),
  fader("selector", { kind: "program", channel: 10 }),
  fader("sysex", { kind: "sysex", prefix: "F0 7D 01", valueAt: 0 }),
  once("sysex-plain", { kind: "sysex", prefix: "F0 7D 02" }),
  once("transport", { kind: "transport", message: "start" }),
  fader("song-position", { kind: "song-position" }),
  once("go", { kind: "show-control", command: "go" }),
  once("fire", { kind: "show-control", command: "fire" }),
  once("set", { kind: "show-control", command: "set" }),
  once("play", { kind: "machine-control", command: "play" }),
  once("locate", { kind: "machine-control", command: "locate" }),
  fader("time-code", { kind: "time-code" }),
]);
/** A message with many numbers, and one with the three that most have: what is left over of them would show. */
const BEFORE = "F0 7F 6F 02 01 01 37 00 38 00 39 F7 93 0A 63";

describe("rule 10: a number that comes from the message is that message's own", () => {
  const keys = mapping("keys", action("k", "playback.go", { page: fixed(1), playback: fixed(1) }), {
    control: "keys",
    gesture: "press",
    message: { kind: "any", of: "note", channels: [16, 16], numbers: [0, 127] },
  });
  test.each(TABLE)("%s, %s", (kind, hex, wanted) => {
    const { show, profiles } = showOn(profile, [keys]);
    const rig = Rig.onPage(1, show, { links: false, profiles }).hex(BEFORE).hex(hex);
    const { message } = rig.translator.world;
    const heard = MESSAGE_PARTS.map((part, i) => [part, message[i]!] as const).filter(([, n]) => n !== NO_PART);
    expect(Object.fromEntries(heard)).toEqual(wanted);
    for (const part of Object.keys(wanted)) expect(PARTS_OF[kind]).toContain(part);
  });
  test("each kind is in the table, and each part that an editor offers of it is heard in one of its messages", () => {
    for (const [kind, parts] of Object.entries(PARTS_OF)) {
      const rows = TABLE.filter(([k]) => k === kind);
      expect(rows.length).toBeGreaterThan(0);
      const heard = new Set(rows.flatMap(([, , said]) => Object.keys(said)));
      expect([kind, parts.filter((p) => !heard.has(p))]).toEqual([kind, []]);
    }
  });

  const cueOf = (part: MessagePart) =>
    action("c", "playback.go", { page: fixed(1), playback: { from: "message", part, offset: 0 } });
  const playing = (part: MessagePart) => {
    const { show, profiles } = showOn(profile, [mapping("go", cueOf(part), { control: "go", gesture: "press" })]);
    return Rig.onPage(1, show, { links: false, profiles });
  };
  test("the cue of a GO starts the playback of its number", () => {
    expect(playing("cue").hex("F0 7F 01 02 01 01 31 32 F7").sent()).toEqual(["/set/playback/1/12/go"]);
  });
  test("a GO without a cue starts nothing and says why, whatever came before it", () => {
    const rig = playing("cue").hex("90 0A 7F");
    rig.rows();
    rig.hex("F0 7F 01 02 01 01 F7");
    expect([rig.sent(), rig.became()]).toEqual([[], ["noSuchPart"]]);
  });
  test("cue 12.5 is not cue 12", () => {
    expect(playing("cue").hex("F0 7F 01 02 01 01 31 32 2E 35 F7").sent()).toEqual([]);
    expect(playing("cue-after").hex("F0 7F 01 02 01 01 31 32 2E 35 F7").sent()).toEqual(["/set/playback/1/5/go"]);
  });
  test("what time decides takes its numbers from the message that began it", () => {
    const hold = mapping(
      "note",
      action("h", "playback.go", { page: fixed(1), playback: { from: "message", part: "number", offset: -50 } }),
      {
        control: "note",
        gesture: "hold",
      },
    );
    const { show, profiles } = showOn(profile, [hold]);
    const rig = Rig.onPage(1, show, { links: false, profiles }).hex("91 3C 40").wait(100).hex("B2 07 05").wait(2000);
    expect(rig.sent()).toEqual(["/set/playback/1/10/go"]);
  });
  test("several machine commands in one message each start what is mapped to them", () => {
    const on = (control: string, n: number) =>
      mapping(control, action(`a-${n}`, "playback.go", { page: fixed(1), playback: fixed(n) }), {
        control,
        gesture: "press",
      });
    const { show, profiles } = showOn(profile, [on("locate", 1), on("play", 2)]);
    const rig = Rig.onPage(1, show, { links: false, profiles });
    rig.hex("F0 7F 7F 06 44 06 01 21 00 00 00 00 02 F7");
    expect(rig.sent()).toEqual(["/set/playback/1/1/go", "/set/playback/1/2/go"]);
  });
});

describe("what ends all: System Reset, all notes off", () => {
  const held = () => {
    const flash = action("f", "playback.flash", { page: fixed(1), playback: fixed(1) });
    const { show, profiles } = showOn(profile, [mapping("note", flash, { control: "note", gesture: "press" })]);
    const rig = Rig.onPage(1, show, { links: false, profiles }).hex("91 3C 40");
    rig.sent();
    return rig;
  };
  test.each([
    ["System Reset", "FF"],
    ["all notes off", "B1 7B 00"],
    ["all sound off", "B1 78 00"],
    ["omni on, which implies it", "B1 7D 00"],
  ])("%s lets go what is held", (_, hex) => {
    const rig = held().hex(hex);
    expect([rig.sent(), rig.translator.world.held.list()]).toEqual([["/set/playback/1/1/flash 0"], []]);
    expect(rig.hex("81 3C 40").sent()).toEqual([]);
  });
  test("of another channel, or with nothing held, they do nothing", () => {
    expect(held().hex("B0 7B 00").sent()).toEqual([]);
    expect(held().hex("81 3C 40 FF").sent()).toEqual(["/set/playback/1/1/flash 0"]);
  });
});

describe("time code that names no time", () => {
  test("is told as malformed, whether or not anything is mapped to time code", () => {
    const { show, profiles } = showOn(profile, []);
    const rig = Rig.onPage(1, show, { links: false, profiles });
    rig.rows();
    rig.hex("F0 7F 7F 01 01 41 01 00 00 F7"); // drop-frame has no 00:01:00;00
    expect(rig.became()).toEqual(["malformed"]);
  });
});
