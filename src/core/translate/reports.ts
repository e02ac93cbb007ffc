/** The way back from the desk: what it says to what is known, and from there to lights and faders. */

import type { HeardAt } from "../desk/compile-desk.ts";
import type { LinkStep } from "../desk/link.ts";
import { JUMP } from "../mapping/compile.ts";
import { LEVEL } from "../mapping/compile-actions.ts";
import { GESTURES, MOVE } from "../mapping/gestures.ts";
import { decodeOsc } from "../osc/decode.ts";
import type { OscArgument, OscMessage, OscPacket } from "../osc/types.ts";
import { OUTCOME } from "../trace/outcome.ts";
import { DIRECTION_OUT, SIDE_DESK } from "../trace/traffic-ring.ts";
import type { CommandPath } from "./commands.ts";
import { CONDITIONAL, READY } from "./context.ts";
import { DARK_LOOK, drawOrder, LightValues, lookOf, shownAction, shownMapping } from "./lights.ts";
import { FEEDBACK_BYPASSED, markWatchers, NO_MESSAGE, type World } from "./world.ts";

const UPKEEP = DIRECTION_OUT | SIDE_DESK;
const LIGHT_STATUS_BYTES = 3;

export class ReportPath {
  readonly #world: World;
  readonly #links: boolean;
  readonly #commands: CommandPath;
  readonly #lightValues = new LightValues();
  readonly #light = new Uint8Array(LIGHT_STATUS_BYTES);
  // What one datagram brought.
  #changedValues = 0;
  #heardKnown = false;
  #confirmedMs = -1;
  #confirmedRow = 0;
  #pulseMs = -1;
  #pageMoved = false;

  /** `links`: false where no desk is there to be asked, as in a dry run. */
  constructor(world: World, commands: CommandPath, links: boolean) {
    this.#links = links;
    this.#world = world;
    this.#commands = commands;
  }

  /** A datagram from a desk. Answers true if the page that is up, or what is selected, changed with it. */
  datagram(d: number, bytes: Uint8Array, atMs: number): boolean {
    const { ring, desks } = this.#world;
    const row = ring.long(atMs, SIDE_DESK, d, bytes, 0, bytes.length);
    if (this.#world.context.compiled.desks[d]!.profile.wire.kind === "midi") {
      ring.outcome(row, OUTCOME.unheard, -1, -1, 0, 0, 0);
      this.#commands.deskMidi(d, bytes, row);
      return false;
    }
    const result = decodeOsc(bytes);
    if (!result.ok) {
      ring.outcome(row, OUTCOME.malformed, -1, -1, bytes.length, result.problem.atByte, 0);
      return false;
    }
    this.#changedValues = 0;
    this.#heardKnown = false;
    this.#confirmedMs = -1;
    this.#confirmedRow = 0;
    this.#pulseMs = -1;
    this.#pageMoved = false;
    const step = desks[d]!.link.heard(atMs);
    this.#packet(d, result.packet, atMs);
    this.#tell(row);
    if (step.returned) {
      if (this.#links) this.upkeep(d, step, atMs);
      desks[d]!.store.forgetWaiting();
      this.markDesk(d);
    }
    return this.#pageMoved;
  }

  /** Sends what a link asks for: subscription, query, heartbeat. */
  upkeep(d: number, step: LinkStep, atMs: number): void {
    const { ring, outbox } = this.#world;
    for (const bytes of step.send) {
      const row = ring.long(atMs, UPKEEP, d, bytes, 0, bytes.length);
      ring.outcome(row, OUTCOME.upkeep, -1, -1, 0, 0, 0);
      outbox.toDesk(d, bytes, 0, bytes.length);
    }
  }

  #tell(row: number): void {
    const { ring } = this.#world;
    if (this.#pulseMs >= 0) ring.outcome(row, OUTCOME.pulse, -1, -1, this.#pulseMs, 0, 0);
    else if (this.#confirmedMs >= 0)
      ring.outcome(row, OUTCOME.confirmed, -1, -1, this.#confirmedMs, this.#changedValues, this.#confirmedRow);
    else if (!this.#heardKnown) ring.outcome(row, OUTCOME.unheard, -1, -1, 0, 0, 0);
    else
      ring.outcome(
        row,
        this.#changedValues > 0 ? OUTCOME.reported : OUTCOME.unchanged,
        -1,
        -1,
        this.#changedValues,
        0,
        0,
      );
  }

  #packet(d: number, packet: OscPacket, atMs: number): void {
    if (packet.kind === "bundle") for (const element of packet.elements) this.#packet(d, element, atMs);
    else this.#message(d, packet, atMs);
  }

  #message(d: number, message: OscMessage, atMs: number): void {
    const compiled = this.#world.context.compiled.desks[d]!;
    const runtime = this.#world.desks[d]!;
    const heartbeat = compiled.profile.heartbeat;
    if (heartbeat && message.address === heartbeat.heard.address) {
      this.#heardKnown = true;
      const pulse = numberOf(message.args[heartbeat.heard.argument]);
      if (pulse !== null) this.#pulseMs = Math.max(0, runtime.link.pulseHeard(pulse, atMs));
      return;
    }
    const heard = compiled.hears.get(message.address);
    if (!heard) return;
    for (const at of heard) this.#state(d, at, message, atMs);
  }

  #state(d: number, at: HeardAt, message: OscMessage, atMs: number): void {
    const runtime = this.#world.desks[d]!;
    const { store } = runtime;
    const { state } = at.state;
    const argument = message.args[state.heard!.argument];
    if (argument === undefined) return;
    this.#heardKnown = true;
    if (state.value.kind === "text" || state.value.kind === "colour") {
      const text = textOf(argument);
      if (text === null || store.texts[at.index] === text) return;
      store.reportText(at.index, state.value.kind === "colour" ? text.slice(0, 7) : text);
      this.#changedValues++;
      markWatchers(this.#world, d, at.index);
      return;
    }
    const value = numberOf(argument);
    if (value === null) return;
    const before = store.number(at.index);
    const known = store.isKnown(at.index);
    const echo = store.isEcho(at.index, value, atMs);
    const confirmed = store.report(at.index, value, atMs);
    if (confirmed >= 0) {
      this.#confirmedMs = confirmed;
      this.#confirmedRow = store.sentRow(at.index);
    }
    if (known && before === value) {
      if (confirmed >= 0) markWatchers(this.#world, d, at.index);
      return;
    }
    this.#changedValues++;
    const { page, selection } = this.#world.context.compiled.desks[d]!;
    if (at.state === page || at.state === selection) this.#pageMoved = true;
    markWatchers(this.#world, d, at.index);
    if (!echo) this.#loseFaders(d, at.index);
  }

  // Rule 9: somebody else moved the level, so the fader has to catch it again.
  #loseFaders(d: number, index: number): void {
    const { surfaces, context, desks } = this.#world;
    const watchers = desks[d]!.watchers.get(index);
    if (!watchers) return;
    for (let i = 0; i < watchers.length; i += 2) {
      const surface = surfaces[watchers[i]!]!;
      const control = watchers[i + 1]!;
      const first = context.compiled.surfaces[watchers[i]!]!.firstControl;
      const m = context.mappingAt((first + control) * GESTURES + MOVE);
      if (m < 0 || context.compiled.mappingTakeover[m] === JUMP) continue;
      surface.caught[control] = 0;
      surface.setTarget(control, this.#commands.takeover.target(m));
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
    const { context, surfaces, desks } = this.#world;
    for (const desk of desks) desk.watchers = new Map();
    context.compiled.surfaces.forEach((compiled, s) => {
      const surface = surfaces[s]!;
      for (let control = 0; control < compiled.profile.controls.length; control++) {
        const slot = (compiled.firstControl + control) * GESTURES;
        for (let g = 0; g < GESTURES; g++) {
          if (context.active[slot + g] === CONDITIONAL) this.#watchConditions(s, control, slot + g);
          else if (context.active[slot + g]! >= 0) this.#watch(s, control, context.active[slot + g]!);
        }
        surface.dirty.add(control);
        this.#settleFader(s, control, context.mappingAt(slot + MOVE));
      }
    });
  }

  #settleFader(s: number, control: number, m: number): void {
    const { context, surfaces } = this.#world;
    const surface = surfaces[s]!;
    const a = m < 0 ? -1 : shownAction(context, m);
    const state = a >= 0 && context.resolve(a) === READY ? context.table.state(a) * 64 + context.table.desk(a) : -1;
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
      if (context.resolve(a) !== READY) continue;
      const watchers = desks[table.desk(a)]!.watchers;
      const state = table.state(a);
      if (state >= 0) watch(watchers, state, s, control);
      if (table.acts(a) !== LEVEL || state >= 0) {
        const colour = context.sibling(a, "colour");
        if (colour >= 0) watch(watchers, colour, s, control);
      }
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
    this.#world.desks.forEach((desk, d) => {
      for (const index of desk.store.waiting)
        if (desk.store.isUnconfirmed(index, atMs)) {
          desk.store.markChanged(index);
          markWatchers(this.#world, d, index);
        }
    });
  }

  /** Sends the lights that differ, as far as each surface's budget allows. */
  draw(atMs: number): void {
    this.#withoutMessage(() => this.#draw(atMs));
  }

  /** What a control shows never depends on the message in hand, which may be another control's. */
  #withoutMessage(work: () => void): void {
    const { message } = this.#world;
    const status = message[0]!;
    message[0] = NO_MESSAGE;
    work();
    message[0] = status;
  }

  #draw(atMs: number): void {
    const { context, surfaces, desks, ring, outbox, bypassed } = this.#world;
    surfaces.forEach((surface, s) => {
      if (surface.dirty.size === 0) return;
      const compiled = context.compiled.surfaces[s]!;
      for (const control of drawOrder(surface)) {
        const palette = compiled.lightPalette[control];
        if (palette) {
          const own = compiled.firstControl + control;
          const m = shownMapping(context, own);
          const look =
            bypassed[own]! & FEEDBACK_BYPASSED
              ? DARK_LOOK
              : lookOf(context, desks, m, surface.pressed[control] === 1, atMs);
          const value = this.#lightValues.value(palette, look);
          if (value !== surface.lightSent[control]) {
            if (!surface.budget.take(atMs)) return;
            surface.lightSent[control] = value;
            this.#light[0] = compiled.lightStatus[control]!;
            this.#light[1] = compiled.lightNumber[control]!;
            this.#light[2] = value;
            surface.loop.sent(this.#light[0], this.#light[1], value, atMs);
            const row = ring.short(atMs, DIRECTION_OUT, s, this.#light[0], this.#light[1], value, 3);
            ring.outcome(row, OUTCOME.light, m, control, 0, 0, 0);
            outbox.toSurface(s, this.#light, 0, 3);
          }
        }
        surface.dirty.delete(control);
      }
    });
  }
}

function watch(watchers: Map<number, number[]>, index: number, surface: number, control: number): void {
  const list = watchers.get(index);
  if (list) list.push(surface, control);
  else watchers.set(index, [surface, control]);
}

function numberOf(argument: OscArgument | undefined): number | null {
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
    default:
      return null;
  }
}

function textOf(argument: OscArgument): string | null {
  return argument.type === "s" || argument.type === "S" || argument.type === "r" ? argument.value : null;
}
