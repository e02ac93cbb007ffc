/**
 * What was sent since the checkpoint, as the journal has to tell it (RFC 6295, section 4 and appendix A): of each
 * thing the newest, with the packet it was in. Sequence numbers here do not wrap round.
 */
import { BANK_LSB, BANK_MSB, DATA_ENTRY, ENDS_NOTES, namesParameter, RESET_CONTROLLERS } from "../midi/controllers.ts";
import type { ChannelJournal, ControllerLog, Journal, NoteLog } from "./journal.ts";
import { ParameterState } from "./parameter-state.ts";
import { SystemState } from "./system-state.ts";

const CHANNELS = 16;
/** Channel mode messages that are told by how often they were sent: their value says nothing (A.3.2). */
export const COUNTED_MODES: ReadonlySet<number> = new Set([...ENDS_NOTES, RESET_CONTROLLERS]);
/** What "reset all controllers" sets back: modulation, expression and pedals; the parameter number is named no more. */
export const SET_BACK: readonly number[] = [1, 11, 64, 65, 66, 67];
const COUNT_MODULO = 64;

interface Sent {
  readonly value: number;
  readonly sequence: number;
}

class ChannelHistory {
  program: (Sent & { readonly bank: { readonly msb: number; readonly lsb: number } | null }) | null = null;
  readonly controllers = new Map<number, Sent>();
  /** How often each mode message was sent, ever. */
  readonly counts = new Map<number, number>();
  bend: Sent | null = null;
  /** By note: its velocity; 0 = it was let go. */
  readonly notes = new Map<number, Sent>();
  pressure: Sent | null = null;
  readonly keyPressures = new Map<number, Sent>();
  readonly parameters = new ParameterState();
  msb = -1;
  lsb = -1;
}

export class SentHistory {
  readonly #channels: (ChannelHistory | undefined)[] = new Array(CHANNELS).fill(undefined);
  readonly #system = new SystemState();
  #isEmpty = true;

  get isEmpty(): boolean {
    return this.#isEmpty;
  }

  /** A message went out in this packet. */
  add(message: Uint8Array, sequence: number): void {
    const status = message[0]!;
    if (status >= 0xf0) {
      this.#system.hear(message, sequence);
      if (!this.#system.isBare) this.#isEmpty = false;
      return;
    }
    if (status < 0x80) return;
    const [, first = 0, second = 0] = message;
    const channel = this.#channels[status & 0x0f] ?? new ChannelHistory();
    this.#channels[status & 0x0f] = channel;
    this.#isEmpty = false;
    switch (status >> 4) {
      case 8:
        channel.notes.set(first, { value: 0, sequence });
        return;
      case 9:
        channel.notes.set(first, { value: second, sequence });
        return;
      case 10:
        channel.keyPressures.set(first, { value: second, sequence });
        return;
      case 11:
        this.#controller(channel, first, second, sequence);
        return;
      case 12: {
        const isChosen = channel.msb >= 0 || channel.lsb >= 0;
        const bank = isChosen ? { msb: Math.max(0, channel.msb), lsb: Math.max(0, channel.lsb) } : null;
        channel.program = { value: first, bank, sequence };
        return;
      }
      case 13:
        channel.pressure = { value: first, sequence };
        return;
      default:
        channel.bend = { value: first | (second << 7), sequence };
    }
  }

  #controller(channel: ChannelHistory, controller: number, value: number, sequence: number): void {
    if (controller === BANK_MSB) channel.msb = value;
    if (controller === BANK_LSB) channel.lsb = value;
    if (COUNTED_MODES.has(controller))
      channel.counts.set(controller, ((channel.counts.get(controller) ?? 0) + 1) % COUNT_MODULO);
    if (channel.parameters.hear(controller, value, sequence)) {
      // Chapter M tells of it, and not C; data from before belongs to no parameter, and must not get into this one.
      if (namesParameter(controller)) for (const c of DATA_ENTRY) channel.controllers.delete(c);
      return;
    }
    channel.controllers.set(controller, { value, sequence });
    if (controller === RESET_CONTROLLERS) {
      for (const c of SET_BACK) channel.controllers.delete(c);
      channel.bend = channel.pressure = null;
      channel.keyPressures.clear();
      channel.parameters.deselect(sequence);
    } else if (COUNTED_MODES.has(controller)) {
      // No note is left that could be pressed (A.8 and A.9: what is told is of notes that are on).
      channel.pressure = null;
      channel.keyPressures.clear();
      // It let go of every note; that of each stays told, for those who do not know this message.
      for (const [note, { value: velocity }] of channel.notes)
        if (velocity > 0) channel.notes.set(note, { value: 0, sequence });
    }
  }

  /** The other end has everything up to this packet: it need not be told again. */
  forget(upTo: number): void {
    this.#system.forget(upTo);
    this.#isEmpty = this.#system.isBare;
    for (const channel of this.#channels) {
      if (!channel) continue;
      const isHad = (sent: Sent | null) => sent !== null && sent.sequence <= upTo;
      if (isHad(channel.program)) channel.program = null;
      if (isHad(channel.bend)) channel.bend = null;
      if (isHad(channel.pressure)) channel.pressure = null;
      channel.parameters.forget(upTo);
      for (const map of [channel.controllers, channel.notes, channel.keyPressures])
        for (const [key, sent] of map) if (isHad(sent)) map.delete(key);
      if (!isBare(channel)) this.#isEmpty = false;
    }
  }

  /** The journal of the packet `sequence`, which tells of those before it from `checkpoint` on. */
  journal(checkpoint: number, sequence: number): Journal {
    const channels: ChannelJournal[] = [];
    for (let number = 0; number < CHANNELS; number++) {
      const channel = this.#channels[number];
      if (channel && !isBare(channel)) channels.push(tell(channel, number, sequence - 1));
    }
    if (this.#system.isBare) return { checkpoint: checkpoint & 0xffff, channels };
    return { checkpoint: checkpoint & 0xffff, channels, system: this.#system.journal((s) => s < sequence - 1) };
  }
}

function isBare(channel: ChannelHistory): boolean {
  const { program, controllers, bend, notes, pressure, keyPressures, parameters } = channel;
  return !program && !bend && !pressure && parameters.isBare && controllers.size + notes.size + keyPressures.size === 0;
}

/** `last`: the packet right before the one that tells. */
function tell(history: ChannelHistory, channel: number, last: number): ChannelJournal {
  const isOld = (sent: Sent) => sent.sequence < last;
  const { program, bend, pressure } = history;
  const on: NoteLog[] = [];
  const off: number[] = [];
  let areOffOld = true;
  for (const [note, sent] of history.notes) {
    if (sent.value > 0) on.push({ note, velocity: sent.value, play: true, isOld: isOld(sent) });
    else {
      off.push(note);
      areOffOld &&= isOld(sent);
    }
  }
  // Built field by field: this is done for each packet, and objects that are spread cost half of it.
  const told: { -readonly [K in keyof ChannelJournal]: ChannelJournal[K] } = { channel };
  if (program) told.program = { program: program.value, bank: program.bank, isOld: isOld(program) };
  if (history.controllers.size > 0) {
    const controllers: ControllerLog[] = [];
    for (const [controller, sent] of history.controllers) {
      const isCounted = COUNTED_MODES.has(controller);
      const value = isCounted ? history.counts.get(controller)! : sent.value;
      controllers.push({ controller, tool: isCounted ? "count" : "value", value, isOld: isOld(sent) });
    }
    if (controllers.length > 1) controllers.sort((x, y) => x.controller - y.controller);
    told.controllers = controllers;
  }
  if (!history.parameters.isBare) told.parameters = history.parameters.chapter((s) => s < last);
  if (bend) told.bend = { value: bend.value, isOld: isOld(bend) };
  if (history.notes.size > 0) told.notes = { on, off, areOffOld };
  if (pressure) told.pressure = { value: pressure.value, isOld: isOld(pressure) };
  if (history.keyPressures.size > 0)
    told.keyPressures = [...history.keyPressures].map(([note, s]) => ({ note, value: s.value, isOld: isOld(s) }));
  return told;
}
