/** Routes while the show runs: MIDI that is passed on from surfaces and MIDI desks to others. */
import { wordOf, wordOfBytes } from "../guard/loop.ts";
import { holdOf, RoutedHolds } from "../held/routed.ts";
import { type CompiledRoute, routedStatus } from "../mapping/routes.ts";
import { endsNotesOf } from "../midi/message.ts";
import { MidiParser } from "../midi/parser.ts";
import type { SurfaceState } from "../run-state/surface-state.ts";
import type { World } from "../run-state/world.ts";
import type { DeskOutput } from "../to-desk/desk-output.ts";
import { OUTCOME } from "../trace/outcome.ts";

const SYSEX = 0xf0;
export class Routing {
  readonly #world: World;
  readonly #output: DeskOutput;
  readonly #holds: RoutedHolds;
  readonly #short = new Uint8Array(3);
  readonly #parsers = new Map<string, MidiParser>();
  #row = 0;

  constructor(world: World, output: DeskOutput) {
    this.#world = world;
    this.#output = output;
    this.#holds = new RoutedHolds(world.held);
  }

  /** True where routes pass on what comes from a surface, or did so of something that has not ended. */
  concerns({ index, id }: SurfaceState): boolean {
    return this.#world.context.compiled.routes.some((r) => r.fromSurface === index) || this.#holds.any(id);
  }

  /** Notes of a channel 0..15 are all off, or of every channel (-1): what was passed on of them ends where it went. */
  endAll(source: string, channel: number, row: number): void {
    for (const held of this.#holds.endAll(source, channel)) this.#output.letGo(held, row);
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
    if (this.#ended(surface.id, status, d1, d2, row, mapped)) return;
    if (this.#world.teaches) return;
    for (const route of this.#world.context.compiled.routes)
      if (route.fromSurface === surface.index) this.#pass(route, surface.id, status, d1, d2, length, row, mapped);
  }

  /** The end of something that was passed on goes where its beginning went, whatever the routes are by now. */
  #ended(source: string, status: number, d1: number, d2: number, row: number, mapped: boolean): boolean {
    if (holdOf(status, d1, d2) !== "ends") return false;
    const ends = this.#holds.end(source, status, d1, d2);
    if (!ends) return false;
    for (const { desk, bytes } of ends) this.#output.passOn(desk, bytes, bytes.length, row, OUTCOME.passedOn);
    if (!mapped) this.#world.ring.outcome(row, OUTCOME.routed, -1, -1, 0, 0, 0);
    return true;
  }

  sysex(surface: SurfaceState, bytes: Uint8Array, row: number, mapped: boolean): void {
    if (this.#world.teaches) return;
    for (const route of this.#world.context.compiled.routes)
      if (route.fromSurface === surface.index && routedStatus(route, SYSEX, mapped) !== 0)
        this.#send(route, bytes, bytes.length, row, mapped);
  }

  /** Bytes from a desk. True where a route passed some of them on. */
  fromDesk(desk: number, bytes: Uint8Array, row: number): boolean {
    const { routes } = this.#world.context.compiled;
    const { id } = this.#world.desks[desk]!;
    if (!routes.some((r) => r.fromDesk === desk) && !this.#holds.any(id)) return false;
    this.#row = row;
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
        if (this.#ended(id, status, d1, d2, this.#row, false)) return;
        const channel = endsNotesOf(status, d1);
        if (channel !== null) this.endAll(id, channel, this.#row);
        for (const route of routes()) this.#pass(route, id, status, d1, d2, length, this.#row, false);
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
    source: string,
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
    if (holdOf(status, d1, d2) === "begins")
      this.#holds.begin(source, route.route.id, route.route.to, status, d1, out, this.#world.now[0]!);
  }

  #send(route: CompiledRoute, bytes: Uint8Array, length: number, cause: number, mapped: boolean): void {
    this.#output.passOn(route.route.to, bytes, length, cause, OUTCOME.passedOn);
    if (!mapped) this.#world.ring.outcome(cause, OUTCOME.routed, -1, -1, 0, 0, 0);
  }
}
