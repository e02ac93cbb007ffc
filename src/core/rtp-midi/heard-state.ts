/** What a receiver has heard of each channel, and how a journal puts right what it has not (RFC 6295, appendix A). */
import type { ChannelJournal, ControllerLog, Journal } from "./journal.ts";
import { COUNTED_MODES, RESET_CONTROLLERS } from "./sent-history.ts";

const UNKNOWN = -1;
const RESET_ALL = 121;
const PEDAL_DOWN = 127;
const COUNT_MODULO = 64;
/** Parameter numbers come before what is written to the parameter. */
const PARAMETER_NUMBERS: ReadonlySet<number> = new Set([98, 99, 100, 101]);

class ChannelState {
  program = UNKNOWN;
  msb = UNKNOWN;
  lsb = UNKNOWN;
  bend = UNKNOWN;
  pressure = UNKNOWN;
  readonly controllers = new Int16Array(128).fill(UNKNOWN);
  /** How often a controller came, modulo 64; for switches, how often it was turned round. */
  readonly counts = new Uint8Array(128);
  readonly toggles = new Uint8Array(128);
  readonly notes = new Uint8Array(128);
  readonly keyPressures = new Int16Array(128).fill(UNKNOWN);
}

export class HeardState {
  readonly #channels: (ChannelState | undefined)[] = new Array(16);

  /** A message was heard, or put right. */
  hear(message: Uint8Array): void {
    const status = message[0]!;
    if (status < 0x80 || status >= 0xf0) return;
    const [, first = 0, second = 0] = message;
    const channel = this.#channel(status & 0x0f);
    switch (status >> 4) {
      case 8:
        channel.notes[first] = 0;
        return;
      case 9:
        channel.notes[first] = second;
        return;
      case 10:
        channel.keyPressures[first] = second;
        return;
      case 11:
        hearController(channel, first, second);
        return;
      case 12:
        channel.program = first;
        return;
      case 13:
        channel.pressure = first;
        return;
      default:
        channel.bend = first | (second << 7);
    }
  }

  /** Notes that are on, as `[channel, note]`. */
  held(): [number, number][] {
    return this.#channels.flatMap((channel, c) =>
      channel ? [...channel.notes].flatMap((velocity, n): [number, number][] => (velocity > 0 ? [[c, n]] : [])) : [],
    );
  }

  /** Says what has to be said so that this end stands as the journal tells; returns how many messages that took. */
  repair(journal: Journal, say: (message: Uint8Array) => void): number {
    let said = 0;
    for (const told of journal.channels) {
      const channel = this.#channel(told.channel);
      this.#repairChannel(channel, told, (kind, ...data) => {
        const message = Uint8Array.of((kind << 4) | told.channel, ...data);
        this.hear(message);
        say(message);
        said++;
      });
    }
    return said;
  }

  #repairChannel(channel: ChannelState, told: ChannelJournal, say: (kind: number, ...data: number[]) => void): void {
    const { program, controllers = [], bend, notes, pressure, keyPressures = [] } = told;
    // What sets back comes before what was set after it.
    for (const log of controllers) if (COUNTED_MODES.has(log.controller)) repairController(channel, log, say);
    if (program) {
      const { bank } = program;
      const isOther = bank !== null && (bank.msb !== channel.msb || bank.lsb !== channel.lsb);
      if (isOther) {
        say(11, 0, bank.msb);
        say(11, 32, bank.lsb);
      }
      if (isOther || program.program !== channel.program) say(12, program.program);
    }
    for (const first of [true, false])
      for (const log of controllers)
        if (!COUNTED_MODES.has(log.controller) && PARAMETER_NUMBERS.has(log.controller) === first)
          repairController(channel, log, say);
    if (bend && bend.value !== channel.bend) say(14, bend.value & 0x7f, bend.value >> 7);
    if (pressure && pressure.value !== channel.pressure) say(13, pressure.value);
    for (const note of notes?.off ?? []) if (channel.notes[note]! > 0) say(8, note, 64);
    for (const { note, velocity, play } of notes?.on ?? []) {
      if (channel.notes[note] === velocity || !play) continue;
      if (channel.notes[note]! > 0) say(8, note, 64); // it was let go of and played anew
      say(9, note, velocity);
    }
    for (const { note, value } of keyPressures) if (value !== channel.keyPressures[note]) say(10, note, value);
  }

  #channel(number: number): ChannelState {
    const channel = this.#channels[number] ?? new ChannelState();
    this.#channels[number] = channel;
    return channel;
  }
}

function hearController(channel: ChannelState, controller: number, value: number): void {
  const was = channel.controllers[controller]!;
  channel.controllers[controller] = value;
  channel.counts[controller] = (channel.counts[controller]! + 1) % COUNT_MODULO;
  if (value >= 64 !== was >= 64) channel.toggles[controller] = (channel.toggles[controller]! + 1) % COUNT_MODULO;
  if (controller === 0) channel.msb = value;
  if (controller === 32) channel.lsb = value;
  if (controller === RESET_ALL) {
    for (const c of RESET_CONTROLLERS) channel.controllers[c] = UNKNOWN;
    channel.bend = channel.pressure = UNKNOWN;
    channel.keyPressures.fill(UNKNOWN);
  } else if (COUNTED_MODES.has(controller)) channel.notes.fill(0);
}

function repairController(
  channel: ChannelState,
  { controller, tool, value }: ControllerLog,
  say: (kind: number, ...data: number[]) => void,
): void {
  switch (tool) {
    case "value":
      if (channel.controllers[controller] !== value) say(11, controller, value);
      return;
    case "toggle":
      // An odd number of turns: it is down.
      if (channel.toggles[controller] === value) return;
      if (channel.controllers[controller]! >= 64 !== (value & 1) > 0) say(11, controller, value & 1 ? PEDAL_DOWN : 0);
      channel.toggles[controller] = value;
      return;
    case "count":
      if (channel.counts[controller] === value) return;
      // However often it was sent, once does what it does.
      say(11, controller, Math.max(0, channel.controllers[controller]!));
      channel.counts[controller] = value;
      return;
    default:
      tool satisfies never;
  }
}
