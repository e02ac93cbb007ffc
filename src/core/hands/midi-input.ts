/** From a surface's bytes to what its hands did: which control a message belongs to, and what it says of it. */

import { GESTURES } from "../format/gestures.ts";
import { wordOf, wordOfBytes } from "../guard/loop.ts";
import { FIRST_CHANNEL_MODE } from "../midi/controllers.ts";
import { endsNotesOf } from "../midi/message.ts";
import { shortParts } from "../midi/message-parts.ts";
import { type MidiDropReason, MidiParser, type MidiSink } from "../midi/parser.ts";
import type { SurfaceState } from "../run-state/surface-state.ts";
import type { World } from "../run-state/world.ts";
import { ABSOLUTE } from "../surface/compile-surface.ts";
import { type ControlSink, SurfaceReader } from "../surface/reader.ts";
import type { DeskOutput } from "../to-desk/desk-output.ts";
import { codesWhere, OUTCOME, type OutcomeCode } from "../trace/outcome.ts";
import type { Hands } from "./hands.ts";
import { Routing } from "./routing.ts";

/** In the place of a control: this message comes from none. -1 = the profile has no control for it. */
const NOT_A_CONTROL = -2;
const MAX_7 = 127;
const MAX_14 = 16_383;

/** A mapping took the message, whatever it then sent. */
const TAKEN = codesWhere((o) => o.taken === true);

/** A release belongs to whoever took its press. */
function isTaken(surface: SurfaceState, outcome: number): boolean {
  return TAKEN.has(outcome) || (outcome === OUTCOME.released && surface.releaseTaken);
}

/** Which message of a range this is; 0 is left for controls that are one message. */
function messageNumber(status: number, d1: number): number {
  return 1 + (((status & 15) << 7) | d1);
}

export class MidiInput {
  readonly #world: World;
  readonly #hands: Hands;
  readonly #routing: Routing;

  constructor(world: World, hands: Hands, output: DeskOutput) {
    this.#world = world;
    this.#hands = hands;
    this.#routing = new Routing(world, output);
  }

  /** Bytes from a surface's input port, or whole messages from where it is drawn, which must not part what comes in pieces. */
  bytes(surface: number, bytes: Uint8Array, isDrawn: boolean): void {
    const state = this.#world.surfaces[surface]!;
    if (isDrawn) {
      state.drawnParser ??= new MidiParser(this.#sinkFor(state));
      state.drawnParser.feed(bytes);
      return;
    }
    state.parser ??= new MidiParser(this.#sinkFor(state));
    state.parser.feed(bytes);
  }

  /** Bytes from a desk that speaks MIDI, for routes. */
  deskMidi(desk: number, bytes: Uint8Array, row: number): boolean {
    return this.#routing.fromDesk(desk, bytes, row);
  }

  #sinkFor(surface: SurfaceState): MidiSink {
    const { ring, now } = this.#world;
    return {
      short: (status, d1, d2, length) => this.#short(surface, status, d1, d2, length),
      sysex: (bytes) => {
        const row = ring.long(now[0]!, 0, surface.index, bytes, 0, bytes.length);
        if (this.#isLoop(surface, wordOfBytes(bytes, 0, bytes.length))) {
          this.#nothing(row, OUTCOME.looped);
          return;
        }
        ring.outcome(row, OUTCOME.notAControl, -1, -1, 0, 0, 0);
        if (this.#readerOf(surface).sysex(bytes, row) === "malformed") {
          ring.outcome(row, OUTCOME.malformed, -1, -1, bytes.length, 0, 0);
          surface.malformed++;
        }
        this.#routing.sysex(surface, bytes, row, isTaken(surface, ring.outcomeOf(row)));
      },
      dropped: (_reason: MidiDropReason, count) => {
        const row = ring.short(now[0]!, 0, surface.index, 0, 0, 0, 0);
        ring.outcome(row, OUTCOME.malformed, -1, -1, count, 0, 0);
        surface.malformed++;
      },
    };
  }

  #short(surface: SurfaceState, status: number, d1: number, d2: number, length: number): void {
    const world = this.#world;
    const atMs = world.now[0]!;
    const row = world.ring.short(atMs, 0, surface.index, status, d1, d2, length);
    if (this.#isLoop(surface, wordOf(status, d1, d2))) {
      this.#nothing(row, OUTCOME.looped);
      return;
    }
    const { compiled } = surface;
    const kind = status & 0xf0;
    const slot = ((status & 15) << 7) | d1;
    const { travel } = world;
    let control: number;
    switch (kind) {
      case 0x80:
      case 0x90:
        control = compiled.noteTo[slot]!;
        travel[0] = kind === 0x90 ? d2 / MAX_7 : 0; // velocity 0 is a release (rule 2)
        break;
      case 0xb0:
        // Channel mode messages (120 to 127) are no controls: no profile can have them, and the table says so.
        control = d1 >= FIRST_CHANNEL_MODE ? NOT_A_CONTROL : compiled.controllerTo[slot]!;
        travel[0] = d2 / MAX_7;
        break;
      case 0xe0:
        control = compiled.bendTo[status & 15]!;
        travel[0] = ((d2 << 7) | d1) / MAX_14;
        break;
      default:
        control = NOT_A_CONTROL;
    }
    if (control < 0 || !surface.isPlain) this.#other(surface, control, status, d1, d2, length, row);
    else this.#plain(surface, control, status, d1, d2, row);
  }

  /** True where the surface hears itself: its route is open, and nothing of it does anything. */
  #isLoop({ loop }: SurfaceState, word: number): boolean {
    const { generation, now } = this.#world;
    generation[0] = loop.heard(word, now[0]!);
    return loop.tripped;
  }

  #plain(surface: SurfaceState, control: number, status: number, d1: number, d2: number, row: number): void {
    const { message, travel } = this.#world;
    shortParts(message, status, d1, d2);
    if (surface.compiled.behaviour[control] === ABSOLUTE) this.#hands.move(surface, control, row);
    else if (travel[0]! > 0) this.#hands.press(surface, control, travel[0]!, row);
    else this.#hands.release(surface, control, row);
  }

  /** Everything that is no plain control by itself: ranges, values in several messages, routes. */
  #other(
    surface: SurfaceState,
    control: number,
    status: number,
    d1: number,
    d2: number,
    length: number,
    row: number,
  ): void {
    const { ring } = this.#world;
    const range = this.#rangeOf(surface, status, d1);
    if (control >= 0 && (range < 0 || this.#isOwn(surface, control, range, status, d1, d2)))
      this.#plain(surface, control, status, d1, d2, row);
    else if (range >= 0) {
      shortParts(this.#world.message, status, d1, d2);
      this.#inRange(surface, range, status, d1, d2, row);
    } else {
      this.#nothing(row, OUTCOME.partOfValue);
      if (!this.#readerOf(surface).short(status, d1, d2, row, this.#world.now[0]!)) {
        const mode = (status & 0xf0) === 0xb0 && d1 >= FIRST_CHANNEL_MODE;
        const channel = endsNotesOf(status, d1);
        if (channel !== null && this.#ends(surface, channel, row)) this.#nothing(row, OUTCOME.letGo);
        else this.#nothing(row, mode || status >= 0xf0 ? OUTCOME.notAControl : OUTCOME.noControl);
      }
    }
    if (!this.#routing.concerns(surface)) return;
    const outcome = ring.outcomeOf(row);
    // One half of a value goes the way of the whole: two halves must not part.
    const whole = outcome === OUTCOME.partOfValue ? this.#partIsMapped(surface, status, d1) : isTaken(surface, outcome);
    this.#routing.short(surface, status, d1, d2, length, row, whole);
  }

  /**
   * Of a control with its own message that lies in a range as well: whether the message is its own. A release goes to
   * whichever of the two was pressed (rule 6); everything else to the control, where it is mapped.
   */
  #isOwn(surface: SurfaceState, control: number, range: number, status: number, d1: number, d2: number): boolean {
    const isNote = (status & 0xe0) === 0x80;
    if (!isNote || ((status & 0xf0) === 0x90 && d2 > 0)) return this.#isMapped(surface, control);
    const { held } = this.#world;
    const { id, profile } = surface.compiled;
    return !held.isHeld(id, profile.controls[range]!.id, messageNumber(status, d1));
  }

  /** What this surface holds by notes of a channel 0..15, or at all (-1), is let go. True where that was anything. */
  #ends(surface: SurfaceState, channel: number, row: number): boolean {
    this.#routing.endAll(surface.id, channel, row);
    if (channel >= 0) return this.#hands.letGo(surface, (c) => this.#isNoteOf(surface, c, channel), row);
    surface.reader = null;
    return this.#hands.letGo(surface, () => true, row);
  }

  #isNoteOf(surface: SurfaceState, control: number, channel: number): boolean {
    const { sends } = surface.compiled.profile.controls[control]!;
    if (sends.kind === "note") return sends.channel - 1 === channel;
    return (
      sends.kind === "any" && sends.of === "note" && sends.channels[0] - 1 <= channel && channel < sends.channels[1]
    );
  }

  /** True where the value that this message is a part of belongs to a control that is mapped. */
  #partIsMapped(surface: SurfaceState, status: number, d1: number): boolean {
    const { controllers, parameters } = surface.compiled.special;
    const role = controllers.get(((status & 15) << 7) | d1);
    if (role) return this.#isMapped(surface, role.control);
    if (!parameters[status & 15]) return false;
    const named = this.#readerOf(surface).namedParameter(status & 15);
    if (named >= 0) return this.#isMapped(surface, named);
    // Which parameter it is about to name is not known yet: it goes the way of those that are mapped.
    for (const control of parameters[status & 15]!.values()) if (this.#isMapped(surface, control)) return true;
    return false;
  }

  #readerOf(surface: SurfaceState): SurfaceReader {
    surface.reader ??= new SurfaceReader(surface.compiled, this.#controlSink(surface), this.#world.message);
    return surface.reader;
  }

  #controlSink(surface: SurfaceState): ControlSink {
    return {
      press: (control, value, row) => this.#hands.press(surface, control, value, row),
      release: (control, row) => this.#hands.release(surface, control, row),
      move: (control, value, row) => {
        this.#world.travel[0] = value;
        this.#hands.move(surface, control, row);
      },
      turn: (control, steps, row) => this.#hands.turn(surface, control, steps, row),
      touch: (control, on, row) => this.#hands.touch(surface, control, on, row),
      pressure: (control, value, row) => this.#hands.pressure(surface, control, value, row),
    };
  }

  #nothing(row: number, code: OutcomeCode): void {
    this.#world.ring.outcome(row, code, -1, -1, 0, 0, 0);
  }

  #rangeOf(surface: SurfaceState, status: number, d1: number): number {
    const { ranges } = surface.compiled;
    if (!ranges) return -1;
    const slot = ((status & 15) << 7) | d1;
    switch (status & 0xf0) {
      case 0x80:
      case 0x90:
        return ranges.note[slot]!;
      case 0xb0:
        return d1 >= FIRST_CHANNEL_MODE ? -1 : ranges.controller[slot]!;
      case 0xc0:
        return ranges.program[slot]!;
      default:
        return -1;
    }
  }

  /** One message of a range: its mappings fire as for a control, and every number is held by itself. */
  #inRange(surface: SurfaceState, control: number, status: number, d1: number, d2: number, row: number): void {
    const which = messageNumber(status, d1);
    switch (status & 0xf0) {
      case 0xb0:
        this.#hands.moveInRange(surface, control, d2 / MAX_7, row);
        return;
      case 0xc0:
        this.#hands.press(surface, control, 1, row);
        return;
      default:
        if ((status & 0xf0) === 0x90 && d2 > 0) this.#hands.press(surface, control, d2 / MAX_7, row, which);
        else this.#hands.release(surface, control, row, which);
    }
  }

  #isMapped(surface: SurfaceState, control: number): boolean {
    const { context } = this.#world;
    const base = (surface.compiled.firstControl + control) * GESTURES;
    for (let g = 0; g < GESTURES; g++) if (context.mappingAt(base + g) >= 0) return true;
    return false;
  }
}
