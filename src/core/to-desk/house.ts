/** The house desk: what the hands can do to Velvet Hinge itself. */

import { functionBytes } from "../desk/function-bytes.ts";
import { BASE_LAYER } from "../format/givens.ts";
import { enter, leave, lock, step, unlock } from "../gesture/layers.ts";
import type { HouseCall } from "../house/house-call.ts";
import { houseValue, setHouseValue, settleBypass, tellLayers, type World } from "../run-state/world.ts";
import { OUTCOME, type OutcomeCode } from "../trace/outcome.ts";
import { DIRECTION_OUT, SIDE_DESK } from "../trace/traffic-ring.ts";

/** What the house asks of the rest of the path. */
export interface HouseEvents {
  /** Layers or banks changed: everything is resolved anew. */
  changed(): void;
  redraw(): void;
  releaseAll(): void;
  /** Runs a mapping; `by` is 0 for all of it, 1 or -1 for the next or the previous set of its list. */
  run(mapping: number, by: 0 | 1 | -1, row: number): void;
}

/** Taps that make the tempo, and the longest pause between two of them, in ms. */
const TAPS = 6;
const LONGEST_BEAT_MS = 3000;
const SLOWEST_BPM = 20;
const FASTEST_BPM = 300;

const BYPASS: Record<string, number> = { "bypass.commands": 1, "bypass.feedback": 2, "bypass.both": 3 };

export class House {
  readonly #world: World;
  readonly #events: HouseEvents;

  constructor(world: World, events: HouseEvents) {
    this.#world = world;
    this.#events = events;
  }

  run(call: HouseCall, row: number): void {
    const world = this.#world;
    const { show } = world.context.compiled;
    const [first = 1, second = 0] = call.numbers;
    switch (call.fn) {
      case "layer":
      case "layer.lock": {
        const layer = show.layers[first - 1]?.id;
        if (layer === undefined) return;
        if (call.fn === "layer")
          world.layers = call.value > 0 ? enter(world.layers, layer) : leave(world.layers, layer);
        else
          world.layers =
            call.value > 0 ? lock(world.layers, layer, show.layers, BASE_LAYER) : unlock(world.layers, layer);
        this.#layersChanged();
        return;
      }
      case "layer.next":
      case "layer.previous":
        world.layers = step(world.layers, call.fn === "layer.next" ? 1 : -1, show.layers, BASE_LAYER);
        this.#layersChanged();
        return;
      case "page.go":
        this.#setPage(call, first, row);
        return;
      case "page.next":
      case "page.previous":
        this.#stepPage(call, call.fn === "page.next" ? 1 : -1, row);
        return;
      case "bank.by":
        this.#setBank(first - 1, (houseValue(world, "bank", first - 1) ?? 0) + second);
        return;
      case "bank.go":
        this.#setBank(first - 1, second);
        return;
      case "bypass.commands":
      case "bypass.feedback":
      case "bypass.both": {
        const bits = BYPASS[call.fn]!;
        const before = houseValue(world, "bypass", first - 1) ?? 0;
        setHouseValue(world, "bypass", first - 1, call.value > 0 ? before | bits : before & ~bits);
        settleBypass(world);
        for (const surface of world.surfaces) surface.markAllDirty();
        return;
      }
      case "redraw":
        this.#events.redraw();
        return;
      case "release-all":
        this.#events.releaseAll();
        return;
      case "variable.set":
        this.#setVariable(first - 1, call.value);
        return;
      case "variable.step":
        this.#setVariable(first - 1, (houseValue(world, "variable", first - 1) ?? 0) + second);
        return;
      case "tempo.tap":
        this.#tap();
        return;
      case "message.send":
        this.#sendBytes(call, row);
        return;
      case "mapping.run":
      case "mapping.next":
      case "mapping.previous": {
        const m = world.context.compiled.mappingOf.get(call.target);
        if (m !== undefined)
          this.#events.run(m, call.fn === "mapping.run" ? 0 : call.fn === "mapping.next" ? 1 : -1, row);
        return;
      }
      default:
        return; // `checkShow` accepts no function the profile does not have
    }
  }

  #layersChanged(): void {
    tellLayers(this.#world);
    this.#events.changed();
  }

  #setBank(index: number, number: number): void {
    const bank = this.#world.context.compiled.show.banks?.[index];
    if (!bank) return;
    const last = bank.last - bank.size + 1;
    setHouseValue(this.#world, "bank", index, Math.min(last, Math.max(bank.first, Math.round(number))));
    this.#events.changed();
  }

  #setVariable(index: number, value: number): void {
    const variable = this.#world.context.compiled.show.variables?.[index];
    if (!variable) return;
    const { from, to, wraps } = variable;
    const extent = to - from + 1;
    const next =
      wraps && (value < from || value > to)
        ? from + ((((value - from) % extent) + extent) % extent)
        : Math.min(to, Math.max(from, value));
    setHouseValue(this.#world, "variable", index, next);
    // Conditions and bindings may read it.
    for (const surface of this.#world.surfaces) surface.markAllDirty();
  }

  #tap(): void {
    const world = this.#world;
    const atMs = world.now[0]!;
    if (atMs - (world.taps.at(-1) ?? Number.NEGATIVE_INFINITY) > LONGEST_BEAT_MS) world.taps = [];
    world.taps = [...world.taps, atMs].slice(-TAPS);
    const beats = world.taps.length - 1;
    if (beats < 1) return;
    const beatMs = (world.taps[beats]! - world.taps[0]!) / beats;
    if (beatMs <= 0) return;
    const bpm = Math.min(FASTEST_BPM, Math.max(SLOWEST_BPM, 60_000 / beatMs));
    setHouseValue(world, "tempo", 0, Math.round(bpm * 10) / 10);
  }

  #stepPage(call: HouseCall, by: number, row: number): void {
    const { compiled, facts } = this.#world.context;
    const d = compiled.desks.findIndex((x) => x.id === call.target);
    const parameter = compiled.desks[d]?.pageParameter;
    const now = d < 0 ? null : facts.page(d);
    if (!parameter || now === null) return; // where no page is known there is no next one
    const count = parameter.to - parameter.from + 1;
    this.#setPage(call, parameter.from + ((((now - parameter.from + by) % count) + count) % count), row);
  }

  #setPage(call: HouseCall, page: number, row: number): void {
    const { desks } = this.#world.context.compiled;
    const d = desks.findIndex((x) => x.id === call.target);
    const fn = desks[d]?.functions.get(desks[d]!.profile.page?.set ?? "");
    if (!fn) return;
    for (const bytes of functionBytes(fn, [page], 1, this.#world.context.facts.clockS()))
      this.#out(d, -1, bytes, OUTCOME.action, call, row);
  }

  #sendBytes(call: HouseCall, row: number): void {
    const { compiled } = this.#world.context;
    if (!call.bytes) return;
    const s = compiled.surfaces.findIndex((x) => x.id === call.target);
    const d = s < 0 ? compiled.desks.findIndex((x) => x.id === call.target) : -1;
    if (s >= 0 || d >= 0) this.#out(d, s, call.bytes, OUTCOME.ownMessage, call, row);
  }

  #out(d: number, s: number, bytes: Uint8Array, code: OutcomeCode, call: HouseCall, cause: number): void {
    const { ring, outbox, now, context, desks } = this.#world;
    const flags = DIRECTION_OUT | (d >= 0 ? SIDE_DESK : 0);
    const row = ring.long(now[0]!, flags, d >= 0 ? d : s, bytes, 0, bytes.length);
    const m = context.compiled.mappingOf.get(call.mapping) ?? -1;
    ring.outcome(row, code, m, -1, call.value, -1, cause);
    if (d >= 0) {
      desks[d]!.budget.force(now[0]!);
      outbox.toDesk(d, bytes, 0, bytes.length);
      return;
    }
    outbox.toSurface(s, bytes, 0, bytes.length);
  }
}
