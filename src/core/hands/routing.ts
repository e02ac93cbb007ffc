/** Routes while the show runs: MIDI that is passed on from surfaces and MIDI desks to others. */
import { wordOf, wordOfBytes } from "../guard/loop.ts";
import { type CompiledRoute, routedStatus } from "../mapping/routes.ts";
import { MidiParser } from "../midi/parser.ts";
import type { SurfaceState } from "../run-state/surface-state.ts";
import type { World } from "../run-state/world.ts";
import { OUTCOME } from "../trace/outcome.ts";
import { DIRECTION_OUT, SIDE_DESK } from "../trace/traffic-ring.ts";

const SYSEX = 0xf0;
export class Routing {
  readonly #world: World;
  readonly #short = new Uint8Array(3);
  readonly #parsers = new Map<string, MidiParser>();
  #row = 0;

  constructor(world: World) {
    this.#world = world;
  }

  /** A short message from a surface, and whether a mapping took it. */
  short(
    surface: SurfaceState,
    status: number,
    d1: number,
    d2: number,
    length: number,
    row: number,
    mapped: boolean,
  ): void {
    for (const route of this.#world.context.compiled.routes)
      if (route.fromSurface === surface.index) this.#pass(route, status, d1, d2, length, row, mapped);
  }

  sysex(surface: SurfaceState, bytes: Uint8Array, row: number, mapped: boolean): void {
    for (const route of this.#world.context.compiled.routes)
      if (route.fromSurface === surface.index && routedStatus(route, SYSEX, mapped) !== 0)
        this.#send(route, bytes, bytes.length, row, mapped);
  }

  /** Bytes from a desk. True where a route passed some of them on. */
  fromDesk(desk: number, bytes: Uint8Array, row: number): boolean {
    const { routes } = this.#world.context.compiled;
    const own = routes.filter((r) => r.fromDesk === desk);
    if (own.length === 0) return false;
    this.#row = row;
    const { id } = this.#world.desks[desk]!;
    let parser = this.#parsers.get(id);
    if (!parser) {
      parser = this.#deskParser(id);
      this.#parsers.set(id, parser);
    }
    parser.feed(bytes);
    return true;
  }

  #deskParser(id: string): MidiParser {
    const routes = () => {
      const d = this.#world.desks.findIndex((x) => x.id === id);
      return this.#world.context.compiled.routes.filter((r) => r.fromDesk === d);
    };
    /** True where the desk's way hears itself: nothing of it is passed on. */
    const isLoop = (word: number) => {
      const { desks, generation, now } = this.#world;
      const loop = desks.find((x) => x.id === id)?.loop;
      if (!loop) return false;
      generation[0] = loop.heard(word, now[0]!);
      if (loop.tripped) this.#world.ring.outcome(this.#row, OUTCOME.looped, -1, -1, 0, 0, 0);
      return loop.tripped;
    };
    return new MidiParser({
      short: (status, d1, d2, length) => {
        if (isLoop(wordOf(status, d1, d2))) return;
        for (const route of routes()) this.#pass(route, status, d1, d2, length, this.#row, false);
      },
      sysex: (bytes) => {
        if (isLoop(wordOfBytes(bytes, 0, bytes.length))) return;
        for (const route of routes())
          if (routedStatus(route, SYSEX, false) !== 0) this.#send(route, bytes, bytes.length, this.#row, false);
      },
      dropped: () => {}, // the row of the bytes stands in the list already
    });
  }

  #pass(
    route: CompiledRoute,
    status: number,
    d1: number,
    d2: number,
    length: number,
    row: number,
    mapped: boolean,
  ): void {
    const out = routedStatus(route, status, mapped);
    if (out === 0) return;
    this.#short[0] = out;
    this.#short[1] = d1;
    this.#short[2] = d2;
    this.#send(route, this.#short, length, row, mapped);
  }

  #send(route: CompiledRoute, bytes: Uint8Array, length: number, cause: number, mapped: boolean): void {
    const { ring, outbox, now, desks } = this.#world;
    const toDesk = route.toDesk >= 0;
    const device = toDesk ? route.toDesk : route.toSurface;
    if (device < 0) return;
    const row = ring.long(now[0]!, DIRECTION_OUT | (toDesk ? SIDE_DESK : 0), device, bytes, 0, length);
    ring.outcome(row, OUTCOME.passedOn, -1, -1, 0, 0, cause);
    if (!mapped) ring.outcome(cause, OUTCOME.routed, -1, -1, 0, 0, 0);
    if (toDesk) {
      desks[device]!.budget.force(now[0]!);
      outbox.toDesk(device, bytes, 0, length);
    } else outbox.toSurface(device, bytes, 0, length);
  }
}
