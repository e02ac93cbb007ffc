/** Everything that reads bytes of strangers, each with some bytes that are right to begin with. */
import { readArtDmx } from "../../src/core/dmx/art-net.ts";
import { readArtPoll } from "../../src/core/dmx/art-poll.ts";
import { readSacn } from "../../src/core/dmx/sacn.ts";
import { MidiParser } from "../../src/core/midi/parser.ts";
import { matchesAddress, readAddressPattern } from "../../src/core/osc/address-pattern.ts";
import { decodeOsc } from "../../src/core/osc/decode.ts";
import { encodeOsc } from "../../src/core/osc/encode.ts";
import { IMMEDIATELY } from "../../src/core/osc/types.ts";
import { Session } from "../../src/core/rtp-midi/session.ts";
import type { Framing } from "../../src/core/stream/framing.ts";
import { requestOf } from "../../src/core/stream/http-line.ts";
import { LengthFraming } from "../../src/core/stream/length-framing.ts";
import { LineFraming } from "../../src/core/stream/line-framing.ts";
import { SlipFraming } from "../../src/core/stream/slip-framing.ts";
import { topicMessageOf } from "../../src/core/stream/topic-line.ts";
import { decodeTrafficFrame, encodeTrafficFrame } from "../../src/core/trace/traffic-frame.ts";
import { readClientMessage } from "../../src/server/live/hub.ts";
import { artDmx, artPoll, sacnPacket } from "../rig/dmx-packets.ts";

export interface Parser {
  readonly name: string;
  readonly corpus: readonly Uint8Array[];
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
  const messages = ["90 3c 40", "80 3c 40", "b0 07 20", "e0 00 40", "c0 05", "d0 07", "a0 3c 05", "f0 7d 01 02 f7"];
  for (let round = 0; round < 40; round++) {
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
