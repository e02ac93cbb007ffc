/**
 * From messages to what hands did, for everything that is more than one look-up: values in several messages,
 * endless encoders, touch and pressure, programs, SysEx, time code and the show and machine standards.
 */

import type { Control } from "../format/surface-profile.ts";
import { BANK_LSB, BANK_MSB, isParameterController, RESET_CONTROLLERS } from "../midi/controllers.ts";
import { decodeMachineControl, MACHINE_COMMANDS, type MachineControl } from "../midi/machine-control.ts";
import {
  channelParts,
  clearParts,
  cueParts,
  NO_PART,
  newMessageParts,
  setPart,
  shortParts,
} from "../midi/message-parts.ts";
import { NO_VALUE, Pair14 } from "../midi/pair-14.ts";
import { ParameterNumbers } from "../midi/parameter-numbers.ts";
import { decodeRelative } from "../midi/relative.ts";
import {
  decodeShowControl,
  isForDevice,
  isForFormat,
  SHOW_COMMANDS,
  type ShowControl,
  sameCue,
} from "../midi/show-control.ts";
import { framesADay, readFullFrame, type TimeCodePosition, TimeCodeReader } from "../midi/time-code.ts";
import { type CompiledSurface, REGISTERED, specialKey } from "./compile-surface.ts";

/** What hands did. `row` is the message's row of traffic. */
export interface ControlSink {
  press(control: number, value01: number, row: number): void;
  release(control: number, row: number): void;
  move(control: number, value01: number, row: number): void;
  /** Steps to the right; to the left they are negative. */
  turn(control: number, steps: number, row: number): void;
  touch(control: number, on: boolean, row: number): void;
  pressure(control: number, value01: number, row: number): void;
}

const MAX_7 = 127;
const MAX_14 = 16_383;
const QUARTERS = 4;
const NO_BANK = -1;

interface PairState {
  readonly pair: Pair14;
  readonly control: number;
  readonly channel: number;
  /** The MSB's controller: the number of the whole. */
  readonly number: number;
  row: number;
}

/** What became of a whole SysEx message: a control sends it, none does, or it breaks its standard. */
export type SysexRead = "taken" | "nobody" | "malformed";

export class SurfaceReader {
  compiled: CompiledSurface;
  /** The numbers of what is told of just now (midi/message-parts.ts). */
  readonly parts: Int32Array;
  /** Where time code stands, or null while none was heard. */
  timeCode: TimeCodePosition | null = null;
  readonly #sink: ControlSink;
  readonly #pairs = new Map<number, PairState>();
  readonly #parameters: (ParameterNumbers | null)[] = new Array<ParameterNumbers | null>(16).fill(null);
  readonly #banks = new Int16Array(16).fill(NO_BANK);
  readonly #time = new TimeCodeReader();
  #waiting = false;

  constructor(compiled: CompiledSurface, sink: ControlSink, parts: Int32Array = newMessageParts()) {
    this.compiled = compiled;
    this.#sink = sink;
    this.parts = parts;
  }

  /** A short message that is no control in the plain tables. False: no control of this surface sends it. */
  short(status: number, data1: number, data2: number, row: number, atMs: number): boolean {
    const { special } = this.compiled;
    shortParts(this.parts, status, data1, data2);
    const channel = status & 15;
    switch (status & 0xf0) {
      case 0x80:
      case 0x90: {
        const touched = special.touch.get(specialKey(0x90 | channel, data1));
        if (touched === undefined) return false;
        this.#sink.touch(touched, (status & 0xf0) === 0x90 && data2 > 0, row);
        return true;
      }
      case 0xa0:
        return this.#pressure(special.pressure.get(specialKey(status, data1)), data2 / MAX_7, row);
      case 0xd0:
        return this.#pressure(special.pressure.get(specialKey(status, 0)), data1 / MAX_7, row);
      case 0xb0:
        return this.#controller(channel, data1, data2, row, atMs);
      case 0xc0:
        return this.#program(channel, data1, row);
      default:
        return this.#system(status, data1, data2, row);
    }
  }

  /** A whole SysEx message. */
  sysex(bytes: Uint8Array, row: number): SysexRead {
    clearParts(this.parts);
    for (const { control, prefix, valueAt, bits } of this.compiled.special.sysex) {
      if (!startsWith(bytes, prefix)) continue;
      const at = prefix.length + valueAt;
      const last = at + (bits === 14 ? 1 : 0);
      if (valueAt < 0) {
        this.#oneValue(control, 1, row);
        return "taken";
      }
      if (last >= bytes.length - 1) return "nobody"; // shorter than the profile says
      const value = bits === 14 ? (bytes[at]! << 7) | bytes[last]! : bytes[at]!;
      setPart(this.parts, "value", value);
      this.#oneValue(control, value / (bits === 14 ? MAX_14 : MAX_7), row);
      return "taken";
    }
    const full = readFullFrame(bytes);
    if (full === "malformed") return full;
    if (full) return this.#at(this.#time.full(full), row) ? "taken" : "nobody";
    return this.#standard(bytes, row);
  }

  /** Gives out halves of values that have waited long enough. */
  due(atMs: number): void {
    if (!this.#waiting) return;
    this.#waiting = false;
    for (const state of this.#pairs.values()) {
      this.#pairValue(state, state.pair.due(atMs), state.row);
      if (state.pair.isWaiting) this.#waiting = true;
    }
    for (const parameters of this.#parameters) {
      parameters?.due(atMs);
      if (parameters?.isWaiting) this.#waiting = true;
    }
  }

  #pressure(control: number | undefined, value01: number, row: number): boolean {
    if (control === undefined) return false;
    if (this.compiled.profile.controls[control]!.pressure) this.#sink.pressure(control, value01, row);
    else this.#sink.move(control, value01, row);
    return true;
  }

  #controller(channel: number, number: number, value7: number, row: number, atMs: number): boolean {
    const { special } = this.compiled;
    const role = special.controllers.get(channel * 128 + number);
    switch (role?.kind) {
      case "msb":
      case "lsb": {
        const state = this.#pairOf(role.pair, role.control, channel, role.kind === "msb" ? number : number - BANK_LSB);
        const { row: before } = state;
        state.row = row;
        const value = role.kind === "msb" ? state.pair.msb(value7, atMs) : state.pair.lsb(value7, atMs);
        // An MSB that waited alone is answered when the next one comes: it is the value of the message before.
        const further = state.pair.takeFurther();
        this.#pairValue(state, value, state.pair.isWaiting || further >= 0 ? before : row);
        this.#pairValue(state, further, row);
        if (state.pair.isWaiting) this.#waiting = true;
        return true;
      }
      case "relative":
        this.#sink.turn(role.control, decodeRelative(role.encoding, value7), row);
        return true;
      case "clicks":
        if (value7 !== role.right && value7 !== role.left) return false;
        this.#sink.turn(role.control, value7 === role.right ? 1 : -1, row);
        return true;
      default:
        break;
    }
    const touched = special.touch.get(specialKey(0xb0 | channel, number));
    if (touched !== undefined) {
      this.#sink.touch(touched, value7 > 0, row);
      return true;
    }
    if (number === RESET_CONTROLLERS) {
      this.#parameters[channel]?.deselect();
      return false;
    }
    if (special.parameters[channel] && isParameterController(number)) {
      const parameters = this.#parametersOf(channel);
      const taken = parameters.controller(number, value7, atMs, row);
      if (parameters.isWaiting) this.#waiting = true;
      return taken;
    }
    if ((number === BANK_MSB || number === BANK_LSB) && this.#hasPrograms(channel)) {
      const bank = Math.max(0, this.#banks[channel]!);
      this.#banks[channel] = number === BANK_MSB ? (value7 << 7) | (bank & 127) : (bank & ~127) | value7;
      return true;
    }
    return false;
  }

  #hasPrograms(channel: number): boolean {
    const { selectors, programs } = this.compiled.special;
    if (selectors.has(channel)) return true;
    for (const slot of programs.keys()) if (slot >> 7 === channel) return true;
    return false;
  }

  #program(channel: number, program: number, row: number): boolean {
    const { special } = this.compiled;
    setPart(this.parts, "bank", this.#banks[channel]!);
    const button = special.programs.get(channel * 128 + program);
    if (button !== undefined) {
      this.#sink.press(button, 1, row);
      return true;
    }
    const selector = special.selectors.get(channel);
    if (selector === undefined) return false;
    this.#sink.move(selector, program / MAX_7, row);
    return true;
  }

  #system(status: number, data1: number, data2: number, row: number): boolean {
    if (status === 0xf1) {
      if (this.compiled.special.timeCode < 0) return false;
      const position = this.#time.quarter(data1 >> 4, data1 & 15);
      return position === null ? true : this.#at(position, row);
    }
    const control = this.compiled.special.system.get(status);
    if (control === undefined) return false;
    if (status === 0xf2) this.#sink.move(control, ((data2 << 7) | data1) / MAX_14, row);
    else this.#sink.press(control, 1, row);
    return true;
  }

  #at(position: TimeCodePosition, row: number): boolean {
    const control = this.compiled.special.timeCode;
    if (control < 0) return false;
    this.timeCode = position;
    const day = framesADay(position.rate) * QUARTERS;
    const quarters = ((position.quarters % day) + day) % day; // backwards past midnight
    this.#sink.move(control, quarters / day, row);
    return true;
  }

  #standard(bytes: Uint8Array, row: number): SysexRead {
    const cue = decodeShowControl(bytes);
    const machine = cue ? null : decodeMachineControl(bytes);
    if (cue === "malformed" || machine === "malformed") return "malformed";
    let taken = false;
    if (cue) taken = this.#command(cue, row);
    else for (const one of machine ?? []) taken = this.#command(one, row) || taken;
    return taken ? "taken" : "nobody";
  }

  /** The first control that means this command; what a profile leaves out may be anything. */
  #command(heard: ShowControl | MachineControl, row: number): boolean {
    const { standards } = this.compiled.special;
    const { controls } = this.compiled.profile;
    const control = standards.find((c) => means(controls[c]!.sends, heard));
    if (control === undefined) return false;
    clearParts(this.parts);
    setPart(this.parts, "device", heard.device);
    if ("format" in heard) {
      setPart(this.parts, "command", SHOW_COMMANDS[heard.command]);
      setPart(this.parts, "number", heard.macro ?? heard.control ?? NO_PART);
      setPart(this.parts, "value", heard.value ?? NO_PART);
      cueParts(this.parts, heard.cue, heard.list, heard.path);
    } else {
      setPart(this.parts, "command", MACHINE_COMMANDS[heard.command]);
      setPart(this.parts, "number", heard.point ?? NO_PART);
    }
    this.#sink.press(control, 1, row);
    return true;
  }

  #oneValue(control: number, value01: number, row: number): void {
    const { behaviour } = this.compiled.profile.controls[control]!;
    if (behaviour === "absolute") this.#sink.move(control, value01, row);
    else if (value01 > 0) this.#sink.press(control, value01, row);
    else this.#sink.release(control, row);
  }

  #pairOf(pair: number, control: number, channel: number, number: number): PairState {
    let state = this.#pairs.get(pair);
    if (!state) {
      state = { pair: new Pair14(), control, channel: channel + 1, number, row: 0 };
      this.#pairs.set(pair, state);
    }
    return state;
  }

  #pairValue({ control, channel, number }: PairState, value14: number, row: number): void {
    if (value14 === NO_VALUE) return;
    channelParts(this.parts, channel, number, value14);
    this.#sink.move(control, value14 / MAX_14, row);
  }

  #parametersOf(channel: number): ParameterNumbers {
    let parameters = this.#parameters[channel];
    if (parameters) return parameters;
    const controlOf = (registered: boolean, number: number) =>
      this.compiled.special.parameters[channel]?.get(registered ? REGISTERED + number : number);
    parameters = new ParameterNumbers({
      knows: (registered, number) => controlOf(registered, number) !== undefined,
      value: (registered, number, value14, row) => {
        const control = controlOf(registered, number);
        if (control === undefined) return;
        channelParts(this.parts, channel + 1, number, value14);
        this.#sink.move(control, value14 / MAX_14, row);
      },
      step: (registered, number, step, row) => {
        const control = controlOf(registered, number);
        if (control === undefined) return;
        channelParts(this.parts, channel + 1, number, NO_PART);
        this.#sink.turn(control, step, row);
      },
    });
    this.#parameters[channel] = parameters;
    return parameters;
  }

  /** The control of the parameter number that is named on a channel 0..15 now; -1 = none. */
  namedParameter(channel: number): number {
    const parameters = this.#parameters[channel];
    if (!parameters || parameters.number < 0) return -1;
    const key = parameters.registered ? REGISTERED + parameters.number : parameters.number;
    return this.compiled.special.parameters[channel]?.get(key) ?? -1;
  }
}

function startsWith(bytes: Uint8Array, prefix: Uint8Array): boolean {
  if (prefix.length > bytes.length) return false;
  for (let i = 0; i < prefix.length; i++) if (bytes[i] !== prefix[i]) return false;
  return true;
}

/** True where every field that the profile names is what was heard. */
function means(wanted: Control["sends"], heard: ShowControl | MachineControl): boolean {
  if (wanted.kind !== "show-control" && wanted.kind !== "machine-control") return false;
  if (wanted.command !== heard.command || "format" in heard !== (wanted.kind === "show-control")) return false;
  if (wanted.device !== undefined && !isForDevice(wanted.device, heard.device)) return false;
  if (wanted.kind === "machine-control" || !("format" in heard)) return true;
  if (wanted.format !== undefined && !isForFormat(wanted.format, heard.format)) return false;
  return (["cue", "list", "path"] as const).every((field) => {
    const own = wanted[field];
    return own === undefined || (heard[field] !== undefined && sameCue(own, heard[field]));
  });
}
