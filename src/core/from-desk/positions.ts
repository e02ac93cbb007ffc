/**
 * What follows a level on a surface: motors, rings of lights, and texts. As with lights, only differences are sent, and
 * no motor is moved under a hand (rule 15).
 */

import type { MotorMessage } from "../format/surface-profile.ts";
import type { TakeoverPath } from "../hands/takeover-path.ts";
import { READY } from "../run-state/context.ts";
import { MOTOR_STEPS, type SurfaceState } from "../run-state/surface-state.ts";
import { FEEDBACK_BYPASSED, type World } from "../run-state/world.ts";
import { displayBytes, displayText } from "../surface/display.ts";
import { valueWords } from "../surface/value-words.ts";
import { OUTCOME } from "../trace/outcome.ts";
import { DIRECTION_OUT } from "../trace/traffic-ring.ts";
import { shownAction, shownMapping } from "./lights.ts";

/** A fader that a hand moved is left alone for this long, in ms. */
export const HAND_RESTS_MS = 250;
/** Steps of 16,383 that count as the same: a level comes back from the desk rounded to its own numbers. */
const SAME_STEP = 8;
/** Bytes that count as one message of a port's budget. */
const BUDGET_BYTES = 3;
const MAX_7 = 127;
/** What is shown, as the traffic tells it. */
const MOTOR = 1;
const RING = 2;
const TEXT = 3;
const STEPS_PER_7 = MOTOR_STEPS / MAX_7;

export class Positions {
  readonly #world: World;
  readonly #takeover: TakeoverPath;
  readonly #message = new Uint8Array(6);

  constructor(world: World, takeover: TakeoverPath) {
    this.#world = world;
    this.#takeover = takeover;
  }

  /** Sends what differs of one control. False: the rest has to wait, for the budget or for a hand. */
  draw(s: number, surface: SurfaceState, control: number, atMs: number): boolean {
    const { compiled } = surface;
    const own = compiled.profile.controls[control]!;
    const texts = compiled.displaysOf.get(control);
    if (!own.motor && !own.ring && !texts) return true;
    const m = shownMapping(this.#world.context, compiled.firstControl + control);
    const hidden = (this.#world.bypassed[compiled.firstControl + control]! & FEEDBACK_BYPASSED) !== 0;
    let done = true;
    if (own.ring && !this.#ring(s, surface, control, hidden ? -1 : m, atMs)) return false;
    if (own.motor && !hidden) done = this.#motor(s, surface, control, m, own.motor, atMs);
    for (const d of texts ?? []) if (!this.#text(s, surface, d, hidden ? -1 : m, atMs)) return false;
    return done;
  }

  /** Rule 15: not under a finger, and not while the hand may still be moving it. */
  #motor(s: number, surface: SurfaceState, control: number, m: number, motor: MotorMessage, atMs: number): boolean {
    // What nobody drives goes down, so that it can be seen; a level that is not known is left where it is.
    const level = m < 0 ? 0 : this.#takeover.target(m);
    if (level < 0) return true;
    const fine = motor.kind !== "controller";
    const step = Math.round(level * (fine ? MOTOR_STEPS : MAX_7));
    const known = surface.motorSent[control]!;
    if (known >= 0 && Math.abs(known - (fine ? step : step * STEPS_PER_7)) <= SAME_STEP) return true;
    const movedAtMs = surface.movedAtMs(control);
    if (surface.touched[control] || (movedAtMs >= 0 && atMs - movedAtMs < HAND_RESTS_MS)) return false;
    const length = this.#motorBytes(motor, step);
    if (!surface.budget.take(atMs, length / BUDGET_BYTES)) return false;
    surface.motorMoved(control, level);
    this.#send(s, control, m, length, MOTOR, atMs);
    return true;
  }

  #motorBytes(motor: MotorMessage, step: number): number {
    const bytes = this.#message;
    const channel = motor.channel - 1;
    switch (motor.kind) {
      case "bend":
        bytes[0] = 0xe0 | channel;
        bytes[1] = step & 127;
        bytes[2] = step >> 7;
        return 3;
      case "controller":
        bytes[0] = 0xb0 | channel;
        bytes[1] = motor.number;
        bytes[2] = step;
        return 3;
      case "controller-14":
        bytes[0] = bytes[3] = 0xb0 | channel;
        bytes[1] = motor.number;
        bytes[2] = step >> 7;
        bytes[4] = motor.number + 32;
        bytes[5] = step & 127;
        return 6;
      default:
        return motor satisfies never;
    }
  }

  #ring(s: number, surface: SurfaceState, control: number, m: number, atMs: number): boolean {
    const ring = surface.compiled.profile.controls[control]!.ring!;
    const level = m < 0 ? -1 : this.#takeover.target(m);
    const value = level < 0 ? ring.off : Math.round(ring.from + level * (ring.to - ring.from));
    if (value === surface.ringSent[control]) return true;
    if (!surface.budget.take(atMs)) return false;
    surface.ringSent[control] = value;
    this.#message[0] = (ring.kind === "note" ? 0x90 : 0xb0) | (ring.channel - 1);
    this.#message[1] = ring.number;
    this.#message[2] = value;
    this.#send(s, control, m, 3, RING, atMs);
    return true;
  }

  #text(s: number, surface: SurfaceState, d: number, m: number, atMs: number): boolean {
    const compiled = surface.compiled.displays[d]!;
    const { shows, length } = compiled.display;
    const text = displayText(m < 0 ? "" : shows === "name" ? this.#name(m) : this.#value(m), length);
    if (text === surface.textSent[d]) return true;
    const bytes = displayBytes(compiled, text);
    if (!surface.budget.take(atMs, Math.ceil(bytes.length / BUDGET_BYTES))) return false;
    surface.textSent[d] = text;
    const { ring, outbox } = this.#world;
    const row = ring.long(atMs, DIRECTION_OUT, s, bytes, 0, bytes.length);
    ring.outcome(row, OUTCOME.light, m, compiled.control, 0, TEXT, 0);
    outbox.toSurface(s, bytes, 0, bytes.length);
    return true;
  }

  /** What the desk calls it, or else what the show does. */
  #name(m: number): string {
    const { context, desks } = this.#world;
    const a = shownAction(context, m);
    const { name } = context.compiled.show.mappings[m]!;
    if (a < 0) return name;
    const label = context.sibling(a, "label");
    const told = label < 0 ? undefined : desks[context.table.desk(a)]!.store.texts[label];
    return told || name || context.compiled.actions[a]!.fn.fn.name;
  }

  #value(m: number): string {
    const { context, desks } = this.#world;
    const a = shownAction(context, m);
    if (a < 0 || context.look(a) !== READY) return "";
    const state = context.table.state(a);
    const { store } = desks[context.table.desk(a)]!;
    if (state < 0 || !store.isKnown(state)) return "";
    const value = store.effective(state);
    const { range } = context.compiled.actions[a]!;
    return range ? valueWords(value, range) : value > 0 ? "on" : "off";
  }

  #send(s: number, control: number, m: number, length: number, what: number, atMs: number): void {
    const { ring, outbox } = this.#world;
    const bytes = this.#message;
    for (let at = 0; at < length; at += 3) {
      const row = ring.short(atMs, DIRECTION_OUT, s, bytes[at]!, bytes[at + 1]!, bytes[at + 2]!, 3);
      ring.outcome(row, OUTCOME.light, m, control, 0, what, 0);
    }
    outbox.toSurface(s, bytes, 0, length);
  }
}
