/** Runs the stand-in instrument: MIDI over UDP, one message a datagram. */
import { MidiParser } from "../../core/midi/parser.ts";
import { Faults } from "../kit/faults.ts";
import { portsFor, runStandIn } from "../kit/run.ts";
import { UdpWire } from "../kit/wire.ts";
import { Instrument } from "./instrument.ts";
import page from "./page.html";

const ports = portsFor("bell");
const instrument = new Instrument();
const counted = { messages: 0, "unknown kits": 0, "not for it": 0 };
const faults = new Faults();
const parser = new MidiParser({
  short: (status, d1, d2, length) => hear(Uint8Array.of(status, d1, d2).subarray(0, length)),
  sysex: (bytes) => hear(bytes),
  dropped: () => {},
});
const wire = new UdpWire(ports.port, faults, (bytes) => parser.feed(bytes));
const standIn = runStandIn(
  {
    name: "instrument",
    page,
    wire,
    faults,
    state() {
      const { kit, volume, sounding, kits } = instrument;
      return { kit, volume, sounding, kits, counted };
    },
    act({ kind, kit, value }) {
      const out =
        kind === "kit"
          ? instrument.choose(Number(kit))
          : kind === "volume"
            ? instrument.turnVolume(Number(value))
            : null;
      if (out) say(out);
      return out !== null;
    },
    reset: () => instrument.reset(),
    flood: () => say([instrument.volumeMessage()]),
  },
  ports,
);

function hear(bytes: Uint8Array): void {
  counted.messages++;
  const { out, as } = instrument.hear(bytes);
  if (as === "unknown kit") counted["unknown kits"]++;
  if (as === "not for it") counted["not for it"]++;
  say(out);
  standIn.changed();
}

function say(messages: readonly Uint8Array[]): void {
  for (const bytes of messages) wire.send(bytes, ports.toPort);
}
