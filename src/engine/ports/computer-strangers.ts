/**
 * MIDI devices of the computer that nobody uses: what they play is heard, so that they show themselves, and each is asked once
 * what it is. Only where the system lets several programs hear one device; elsewhere it would be taken from them.
 */
import { eachMessage } from "../../core/midi/parser.ts";
import { IDENTITY_REQUEST, identityIn } from "../../core/teach/identity.ts";
import type { Strangers } from "../strangers.ts";
import type { MidiSystem } from "./midi-system.ts";

const MOST = 16;
/** From here a message is a clock or the like (MIDI 1.0, “System Real Time Messages”), which says nothing of what it is. */
const FIRST_REAL_TIME = 0xf8;

interface Heard {
  readonly input: { close(): void };
  isAsked: boolean;
  identity: string | undefined;
}

export class ComputerStrangers {
  readonly #strangers: Strangers;
  readonly #heard = new Map<string, Heard>();
  /** Opened to ask what it is, and closed at the next look: what was sent is out by then. */
  #asking: { close(): void }[] = [];

  constructor(strangers: Strangers) {
    this.#strangers = strangers;
  }

  /**
   * `inputs`, `outputs`: names as they are listed. `used`: those that ports of the show have, as “nth name”; `virtual`: ports
   * that we are ourselves.
   */
  look(
    system: MidiSystem,
    inputs: readonly string[],
    outputs: readonly string[],
    used: ReadonlySet<string>,
    virtual: readonly string[],
  ): void {
    for (const output of this.#asking.splice(0)) output.close();
    const here = new Map<string, { device: string; nth: number; index: number }>();
    const seen = new Map<string, number>();
    inputs.forEach((device, index) => {
      const nth = (seen.get(device) ?? 0) + 1;
      seen.set(device, nth);
      const key = `${nth} ${device}`;
      if (!used.has(key) && !virtual.some((v) => device.includes(v))) here.set(key, { device, nth, index });
    });
    for (const [key, { input }] of this.#heard)
      if (!here.has(key)) {
        input.close();
        this.#heard.delete(key);
        const at = key.indexOf(" ");
        this.#strangers.forgetDevice({ nth: Number(key.slice(0, at)), device: key.slice(at + 1) });
      }
    for (const [key, { device, nth, index }] of here) {
      if (this.#heard.has(key) || this.#heard.size >= MOST) continue;
      const output = indexOf(outputs, device, nth);
      try {
        const input = system.openInput(index, (bytes) => this.#message(key, bytes, system, { device, nth, output }));
        this.#heard.set(key, { input, isAsked: false, identity: undefined });
      } catch {
        // another program has it for itself; it is looked for again
      }
    }
  }

  close(): void {
    for (const { input } of this.#heard.values()) input.close();
    for (const output of this.#asking.splice(0)) output.close();
    this.#heard.clear();
  }

  #message(
    key: string,
    bytes: Uint8Array,
    system: MidiSystem,
    { device, nth, output }: { device: string; nth: number; output: number },
  ): void {
    const heard = this.#heard.get(key);
    if (!heard || bytes.length === 0 || bytes[0]! >= FIRST_REAL_TIME) return;
    const identity = identityIn(bytes);
    if (identity !== null) heard.identity = identity;
    this.#strangers.device({ device, nth, hasOutput: output >= 0 }, bytes, () => heard.identity);
    if (heard.isAsked || output < 0) return;
    heard.isAsked = true;
    try {
      const asking = system.openOutput(output);
      this.#asking.push(asking);
      eachMessage(Uint8Array.from(IDENTITY_REQUEST), (message) => asking.send(message));
    } catch {
      // another program has it for itself: what it is stays a guess
    }
  }
}

/** Where the `nth` of a name stands in a list; -1 = nowhere. */
export function indexOf(names: readonly string[], device: string, nth: number): number {
  let seen = 0;
  return names.findIndex((name) => name === device && ++seen === nth);
}
