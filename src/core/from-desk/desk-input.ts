/** What a desk says: OSC, lines or MIDI, to what is known of it. */
import type { CompiledDesk, CompiledState, HeardAt } from "../desk/compile-desk.ts";
import { stateIndex } from "../desk/compile-desk.ts";
import { type HeardValue, heardValue, hearLine, hearMidi } from "../desk/hearing.ts";
import { matchLine } from "../desk/line-pattern.ts";
import { type LinkStep, NO_NETWORK } from "../desk/link.ts";
import { matchMidi } from "../desk/midi-pattern.ts";
import { CONFIRMED, NOT_DONE, THEIRS } from "../desk/truth-terms.ts";
import type { CommandPath } from "../hands/command-path.ts";
import { MidiParser } from "../midi/parser.ts";
import { isAddressPattern } from "../osc/address-pattern.ts";
import { PatternBudget } from "../osc/address-tree.ts";
import { decodeOsc } from "../osc/decode.ts";
import { encodeOsc } from "../osc/encode.ts";
import { LaterBundles, MOST_WAITING } from "../osc/later-bundles.ts";
import type { OscArgument, OscMessage, OscPacket } from "../osc/types.ts";
import { type DeskRuntime, UPKEEP_ASKED } from "../run-state/desk-runtime.ts";
import { markWatchers, type World } from "../run-state/world.ts";
import { OUTCOME } from "../trace/outcome.ts";
import { SIDE_DESK } from "../trace/traffic-ring.ts";
import type { ReportPath } from "./reports.ts";

export class DeskInput {
  readonly #world: World;
  readonly #links: boolean;
  readonly #commands: CommandPath;
  readonly #reports: ReportPath;
  readonly #text = new TextDecoder();
  // What one message brought.
  /** What the patterns of the datagram in hand may still cost. */
  readonly #patterns = new PatternBudget();
  #changedValues = 0;
  #heardKnown = false;
  #confirmedMs = -1;
  #confirmedRow = 0;
  /** Row of what the desk did not take, though it was sent again and again; 0 = there is none. */
  #notTakenRow = 0;
  #pulseMs = -1;
  #refused = false;
  #streamed = false;
  /** Values it said because it was asked for them, and others. */
  #answered = 0;
  #unasked = 0;
  #pageMoved = false;
  /** When the bundle is carried out that waits longest, in ms; -1 = nothing waits. */
  #heldUntilMs = -1;
  /** What became of a bundle that could not wait for its time. */
  #atOnce: "too-far" | "no-room" | null = null;
  /** Letters of an address pattern that could not be read; 0 = there was none. */
  #badPattern = 0;
  /** One of the messages of a piece of MIDI turned the page. */
  #movedByMidi = false;
  readonly #later = new LaterBundles<DeskRuntime>();

  /** `links`: false where no desk is there to be asked, as in a dry run. */
  constructor(world: World, commands: CommandPath, reports: ReportPath, links: boolean) {
    this.#world = world;
    this.#commands = commands;
    this.#reports = reports;
    this.#links = links;
  }

  /** A datagram, a line or MIDI bytes. Answers true if the page that is up, or what is selected, changed with it. */
  bytes(d: number, bytes: Uint8Array, atMs: number): boolean {
    const { ring, desks } = this.#world;
    const { kind } = this.#world.context.compiled.desks[d]!.profile.wire;
    if (kind === "midi") return this.#midi(d, bytes, atMs);
    const row = ring.long(atMs, SIDE_DESK, d, bytes, 0, bytes.length);
    this.#begin();
    if (kind === "lines") this.#line(d, this.#text.decode(bytes), atMs);
    else {
      const result = decodeOsc(bytes);
      if (!result.ok) {
        ring.outcome(row, OUTCOME.malformed, -1, -1, bytes.length, result.problem.atByte, 0);
        desks[d]!.malformed++;
        return false;
      }
      this.#packet(d, result.packet, atMs, row);
    }
    const step = desks[d]!.link.heard(atMs);
    this.#tell(row, atMs);
    this.#mayBeBack(d, step, atMs);
    return this.#pageMoved;
  }

  /** It has answered after a silence: what it missed is said to it, and what we do not know is asked. */
  #mayBeBack(d: number, step: LinkStep, atMs: number): void {
    const desk = this.#world.desks[d]!;
    if (step.returned) {
      desk.settleHealth();
      desk.store.setTiming(this.#links ? desk.link.timing : NO_NETWORK);
      const again = desk.store.back(atMs);
      this.#commands.firing.output.deskReturned(d);
      for (const value of again) this.#commands.firing.output.again(d, value);
      if (this.#links) this.#reports.upkeep(d, step, atMs);
      this.#reports.markDesk(d);
    }
  }

  /**
   * Carries out the bundles whose time has come, each with a row of its own that names the one that brought it. Answers as
   * `bytes` does.
   */
  due(atMs: number): boolean {
    let moved = false;
    for (const { of: desk, bundle, row: cause } of this.#later.takeDue(atMs)) {
      const d = this.#world.desks.indexOf(desk);
      if (d < 0) continue; // another address or another profile is another desk
      const bytes = encodeOsc(bundle);
      const row = this.#world.ring.long(atMs, SIDE_DESK, d, bytes, 0, bytes.length);
      this.#begin();
      for (const element of bundle.elements) this.#packet(d, element, atMs, row);
      this.#tell(row, atMs, cause);
      if (this.#pageMoved) moved = true;
    }
    return moved;
  }

  #begin(): void {
    this.#patterns.begin();
    this.#changedValues = 0;
    this.#heardKnown = false;
    this.#confirmedMs = -1;
    this.#confirmedRow = 0;
    this.#notTakenRow = 0;
    this.#pulseMs = -1;
    this.#refused = false;
    this.#streamed = false;
    this.#answered = 0;
    this.#unasked = 0;
    this.#pageMoved = false;
    this.#heldUntilMs = -1;
    this.#atOnce = null;
    this.#badPattern = 0;
  }

  /** `cause`: the row of the bundle that is carried out now. */
  #tell(row: number, atMs: number, cause = 0): void {
    const { ring } = this.#world;
    if (this.#badPattern > 0) ring.outcome(row, OUTCOME.badPattern, -1, -1, this.#badPattern, 0, 0);
    else if (this.#atOnce === "too-far") ring.outcome(row, OUTCOME.otherClock, -1, -1, 0, 0, 0);
    else if (this.#atOnce === "no-room") ring.outcome(row, OUTCOME.noRoomToWait, -1, -1, MOST_WAITING, 0, 0);
    else if (this.#patterns.isSpent) ring.outcome(row, OUTCOME.patternsTooWide, -1, -1, 0, 0, 0);
    else if (this.#pulseMs >= 0) ring.outcome(row, OUTCOME.pulse, -1, -1, this.#pulseMs, 0, 0);
    else if (this.#refused) ring.outcome(row, OUTCOME.deskRefused, -1, -1, 0, 0, this.#confirmedRow);
    else if (this.#notTakenRow > 0) ring.outcome(row, OUTCOME.notTaken, -1, -1, 0, 0, this.#notTakenRow);
    else if (this.#confirmedMs >= 0)
      ring.outcome(row, OUTCOME.confirmed, -1, -1, this.#confirmedMs, this.#changedValues, this.#confirmedRow);
    else if (this.#streamed && this.#changedValues === 0) ring.outcome(row, OUTCOME.stream, -1, -1, 0, 0, 0);
    else if (this.#heldUntilMs >= 0 && this.#changedValues === 0)
      ring.outcome(row, OUTCOME.dueLater, -1, -1, this.#heldUntilMs - atMs, 0, 0);
    else if (!this.#heardKnown) ring.outcome(row, OUTCOME.unheard, -1, -1, 0, 0, cause);
    else if (this.#changedValues > 0) ring.outcome(row, OUTCOME.reported, -1, -1, this.#changedValues, 0, cause);
    else
      ring.outcome(
        row,
        this.#answered > 0 && this.#unasked === 0 ? OUTCOME.answer : OUTCOME.unchanged,
        -1,
        -1,
        0,
        0,
        0,
      );
  }

  #packet(d: number, packet: OscPacket, atMs: number, row: number): void {
    if (packet.kind === "message") {
      this.#message(d, packet, atMs);
      return;
    }
    const time = this.#later.timeOf(packet.timeTag, atMs);
    if (time.is === "later") {
      this.#later.add({ of: this.#world.desks[d]!, bundle: packet, dueMs: time.dueMs, row });
      this.#heldUntilMs = Math.max(this.#heldUntilMs, time.dueMs);
      return;
    }
    if (time.is !== "now") this.#atOnce = time.is;
    for (const element of packet.elements) this.#packet(d, element, atMs, row);
  }

  #message(d: number, message: OscMessage, atMs: number): void {
    const compiled = this.#world.context.compiled.desks[d]!;
    const heart = compiled.profile.heartbeat?.heard;
    if (heart && "address" in heart && message.address === heart.address) {
      const pulse = rawOf(message.args[heart.argument]);
      this.#pulse(d, typeof pulse === "number" ? pulse : null, atMs);
      return;
    }
    const heard = compiled.hears.get(message.address);
    if (heard) this.#heardAt(d, compiled, heard, message, atMs);
    else if (isAddressPattern(message.address)) {
      // A pattern speaks of every address it fits.
      const found = compiled.hearsTree.find(message.address, this.#patterns);
      if (!found) this.#badPattern = message.address.length;
      for (const all of found ?? []) this.#heardAt(d, compiled, all, message, atMs);
    }
  }

  #heardAt(d: number, compiled: CompiledDesk, heard: readonly HeardAt[], message: OscMessage, atMs: number): void {
    for (const { state, index } of heard) {
      const own = state.state.heard as { argument: number };
      if (own.argument >= message.args.length) continue;
      this.#heardKnown = true;
      const raw = rawOf(message.args[own.argument]);
      const value = raw === null ? null : heardValue(state.state, raw);
      if (value !== null) this.#value(d, compiled, state, index, value, atMs);
    }
  }

  #line(d: number, text: string, atMs: number): void {
    const compiled = this.#world.context.compiled.desks[d]!;
    const heart = compiled.heartLine;
    const words = heart ? matchLine(heart, text) : null;
    if (heart && words) {
      const word = words[heart.names.indexOf("pulse")];
      this.#pulse(d, word === undefined ? null : Number(word), atMs);
      return;
    }
    if (compiled.replies && this.#reply(d, compiled.replies, text, atMs)) return;
    this.#values(d, compiled, hearLine(compiled.hearsLines, text), atMs);
  }

  /** Answers come in the order of the commands, so each belongs to the oldest that has none. */
  #reply(d: number, replies: NonNullable<CompiledDesk["replies"]>, text: string, atMs: number): boolean {
    const done = matchLine(replies.done, text) !== null;
    if (!done && matchLine(replies.refused, text) === null) return false;
    const desk = this.#world.desks[d]!;
    const command = desk.answered();
    this.#heardKnown = true;
    this.#refused = !done;
    if (!command) return true;
    if (done && command.state === UPKEEP_ASKED) {
      this.#pulseMs = atMs - command.atMs; // no news to a person
      return true;
    }
    this.#confirmedRow = command.row;
    this.#confirmedMs = atMs - command.atMs;
    if (done || command.state < 0) return true;
    desk.store.forgetSent(command.state); // it was not done: what the desk reported before still holds
    markWatchers(this.#world, d, command.state);
    return true;
  }

  /** MIDI in any pieces: each whole message has a row of its own, and none stands in two. */
  #midi(d: number, bytes: Uint8Array, atMs: number): boolean {
    const desk = this.#world.desks[d]!;
    const { ring, now } = this.#world;
    desk.parser ??= new MidiParser({
      short: (status, d1, d2, length) => this.#midiRow(desk.index, Uint8Array.of(status, d1, d2).subarray(0, length)),
      sysex: (sysex) => this.#midiRow(desk.index, sysex),
      dropped: (_reason, count) => {
        const row = ring.short(now[0]!, SIDE_DESK, desk.index, 0, 0, 0, 0);
        ring.outcome(row, OUTCOME.malformed, -1, -1, count, 0, 0);
        desk.malformed++;
      },
    });
    desk.index = d;
    now[0] = atMs;
    this.#movedByMidi = false;
    desk.parser.feed(bytes);
    this.#mayBeBack(d, desk.link.heard(atMs), atMs);
    return this.#movedByMidi;
  }

  #midiRow(d: number, bytes: Uint8Array): void {
    const { ring, now } = this.#world;
    const row = ring.long(now[0]!, SIDE_DESK, d, bytes, 0, bytes.length);
    this.#begin();
    ring.outcome(row, OUTCOME.unheard, -1, -1, 0, 0, 0);
    const routed = this.#commands.deskMidi(d, bytes, row);
    this.#midiMessage(d, bytes, now[0]!);
    if (!routed || this.#heardKnown) this.#tell(row, now[0]!);
    if (this.#pageMoved) this.#movedByMidi = true;
  }

  #midiMessage(d: number, bytes: Uint8Array, atMs: number): void {
    const compiled = this.#world.context.compiled.desks[d]!;
    const pulse = compiled.heartMidi ? matchMidi(compiled.heartMidi, bytes) : null;
    if (pulse) {
      const number = pulse.get("pulse");
      this.#pulse(d, typeof number === "number" ? number : null, atMs);
    } else this.#values(d, compiled, hearMidi(compiled.hearsMidi, bytes), atMs);
  }

  #pulse(d: number, pulse: number | null, atMs: number): void {
    this.#heardKnown = true;
    this.#pulseMs = Math.max(0, this.#world.desks[d]!.link.pulseHeard(pulse, atMs));
  }

  #values(d: number, compiled: CompiledDesk, heard: readonly HeardValue<CompiledState>[], atMs: number): void {
    for (const { of, numbers, value } of heard) this.#value(d, compiled, of, stateIndex(of, numbers), value, atMs);
  }

  #value(
    d: number,
    compiled: CompiledDesk,
    state: CompiledState,
    index: number,
    value: number | string,
    atMs: number,
  ): void {
    const { store } = this.#world.desks[d]!;
    this.#heardKnown = true;
    if (store.said(index, atMs)) this.#answered++;
    else this.#unasked++;
    if (state.state.stream) this.#streamed = true;
    if (typeof value === "string") {
      if (store.texts[index] === value) return;
      store.reportText(index, value);
      this.#changedValues++;
      markWatchers(this.#world, d, index);
      return;
    }
    const before = store.number(index);
    const known = store.isKnown(index);
    const bits = store.report(index, value, atMs);
    if (bits & CONFIRMED) {
      this.#confirmedMs = store.confirmedMs;
      this.#confirmedRow = store.sentRow(index);
    }
    if (bits & NOT_DONE) this.#notTakenRow = store.sentRow(index);
    if (store.takeResend(index)) this.#commands.firing.output.again(d, index);
    const changed = !known || before !== store.number(index);
    // Confirmed, or the desk decided otherwise: what showed the sent value shows the true one.
    if (changed || bits !== 0) markWatchers(this.#world, d, index);
    if (!changed) return;
    if (!state.state.stream || bits & CONFIRMED) this.#changedValues++;
    if (state === compiled.page || state === compiled.selection) this.#pageMoved = true;
    if (bits & THEIRS) this.#reports.loseFaders(d, index);
  }
}

function rawOf(argument: OscArgument | undefined): number | string | null {
  switch (argument?.type) {
    case "i":
    case "f":
    case "d":
      return Number.isFinite(argument.value) ? argument.value : null;
    case "h":
      return Number(argument.value);
    case "T":
      return 1;
    case "F":
      return 0;
    case "s":
    case "S":
    case "r":
      return argument.value;
    default:
      return null;
  }
}
