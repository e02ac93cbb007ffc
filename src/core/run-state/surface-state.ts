/** What is known of one surface while the show runs. It outlives edits as long as the surface keeps its profile. */

import { PORT_KINDS } from "../format/port-kinds.ts";
import type { PortRef } from "../format/show.ts";
import type { SurfaceProfile } from "../format/surface-profile.ts";
import type { GestureRecogniser } from "../gesture/recogniser.ts";
import { Budget } from "../guard/budget.ts";
import { LoopDetector } from "../guard/loop.ts";
import type { MidiParser } from "../midi/parser.ts";
import { IndexSet } from "../sets/index-set.ts";
import type { CompiledSurface } from "../surface/compile-surface.ts";
import type { SurfaceReader } from "../surface/reader.ts";

/** A light that was never sent, so that the first look is always a difference. */
const NEVER_SENT = -1;
/** A light that the surface has lit by itself, in whatever value it has for "on". */
export const LIT_ITSELF = -2;

/** The finest steps a motor is sent to: 14 bits (MIDI 1.0, "Pitch Bend Change"). */
export const MOTOR_STEPS = 16_383;

const FADER_DOUBLES = 4;
const TARGET = 1;
const TOUCHED_AT_MS = 2;
const MOVED_AT_MS = 3;

export class SurfaceState {
  readonly id: string;
  /** The profile it was made for, as it was read. */
  readonly kind: SurfaceProfile;
  /** Position, target and time of the last touch of each control, side by side because hands change them together. */
  readonly #faders: Float64Array;
  readonly caught: Uint8Array;
  /** The state a fader caught, so that a page change with the same level under it is seen as a change. */
  readonly caughtState: Int32Array;
  readonly pressed: Uint8Array;
  /** Palette value sent last. */
  readonly lightSent: Int16Array;
  /** Step the motor was sent to last, 0..16383, or where the hand has put it; -1 = not known. */
  readonly motorSent: Int16Array;
  /** Value the ring was sent last; -1 = none. */
  readonly ringSent: Int16Array;
  /** Text each display was sent last. */
  readonly textSent: (string | null)[];
  /** Controls whose light, motor or text may differ from what was sent. */
  readonly dirty: IndexSet;
  loop = new LoopDetector();
  budget: Budget;
  /** Controls whose position, target or press changed since they were last told. */
  readonly moved: IndexSet;
  /** Reads this surface's bytes; made at the first of them. */
  parser: MidiParser | null = null;
  /** Reads what comes from where it is drawn on a screen. */
  drawnParser: MidiParser | null = null;
  /** Reads what takes more than one message or one look-up. */
  reader: SurfaceReader | null = null;
  /** Messages from it that were none: they count as dropped, and not as heard. */
  malformed = 0;
  /** Tells taps, holds and double taps apart. */
  gestures: GestureRecogniser | null = null;
  /** Fingers that rest on a control. */
  readonly touched: Uint8Array;
  /** Controls that teach until they are let go, or rest: what began while hands taught does not end as a play. */
  readonly taught: Uint8Array;
  /** True where a mapping had taken the press of the last release, so that it is not passed on alone. */
  releaseTaken = false;
  /** Mapping that fires on the release of what is pressed, by control and, of a range, which of its messages. */
  readonly onRelease = new Map<number, number>();
  /** When an endless control was turned last, in ms; -1 = never. */
  readonly turnedAtMs: Float64Array;
  /** True where no ranges and no routes have to be looked at, which is nearly always. */
  isPlain = true;
  /** True where some control has a motor. */
  readonly hasMotors: boolean;
  /** Its index in the show and its tables, which an edit may change. */
  index: number;
  compiled: CompiledSurface;

  /** `before` is the state of the same surface with other controls: where its controls stand is taken over by name. */
  constructor(compiled: CompiledSurface, index: number, before?: SurfaceState) {
    this.index = index;
    this.compiled = compiled;
    const count = compiled.profile.controls.length;
    this.id = compiled.id;
    this.kind = compiled.kind;
    this.hasMotors = compiled.profile.controls.some((c) => c.motor);
    this.#faders = new Float64Array(count * FADER_DOUBLES).fill(-1);
    this.caught = new Uint8Array(count);
    this.caughtState = new Int32Array(count).fill(-1);
    this.pressed = new Uint8Array(count);
    this.lightSent = new Int16Array(count).fill(NEVER_SENT);
    this.motorSent = new Int16Array(count).fill(NEVER_SENT);
    this.ringSent = new Int16Array(count).fill(NEVER_SENT);
    this.textSent = new Array<string | null>(compiled.displays.length).fill(null);
    this.dirty = new IndexSet(count);
    this.moved = new IndexSet(count);
    this.touched = new Uint8Array(count);
    this.taught = new Uint8Array(count);
    this.turnedAtMs = new Float64Array(count).fill(-1);
    this.budget = budgetFor(compiled.surface.out.kind);
    if (before?.kind.id === this.kind.id) this.#takeOver(before);
  }

  #takeOver(before: SurfaceState): void {
    this.loop = before.loop;
    this.compiled.indexOf.forEach((control, id) => {
      const old = before.compiled.indexOf.get(id);
      if (old === undefined) return;
      for (let k = 0; k < FADER_DOUBLES; k++)
        this.#faders[control * FADER_DOUBLES + k] = before.#faders[old * FADER_DOUBLES + k]!;
      this.pressed[control] = before.pressed[old]!;
      this.caught[control] = before.caught[old]!;
      this.caughtState[control] = before.caughtState[old]!;
      this.lightSent[control] = before.lightSent[old]!;
      this.motorSent[control] = before.motorSent[old]!;
      this.ringSent[control] = before.ringSent[old]!;
      this.moved.add(control);
    });
  }

  /** Where a fader stands, 0..1; -1 = not heard yet. */
  position(control: number): number {
    return this.#faders[control * FADER_DOUBLES]!;
  }

  /** Where a fader has to go to catch, 0..1; -1 = nothing to catch. */
  target(control: number): number {
    return this.#faders[control * FADER_DOUBLES + TARGET]!;
  }

  setTarget(control: number, target: number): void {
    this.#faders[control * FADER_DOUBLES + TARGET] = target;
  }

  /** When hands were last at this control, in ms; -1 = never. */
  touchedAtMs(control: number): number {
    return this.#faders[control * FADER_DOUBLES + TOUCHED_AT_MS]!;
  }

  touch(control: number, atMs: number): void {
    this.#faders[control * FADER_DOUBLES + TOUCHED_AT_MS] = atMs;
  }

  /** A hand moved the fader; answers where it stood before. */
  moveTo(control: number, position: number, atMs: number): number {
    const at = control * FADER_DOUBLES;
    const before = this.#faders[at]!;
    this.#faders[at] = position;
    this.#faders[at + TOUCHED_AT_MS] = atMs;
    this.#faders[at + MOVED_AT_MS] = atMs;
    return before;
  }

  /** The motor brings the fader to where the level is; its position stays what the hand said last. */
  motorMoved(control: number, position: number): void {
    this.motorSent[control] = Math.round(position * MOTOR_STEPS);
  }

  /** A hand has put a fader with a motor where it is: to be told the same would be one message too many. */
  handMoved(control: number, position: number): void {
    if (!this.compiled.profile.controls[control]!.motor) return;
    this.motorSent[control] = Math.round(position * MOTOR_STEPS);
    this.dirty.add(control);
  }

  /** When a hand moved this fader last, in ms; -1 = never. */
  movedAtMs(control: number): number {
    return this.#faders[control * FADER_DOUBLES + MOVED_AT_MS]!;
  }

  /** What was not decided never will be: the surface is gone. */
  forgetGestures(): void {
    this.gestures?.cancel();
    this.onRelease.clear();
  }

  /** What is not decided yet goes on under the new tables, in which a mapping has the number that `now` answers; -1 = none. */
  renumberGestures(now: (mapping: number) => number): void {
    this.gestures?.renumber(now);
    for (const [key, mapping] of this.onRelease) {
      const next = now(mapping);
      if (next < 0) this.onRelease.delete(key);
      else this.onRelease.set(key, next);
    }
  }

  /** Nothing is pressed or touched any more, as far as anybody can tell. */
  handsOff(): void {
    for (let c = 0; c < this.controlCount; c++) if (this.pressed[c] || this.touched[c]) this.moved.add(c);
    this.pressed.fill(0);
    this.touched.fill(0);
  }

  /** Takes over where a fader stood before the engine was started anew. */
  restorePosition(control: number, position: number): void {
    this.#faders[control * FADER_DOUBLES] = position;
  }

  get controlCount(): number {
    return this.pressed.length;
  }

  setPort(kind: PortRef["kind"]): void {
    this.budget = budgetFor(kind);
  }

  markAllDirty(): void {
    for (let c = 0; c < this.controlCount; c++) this.dirty.add(c);
  }

  /** Draws everything again: forgets what was sent. */
  forgetLights(): void {
    this.lightSent.fill(NEVER_SENT);
    this.motorSent.fill(NEVER_SENT);
    this.ringSent.fill(NEVER_SENT);
    this.textSent.fill(null);
    this.markAllDirty();
  }
}

function budgetFor(kind: PortRef["kind"]): Budget {
  const { perS, burst } = PORT_KINDS[kind];
  return new Budget(perS, burst);
}
