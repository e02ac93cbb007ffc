/** The stand-in instrument as a plain machine: MIDI messages in, MIDI messages out. No sockets, no clock. */
import { KITS } from "./scenario.ts";

/** Channel 10, as status bytes count it. */
const CHANNEL = 9;
/** The program that chooses the first kit. */
const FIRST_PROGRAM = 8;
const VOLUME = 7;
const MAKER = 0x7d; // MIDI 1.0: for what is not sold
const OURS = 0x42;
const NAME = 1;
const COLOUR = 2;
const ASK = 0;

export interface Heard {
  /** What it answers, in order. */
  out: Uint8Array[];
  /** What became of the message. */
  as: "done" | "answered" | "unknown kit" | "not for it";
}

export class Instrument {
  kit = 1;
  volume = 100;
  /** Keys that sound, newest last. */
  sounding: number[] = [];
  readonly kits = KITS;

  reset(): void {
    this.kit = 1;
    this.volume = 100;
    this.sounding = [];
  }

  /** One whole message. */
  hear(bytes: Uint8Array): Heard {
    const [status = 0, a = 0, b = 0] = bytes;
    if (status === 0xf0) return this.#sysex(bytes);
    switch (status) {
      case 0xc0 | CHANNEL:
        if (!this.kits[a - FIRST_PROGRAM]) return { out: [], as: "unknown kit" };
        this.kit = a - FIRST_PROGRAM + 1;
        return { out: [this.kitMessage()], as: "done" };
      case 0xb0 | CHANNEL:
        if (a !== VOLUME) return { out: [], as: "not for it" };
        this.volume = b;
        return { out: [this.volumeMessage()], as: "done" };
      case 0x90 | CHANNEL:
      case 0x80 | CHANNEL:
        this.sounding = this.sounding.filter((n) => n !== a);
        if (status === (0x90 | CHANNEL) && b > 0) this.sounding.push(a);
        return { out: [], as: "done" };
      default:
        return { out: [], as: "not for it" };
    }
  }

  /** Somebody turned its own knob: it says so. */
  choose(kit: number): Uint8Array[] | null {
    if (!this.kits[kit - 1]) return null;
    this.kit = kit;
    return [this.kitMessage()];
  }

  turnVolume(volume: number): Uint8Array[] | null {
    if (!(Number.isInteger(volume) && volume >= 0 && volume <= 127)) return null;
    this.volume = volume;
    return [this.volumeMessage()];
  }

  kitMessage(): Uint8Array {
    return Uint8Array.of(0xc0 | CHANNEL, FIRST_PROGRAM + this.kit - 1);
  }

  volumeMessage(): Uint8Array {
    return Uint8Array.of(0xb0 | CHANNEL, VOLUME, this.volume);
  }

  #sysex(bytes: Uint8Array): Heard {
    // MIDI 1.0, "General Information": identity request to any or our device, and its reply.
    if (bytes.length === 6 && bytes[1] === 0x7e && bytes[3] === 6 && bytes[4] === 1)
      return { out: [Uint8Array.of(0xf0, 0x7e, 0, 6, 2, MAKER, OURS, 0, 1, 0, 1, 0, 0, 0, 0xf7)], as: "answered" };
    if (bytes[1] === MAKER && bytes[2] === OURS && bytes[3] === ASK && bytes.length === 5)
      return {
        out: [...this.kits.flatMap((_, i) => this.#about(i)), this.kitMessage(), this.volumeMessage()],
        as: "answered",
      };
    return { out: [], as: "not for it" };
  }

  /** Name and colour of a kit, by the program that chooses it. */
  #about(kit: number): Uint8Array[] {
    const { name, colour } = this.kits[kit]!;
    const say = (what: number, text: string) =>
      Uint8Array.of(0xf0, MAKER, OURS, what, FIRST_PROGRAM + kit, ...Buffer.from(text, "latin1"), 0xf7);
    return [say(NAME, name), say(COLOUR, colour)];
  }
}
