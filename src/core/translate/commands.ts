/** The way towards the desk: control events to actions, values and datagrams. */

import type { Held, Release } from "../gesture/held.ts";
import { FLASH, GESTURES, LEVEL, MOVE, PRESS, TOGGLE } from "../mapping/compile.ts";
import { FIRST_CHANNEL_MODE } from "../midi/message.ts";
import type { MidiDropReason, MidiSink } from "../midi/parser.ts";
import { MidiParser } from "../midi/parser.ts";
import { shapeValue, travelFor } from "../shape/linear.ts";
import { meets } from "../shape/takeover.ts";
import { CHANNEL_NUMBERS } from "../surface/compile-surface.ts";
import { OUTCOME } from "../trace/outcome.ts";
import { DIRECTION_OUT, SIDE_DESK } from "../trace/traffic-ring.ts";
import { OUT_OF_RANGE, PAGE_UNKNOWN, READY } from "./context.ts";
import { markWatchers, type World } from "./world.ts";

const MIDDLE = 0.5;
const MAX_7 = 127;
const MAX_14 = 16_383;
/** An action's place in its mapping and the flags of its row. */
const TO_DESK = DIRECTION_OUT | SIDE_DESK;

export class CommandPath {
  readonly #world: World;
  readonly #layersChanged: (atMs: number) => void;
  readonly #parsers = new Map<string, { place: { surface: number }; parser: MidiParser }>();
  #atMs = 0;

  constructor(world: World, layersChanged: (atMs: number) => void) {
    this.#world = world;
    this.#layersChanged = layersChanged;
  }

  /** Bytes from a surface's input port. */
  bytes(surface: number, bytes: Uint8Array, atMs: number): void {
    this.#atMs = atMs;
    this.#parserOf(surface).feed(bytes);
  }

  /** The input was closed: half a message must not meet the next one. */
  reset(surface: number): void {
    this.#parserOf(surface).reset();
  }

  #parserOf(surface: number): MidiParser {
    const id = this.#world.surfaces[surface]!.id;
    let entry = this.#parsers.get(id);
    if (!entry) {
      const place = { surface };
      entry = { place, parser: new MidiParser(this.#sinkFor(place)) };
      this.#parsers.set(id, entry);
    }
    entry.place.surface = surface; // its place may have changed with an edit
    return entry.parser;
  }

  #sinkFor(place: { readonly surface: number }): MidiSink {
    const { ring } = this.#world;
    return {
      short: (status, d1, d2, length) => this.#short(place.surface, status, d1, d2, length),
      sysex: (bytes) => {
        const row = ring.long(this.#atMs, 0, place.surface, bytes, 0, bytes.length);
        ring.outcome(row, OUTCOME.notAControl, -1, -1, 0, 0, 0);
      },
      dropped: (_reason: MidiDropReason, count) => {
        const row = ring.short(this.#atMs, 0, place.surface, 0, 0, 0, 0);
        ring.outcome(row, OUTCOME.malformed, -1, -1, count, 0, 0);
      },
    };
  }

  #short(s: number, status: number, d1: number, d2: number, length: number): void {
    const world = this.#world;
    const row = world.ring.short(this.#atMs, 0, s, status, d1, d2, length);
    const compiled = world.context.compiled.surfaces[s]!;
    const kind = status & 0xf0;
    let control: number;
    let value: number;
    switch (kind) {
      case 0x80:
      case 0x90:
        control = compiled.noteTo[((status & 15) << 7) | d1]!;
        value = kind === 0x90 ? d2 / MAX_7 : 0; // velocity 0 is a release (rule 2)
        break;
      case 0xb0:
        if (d1 >= FIRST_CHANNEL_MODE) {
          this.#nothing(row, OUTCOME.notAControl);
          return;
        }
        control = compiled.controllerTo[(((status & 15) << 7) | d1) & (CHANNEL_NUMBERS - 1)]!;
        value = d2 / MAX_7;
        break;
      case 0xe0:
        control = compiled.bendTo[status & 15]!;
        value = ((d2 << 7) | d1) / MAX_14;
        break;
      default:
        this.#nothing(row, OUTCOME.notAControl);
        return;
    }
    if (control < 0) this.#nothing(row, OUTCOME.noControl);
    else if (world.surfaces[s]!.loop.heard(status, d1, d2, this.#atMs)) this.#nothing(row, OUTCOME.looped);
    else this.#event(s, control, value, row);
  }

  #nothing(row: number, code: number): void {
    this.#world.ring.outcome(row, code, -1, -1, 0, 0, 0);
  }

  #event(s: number, control: number, value: number, row: number): void {
    const compiled = this.#world.context.compiled.surfaces[s]!;
    const behaviour = compiled.profile.controls[control]!.behaviour;
    if (behaviour === "absolute") this.#move(s, control, value, row);
    else if (value > 0) this.#press(s, control, value, row, behaviour === "latches");
    else this.#release(s, control, row, behaviour === "latches");
  }

  #press(s: number, control: number, value: number, row: number, latches: boolean): void {
    const world = this.#world;
    const surface = world.surfaces[s]!;
    const compiled = world.context.compiled.surfaces[s]!;
    surface.pressed[control] = 1;
    surface.touchedAtMs[control] = this.#atMs;
    surface.moved.add(control);
    surface.markDirty(control);
    const m = this.#mappingAt(s, control, PRESS, row);
    if (m < 0) return;
    // A press whose release got lost is let go before the next one starts.
    const lost = world.held.release(compiled.id, compiled.profile.controls[control]!.id);
    if (lost) this.letGo(lost);
    const held = world.held.press(compiled.id, compiled.profile.controls[control]!.id, this.#atMs, row);
    this.#fire(m, control, value, row, held, latches ? 1 : -1);
  }

  #release(s: number, control: number, row: number, latches: boolean): void {
    const world = this.#world;
    const surface = world.surfaces[s]!;
    const compiled = world.context.compiled.surfaces[s]!;
    surface.pressed[control] = 0;
    surface.moved.add(control);
    surface.markDirty(control);
    const held = world.held.release(compiled.id, compiled.profile.controls[control]!.id);
    if (held && held.releases.length > 0) {
      this.letGo(held, row);
      world.ring.outcome(row, OUTCOME.sent, -1, control, 0, 0, 0);
      return;
    }
    if (latches) {
      const m = this.#mappingAt(s, control, PRESS, row);
      if (m >= 0) this.#fire(m, control, 0, row, null, 0);
      return;
    }
    world.ring.outcome(row, OUTCOME.released, -1, control, 0, 0, 0);
  }

  #move(s: number, control: number, value: number, row: number): void {
    const world = this.#world;
    const surface = world.surfaces[s]!;
    const before = surface.position[control]!;
    surface.position[control] = value;
    surface.touchedAtMs[control] = this.#atMs;
    surface.moved.add(control);
    const m = this.#mappingAt(s, control, MOVE, row);
    if (m < 0) return;
    if (world.context.compiled.mappingCatches[m] && !this.#catch(s, control, m, before, value, row)) return;
    const crossed = before >= 0 && before < MIDDLE !== value < MIDDLE;
    this.#fire(m, control, value, row, null, crossed ? (value >= MIDDLE ? 1 : 0) : -1);
  }

  /** Rule 9: true if the fader has hold of the level. */
  #catch(s: number, control: number, m: number, before: number, value: number, row: number): boolean {
    const world = this.#world;
    const surface = world.surfaces[s]!;
    if (surface.caught[control]) return true;
    const target = this.catchTarget(m);
    surface.target[control] = target;
    if (target >= 0 && !meets(before, value, target)) {
      world.ring.outcome(row, OUTCOME.waitingToCatch, m, control, value, target, 0);
      return false;
    }
    surface.caught[control] = 1;
    return true;
  }

  /** Where a fader has to go to catch mapping m, 0..1; -1 where there is nothing to catch. */
  catchTarget(m: number): number {
    const { context, desks } = this.#world;
    const { actionStart, actionActs, actionShapes, actionDesk } = context.compiled;
    for (let a = actionStart[m]!; a < actionStart[m + 1]!; a++) {
      if (actionActs[a] !== LEVEL || context.resolve(a) !== READY) continue;
      const state = context.state[a]!;
      const store = desks[actionDesk[a]!]!.store;
      if (state >= 0 && store.isKnown(state)) return travelFor(actionShapes, a, store.effective(state, this.#atMs));
    }
    return -1;
  }

  #mappingAt(s: number, control: number, gesture: number, row: number): number {
    const { context, ring } = this.#world;
    const slot = (context.compiled.surfaces[s]!.firstControl + control) * GESTURES + gesture;
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
    const { actionStart, actionActs, actionShapes } = context.compiled;
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
          a0 = status === OUT_OF_RANGE ? context.wrongNumber[a]! : 0;
          b0 = context.wrongParameter[a]!;
        }
        continue;
      }
      const acts = actionActs[a]!;
      const byFader = held === null && edge < 0;
      if (acts !== LEVEL && byFader) continue; // a fader on a switch acts only where it crosses the middle
      if (acts !== LEVEL && acts !== TOGGLE && acts !== FLASH && edge === 0) continue; // a trigger has no "off"
      const out =
        acts === LEVEL
          ? shapeValue(actionShapes, a, value)
          : acts === TOGGLE
            ? this.#toggleTo(a, edge)
            : edge === 0
              ? 0
              : 1;
      if (context.compiled.actions[a]!.desk.inside) this.#inside(a, out, held);
      else {
        this.#send(a, first, out, row, acts === LEVEL);
        if (acts === FLASH && held) held.releases.push(this.#releaseOf(a));
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
    const state = context.state[a]!;
    const store = desks[context.compiled.actionDesk[a]!]!.store;
    return state >= 0 && store.effective(state, this.#atMs) > 0 ? 0 : 1;
  }

  #send(a: number, first: number, value: number, cause: number, continuous: boolean): void {
    const { context, desks } = this.#world;
    const desk = desks[context.compiled.actionDesk[a]!]!;
    if (continuous) {
      if (desk.heldBack.size > 0 || !desk.budget.take(this.#atMs)) {
        desk.heldBack.set(a, { value, cause }); // newest wins
        return;
      }
    } else {
      this.#flush(desk.heldBack); // values that wait go before the press that follows them
      desk.budget.force(this.#atMs);
    }
    this.#write(a, first, value, cause);
  }

  #write(a: number, first: number, value: number, cause: number): void {
    const { context, desks, ring, outbox } = this.#world;
    const { messages } = context;
    const d = context.compiled.actionDesk[a]!;
    const state = context.state[a]!;
    const off = value <= 0 && messages.offCount[a]! > 0 && context.compiled.actionActs[a] !== LEVEL;
    const start = messages.start[a]! + (off ? messages.sendCount[a]! : 0);
    const count = off ? messages.offCount[a]! : messages.sendCount[a]!;
    const m = context.compiled.actions[a]!.mapping;
    for (let k = start; k < start + count; k++) {
      messages.setValue(k, value);
      const offset = messages.offset[k]!;
      const length = messages.length[k]!;
      const row = ring.long(this.#atMs, TO_DESK, d, messages.bytes, offset, length);
      ring.outcome(row, OUTCOME.action, m, a - first, value, state, cause);
      outbox.toDesk(d, messages.bytes, offset, length);
      if (state >= 0) desks[d]!.sentRow[state] = row;
    }
    if (state >= 0) {
      const desk = desks[d]!;
      const { reported } = context.compiled.actions[a]!.fn.state!;
      desk.store.sent(state, value, reported, this.#atMs);
      if (!reported) markWatchers(this.#world, d, state);
    }
  }

  /** Sends what the budgets held back, as far as they have filled again. */
  tick(atMs: number): void {
    this.#atMs = atMs;
    for (const desk of this.#world.desks) {
      for (const [a, { value, cause }] of desk.heldBack) {
        if (!desk.budget.take(atMs)) break;
        desk.heldBack.delete(a);
        this.#writeHeldBack(a, value, cause);
      }
    }
  }

  /** Sends everything the budgets held back: its tables are about to go. */
  flushAll(): void {
    for (const desk of this.#world.desks) this.#flush(desk.heldBack);
  }

  #flush(heldBack: Map<number, { value: number; cause: number }>): void {
    for (const [a, { value, cause }] of heldBack) {
      heldBack.delete(a);
      this.#writeHeldBack(a, value, cause);
    }
  }

  #writeHeldBack(a: number, value: number, cause: number): void {
    const { context } = this.#world;
    if (context.resolve(a) !== READY) return;
    this.#write(a, context.compiled.actionStart[context.compiled.actions[a]!.mapping]!, value, cause);
  }

  #releaseOf(a: number): Release {
    const { context } = this.#world;
    const { action, desk, mapping, fn } = context.compiled.actions[a]!;
    const { messages } = context;
    const off = messages.offCount[a]! > 0;
    const start = messages.start[a]! + (off ? messages.sendCount[a]! : 0);
    const count = off ? messages.offCount[a]! : messages.sendCount[a]!;
    const datagrams: Uint8Array[] = [];
    for (let k = start; k < start + count; k++) {
      messages.setValue(k, 0);
      datagrams.push(messages.bytes.slice(messages.offset[k]!, messages.offset[k]! + messages.length[k]!));
    }
    return {
      kind: "desk",
      desk: desk.id,
      mapping: context.compiled.show.mappings[mapping]!.id,
      action: action.id,
      state: fn.state ? context.state[a]! : -1,
      datagrams,
    };
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
    this.#layersChanged(this.#atMs);
  }

  /** Carries out what a press left to be done at its release. */
  letGo(held: Held, cause = 0): void {
    const world = this.#world;
    for (const release of held.releases) {
      if (release.kind === "layer") {
        world.layers = world.layers.filter((l) => l !== release.layer);
        this.#layersChanged(this.#atMs);
        continue;
      }
      const d = world.desks.findIndex((x) => x.id === release.desk);
      if (d < 0) continue;
      const desk = world.desks[d]!;
      desk.budget.force(this.#atMs);
      const m = world.context.compiled.show.mappings.findIndex((x) => x.id === release.mapping);
      for (const bytes of release.datagrams) {
        const row = world.ring.long(this.#atMs, TO_DESK, d, bytes, 0, bytes.length);
        world.ring.outcome(row, OUTCOME.letGo, m, -1, 0, release.state, cause);
        world.outbox.toDesk(d, bytes, 0, bytes.length);
        if (release.state >= 0) desk.sentRow[release.state] = row;
      }
      if (release.state < 0) continue;
      const reported = reportedAt(world, d, release.state);
      desk.store.sent(release.state, 0, reported, this.#atMs);
      if (!reported) markWatchers(world, d, release.state);
    }
  }

  /** Sets the time for calls that come from outside of a message. */
  at(atMs: number): this {
    this.#atMs = atMs;
    return this;
  }
}

function reportedAt(world: World, d: number, index: number): boolean {
  for (const state of world.context.compiled.desks[d]!.states.values())
    if (index >= state.base && index < state.base + state.count) return state.reported;
  return false;
}
