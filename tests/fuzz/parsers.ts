/** Everything that reads bytes of strangers, each with some bytes that are right to begin with. */

import { readArtDmx } from "../../src/core/dmx/art-net.ts";
import { readArtPoll } from "../../src/core/dmx/art-poll.ts";
import { readSacn } from "../../src/core/dmx/sacn.ts";
import { Finder } from "../../src/core/mdns/finder.ts";
import { SERVICE } from "../../src/core/mdns/messages.ts";
import { Publisher } from "../../src/core/mdns/publisher.ts";
import { isParameterController } from "../../src/core/midi/controllers.ts";
import { decodeMachineControl } from "../../src/core/midi/machine-control.ts";
import { Pair14 } from "../../src/core/midi/pair-14.ts";
import { ParameterNumbers } from "../../src/core/midi/parameter-numbers.ts";
import { MidiParser } from "../../src/core/midi/parser.ts";
import { decodeShowControl } from "../../src/core/midi/show-control.ts";
import { readFullFrame } from "../../src/core/midi/time-code.ts";
import { matchesAddress, readAddressPattern } from "../../src/core/osc/address-pattern.ts";
import { decodeOsc } from "../../src/core/osc/decode.ts";
import { encodeOsc } from "../../src/core/osc/encode.ts";
import { IMMEDIATELY } from "../../src/core/osc/types.ts";
import { HeardState } from "../../src/core/rtp-midi/heard-state.ts";
import { readJournal } from "../../src/core/rtp-midi/journal.ts";
import { Session } from "../../src/core/rtp-midi/session.ts";
import type { Framing } from "../../src/core/stream/framing.ts";
import { requestOf } from "../../src/core/stream/http-line.ts";
import { LengthFraming } from "../../src/core/stream/length-framing.ts";
import { LineFraming } from "../../src/core/stream/line-framing.ts";
import { SlipFraming } from "../../src/core/stream/slip-framing.ts";
import { topicMessageOf } from "../../src/core/stream/topic-line.ts";
import { decodeTrafficFrame, encodeTrafficFrame } from "../../src/core/trace/traffic-frame.ts";
import { readClientMessage } from "../../src/server/live/hub.ts";
import { readMessage, writeMessage } from "../../src/server/network/dns-bytes.ts";
import { artDmx, artPoll, sacnPacket } from "../rig/dmx-packets.ts";

export interface Parser {
  readonly name: string;
  readonly corpus: readonly Uint8Array[];
  /** What part of the inputs it gets, where it does more with each than others do. */
  readonly part?: number;
  /** A reader with a memory of its own, as a port has it; it answers how many messages it understood. */
  start(): (bytes: Uint8Array) => number;
}

const hex = (text: string) => Uint8Array.from(Buffer.from(text.replaceAll(" ", ""), "hex"));
const text = (words: string) => new TextEncoder().encode(words);
const decoder = new TextDecoder();

const OSC = [
  encodeOsc({ kind: "message", address: "/playback/1/3/level", args: [{ type: "f", value: 0.5 }] }),
  encodeOsc({
    kind: "bundle",
    timeTag: IMMEDIATELY,
    elements: [
      { kind: "message", address: "/cue", args: [{ type: "i", value: 7 }] },
      { kind: "message", address: "/names", args: [{ type: "s", value: "Foghorn Waltz" }, { type: "T" }] },
    ],
  }),
];

function framed(name: string, make: () => Framing, messages: readonly Uint8Array[]): Parser {
  return {
    name,
    corpus: messages.map((m) => make().write(m)),
    start: () => {
      let framing = make();
      return (bytes) => {
        let understood = 0;
        framing.read(bytes, () => understood++);
        // As the port does: a connection that nobody can follow any more is made anew.
        if (framing.isLost) framing = make();
        return understood;
      };
    },
  };
}

/** Two ends that agree, so that what is mutated is what really goes over the wire. */
function sessionTraffic(): { which: "control" | "data"; bytes: Uint8Array }[] {
  const said: { which: "control" | "data"; bytes: Uint8Array }[] = [];
  const ends: Session[] = [];
  let nowMs = 1000;
  for (const i of [0, 1])
    ends.push(
      new Session(
        {
          name: `End ${i}`,
          ssrc: 5 + i,
          admission: "everyone",
          allowed: [],
          invites: i === 0 ? [{ host: "1", port: 5004 }] : [],
        },
        {
          datagram: (which, _host, _port, bytes) => {
            if (i === 0) said.push({ which, bytes });
            ends[1 - i]?.receive(which, bytes, String(i), which === "control" ? 5004 : 5005, nowMs);
          },
          message: () => {},
          chance: () => 0.25,
          connected: () => {},
        },
      ),
    );
  const messages = [
    "90 3c 40",
    "80 3c 40",
    "b0 07 20",
    "e0 00 40",
    "c0 05",
    "d0 07",
    "a0 3c 05",
    "f0 7d 01 02 f7",
  ].concat([
    "b0 65 00",
    "b0 64 00",
    "b0 06 02",
    "b0 60 7f",
    "f0 7f 01 02 01 01 31 f7",
    "fa",
    "f8",
    "f2 10 00",
    "fc",
    "f6",
    "f3 04",
  ]);
  for (let round = 0; round < 60; round++) {
    nowMs += 25;
    for (const end of ends) end.tick(nowMs);
    ends[0]!.send(hex(messages[round % messages.length]!), nowMs);
  }
  return said;
}

const SESSION = sessionTraffic();

export const PARSERS: readonly Parser[] = [
  {
    name: "MIDI stream",
    corpus: ["90 3c 40 3e 40", "b0 07 20 e0 00 40 f8", "f0 7d 01 02 f8 03 f7", "f1 23 f2 01 02 c5 07"].map(hex),
    start: () => {
      let understood = 0;
      const parser = new MidiParser({
        short: () => understood++,
        sysex: () => understood++,
        dropped: () => {},
      });
      return (bytes) => {
        understood = 0;
        parser.feed(bytes);
        return understood;
      };
    },
  },
  {
    name: "show control, machine control, time code",
    corpus: [
      "f0 7f 01 02 01 01 31 32 2e 35 00 33 00 34 f7",
      "f0 7f 01 02 10 04 21 00 05 00 00 37 f7",
      "f0 7f 01 02 7f 06 02 01 01 00 f7",
      "f0 7f 7f 06 44 06 01 21 00 00 00 00 02 f7",
      "f0 7f 7f 06 47 03 00 01 00 01 f7",
      "f0 7f 7f 01 01 21 02 03 04 f7",
    ].map(hex),
    start: () => (bytes) => {
      const read = [decodeShowControl(bytes), decodeMachineControl(bytes), readFullFrame(bytes)];
      return read.filter((r) => r !== null && r !== "malformed").length;
    },
  },
  {
    name: "a surface’s messages, parameter numbers among them",
    corpus: ["b0 63 01 b0 62 02 b0 06 40 b0 65 7f b0 64 7f", "b0 01 40 b0 21 7f b0 01 41", "b0 60 00 b0 79 00"].map(
      hex,
    ),
    start: () => {
      let understood = 0;
      let atMs = 0;
      const heard = () => {
        understood++;
      };
      const parameters = new ParameterNumbers({ knows: () => true, value: heard, step: heard });
      const pair = new Pair14();
      return (bytes) => {
        understood = 0;
        new MidiParser({
          short: (_status, number, value) => {
            atMs += 1;
            if (isParameterController(number)) parameters.controller(number, value, atMs);
            else if (number === 1 || number === 33) {
              const whole = number === 1 ? pair.msb(value, atMs) : pair.lsb(value, atMs);
              if (whole > 16_383 || whole < -1) throw new RangeError(`${whole} is no value`);
            } else if (number === 121) parameters.deselect();
            understood++;
          },
          sysex: () => {},
          dropped: () => {},
        }).feed(bytes);
        parameters.due(atMs + 200);
        return understood;
      };
    },
  },
  {
    name: "the recovery journal",
    corpus: [
      "20 12 34 10 09 20 20 06 00 00 82 02",
      "40 12 34 04 0a 2f 01 7f 01 02 01 01 b1",
      "60 00 01 10 05 31 11 70 00 04 02 05",
    ].map(hex),
    start: () => (bytes) => {
      const journal = readJournal(bytes, 0, bytes.length);
      if (journal) new HeardState().repair(journal, () => {}, 7);
      return journal ? 1 : 0;
    },
  },
  {
    name: "names of the network (mDNS)",
    part: 0.1,
    corpus: [
      { isResponse: false, questions: [{ name: SERVICE, type: "PTR" }], answers: [], authorities: [], additionals: [] },
      new Publisher([{ name: "Quay 1.2", port: 5004 }], "box", 0, 0).tick(300).map((make) => make(["10.0.0.1"]))[0]!,
    ].map(writeMessage),
    start: () => {
      const publisher = new Publisher([{ name: "Quay 1.2", port: 5004 }], "box", 0, 0);
      const finder = new Finder(0);
      let nowMs = 0;
      return (bytes) => {
        nowMs += 10;
        const message = readMessage(bytes);
        if (message) {
          finder.receive(message, "10.0.0.2", nowMs);
          publisher.receive(message, ["10.0.0.1"], false, nowMs);
        }
        publisher.tick(nowMs);
        finder.tick(nowMs);
        return message ? 1 : 0;
      };
    },
  },
  { name: "OSC packet", corpus: OSC, start: () => (bytes) => (decodeOsc(bytes).ok ? 1 : 0) },
  {
    name: "OSC address pattern",
    corpus: ["/playback/*/level", "/{cue,page}/[1-9]?", "/a*b*c*/x", "/[!a-z]/{ab,abc}*"].map(text),
    start: () => (bytes) => {
      const pattern = readAddressPattern(decoder.decode(bytes));
      if (pattern) matchesAddress(pattern, "/playback/aaaaaaaaaaaaaaaaaaaabbbbbbbbbbbbbbbbbc/level");
      return pattern ? 1 : 0;
    },
  },
  framed("OSC after its length", () => new LengthFraming(), OSC),
  framed("OSC framed by SLIP", () => new SlipFraming(), OSC),
  framed("lines", () => new LineFraming("crlf"), [text("level 3 0.5"), text("cue Foghorn Waltz")]),
  {
    name: "MIDI session (control and data)",
    corpus: SESSION.map(({ which, bytes }) => Uint8Array.of(which === "control" ? 0 : 1, ...bytes)),
    start: () => {
      let understood = 0;
      let nowMs = 1000;
      const session = new Session(
        { name: "End 1", ssrc: 6, admission: "everyone", allowed: [], invites: [] },
        { datagram: () => understood++, message: () => understood++, chance: () => 0.75, connected: () => {} },
      );
      return (bytes) => {
        understood = 0;
        nowMs += 1;
        const which = (bytes[0] ?? 0) % 2 === 0 ? "control" : "data";
        session.receive(which, bytes.subarray(1), "0", which === "control" ? 5004 : 5005, nowMs);
        session.tick(nowMs);
        return understood;
      };
    },
  },
  {
    name: "sACN",
    corpus: [sacnPacket([1, 2, 3]), sacnPacket([], { options: 0x40 }), sacnPacket([9, 9], { priority: 200 })],
    start: () => (bytes) => (readSacn(bytes) ? 1 : 0),
  },
  {
    name: "Art-Net",
    corpus: [artDmx([1, 2, 3, 4]), artDmx([255, 255], 0x23, 1, 9), artPoll(), artPoll([1, 9])],
    start: () => (bytes) => (readArtDmx(bytes) || readArtPoll(bytes) ? 1 : 0),
  },
  {
    name: "lines as requests and topics",
    corpus: ['PUT /level/3 {"value":0.5}', "GET /state", "stage/cue Foghorn", "retained stage/page 3"].map(text),
    start: () => (bytes) => {
      const line = decoder.decode(bytes);
      return (requestOf(line) ? 1 : 0) + (topicMessageOf(line) ? 1 : 0);
    },
  },
  {
    name: "live socket of a browser",
    corpus: [
      '{"kind":"screen-midi","surface":"deck","bytes":[144,36,127]}',
      '{"kind":"devices","devices":[{"name":"Keys","nth":1,"input":true,"output":false}]}',
    ].map(text),
    start: () => (bytes) => (readClientMessage(decoder.decode(bytes)).ok ? 1 : 0),
  },
  {
    name: "frames of traffic",
    corpus: [encodeTrafficFrame({ log: 1, first: 0, load: 1 }, [new Uint8Array(128)], [])],
    start: () => (bytes) => (decodeTrafficFrame(bytes.slice().buffer as ArrayBuffer) ? 1 : 0),
  },
];
