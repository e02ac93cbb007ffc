/** What a receiver has heard of each channel, and how a journal puts right what it has not (RFC 6295, appendix A). */
import {
  BANK_LSB,
  BANK_MSB,
  DATA_ENTRY,
  namesParameter,
  PEDAL_DOWN_FROM,
  PEDALS,
  RESET_CONTROLLERS,
} from "../midi/controllers.ts";
import type { ChannelJournal, ControllerLog, Journal } from "./journal.ts";
import { ParameterState } from "./parameter-state.ts";
import { COUNTED_MODES, SET_BACK } from "./sent-history.ts";
import { SystemState } from "./system-state.ts";

const UNKNOWN = -1;
const PEDAL_DOWN = 127;
const COUNT_MODULO = 64;

class ChannelState {
  program = UNKNOWN;
  /** The bank that the program was called up from. */
  programBank = UNKNOWN;
  /** The bank that is chosen for the next one. */
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
  readonly parameters = new ParameterState();
}

export class HeardState {
  readonly #channels: (ChannelState | undefined)[] = new Array(16);
  readonly #system = new SystemState();

  /** A message was heard in this packet, or put right. */
  hear(message: Uint8Array, sequence = 0): void {
    const status = message[0]!;
    if (status >= 0xf0) this.#system.hear(message, sequence);
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
        channel.programBank = bankNumber(channel);
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

  /** What ends everything that sounds: its notes, and pedals that are down. */
  endings(): Uint8Array[] {
    const pedals = this.#channels.flatMap((channel, c) =>
      channel
        ? PEDALS.filter((p) => channel.controllers[p]! >= PEDAL_DOWN_FROM).map((p) => Uint8Array.of(0xb0 | c, p, 0))
        : [],
    );
    return [...this.held().map(([channel, note]) => Uint8Array.of(0x80 | channel, note, 64)), ...pedals];
  }

  /**
   * Says what has to be said so that this end stands as the journal of the packet `sequence` tells; returns how many
   * messages that took. `isFirst`: it is the first packet of all.
   */
  repair(journal: Journal, say: (message: Uint8Array) => void, sequence = 0, isFirst = false): number {
    let said = 0;
    const missed = (sequence - 1) & 0xffff; // what is put right came with the packets before this one
    if (journal.system)
      this.#system.repair(
        journal.system,
        (heardIn) => ((heardIn - journal.checkpoint) & 0xffff) < 0x8000,
        isFirst,
        (message) => {
          this.hear(message, missed);
          say(message);
          said++;
        },
      );
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
    const { program, controllers = [], parameters, bend, notes, pressure, keyPressures = [] } = told;
    // What sets back comes before what was set after it.
    for (const log of controllers) if (COUNTED_MODES.has(log.controller)) repairController(channel, log, say);
    if (program) {
      const { bank } = program;
      const isOther =
        program.program !== channel.program || (bank !== null && bankNumber(bank) !== channel.programBank);
      if (isOther && bank !== null && (bank.msb !== channel.msb || bank.lsb !== channel.lsb)) {
        say(11, BANK_MSB, bank.msb);
        say(11, BANK_LSB, bank.lsb);
      }
      if (isOther) say(12, program.program);
    }
    const tellsNumbers = controllers.some((log) => namesParameter(log.controller));
    // Parameter numbers come before what is written to the parameter, for peers that tell both as controllers.
    for (const first of [true, false])
      for (const log of controllers) {
        if (COUNTED_MODES.has(log.controller) || namesParameter(log.controller) !== first) continue;
        // Plain data of a channel without parameter numbers must not get into one that is named.
        if (DATA_ENTRY.includes(log.controller) && !tellsNumbers && channel.parameters.number >= 0) continue;
        repairController(channel, log, say);
      }
    if (parameters) channel.parameters.repair(parameters, (controller, value) => say(11, controller, value));
    if (bend && bend.value !== channel.bend) say(14, bend.value & 0x7f, bend.value >> 7);
    if (pressure && pressure.value !== channel.pressure) say(13, pressure.value);
    for (const note of notes?.off ?? []) if (channel.notes[note]! > 0) say(8, note, 64);
    for (const { note, velocity, play } of notes?.on ?? []) {
      if (channel.notes[note] === velocity || !play) continue;
      if (channel.notes[note]! > 0) say(8, note, 64); // it was let go of and played anew
      say(9, note, velocity);
    }
    for (const { note, value, isOver } of keyPressures)
      if (!isOver && value !== channel.keyPressures[note]) say(10, note, value);
  }

  #channel(number: number): ChannelState {
    const channel = this.#channels[number] ?? new ChannelState();
    this.#channels[number] = channel;
    return channel;
  }
}

/** 0..16,383; a half that was never chosen is 0. */
function bankNumber({ msb, lsb }: { readonly msb: number; readonly lsb: number }): number {
  return (Math.max(0, msb) << 7) | Math.max(0, lsb);
}

function hearController(channel: ChannelState, controller: number, value: number): void {
  const was = channel.controllers[controller]!;
  channel.controllers[controller] = value;
  channel.counts[controller] = (channel.counts[controller]! + 1) % COUNT_MODULO;
  if (value >= 64 !== was >= 64) channel.toggles[controller] = (channel.toggles[controller]! + 1) % COUNT_MODULO;
  if (controller === 0) channel.msb = value;
  if (controller === 32) channel.lsb = value;
  channel.parameters.hear(controller, value, 0);
  if (controller === RESET_CONTROLLERS) {
    for (const c of SET_BACK) channel.controllers[c] = UNKNOWN;
    channel.bend = channel.pressure = UNKNOWN;
    channel.keyPressures.fill(UNKNOWN);
    channel.parameters.deselect(0);
  } else if (COUNTED_MODES.has(controller)) {
    channel.notes.fill(0);
    channel.pressure = UNKNOWN;
    channel.keyPressures.fill(UNKNOWN);
  }
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
