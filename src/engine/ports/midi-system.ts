/** The computer's own MIDI, where its native package loads: the one place that knows that package. */

import { existsSync } from "node:fs";

/** By which Linux gives MIDI to programs. */
const SEQUENCER = "/dev/snd/seq";

/** What the ports need of it. Names are as the system has them; the same name may come several times. */
export interface MidiSystem {
  inputs(): string[];
  outputs(): string[];
  /** `port`: its index in the list, or the name of a new virtual port that others of the computer see. */
  openInput(port: number | string, message: (bytes: Uint8Array) => void): { close(): void };
  openOutput(port: number | string): { send(bytes: Uint8Array): void; close(): void };
  /** Whether the system has virtual ports. */
  readonly hasVirtual: boolean;
}

/** Rejects where the package is not there, does not load, or finds no MIDI in this computer. */
export async function loadMidiSystem(): Promise<MidiSystem> {
  // Asked where there is none, the system's library writes lines of its own into the terminal.
  if (process.platform === "linux" && !existsSync(SEQUENCER))
    throw new Error(`it has no MIDI sequencer (${SEQUENCER})`);
  const { Input, Output, verifyLibraryLoaded } = await import("@julusian/midi/lazy");
  verifyLibraryLoaded();
  // These two only list. They throw where the system has no MIDI at all.
  const listing = { input: new Input(), output: new Output() };
  const names = (list: { getPortCount(): number; getPortName(n: number): string }) =>
    Array.from({ length: list.getPortCount() }, (_, i) => list.getPortName(i));
  return {
    hasVirtual: process.platform !== "win32",
    inputs: () => names(listing.input),
    outputs: () => names(listing.output),
    openInput: (port, message) => {
      const input = new Input();
      input.ignoreTypes(false, false, false);
      input.on("messageBuffer", (_delta, bytes) => message(Uint8Array.from(bytes)));
      if (typeof port === "string") input.openVirtualPort(port);
      else input.openPort(port);
      return { close: () => input.destroy() };
    },
    openOutput: (port) => {
      const output = new Output();
      if (typeof port === "string") output.openVirtualPort(port);
      else output.openPort(port);
      return { send: (bytes) => output.sendMessage(Buffer.from(bytes)), close: () => output.destroy() };
    },
  };
}
