/** The way from the hands: messages to controls, controls to gestures, gestures to the mappings that fire. */

import { type GestureFired, GestureRecogniser, type PressPlan } from "../gesture/recogniser.ts";
import { CATCH, CONVERGE, JUMP, LEVEL } from "../mapping/compile.ts";
import {
  DOUBLE,
  GESTURES,
  HOLD,
  MOVE,
  PRESS,
  PRESSURE,
  RELEASE,
  TAP,
  TOUCH,
  TURN,
  TURN_LEFT,
  TURN_RIGHT,
  UNTOUCH,
  WHILE_HELD,
} from "../mapping/gestures.ts";
import { FIRST_CHANNEL_MODE } from "../midi/message.ts";
import type { MidiDropReason, MidiSink } from "../midi/parser.ts";
import { MidiParser } from "../midi/parser.ts";
import { CATCH_WITHIN, meets } from "../shape/takeover.ts";
import { converged } from "../shape/timed.ts";
import { ABSOLUTE, LATCHES, LATCHES_BOTH_ON, ONE_SHOT } from "../surface/compile-surface.ts";
import { type ControlSink, SurfaceReader } from "../surface/reader.ts";
import { OUTCOME } from "../trace/outcome.ts";
import { READY } from "./context.ts";
import { ActionFiring, type Firing, MOVED } from "./firing.ts";
import type { HouseEvents } from "./house.ts";
import { Routing } from "./routing.ts";
import { travelOf } from "./shaping.ts";
import type { SurfaceState } from "./surface-state.ts";
import { COMMANDS_BYPASSED, type World } from "./world.ts";

/** In the place of a control: this message comes from none. -1 = the profile has no control for it. */
const NOT_A_CONTROL = -2;
const MIDDLE = 0.5;
const MAX_7 = 127;
const MAX_14 = 16_383;
/** Clicks a second at which an endless control with acceleration moves twice, thrice, … as far. */
const FAST_CLICKS_PER_S = 25;
/** Times a mapping for one direction may fire for one message. */
const MOST_STEPS = 16;

export class CommandPath {
  readonly firing: ActionFiring;
  readonly #world: World;
  readonly #routing: Routing;

  constructor(world: World, events: Omit<HouseEvents, "run">) {
    this.#world = world;
    this.firing = new ActionFiring(world, events);
    this.#routing = new Routing(world);
  }

  /** Bytes from a surface's input port. */
  bytes(surface: number, bytes: Uint8Array, atMs: number): void {
    this.#world.now[0] = atMs;
    const state = this.#world.surfaces[surface]!;
    state.parser ??= new MidiParser(this.#sinkFor(state));
    state.parser.feed(bytes);
  }

  /** The input was closed: half a message must not meet the next one. */
  reset(surface: number): void {
    const state = this.#world.surfaces[surface]!;
    state.parser?.reset();
    state.forgetGestures();
  }

  /** Bytes from a desk that speaks MIDI, for routes. */
  deskMidi(desk: number, bytes: Uint8Array, row: number): boolean {
    return this.#routing.fromDesk(desk, bytes, row);
  }

  /** What time alone decides: holds, taps, halves of values, and everything that waits. */
  tick(): void {
    const atMs = this.#world.now[0]!;
    for (const surface of this.#world.surfaces) {
      surface.reader?.due(atMs);
      surface.gestures?.due(atMs);
    }
    this.firing.tick();
  }

  #sinkFor(surface: SurfaceState): MidiSink {
    const { ring, now } = this.#world;
    return {
      short: (status, d1, d2, length) => this.#short(surface, status, d1, d2, length),
      sysex: (bytes) => {
        const row = ring.long(now[0]!, 0, surface.index, bytes, 0, bytes.length);
        ring.outcome(row, OUTCOME.notAControl, -1, -1, 0, 0, 0);
        const taken = this.#readerOf(surface).sysex(bytes, row);
        this.#routing.sysex(surface, bytes, row, taken);
      },
      dropped: (_reason: MidiDropReason, count) => {
        const row = ring.short(now[0]!, 0, surface.index, 0, 0, 0, 0);
        ring.outcome(row, OUTCOME.malformed, -1, -1, count, 0, 0);
      },
    };
  }

  #short(surface: SurfaceState, status: number, d1: number, d2: number, length: number): void {
    const world = this.#world;
    const atMs = world.now[0]!;
    const row = world.ring.short(atMs, 0, surface.index, status, d1, d2, length);
    const { compiled } = surface;
    const kind = status & 0xf0;
    const slot = ((status & 15) << 7) | d1;
    let control: number;
    let value: number;
    switch (kind) {
      case 0x80:
      case 0x90:
        control = compiled.noteTo[slot]!;
        value = kind === 0x90 ? d2 / MAX_7 : 0; // velocity 0 is a release (rule 2)
        break;
      case 0xb0:
        // Channel mode messages (120 to 127) are no controls: no profile can have them, and the table says so.
        control = d1 >= FIRST_CHANNEL_MODE ? NOT_A_CONTROL : compiled.controllerTo[slot]!;
        value = d2 / MAX_7;
        break;
      case 0xe0:
        control = compiled.bendTo[status & 15]!;
        value = ((d2 << 7) | d1) / MAX_14;
        break;
      default:
        control = NOT_A_CONTROL;
        value = 0;
    }
    if (control < 0 || compiled.ranges !== null || world.context.compiled.routes.length > 0) {
      this.#other(surface, control, value, status, d1, d2, length, row);
      return;
    }
    world.message[1] = Number.NaN; // `#plain` tells channel, number and value apart only where they are asked for
    this.#plain(surface, control, value, status, d1, d2, row);
  }

  #plain(
    surface: SurfaceState,
    control: number,
    value: number,
    status: number,
    d1: number,
    d2: number,
    row: number,
  ): void {
    const { message, now } = this.#world;
    if (surface.loop.heard(status, d1, d2, now[0]!)) {
      this.#nothing(row, OUTCOME.looped);
      return;
    }
    message[0] = (status & 15) + 1;
    message[1] = (status & 0xf0) === 0xe0 ? 0 : d1;
    message[2] = d2;
    if (surface.compiled.behaviour[control] === ABSOLUTE) this.#move(surface, control, value, row);
    else if (value > 0) this.#press(surface, control, value, row);
    else this.#release(surface, control, row);
  }

  /** Everything that is no plain control by itself: ranges, values in several messages, routes. */
  #other(
    surface: SurfaceState,
    control: number,
    value: number,
    status: number,
    d1: number,
    d2: number,
    length: number,
    row: number,
  ): void {
    const { ring, message } = this.#world;
    const range = this.#rangeOf(surface, status, d1);
    if (control >= 0 && (range < 0 || this.#isMapped(surface, control)))
      this.#plain(surface, control, value, status, d1, d2, row);
    else if (surface.loop.heard(status, d1, d2, this.#world.now[0]!)) this.#nothing(row, OUTCOME.looped);
    else if (range >= 0) {
      message[0] = (status & 15) + 1;
      message[1] = d1;
      message[2] = d2;
      this.#inRange(surface, range, status, d1, d2, row);
    } else {
      this.#nothing(row, OUTCOME.partOfValue);
      message[0] = (status & 15) + 1;
      message[1] = d1;
      message[2] = d2;
      if (!this.#readerOf(surface).short(status, d1, d2, row, this.#world.now[0]!))
        this.#nothing(
          row,
          control === NOT_A_CONTROL && !this.#isPlayed(status) ? OUTCOME.notAControl : this.#unknown(status, d1),
        );
    }
    if (this.#world.context.compiled.routes.length > 0)
      this.#routing.short(surface, status, d1, d2, length, row, ring.outcomeOf(row));
  }

  #unknown(status: number, d1: number): number {
    return (status & 0xf0) === 0xb0 && d1 >= FIRST_CHANNEL_MODE ? OUTCOME.notAControl : OUTCOME.noControl;
  }

  /** True for messages that hands could have sent: pressure and programs, beside notes, controllers and bends. */
  #isPlayed(status: number): boolean {
    return status < 0xf0;
  }

  #readerOf(surface: SurfaceState): SurfaceReader {
    surface.reader ??= new SurfaceReader(surface.compiled, this.#controlSink(surface));
    return surface.reader;
  }

  #controlSink(surface: SurfaceState): ControlSink {
    const { message } = this.#world;
    const number = () => {
      const said = surface.reader!.number;
      if (said >= 0) message[1] = said;
    };
    return {
      press: (control, value, row) => {
        number();
        this.#press(surface, control, value, row);
      },
      release: (control, row) => this.#release(surface, control, row),
      move: (control, value, row) => {
        number();
        this.#move(surface, control, value, row);
      },
      turn: (control, steps, row) => this.#turn(surface, control, steps, row),
      touch: (control, on, row) => this.#touch(surface, control, on, row),
      pressure: (control, value, row) => {
        const m = this.#mappingAt(surface, control, PRESSURE, row);
        if (m >= 0) this.firing.fire(m, control, value, row, MOVED);
      },
    };
  }

  #nothing(row: number, code: number): void {
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
    const which = 1 + (((status & 15) << 7) | d1);
    switch (status & 0xf0) {
      case 0xb0:
        this.#moveWithoutPlace(surface, control, d2 / MAX_7, row);
        return;
      case 0xc0:
        this.#press(surface, control, 1, row);
        return;
      default:
        if ((status & 0xf0) === 0x90 && d2 > 0) this.#press(surface, control, d2 / MAX_7, row, which);
        else this.#release(surface, control, row, which);
    }
  }

  /** A range has no place that could be caught: each of its numbers stands for another level. */
  #moveWithoutPlace(surface: SurfaceState, control: number, value: number, row: number): void {
    const m = this.#mappingAt(surface, control, MOVE, row);
    if (m >= 0) this.firing.fire(m, control, value, row, MOVED);
  }

  #isMapped(surface: SurfaceState, control: number): boolean {
    const { context } = this.#world;
    const base = (surface.compiled.firstControl + control) * GESTURES;
    for (let g = 0; g < GESTURES; g++) if (context.mappingAt(base + g) >= 0) return true;
    return false;
  }

  #press(surface: SurfaceState, control: number, value: number, row: number, which = 0): void {
    const world = this.#world;
    const { compiled } = surface;
    const { context } = world;
    const base = (compiled.firstControl + control) * GESTURES;
    const behaviour = compiled.behaviour[control]!;
    if (behaviour === LATCHES_BOTH_ON && surface.pressed[control] === 1) {
      this.#release(surface, control, row, which); // its second "on" is its off
      return;
    }
    this.#pressed(surface, control, 1);
    if (world.bypassed[compiled.firstControl + control]! & COMMANDS_BYPASSED) {
      world.ring.outcome(row, OUTCOME.bypassed, -1, control, 0, 0, 0);
      if (behaviour === ONE_SHOT) this.#pressed(surface, control, 0);
      return;
    }
    const press = context.mappingAt(base + PRESS);
    const whileHeld = context.mappingAt(base + WHILE_HELD);
    const release = context.mappingAt(base + RELEASE);
    const plan: PressPlan = {
      tap: context.mappingAt(base + TAP),
      hold: context.mappingAt(base + HOLD),
      double: context.mappingAt(base + DOUBLE),
      holdMs: this.#time(base, HOLD, context.compiled.mappingHoldMs),
      doubleMs: this.#time(base, DOUBLE, context.compiled.mappingDoubleMs),
    };
    surface.onRelease[control] = release;
    const timed = plan.tap >= 0 || plan.hold >= 0 || plan.double >= 0;
    surface.pressMapped[control] = press >= 0 || whileHeld >= 0 || release >= 0 || timed ? 1 : 0;
    if (press < 0 && whileHeld < 0 && release < 0 && !timed) {
      if (context.compiled.modifiers.has(compiled.firstControl + control))
        world.ring.outcome(row, OUTCOME.waitingForGesture, -1, control, 0, 0, 0);
      else this.#noMapping(base + PRESS, control, row);
      if (behaviour === ONE_SHOT) this.#pressed(surface, control, 0);
      return;
    }
    const id = compiled.profile.controls[control]!.id;
    // A press whose release got lost is let go before the next one starts.
    const lost = world.held.release(compiled.id, id, which);
    if (lost) this.firing.output.letGo(lost);
    const held = world.held.press(compiled.id, id, world.now[0]!, row, which);
    world.ring.outcome(row, OUTCOME.waitingForGesture, -1, control, 0, 0, 0);
    const edge = behaviour === LATCHES || behaviour === LATCHES_BOTH_ON ? 1 : -1;
    if (press >= 0) this.firing.fire(press, control, value, row, { ...MOVED, held, edge });
    if (whileHeld >= 0) this.firing.fire(whileHeld, control, value, row, { ...MOVED, held, whileHeld: true });
    if (timed) this.#gesturesOf(surface).press(control, plan, value, row, world.now[0]!);
    if (behaviour !== ONE_SHOT) return;
    world.held.release(compiled.id, id, which);
    this.firing.output.letGo(held, row);
    this.#pressed(surface, control, 0);
  }

  /** The time of the gesture that is mapped, or of the tap that waits for it. */
  #time(base: number, gesture: number, times: Int32Array): number {
    const { context } = this.#world;
    const m = context.mappingAt(base + gesture);
    const other = m >= 0 ? m : context.mappingAt(base + TAP);
    return other >= 0 ? times[other]! : (times[0] ?? 0);
  }

  #pressed(surface: SurfaceState, control: number, on: 0 | 1): void {
    surface.pressed[control] = on;
    if (on) surface.touch(control, this.#world.now[0]!);
    surface.moved.add(control);
    surface.dirty.add(control);
    // Chords: what other controls mean, and so what they show, may just have changed.
    if (this.#world.context.compiled.modifiers.has(surface.compiled.firstControl + control))
      for (const other of this.#world.surfaces) other.markAllDirty();
  }

  #gesturesOf(surface: SurfaceState): GestureRecogniser {
    const fired: GestureFired = (gesture, control, mapping, value, row) => {
      const { held, ring } = this.#world;
      const { compiled } = surface;
      ring.outcome(row, OUTCOME.waitingForGesture, -1, control, 0, 0, 0);
      const id = compiled.profile.controls[control]!.id;
      const own = gesture === "tap" ? undefined : held.get(compiled.id, id);
      if (own) this.firing.fire(mapping, control, value, row, { ...MOVED, held: own });
      else this.firing.fireOnce(mapping, control, value, row); // a tap is over when it is known
    };
    surface.gestures ??= new GestureRecogniser(fired);
    return surface.gestures;
  }

  #release(surface: SurfaceState, control: number, row: number, which = 0): void {
    const world = this.#world;
    const { compiled } = surface;
    const behaviour = compiled.behaviour[control]!;
    this.#pressed(surface, control, 0);
    const held = world.held.release(compiled.id, compiled.profile.controls[control]!.id, which);
    const lets = held !== undefined && held.releases.length > 0;
    world.ring.outcome(row, lets ? OUTCOME.sent : OUTCOME.released, -1, control, 0, 0, 0);
    surface.gestures?.release(control, world.now[0]!);
    if (held) this.firing.output.letGo(held, row);
    const onRelease = surface.onRelease[control]!;
    surface.onRelease[control] = -1;
    if (onRelease >= 0 && held) this.firing.fireOnce(onRelease, control, 1, row);
    if (lets || (behaviour !== LATCHES && behaviour !== LATCHES_BOTH_ON)) return;
    const m = this.#mappingAt(surface, control, PRESS, row);
    if (m >= 0) this.firing.fire(m, control, 0, row, { ...MOVED, edge: 0 });
  }

  #touch(surface: SurfaceState, control: number, on: boolean, row: number): void {
    surface.touched[control] = on ? 1 : 0;
    surface.touch(control, this.#world.now[0]!);
    surface.moved.add(control);
    this.#world.ring.outcome(row, OUTCOME.released, -1, control, 0, 0, 0);
    const slot = (surface.compiled.firstControl + control) * GESTURES + (on ? TOUCH : UNTOUCH);
    const m = this.#world.context.mappingAt(slot);
    if (m >= 0) this.firing.fireOnce(m, control, on ? 1 : 0, row);
  }

  #move(surface: SurfaceState, control: number, value: number, row: number): void {
    const { compiled } = this.#world.context;
    const before = surface.moveTo(control, value, this.#world.now[0]!);
    surface.moved.add(control);
    const m = this.#mappingAt(surface, control, MOVE, row);
    if (m < 0) return;
    let travel = value;
    const takeover = compiled.mappingTakeover[m]!;
    if (takeover !== JUMP) {
      if (takeover === CATCH && !this.#catch(surface, control, m, before, value, row)) return;
      if (takeover === CONVERGE) travel = this.#converge(surface, control, m, before, value);
      if (Number.isNaN(travel)) {
        this.#world.ring.outcome(row, OUTCOME.waitingToCatch, m, control, value, surface.target(control), 0);
        return;
      }
    }
    const first = compiled.actionStart[m]!;
    if (compiled.actionStart[m + 1]! === first + 1 && this.firing.drive(first, m, control, travel, row)) return;
    const crossed = before >= 0 && before < MIDDLE !== value < MIDDLE;
    this.firing.fire(m, control, travel, row, crossed ? (value >= MIDDLE ? CROSSED_UP : CROSSED_DOWN) : MOVED);
  }

  /** Rule 9: true if the fader has hold of the level. */
  #catch(surface: SurfaceState, control: number, m: number, before: number, value: number, row: number): boolean {
    if (surface.caught[control]) return true;
    const target = this.catchTarget(m);
    surface.setTarget(control, target);
    if (target >= 0 && !meets(before, value, target)) {
      this.#world.ring.outcome(row, OUTCOME.waitingToCatch, m, control, value, target, 0);
      return false;
    }
    surface.caught[control] = 1;
    return true;
  }

  /** Rule 9, converge: where the level goes; NaN where the fader was never heard, so it has not moved yet. */
  #converge(surface: SurfaceState, control: number, m: number, before: number, value: number): number {
    if (surface.caught[control]) return value;
    const known = surface.target(control);
    const level = known >= 0 ? known : this.catchTarget(m);
    if (level < 0 || Math.abs(level - value) <= CATCH_WITHIN) {
      surface.caught[control] = 1;
      return value;
    }
    surface.setTarget(control, level);
    if (before < 0) return Number.NaN;
    const next = converged(before, value, level);
    surface.setTarget(control, next);
    if (Math.abs(next - value) <= CATCH_WITHIN) surface.caught[control] = 1;
    return surface.caught[control] ? value : next;
  }

  /** Where a fader has to go to catch mapping m, 0..1; -1 where there is nothing to catch. */
  catchTarget(m: number): number {
    const { context, desks, now } = this.#world;
    const { table } = context;
    const { actionStart } = context.compiled;
    for (let a = actionStart[m]!; a < actionStart[m + 1]!; a++) {
      if (table.acts(a) !== LEVEL || context.resolve(a) !== READY) continue;
      const state = table.state(a);
      const { store } = desks[table.desk(a)]!;
      if (state >= 0 && store.isKnown(state)) return travelOf(context, a, store.effective(state, now[0]!));
    }
    return -1;
  }

  #turn(surface: SurfaceState, control: number, steps: number, row: number): void {
    if (steps === 0) return;
    const { context, now } = this.#world;
    const { compiled } = surface;
    const atMs = now[0]!;
    const accelerated = steps * this.#speed(surface, control, steps, atMs);
    surface.turnedAtMs[control] = atMs;
    surface.touch(control, atMs);
    surface.moved.add(control);
    const base = (compiled.firstControl + control) * GESTURES;
    const way = context.mappingAt(base + (steps > 0 ? TURN_RIGHT : TURN_LEFT));
    const turn = way >= 0 && context.mappingAt(base + TURN) < 0 ? -1 : this.#mappingAt(surface, control, TURN, row);
    if (turn >= 0) this.firing.fire(turn, control, 0, row, { ...MOVED, steps: accelerated });
    if (way < 0 || this.#world.bypassed[compiled.firstControl + control]! & COMMANDS_BYPASSED) return;
    for (let n = 0; n < Math.min(MOST_STEPS, Math.abs(steps)); n++) this.firing.fireOnce(way, control, 1, row);
  }

  #speed(surface: SurfaceState, control: number, steps: number, atMs: number): number {
    const { acceleration = 0 } = surface.compiled.profile.controls[control]!;
    const before = surface.turnedAtMs[control]!;
    if (acceleration === 0 || before < 0) return 1;
    const clicksPerS = (Math.abs(steps) * 1000) / Math.max(1, atMs - before);
    return 1 + acceleration * Math.min(2, clicksPerS / FAST_CLICKS_PER_S);
  }

  #mappingAt(surface: SurfaceState, control: number, gesture: number, row: number): number {
    const { context, ring, bypassed } = this.#world;
    const own = surface.compiled.firstControl + control;
    if (bypassed[own]! & COMMANDS_BYPASSED) {
      ring.outcome(row, OUTCOME.bypassed, -1, control, 0, 0, 0);
      return -1;
    }
    const slot = own * GESTURES + gesture;
    const m = context.mappingAt(slot);
    if (m < 0) this.#noMapping(slot, control, row);
    return m;
  }

  #noMapping(slot: number, control: number, row: number): void {
    const { context, ring } = this.#world;
    const { mapping, off } = context.nearest(slot);
    const code =
      mapping < 0
        ? OUTCOME.noMapping
        : off
          ? OUTCOME.mappingOff
          : context.conditional[slot] === 1
            ? OUTCOME.conditionFalse
            : OUTCOME.notHere;
    ring.outcome(row, code, mapping, control, 0, 0, 0);
  }

  /** Sets the time for calls that come from outside of a message. */
  at(atMs: number): this {
    this.#world.now[0] = atMs;
    this.#world.message.fill(Number.NaN);
    return this;
  }
}

const CROSSED_UP: Firing = { ...MOVED, edge: 1 };
const CROSSED_DOWN: Firing = { ...MOVED, edge: 0 };
