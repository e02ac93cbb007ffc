/**
 * A universe as a surface: its slots, counted from the first of the surface, are the 14-bit controllers 0..31 of
 * channels 1..16 where the surface has faders, and the notes 0..127 of channels 1..4 where it has switches.
 */
import type { Control } from "../format/surface-profile.ts";

const CONTROLLERS = 32;
const NOTES = 128;
const LSB = 32;
const FULL_VELOCITY = 127;

/** Levels, 0..255, at which a switch goes on, and below which it goes off. */
export interface Threshold {
  readonly on: number;
  readonly off: number;
}

interface SlotControl {
  /** In the universe, from 0. */
  readonly slot: number;
  readonly channel: number;
  readonly number: number;
  readonly isSwitch: boolean;
}

export class SlotsAsMidi {
  readonly #controls: readonly SlotControl[];
  readonly #threshold: Threshold;
  /** What was said last: a level, or 0 and 1 of a switch; -1 = nothing yet. */
  readonly #said: Int16Array;

  /** `first`: address of the surface's first slot, 1..512. */
  constructor(controls: readonly Control[], first: number, threshold: Threshold) {
    this.#threshold = threshold;
    this.#controls = controls.flatMap(({ sends }): SlotControl[] => {
      if (sends.kind !== "controller-14" && sends.kind !== "note") return [];
      const isSwitch = sends.kind === "note";
      const channel = sends.channel - 1;
      const slot = first - 1 + channel * (isSwitch ? NOTES : CONTROLLERS) + sends.number;
      return slot < 512 ? [{ slot, channel, number: sends.number, isSwitch }] : [];
    });
    this.#said = new Int16Array(this.#controls.length).fill(-1);
  }

  /** Says what differs from what was said before. A switch that is off at the start has nothing to say. */
  say(levels: Uint8Array, message: (bytes: Uint8Array) => void): void {
    this.#controls.forEach((control, i) => {
      const level = levels[control.slot]!;
      const last = this.#said[i]!;
      if (control.isSwitch) {
        const isOn = last === 1 ? level >= this.#threshold.off : level >= this.#threshold.on;
        if (isOn === last > 0) return;
        this.#said[i] = isOn ? 1 : 0;
        message(noteOf(control, isOn));
        return;
      }
      if (level === last) return;
      this.#said[i] = level;
      const value = Math.round((level * 16_383) / 255);
      const status = 0xb0 | control.channel;
      message(Uint8Array.of(status, control.number, value >> 7));
      message(Uint8Array.of(status, control.number + LSB, value & 0x7f));
    });
  }

  /** Nobody sends the universe any more: switches are let go, faders stay where they are. */
  letGo(message: (bytes: Uint8Array) => void): void {
    this.#controls.forEach((control, i) => {
      if (!control.isSwitch || this.#said[i] !== 1) return;
      this.#said[i] = 0;
      message(noteOf(control, false));
    });
  }
}

function noteOf({ channel, number }: SlotControl, isOn: boolean): Uint8Array {
  return Uint8Array.of((isOn ? 0x90 : 0x80) | channel, number, isOn ? FULL_VELOCITY : 0);
}
