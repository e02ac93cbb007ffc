/** From what hands did to the mappings that fire: presses with their gestures, moves with their takeover, turns, touches. */

import {
  GESTURE,
  GESTURES,
  MOVE,
  PRESS,
  PRESSURE,
  RELEASE,
  TIMED_GESTURES,
  TOUCH,
  TURN,
  TURN_LEFT,
  TURN_RIGHT,
  UNTOUCH,
  WHILE_HELD,
} from "../format/gestures.ts";
import { type GestureFired, GestureRecogniser, NO_PLAN, type PressPlan } from "../gesture/recogniser.ts";
import { CATCH, CONVERGE, JUMP } from "../mapping/mapping-tables.ts";
import { CONDITIONAL } from "../run-state/context.ts";
import { LIT_ITSELF, type SurfaceState } from "../run-state/surface-state.ts";
import { COMMANDS_BYPASSED, type World } from "../run-state/world.ts";
import { LATCHES, LATCHES_BOTH_ON, ONE_SHOT } from "../surface/compile-surface.ts";
import { OUTCOME } from "../trace/outcome.ts";
import { type ActionFiring, type Firing, MOVED } from "./firing.ts";
import { releaseKey } from "./release-key.ts";
import type { TakeoverPath } from "./takeover-path.ts";

const MIDDLE = 0.5;
/** Clicks a second at which an endless control with acceleration moves twice, thrice, … as far. */
const FAST_CLICKS_PER_S = 25;
/** What was taught and has not moved for this long, in ms, plays again. */
const RESTS_MS = 300;
/** Times a mapping for one direction may fire for one message. */
const MOST_STEPS = 16;
/** A fader that passed the middle of a switch. */
const CROSSED_UP: Firing = { ...MOVED, edge: 1 };
const CROSSED_DOWN: Firing = { ...MOVED, edge: 0 };

export class Hands {
  readonly #world: World;
  readonly #firing: ActionFiring;
  readonly #takeover: TakeoverPath;

  constructor(world: World, firing: ActionFiring, takeover: TakeoverPath) {
    this.#world = world;
    this.#firing = firing;
    this.#takeover = takeover;
  }

  /** A range has no position that could be caught: each of its numbers stands for another level. */
  moveInRange(surface: SurfaceState, control: number, value: number, row: number): void {
    if (this.#world.teaches) {
      this.#taught(surface, control, row);
      return;
    }
    const m = this.#mappingAt(surface, control, MOVE, row);
    if (m >= 0) this.#firing.fire(m, control, value, row, MOVED);
  }

  pressure(surface: SurfaceState, control: number, value: number, row: number): void {
    if (this.#world.teaches || surface.taught[control]) {
      this.#world.ring.outcome(row, OUTCOME.taught, -1, control, 0, 0, 0);
      return;
    }
    const m = this.#mappingAt(surface, control, PRESSURE, row);
    if (m >= 0) this.#firing.fire(m, control, value, row, MOVED);
  }

  press(surface: SurfaceState, control: number, value: number, row: number, which = 0): void {
    const world = this.#world;
    const { compiled } = surface;
    const { context } = world;
    const base = (compiled.firstControl + control) * GESTURES;
    const behaviour = compiled.behaviour[control]!;
    if (behaviour === LATCHES_BOTH_ON && surface.pressed[control] === 1) {
      this.release(surface, control, row, which); // its second "on" is its off
      return;
    }
    this.#pressed(surface, control, 1);
    if (world.teaches) {
      this.#taught(surface, control, row);
      if (behaviour === ONE_SHOT) this.#pressed(surface, control, 0);
      return;
    }
    surface.taught[control] = 0;
    if (world.bypassed[compiled.firstControl + control]! & COMMANDS_BYPASSED) {
      world.ring.outcome(row, OUTCOME.bypassed, -1, control, 0, 0, 0);
      if (behaviour === ONE_SHOT) this.#pressed(surface, control, 0);
      return;
    }
    const press = context.mappingAt(base + PRESS);
    const whileHeld = context.mappingAt(base + WHILE_HELD);
    const release = context.mappingAt(base + RELEASE);
    const plan = this.#planAt(base);
    if (release >= 0) surface.onRelease.set(releaseKey(control, which), release);
    if (press < 0 && whileHeld < 0 && release < 0 && !plan) {
      if (context.compiled.modifiers.has(compiled.firstControl + control))
        world.ring.outcome(row, OUTCOME.waitingForGesture, -1, control, 0, 0, 0);
      else this.#noMapping(base + PRESS, control, row);
      if (behaviour === ONE_SHOT) this.#pressed(surface, control, 0);
      return;
    }
    const id = compiled.profile.controls[control]!.id;
    // A press whose release got lost is let go before the next one starts.
    const lost = world.held.release(compiled.id, id, which);
    if (lost) this.#firing.output.letGo(lost);
    const held = world.held.press(compiled.id, id, world.now[0]!, row, which);
    world.ring.outcome(row, OUTCOME.waitingForGesture, -1, control, 0, 0, 0);
    const edge = behaviour === LATCHES || behaviour === LATCHES_BOTH_ON ? 1 : -1;
    if (press >= 0) this.#firing.fire(press, control, value, row, { ...MOVED, held, edge });
    if (whileHeld >= 0) this.#firing.fire(whileHeld, control, value, row, { ...MOVED, held, whileHeld: true });
    if (plan) {
      const holds = held.releases.length > 0;
      this.gesturesOf(surface).press(control, plan, value, row, world.now[0]!, [...world.message], holds);
    }
    if (behaviour !== ONE_SHOT) return;
    world.held.release(compiled.id, id, which);
    this.#firing.output.letGo(held, row);
    this.#pressed(surface, control, 0);
  }

  /** Which mapping each gesture that time decides would fire, and its times; null where there is none. */
  #planAt(base: number): PressPlan | null {
    const { context } = this.#world;
    const { mappingHoldMs, mappingDoubleMs } = context.compiled;
    const plan = { ...NO_PLAN };
    let timed = false;
    for (const gesture of TIMED_GESTURES) {
      plan[gesture] = context.mappingAt(base + GESTURE[gesture].code);
      if (plan[gesture] >= 0) timed = true;
    }
    if (!timed) return null;
    // The time of the gesture that is mapped, or else of the tap that waits for it.
    const time = (m: number, times: Int32Array) => times[m >= 0 ? m : Math.max(0, plan.tap)] ?? 0;
    return { ...plan, holdMs: time(plan.hold, mappingHoldMs), doubleMs: time(plan.double, mappingDoubleMs) };
  }

  #pressed(surface: SurfaceState, control: number, on: 0 | 1): void {
    surface.pressed[control] = on;
    if (on) surface.touch(control, this.#world.now[0]!);
    surface.moved.add(control);
    surface.dirty.add(control);
    if (surface.kind.lightsItself) this.#litItself(surface, control, on);
    // Chords: what other controls mean, and so what they show, may just have changed.
    if (this.#world.context.compiled.modifiers.has(surface.compiled.firstControl + control))
      for (const other of this.#world.surfaces) other.markAllDirty();
  }

  /** Rule 16: what the surface shows of a press by itself, so that it is not told the same. */
  #litItself(surface: SurfaceState, control: number, on: 0 | 1): void {
    const palette = surface.compiled.lightPalette[control];
    if (palette) surface.lightSent[control] = on ? LIT_ITSELF : palette.off;
  }

  /** Takes over a surface from hands that failed: what it has not decided yet comes here. */
  adopt(surface: SurfaceState): void {
    surface.gestures?.answerTo(this.#firedOf(surface));
  }

  gesturesOf(surface: SurfaceState): GestureRecogniser {
    surface.gestures ??= new GestureRecogniser(this.#firedOf(surface));
    return surface.gestures;
  }

  #firedOf(surface: SurfaceState): GestureFired {
    return (gesture, control, mapping, value, row, parts) => {
      const { held, ring, message } = this.#world;
      if (parts.length === message.length) message.set(parts);
      const { compiled } = surface;
      ring.outcome(row, OUTCOME.waitingForGesture, -1, control, 0, 0, 0);
      const id = compiled.profile.controls[control]!.id;
      const own = gesture === "tap" ? undefined : held.get(compiled.id, id);
      if (own) this.#firing.fire(mapping, control, value, row, { ...MOVED, held: own });
      else this.#firing.fireOnce(mapping, control, value, row); // a tap is over when it is known
    };
  }

  release(surface: SurfaceState, control: number, row: number, which = 0): void {
    const world = this.#world;
    const { compiled } = surface;
    const behaviour = compiled.behaviour[control]!;
    this.#pressed(surface, control, 0);
    const held = world.held.release(compiled.id, compiled.profile.controls[control]!.id, which);
    const lets = held !== undefined && held.releases.length > 0;
    surface.releaseTaken = held !== undefined;
    // What was pressed before hands began to teach is let go as ever.
    if (!held && (world.teaches || surface.taught[control])) {
      surface.taught[control] = 0;
      world.ring.outcome(row, OUTCOME.released, -1, control, 0, 0, 0);
      return;
    }
    world.ring.outcome(row, lets ? OUTCOME.sent : OUTCOME.released, -1, control, 0, 0, 0);
    // First what it held is let go: a tap that locks the layer it held finds it down, and does not take it down again.
    if (held) this.#firing.output.letGo(held, row);
    surface.gestures?.release(control, world.now[0]!);
    const onRelease = surface.onRelease.get(releaseKey(control, which));
    surface.onRelease.delete(releaseKey(control, which));
    if (onRelease !== undefined && held) this.#firing.fireOnce(onRelease, control, 1, row);
    if (lets || world.teaches || (behaviour !== LATCHES && behaviour !== LATCHES_BOTH_ON)) return;
    const m = this.#mappingAt(surface, control, PRESS, row);
    if (m >= 0) this.#firing.fire(m, control, 0, row, { ...MOVED, edge: 0 });
  }

  /**
   * Lets go of what this surface holds, of every control for which `meant` says yes; true where that was anything. What is
   * not decided yet, such as whether a press becomes a hold, comes to nothing.
   */
  letGo(surface: SurfaceState, meant: (control: number) => boolean, row: number): boolean {
    const { compiled } = surface;
    const gone = this.#world.held.releaseWhere((h) => {
      const control = compiled.indexOf.get(h.control) ?? -1;
      return h.surface === compiled.id && control >= 0 && meant(control);
    });
    for (const held of gone) {
      const control = compiled.indexOf.get(held.control)!;
      this.#pressed(surface, control, 0);
      surface.gestures?.forget(control);
      surface.onRelease.delete(releaseKey(control, held.message));
      this.#firing.output.letGo(held, row);
    }
    return gone.length > 0;
  }

  touch(surface: SurfaceState, control: number, on: boolean, row: number): void {
    surface.touched[control] = on ? 1 : 0;
    surface.touch(control, this.#world.now[0]!);
    surface.moved.add(control);
    surface.dirty.add(control); // a motor that was held back goes on
    this.#world.ring.outcome(row, OUTCOME.released, -1, control, 0, 0, 0);
    if (this.#world.teaches) return;
    const own = surface.compiled.firstControl + control;
    if (this.#world.bypassed[own]! & COMMANDS_BYPASSED) return;
    const m = this.#world.context.mappingAt(own * GESTURES + (on ? TOUCH : UNTOUCH));
    if (m >= 0) this.#firing.fireOnce(m, control, on ? 1 : 0, row);
  }

  /** Its position is in `world.travel`: as an argument it would be boxed at each call (bench row `core.small`). */
  move(surface: SurfaceState, control: number, row: number): void {
    const { compiled } = this.#world.context;
    const value = this.#world.travel[0]!;
    // A number that is passed on is boxed, so that is done only where something is taught (bench row `core.small`).
    const mayTeach = this.#world.teaches || surface.taught[control] === 1;
    const isTaught = mayTeach && this.#teaches(surface, control, surface.movedAtMs(control));
    const before = surface.moveTo(control, value, this.#world.now[0]!);
    surface.moved.add(control);
    if (surface.hasMotors) surface.handMoved(control, value);
    if (isTaught) {
      this.#taught(surface, control, row);
      return;
    }
    const m = this.#mappingAt(surface, control, MOVE, row);
    if (m < 0) return;
    let travel = value;
    const takeover = compiled.mappingTakeover[m]!;
    if (takeover !== JUMP) {
      if (takeover === CATCH && !this.#takeover.catches(surface, control, m, before, value, row)) return;
      if (takeover === CONVERGE) travel = this.#takeover.converge(surface, control, m, before, value);
      if (Number.isNaN(travel)) {
        this.#world.ring.outcome(row, OUTCOME.waitingToCatch, m, control, value, surface.target(control), 0);
        return;
      }
    }
    this.#world.travel[0] = travel;
    const first = compiled.actionStart[m]!;
    if (compiled.actionStart[m + 1]! === first + 1 && this.#firing.drive(first, m, control, row)) return;
    const crossed = before >= 0 && before < MIDDLE !== value < MIDDLE;
    this.#firing.fire(m, control, travel, row, crossed ? (value >= MIDDLE ? CROSSED_UP : CROSSED_DOWN) : MOVED);
  }

  turn(surface: SurfaceState, control: number, steps: number, row: number): void {
    if (steps === 0) return;
    const { context, now } = this.#world;
    const { compiled } = surface;
    const atMs = now[0]!;
    const accelerated = steps * this.#speed(surface, control, steps, atMs);
    const isTaught = this.#teaches(surface, control, surface.turnedAtMs[control]!);
    surface.turnedAtMs[control] = atMs;
    surface.touch(control, atMs);
    surface.moved.add(control);
    if (isTaught) {
      this.#taught(surface, control, row);
      return;
    }
    const base = (compiled.firstControl + control) * GESTURES;
    const way = context.mappingAt(base + (steps > 0 ? TURN_RIGHT : TURN_LEFT));
    const turn = way >= 0 && context.mappingAt(base + TURN) < 0 ? -1 : this.#mappingAt(surface, control, TURN, row);
    if (turn >= 0) this.#firing.fire(turn, control, 0, row, { ...MOVED, steps: accelerated });
    if (way < 0 || this.#world.bypassed[compiled.firstControl + control]! & COMMANDS_BYPASSED) return;
    for (let n = 0; n < Math.min(MOST_STEPS, Math.abs(steps)); n++) this.#firing.fireOnce(way, control, 1, row);
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
      // The desk does not follow: a fader has to catch its level again once it is in service.
      surface.caught[control] = 0;
      surface.setTarget(control, -1);
      ring.outcome(row, OUTCOME.bypassed, -1, control, 0, 0, 0);
      return -1;
    }
    const slot = own * GESTURES + gesture;
    const m = context.mappingAt(slot);
    if (m < 0) this.#noMapping(slot, control, row);
    return m;
  }

  /** Whether what moves teaches: also on its way on from there, until it rests. `beforeMs`: when it moved before. */
  #teaches(surface: SurfaceState, control: number, beforeMs: number): boolean {
    if (this.#world.teaches) return true;
    if (surface.taught[control] && this.#world.now[0]! - beforeMs < RESTS_MS) return true;
    surface.taught[control] = 0;
    return false;
  }

  #taught(surface: SurfaceState, control: number, row: number): void {
    surface.taught[control] = 1;
    // The desk did not follow: a fader has to catch its level again before it plays.
    surface.caught[control] = 0;
    surface.setTarget(control, -1);
    this.#world.ring.outcome(row, OUTCOME.taught, -1, control, 0, 0, 0);
  }

  #noMapping(slot: number, control: number, row: number): void {
    const { context, ring } = this.#world;
    const { mapping, off } = context.nearest(slot);
    const code =
      mapping < 0
        ? OUTCOME.noMapping
        : off
          ? OUTCOME.mappingOff
          : context.active[slot] === CONDITIONAL
            ? OUTCOME.conditionFalse
            : OUTCOME.notHere;
    if (code === OUTCOME.conditionFalse) {
      const failed = context.failedCondition(mapping);
      ring.outcome(row, code, mapping, control, context.conditionValue(mapping, failed), failed, 0);
    } else ring.outcome(row, code, mapping, control, 0, 0, 0);
  }
}
