/** The way towards the desk: control events to actions, values and datagrams. */

import type { Held } from "../gesture/held.ts";
import {
  A_DESK_PLACE,
  A_FIRST_MESSAGE,
  A_INTS,
  A_REPORTED,
  A_RESOLVED_IN,
  A_STATE,
  A_STATUS_ACTS_FLAGS,
  statusActsFlags,
} from "../mapping/action-table.ts";
import { FLASH, GESTURES, LEVEL, MOVE, PRESS, TOGGLE } from "../mapping/compile.ts";
import { FIRST_CHANNEL_MODE } from "../midi/message.ts";
import type { MidiDropReason, MidiSink } from "../midi/parser.ts";
import { MidiParser } from "../midi/parser.ts";
import { shapeValue, travelFor } from "../shape/linear.ts";
import { meets } from "../shape/takeover.ts";
import { ABSOLUTE, LATCHES } from "../surface/compile-surface.ts";
import { OUTCOME } from "../trace/outcome.ts";
import { OUT_OF_RANGE, PAGE_UNKNOWN, READY } from "./context.ts";
import { DeskOutput } from "./desk-output.ts";
import type { SurfaceState } from "./surface-state.ts";
import type { World } from "./world.ts";

/** In the place of a control: this message comes from none. -1 = the profile has no control for it. */
const NOT_A_CONTROL = -2;
/** A level whose bindings are resolved and which the desk reports. */
const PLAIN_LEVEL = statusActsFlags(READY, LEVEL, A_REPORTED);
const MIDDLE = 0.5;
const MAX_7 = 127;
const MAX_14 = 16_383;

export class CommandPath {
  readonly output: DeskOutput;
  readonly #world: World;
  readonly #layersChanged: (atMs: number) => void;
  /** The present time in ms. In a typed array, because a number in a field is boxed anew each time it is passed on. */
  readonly #now = new Float64Array(1);

  constructor(world: World, layersChanged: (atMs: number) => void) {
    this.#world = world;
    this.#layersChanged = layersChanged;
    this.output = new DeskOutput(world, this.#now, layersChanged);
  }

  /** Bytes from a surface's input port. */
  bytes(surface: number, bytes: Uint8Array, atMs: number): void {
    this.#now[0] = atMs;
    const state = this.#world.surfaces[surface]!;
    state.parser ??= new MidiParser(this.#sinkFor(state));
    state.parser.feed(bytes);
  }

  /** The input was closed: half a message must not meet the next one. */
  reset(surface: number): void {
    this.#world.surfaces[surface]!.parser?.reset();
  }

  #sinkFor(surface: SurfaceState): MidiSink {
    const { ring } = this.#world;
    return {
      short: (status, d1, d2, length) => this.#short(surface, status, d1, d2, length),
      sysex: (bytes) => {
        const row = ring.long(this.#now[0]!, 0, surface.index, bytes, 0, bytes.length);
        ring.outcome(row, OUTCOME.notAControl, -1, -1, 0, 0, 0);
      },
      dropped: (_reason: MidiDropReason, count) => {
        const row = ring.short(this.#now[0]!, 0, surface.index, 0, 0, 0, 0);
        ring.outcome(row, OUTCOME.malformed, -1, -1, count, 0, 0);
      },
    };
  }

  #short(surface: SurfaceState, status: number, d1: number, d2: number, length: number): void {
    const world = this.#world;
    const atMs = this.#now[0]!;
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
    if (control < 0) this.#nothing(row, control === NOT_A_CONTROL ? OUTCOME.notAControl : OUTCOME.noControl);
    else if (surface.loop.heard(status, d1, d2, atMs)) this.#nothing(row, OUTCOME.looped);
    else if (compiled.behaviour[control] === ABSOLUTE) this.#move(surface, control, value, row);
    else if (value > 0) this.#press(surface, control, value, row);
    else this.#release(surface, control, row);
  }

  #nothing(row: number, code: number): void {
    this.#world.ring.outcome(row, code, -1, -1, 0, 0, 0);
  }

  #press(surface: SurfaceState, control: number, value: number, row: number): void {
    const world = this.#world;
    const { compiled } = surface;
    surface.pressed[control] = 1;
    surface.touch(control, this.#now[0]!);
    surface.moved.add(control);
    surface.dirty.add(control);
    const m = this.#mappingAt(surface, control, PRESS, row);
    if (m < 0) return;
    // A press whose release got lost is let go before the next one starts.
    const lost = world.held.release(compiled.id, compiled.profile.controls[control]!.id);
    if (lost) this.output.letGo(lost);
    const held = world.held.press(compiled.id, compiled.profile.controls[control]!.id, this.#now[0]!, row);
    this.#fire(m, control, value, row, held, compiled.behaviour[control] === LATCHES ? 1 : -1);
  }

  #release(surface: SurfaceState, control: number, row: number): void {
    const world = this.#world;
    const { compiled } = surface;
    surface.pressed[control] = 0;
    surface.moved.add(control);
    surface.dirty.add(control);
    const held = world.held.release(compiled.id, compiled.profile.controls[control]!.id);
    if (held && held.releases.length > 0) {
      this.output.letGo(held, row);
      world.ring.outcome(row, OUTCOME.sent, -1, control, 0, 0, 0);
      return;
    }
    if (compiled.behaviour[control] === LATCHES) {
      const m = this.#mappingAt(surface, control, PRESS, row);
      if (m >= 0) this.#fire(m, control, 0, row, null, 0);
      return;
    }
    world.ring.outcome(row, OUTCOME.released, -1, control, 0, 0, 0);
  }

  #move(surface: SurfaceState, control: number, value: number, row: number): void {
    const { compiled } = this.#world.context;
    const before = surface.moveTo(control, value, this.#now[0]!);
    surface.moved.add(control);
    const m = this.#mappingAt(surface, control, MOVE, row);
    if (m < 0) return;
    if (compiled.mappingCatches[m] && !this.#catch(surface, control, m, before, value, row)) return;
    const first = compiled.actionStart[m]!;
    if (compiled.actionStart[m + 1]! === first + 1 && this.#drive(first, m, control, value, row)) return;
    const crossed = before >= 0 && before < MIDDLE !== value < MIDDLE;
    this.#fire(m, control, value, row, null, crossed ? (value >= MIDDLE ? 1 : 0) : -1);
  }

  /**
   * One action that follows the value, with its bindings resolved and one message: nearly all of the traffic, and
   * the same as `#fire` in one piece, which is twice as fast (bench row `core.small`). False = it is not that plain,
   * and nothing was done.
   */
  #drive(a: number, m: number, control: number, value: number, row: number): boolean {
    const { context, desks, ring, outbox } = this.#world;
    const { table, messages } = context;
    const { ints } = table;
    const at = a * A_INTS;
    if (ints[at + A_RESOLVED_IN] !== context.generation || ints[at + A_STATUS_ACTS_FLAGS] !== PLAIN_LEVEL) return false;
    if (table.sends(a) !== 1) return false;
    const atMs = this.#now[0]!;
    const d = ints[at + A_DESK_PLACE]!; // its place is 0: it is the only one
    const desk = desks[d]!;
    const state = ints[at + A_STATE]!;
    if (desk.heldBack.size > 0 || !desk.budget.take(atMs)) return false;
    const out = shapeValue(table.doubles, table.shapeAt(a), value);
    const k = ints[at + A_FIRST_MESSAGE]!;
    messages.setValue(k, out);
    const offset = messages.offset(k);
    const length = messages.length(k);
    const sent = ring.toDesk(atMs, d, messages.words, offset, length, OUTCOME.action, m, 0, out, state, row);
    outbox.toDesk(d, messages.bytes, offset, length);
    desk.store.sent(state, out, true, sent, atMs);
    ring.outcome(row, OUTCOME.sent, m, control, out, 0, 0);
    return true;
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

  /** Where a fader has to go to catch mapping m, 0..1; -1 where there is nothing to catch. */
  catchTarget(m: number): number {
    const { context, desks } = this.#world;
    const { table } = context;
    const { actionStart } = context.compiled;
    for (let a = actionStart[m]!; a < actionStart[m + 1]!; a++) {
      if (table.acts(a) !== LEVEL || context.resolve(a) !== READY) continue;
      const state = table.state(a);
      const { store } = desks[table.desk(a)]!;
      if (state >= 0 && store.isKnown(state))
        return travelFor(table.doubles, table.shapeAt(a), store.effective(state, this.#now[0]!));
    }
    return -1;
  }

  #mappingAt(surface: SurfaceState, control: number, gesture: number, row: number): number {
    const { context, ring } = this.#world;
    const slot = (surface.compiled.firstControl + control) * GESTURES + gesture;
    const m = context.active[slot]!;
    if (m >= 0) return m;
    const { mapping, off } = context.nearest(slot);
    const code = mapping < 0 ? OUTCOME.noMapping : off ? OUTCOME.mappingOff : OUTCOME.notHere;
    ring.outcome(row, code, mapping, control, 0, 0, 0);
    return -1;
  }

  /**
   * Runs a mapping's actions in order. `held` collects what the release has to do; `edge` is 1 or 0 where a
   * latching control or a fader that crossed the middle says on or off itself, and -1 otherwise.
   */
  #fire(m: number, control: number, value: number, row: number, held: Held | null, edge: number): void {
    const { context, ring } = this.#world;
    const { table } = context;
    const { actionStart } = context.compiled;
    const first = actionStart[m]!;
    const last = actionStart[m + 1]!;
    if (first === last) {
      ring.outcome(row, OUTCOME.noActions, m, control, 0, 0, 0);
      return;
    }
    let code: number = OUTCOME.noCrossing;
    let a0 = 0;
    let b0 = 0;
    for (let a = first; a < last; a++) {
      const status = context.resolve(a);
      if (status !== READY) {
        if (code !== OUTCOME.sent) {
          code = status === PAGE_UNKNOWN ? OUTCOME.pageUnknown : OUTCOME.outOfRange;
          a0 = status === OUT_OF_RANGE ? table.wrongNumber(a) : 0;
          b0 = table.wrongParameter(a);
        }
        continue;
      }
      const acts = table.acts(a);
      const byFader = held === null && edge < 0;
      if (acts !== LEVEL && byFader) continue; // a fader on a switch acts only where it crosses the middle
      if (acts !== LEVEL && acts !== TOGGLE && acts !== FLASH && edge === 0) continue; // a trigger has no "off"
      const out =
        acts === LEVEL
          ? shapeValue(table.doubles, table.shapeAt(a), value)
          : acts === TOGGLE
            ? this.#toggleTo(a, edge)
            : edge === 0
              ? 0
              : 1;
      if (table.inside(a)) this.#inside(a, out, held);
      else {
        this.output.send(a, out, row, acts === LEVEL);
        if (acts === FLASH && held) held.releases.push(this.output.releaseOf(a));
      }
      if (code !== OUTCOME.sent) a0 = out;
      code = OUTCOME.sent;
    }
    ring.outcome(row, code, m, control, a0, b0, 0);
  }

  /** Rule 8: the desk's own state decides; where nothing is known of it, on. */
  #toggleTo(a: number, edge: number): number {
    if (edge >= 0) return edge;
    const { context, desks } = this.#world;
    const state = context.table.state(a);
    const { store } = desks[context.table.desk(a)]!;
    return state >= 0 && store.effective(state, this.#now[0]!) > 0 ? 0 : 1;
  }

  /** Actions of the house desk: a layer while held. */
  #inside(a: number, out: number, held: Held | null): void {
    const world = this.#world;
    const { action, mapping } = world.context.compiled.actions[a]!;
    const { show } = world.context.compiled;
    const layer = show.layers[world.context.compiled.actionBindings[a * 3]! - 1];
    if (!layer) return;
    if (out > 0) world.layers = [...world.layers.filter((l) => l !== layer.id), layer.id];
    else world.layers = world.layers.filter((l) => l !== layer.id);
    held?.releases.push({
      kind: "layer",
      desk: "house",
      mapping: show.mappings[mapping]!.id,
      action: action.id,
      layer: layer.id,
    });
    this.#layersChanged(this.#now[0]!);
  }

  /** Sets the time for calls that come from outside of a message. */
  at(atMs: number): this {
    this.#now[0] = atMs;
    return this;
  }
}
