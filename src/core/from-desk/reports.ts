/** The way back to the hands: from what is known of the desks to lights and faders. */

import type { LinkStep } from "../desk/link.ts";
import { CONFIRM_WITHIN_MS } from "../desk/state-store.ts";
import { GESTURES, MOVE } from "../format/gestures.ts";
import type { CommandPath } from "../hands/command-path.ts";
import { LEVEL } from "../mapping/compile-actions.ts";
import { JUMP } from "../mapping/mapping-tables.ts";
import { clearParts, newMessageParts } from "../midi/message-parts.ts";
import { CONDITIONAL, READY } from "../run-state/context.ts";
import { UPKEEP_ASKED } from "../run-state/desk-runtime.ts";
import { LIT_ITSELF, type SurfaceState } from "../run-state/surface-state.ts";
import { FEEDBACK_BYPASSED, markWatchers, type World } from "../run-state/world.ts";
import { CATCH_WITHIN } from "../shape/takeover.ts";
import { SPRINGS_BACK } from "../surface/compile-surface.ts";
import { LIGHT_MODE } from "../surface/look.ts";
import { OUTCOME } from "../trace/outcome.ts";
import { DIRECTION_OUT, SIDE_DESK } from "../trace/traffic-ring.ts";
import { DARK_LOOK, drawOrder, LightValues, lookOf, shownAction, shownMapping } from "./lights.ts";
import { Positions } from "./positions.ts";

const UPKEEP = DIRECTION_OUT | SIDE_DESK;
const LIGHT_STATUS_BYTES = 3;

export class ReportPath {
  readonly #world: World;
  readonly #inHand = newMessageParts();
  readonly #commands: CommandPath;
  readonly #lightValues = new LightValues();
  readonly #positions: Positions;
  readonly #light = new Uint8Array(LIGHT_STATUS_BYTES);

  constructor(world: World, commands: CommandPath) {
    this.#world = world;
    this.#commands = commands;
    this.#positions = new Positions(world, commands.takeover);
  }

  /** Sends what a link asks for: subscription, query, heartbeat. */
  upkeep(d: number, step: LinkStep, atMs: number): void {
    const { ring, outbox, desks } = this.#world;
    for (const bytes of step.send) {
      const row = ring.long(atMs, UPKEEP, d, bytes, 0, bytes.length);
      ring.outcome(row, OUTCOME.upkeep, -1, -1, 0, 0, 0);
      desks[d]!.asked(row, UPKEEP_ASKED, atMs);
      outbox.toDesk(d, bytes, 0, bytes.length);
    }
  }

  /** Rule 9: somebody else moved the level, so the fader has to catch it again. */
  loseFaders(d: number, index: number): void {
    const { surfaces, context, desks } = this.#world;
    const watchers = desks[d]!.watchers.get(index);
    if (!watchers) return;
    for (let i = 0; i < watchers.length; i += 2) {
      const surface = surfaces[watchers[i]!]!;
      const control = watchers[i + 1]!;
      const first = context.compiled.surfaces[watchers[i]!]!.firstControl;
      const m = context.mappingAt((first + control) * GESTURES + MOVE);
      if (m < 0 || context.compiled.mappingTakeover[m] === JUMP) continue;
      const target = this.#commands.takeover.target(m);
      surface.setTarget(control, target);
      // Where it stands already there is nothing to catch.
      if (Math.abs(surface.position(control) - target) > CATCH_WITHIN) surface.caught[control] = 0;
    }
  }

  /**
   * After a change of page, layer or show: who shows what is settled anew, every light that differs is marked,
   * and a fader that now stands for another level has to catch it (rules 9 and 18).
   */
  settle(): void {
    this.#withoutMessage(() => this.#settle());
  }

  #settle(): void {
    const { surfaces, desks } = this.#world;
    for (const desk of desks) desk.watchers = new Map();
    for (let s = 0; s < surfaces.length; s++)
      for (let control = 0; control < surfaces[s]!.controlCount; control++) this.#settleControl(s, control);
  }

  /** The same for some controls, counted among all of the show: only their mappings are others now. */
  settleControls(controls: readonly number[]): void {
    const { controlSurface, surfaces } = this.#world.context.compiled;
    const own = controls.map((c) => ({
      s: controlSurface[c]!,
      control: c - surfaces[controlSurface[c]!]!.firstControl,
    }));
    for (const desk of this.#world.desks) unwatch(desk.watchers, own);
    this.#withoutMessage(() => {
      for (const { s, control } of own) this.#settleControl(s, control);
    });
  }

  #settleControl(s: number, control: number): void {
    const { context, surfaces } = this.#world;
    const slot = (context.compiled.surfaces[s]!.firstControl + control) * GESTURES;
    for (let g = 0; g < GESTURES; g++) {
      if (context.active[slot + g] === CONDITIONAL) this.#watchConditions(s, control, slot + g);
      else if (context.active[slot + g]! >= 0) this.#watch(s, control, context.active[slot + g]!);
    }
    surfaces[s]!.dirty.add(control);
    this.#settleFader(s, control, context.mappingAt(slot + MOVE));
  }

  #settleFader(s: number, control: number, m: number): void {
    const { context, surfaces } = this.#world;
    const surface = surfaces[s]!;
    const a = m < 0 ? -1 : shownAction(context, m);
    const state = a >= 0 && context.look(a) === READY ? context.table.state(a) * 64 + context.table.desk(a) : -1;
    if (state !== surface.caughtState[control]) {
      surface.caughtState[control] = state;
      surface.caught[control] = 0;
      surface.moved.add(control);
    }
    const target = m >= 0 && context.compiled.mappingTakeover[m] !== JUMP ? this.#commands.takeover.target(m) : -1;
    if (target !== surface.target(control)) surface.moved.add(control);
    surface.setTarget(control, target);
  }

  /** What may hold here by its conditions shows its control anew when one of them changes. */
  #watchConditions(s: number, control: number, slot: number): void {
    const { context, desks } = this.#world;
    const { candidateStart, candidates, mappingWhen } = context.compiled;
    for (let k = candidateStart[slot]!; k < candidateStart[slot + 1]!; k++) {
      const m = candidates[k]!;
      this.#watch(s, control, m);
      for (const c of mappingWhen[m] ?? []) watch(desks[c.desk]!.watchers, c.index, s, control);
    }
  }

  #watch(s: number, control: number, m: number): void {
    const { context, desks } = this.#world;
    const { actionStart } = context.compiled;
    const { table } = context;
    for (let a = actionStart[m]!; a < actionStart[m + 1]!; a++) {
      if (context.look(a) !== READY) continue;
      const watchers = desks[table.desk(a)]!.watchers;
      const state = table.state(a);
      if (state >= 0) watch(watchers, state, s, control);
      if (table.acts(a) !== LEVEL || state >= 0) {
        const colour = context.sibling(a, "colour");
        if (colour >= 0) watch(watchers, colour, s, control);
      }
      const label = this.#world.surfaces[s]!.compiled.displaysOf.has(control) ? context.sibling(a, "label") : -1;
      if (label >= 0) watch(watchers, label, s, control);
    }
  }

  /** Marks everything that shows something of this desk. */
  markDesk(d: number): void {
    for (const index of this.#world.desks[d]!.watchers.keys()) markWatchers(this.#world, d, index);
    // Controls whose page is not known yet watch nothing, and still have to show that.
    for (const surface of this.#world.surfaces) surface.markAllDirty();
  }

  /** Marks what waits for a confirmation longer than it should. */
  markUnconfirmed(atMs: number): void {
    const { desks } = this.#world;
    for (let d = 0; d < desks.length; d++)
      for (const index of desks[d]!.store.takeLate(atMs)) markWatchers(this.#world, d, index);
  }

  /** Sends the lights that differ, as far as each surface's budget allows. */
  draw(atMs: number): void {
    this.#withoutMessage(() => this.#draw(atMs));
  }

  /** What a control shows never depends on the message in hand, which may be another control's. */
  #withoutMessage(work: () => void): void {
    const { message } = this.#world;
    this.#inHand.set(message);
    clearParts(message);
    work();
    message.set(this.#inHand);
  }

  #draw(atMs: number): void {
    this.#world.surfaces.forEach((surface, s) => {
      if (surface.dirty.size === 0) return;
      for (const control of drawOrder(surface)) {
        const lit = this.#drawLight(s, surface, control, atMs);
        const moved = this.#positions.draw(s, surface, control, atMs);
        if (lit && moved) surface.dirty.delete(control);
      }
    });
  }

  /** False: it has to wait, for the port's budget or for the desk's answer. */
  #drawLight(s: number, surface: SurfaceState, control: number, atMs: number): boolean {
    const { context, desks, ring, outbox, bypassed } = this.#world;
    const { compiled } = surface;
    const palette = compiled.lightPalette[control];
    if (!palette) return true;
    const own = compiled.firstControl + control;
    const m = shownMapping(context, own);
    const hidden = bypassed[own]! & FEEDBACK_BYPASSED;
    const pressed = surface.pressed[control] === 1;
    const look = hidden ? DARK_LOOK : lookOf(context, desks, m, pressed, atMs);
    const value = this.#lightValues.value(palette, look);
    if (value === surface.lightSent[control]) return true;
    if (surface.lightSent[control] === LIT_ITSELF) {
      // Rule 16: it shows its own press, and a latch its own "on". What springs back goes dark by itself when let go.
      if (LIGHT_MODE[look.state] === "full") return true;
      if (pressed && compiled.behaviour[control] === SPRINGS_BACK) return true;
      if (atMs - surface.touchedAtMs(control) < CONFIRM_WITHIN_MS) return false; // the desk has its time to say so
    }
    if (!surface.budget.take(atMs)) return false;
    surface.lightSent[control] = value;
    this.#light[0] = compiled.lightStatus[control]!;
    this.#light[1] = compiled.lightNumber[control]!;
    this.#light[2] = value;
    const row = ring.short(atMs, DIRECTION_OUT, s, this.#light[0], this.#light[1], value, 3);
    ring.outcome(row, OUTCOME.light, m, control, 0, 0, 0);
    outbox.toSurface(s, this.#light, 0, 3);
    return true;
  }
}

function unwatch(watchers: Map<number, number[]>, controls: readonly { s: number; control: number }[]): void {
  const isOne = (list: readonly number[], i: number) =>
    controls.some(({ s, control }) => list[i] === s && list[i + 1] === control);
  for (const [index, list] of watchers) {
    let kept = 0;
    for (let i = 0; i < list.length; i += 2) {
      if (isOne(list, i)) continue;
      list[kept++] = list[i]!;
      list[kept++] = list[i + 1]!;
    }
    list.length = kept;
    if (kept === 0) watchers.delete(index);
  }
}

function watch(watchers: Map<number, number[]>, index: number, surface: number, control: number): void {
  const list = watchers.get(index);
  if (list) list.push(surface, control);
  else watchers.set(index, [surface, control]);
}
