/** The way towards the desk: bytes to hands, hands to mappings, mappings to actions. */

import { NOT_CAUSED } from "../guard/loop.ts";
import { clearParts } from "../midi/message-parts.ts";
import type { World } from "../run-state/world.ts";
import type { HouseEvents } from "../to-desk/house.ts";
import { ActionFiring } from "./firing.ts";
import { Hands } from "./hands.ts";
import { MidiInput } from "./midi-input.ts";
import { TakeoverPath } from "./takeover-path.ts";
import { restoreUnfinished, type Unfinished } from "./unfinished.ts";

export class CommandPath {
  readonly firing: ActionFiring;
  readonly takeover: TakeoverPath;
  readonly #world: World;
  readonly #input: MidiInput;
  readonly #hands: Hands;

  constructor(world: World, events: Omit<HouseEvents, "run">) {
    this.#world = world;
    this.firing = new ActionFiring(world, events);
    this.takeover = new TakeoverPath(world);
    this.#hands = new Hands(world, this.firing, this.takeover);
    this.#input = new MidiInput(world, this.#hands, this.firing.output);
  }

  /**
   * Takes over from a path that failed. Whoever reads bytes for that one is replaced at the next of them; half a message
   * or half a value is lost with it.
   */
  adopt(): void {
    for (const surface of this.#world.surfaces) {
      surface.parser = null;
      surface.reader = null;
      this.#hands.adopt(surface);
    }
    for (const desk of this.#world.desks) desk.parser = null;
  }

  /** Goes on with what another engine had begun. */
  restore(unfinished: Unfinished, atMs: number): void {
    restoreUnfinished(this.#world, unfinished, (surface) => this.#hands.gesturesOf(surface), atMs);
  }

  /** Bytes from a surface's input port, or from where it is drawn. */
  bytes(surface: number, bytes: Uint8Array, atMs: number, isDrawn: boolean): void {
    this.#world.now[0] = atMs;
    this.#input.bytes(surface, bytes, isDrawn);
    this.#world.generation[0] = NOT_CAUSED; // lights that follow are news of a desk
  }

  /** The input was closed: half a message must not meet the next one. */
  reset(surface: number): void {
    const state = this.#world.surfaces[surface]!;
    state.parser?.reset();
    state.reader = null;
    state.forgetGestures();
  }

  /** Bytes from a desk that speaks MIDI, for routes. True where a route passed some of them on. */
  deskMidi(desk: number, bytes: Uint8Array, row: number): boolean {
    const passed = this.#input.deskMidi(desk, bytes, row);
    this.#world.generation[0] = NOT_CAUSED;
    return passed;
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

  /** Sets the time for calls that come from outside of a message. */
  at(atMs: number): this {
    this.#world.now[0] = atMs;
    clearParts(this.#world.message);
    this.#world.generation[0] = NOT_CAUSED;
    return this;
  }
}
