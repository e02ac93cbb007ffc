/**
 * The MIDI devices of the computer that the program runs on, and virtual ports of its system. The native package is
 * loaded only when somebody wants it; where it does not load, that is said, and everything else works.
 */

import type { PortRef } from "../../core/format/show.ts";
import type { ComputerMidiLive, PortState } from "../../core/live/protocol.ts";
import { eachMessage } from "../../core/midi/parser.ts";
import type { Strangers } from "../strangers.ts";
import { ComputerStrangers, indexOf } from "./computer-strangers.ts";
import type { MidiSystem } from "./midi-system.ts";
import { failed, OPEN, type Port, type PortEvents, WAITING, waiting } from "./port.ts";

type ComputerRef = Extract<PortRef, { kind: "computer-midi" }>;

/** Systems tell nobody that a device was plugged in: their list is looked at this often, in ms. */
const LOOK_EVERY_MS = 1000;
/** What some systems put behind the name of a device, another each time it is plugged in. */
const NUMBER_IN_SYSTEM = / \d+:\d+$/;

export class ComputerMidi {
  readonly #load: () => Promise<MidiSystem>;
  #system: MidiSystem | null = null;
  #live: ComputerMidiLive = { state: "not-looked", detail: "", inputs: [], outputs: [], hasVirtual: false };
  readonly #ports = new Set<ComputerMidiPort>();
  #looking: NodeJS.Timeout | null = null;
  #loading: Promise<void> | null = null;
  readonly #unused: ComputerStrangers | null;

  /** `strangers`: who is told of devices that nobody uses. */
  constructor(load: () => Promise<MidiSystem>, strangers: Strangers | null = null) {
    this.#load = load;
    this.#unused = strangers && new ComputerStrangers(strangers);
  }

  get live(): ComputerMidiLive {
    return this.#live;
  }

  get system(): MidiSystem | null {
    return this.#system;
  }

  /** Loads what is needed, once, and looks for devices from then on. */
  look(): Promise<void> {
    this.#loading ??= this.#start();
    return this.#loading;
  }

  add(port: ComputerMidiPort): void {
    this.#ports.add(port);
    if (this.#live.state === "not-looked") void this.look();
    else {
      this.#lookForUnused(); // it is nobody's no longer
      port.look();
    }
  }

  remove(port: ComputerMidiPort): void {
    this.#ports.delete(port);
  }

  close(): void {
    if (this.#looking) clearInterval(this.#looking);
    this.#looking = null;
    this.#unused?.close();
  }

  async #start(): Promise<void> {
    try {
      this.#system = await this.#load();
      this.#list();
      this.#looking = setInterval(() => this.#list(), LOOK_EVERY_MS);
    } catch (error) {
      this.#live = { ...this.#live, state: "none", detail: error instanceof Error ? error.message : String(error) };
      for (const port of this.#ports) port.look();
    }
  }

  #list(): void {
    const system = this.#system!;
    const named = (names: string[]) => names.map((n) => n.replace(NUMBER_IN_SYSTEM, ""));
    this.#live = {
      state: "open",
      detail: "",
      inputs: named(system.inputs()),
      outputs: named(system.outputs()),
      hasVirtual: system.hasVirtual,
    };
    for (const port of this.#ports) port.look();
    this.#lookForUnused();
  }

  #lookForUnused(): void {
    const system = this.#system;
    // Where a system has no virtual ports, a device is open to one program alone.
    if (!system?.hasVirtual) return;
    const refs = [...this.#ports].map((p) => p.ref);
    const virtual = refs.flatMap((r) => (r.virtual ? [r.device] : []));
    const used = new Set([...this.#ports].flatMap((p) => (p.isInput ? [`${p.ref.nth} ${p.ref.device}`] : [])));
    this.#unused?.look(system, this.#live.inputs, this.#live.outputs, used, virtual);
  }
}

/** One way of a surface or a desk by a device of the computer, or by a virtual port. */
export class ComputerMidiPort implements Port {
  readonly counted = { in: 0, out: 0, dropped: 0, refused: 0 };
  readonly #midi: ComputerMidi;
  readonly ref: ComputerRef;
  readonly isInput: boolean;
  readonly #events: PortEvents;
  #open: { close(): void; send?(bytes: Uint8Array): void } | null = null;
  #told = "";

  constructor(midi: ComputerMidi, ref: ComputerRef, isInput: boolean, events: PortEvents) {
    this.#midi = midi;
    this.ref = ref;
    this.isInput = isInput;
    this.#events = events;
  }

  open(): void {
    this.#tell(WAITING);
    this.#midi.add(this);
  }

  /** The list of devices is new: opens what has come, lets go of what is gone. */
  look(): void {
    const { live, system } = this.#midi;
    if (!system) {
      this.#tell(failed({ code: "no-computer-midi", reason: live.detail }));
      return;
    }
    const { device, nth, virtual } = this.ref;
    const index = virtual ? device : indexOf(this.isInput ? live.inputs : live.outputs, device, nth);
    if (index === -1) {
      this.#let();
      this.#tell(waiting({ code: "not-on-computer", device }));
      return;
    }
    if (this.#open) return;
    try {
      this.#open = this.isInput
        ? system.openInput(index, (bytes) => {
            this.counted.in++;
            this.#events.message(bytes);
          })
        : system.openOutput(index);
      this.#tell(OPEN);
    } catch (error) {
      this.counted.refused++;
      this.#tell(failed({ code: "system", reason: error instanceof Error ? error.message : String(error) }));
    }
  }

  send(bytes: Uint8Array, offset: number, length: number): void {
    if (!this.#open?.send) {
      this.counted.refused++; // it is not open, and the state says so
      return;
    }
    try {
      const { send } = this.#open;
      eachMessage(bytes.slice(offset, offset + length), (message) => send(message));
      this.counted.out++;
    } catch {
      this.counted.dropped++;
    }
  }

  close(): Promise<void> {
    this.#midi.remove(this);
    this.#let();
    return Promise.resolve();
  }

  #let(): void {
    this.#open?.close();
    this.#open = null;
  }

  #tell(state: PortState): void {
    const told = JSON.stringify(state);
    if (told === this.#told) return;
    this.#told = told;
    this.#events.state(state);
  }
}
