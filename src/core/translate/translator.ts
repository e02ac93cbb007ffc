/**
 * The whole path of a message, assembled: bytes in from surfaces and desks, bytes out to desks and surfaces.
 * Time comes in with every call and never goes back; nothing here waits, reads a clock or opens a port.
 *
 *   surface bytes -> control -> gesture -> mapping -> shape -> desk -> guard -> bytes to the desk   commands.ts
 *   bytes to the surface <- light <- look <- who shows this <- desk state <- desk bytes   desk-input.ts, reports.ts
 */

import { DeskInput } from "../from-desk/desk-input.ts";
import { Questions } from "../from-desk/questions.ts";
import { ReportPath } from "../from-desk/reports.ts";
import { CommandPath } from "../hands/command-path.ts";
import type { Unfinished } from "../hands/unfinished.ts";
import type { Held } from "../held/held-presses.ts";
import type { CompiledShow } from "../mapping/compile.ts";
import type { Recompiled } from "../mapping/recompile.ts";
import type { Outbox } from "../run-state/outbox.ts";
import {
  layersUp,
  newWorld,
  replaceMappings,
  replaceShow,
  setHouseValue,
  settleBypass,
  tellLayers,
  tellPlain,
  type World,
} from "../run-state/world.ts";
import { OUTCOME } from "../trace/outcome.ts";
import { DIRECTION_OUT, SIDE_DESK, type TrafficRing } from "../trace/traffic-ring.ts";

export interface TranslatorOptions {
  ring?: TrafficRing;
  /** False leaves out heartbeats, subscriptions and queries, for a dry run. */
  links?: boolean;
  /** Where random numbers start; the same seed gives the same run. */
  seed?: number;
  /** The time of day, in seconds since midnight, at `atMs`; left out, that of UTC. */
  secondsOfDay?: (atMs: number) => number;
  /** Goes on with what another translator of the same tables knew: its state, its traffic, and nothing of its own. */
  from?: World;
}

export class Translator {
  readonly world: World;
  readonly #commands: CommandPath;
  readonly #reports: ReportPath;
  readonly #input: DeskInput;
  readonly #questions: Questions;
  readonly #links: boolean;
  /** A show is put in the place of another; and what was let go for it changed what controls mean. */
  #isPutting = false;
  #changedMeanwhile = false;

  constructor(compiled: CompiledShow, outbox: Outbox, options: TranslatorOptions = {}) {
    this.world = newWorld(compiled, outbox, options);
    this.#links = options.links ?? true;
    this.#commands = new CommandPath(this.world, {
      changed: () => this.#changed(),
      redraw: () => this.redraw(this.world.now[0]!),
      releaseAll: () => this.releaseAll(this.world.now[0]!),
    });
    if (options.from) this.#commands.adopt();
    this.#reports = new ReportPath(this.world, this.#commands);
    this.#questions = new Questions(this.world, this.#commands.firing.output, this.#reports);
    this.#input = new DeskInput(this.world, this.#commands, this.#reports, this.#links);
    this.#resolve();
  }

  /** Goes on with what another engine had begun: to be called before the first bytes. */
  restore(unfinished: Unfinished, atMs: number): void {
    this.#commands.restore(unfinished, atMs);
  }

  /** Bytes from surface s, in any pieces; or whole messages from where it is drawn on a screen, beside its own. */
  surfaceBytes(s: number, bytes: Uint8Array, atMs: number, isDrawn = false): void {
    this.#commands.bytes(s, bytes, atMs, isDrawn);
    if (this.world.surfaces[s]!.dirty.size > 0) this.#reports.draw(atMs);
  }

  /** One datagram or line from desk d, or MIDI in any pieces. */
  deskBytes(d: number, bytes: Uint8Array, atMs: number): void {
    this.#commands.at(atMs);
    if (this.#input.bytes(d, bytes, atMs)) this.#refresh(atMs);
    else this.#reports.draw(atMs);
  }

  /** What is due by now: heartbeats, held-back values, late confirmations, the rest of a redraw. Call every 20 ms or so. */
  tick(atMs: number): void {
    if (this.#links) for (let d = 0; d < this.world.desks.length; d++) this.#tickLink(d, atMs);
    this.#commands.at(atMs).tick();
    for (let d = 0; d < this.world.desks.length; d++) this.#questions.tick(d, atMs, this.#links);
    if (this.#input.due(atMs)) this.#refresh(atMs);
    this.#reports.markUnconfirmed(atMs);
    this.#reports.draw(atMs);
  }

  #tickLink(d: number, atMs: number): void {
    const desk = this.world.desks[d]!;
    const before = desk.link.state.health;
    const step = desk.link.tick(atMs);
    if (step.send.length > 0) this.#reports.upkeep(d, step, atMs);
    if (desk.link.state.health === before) return;
    desk.settleHealth();
    this.#reports.markDesk(d);
  }

  /** The network refused what was sent to desk d. */
  deskRefused(d: number, atMs: number): void {
    const link = this.world.desks[d]!.link;
    const before = link.state.health;
    link.refused(atMs);
    if (link.state.health !== before) {
      this.world.desks[d]!.settleHealth();
      this.#reports.markDesk(d);
      this.#reports.draw(atMs);
    }
  }

  /** Asks desk d at once whether it is there. */
  tryDesk(d: number, atMs: number): void {
    this.world.desks[d]!.link.tryNow();
    this.tick(atMs);
  }

  /** The output of surface s was opened: what makes it ready is sent, and then everything it shows. */
  surfaceOpened(s: number, atMs: number): void {
    this.#say(s, this.world.surfaces[s]!.compiled.init, atMs);
    this.world.surfaces[s]!.forgetLights();
    this.#reports.draw(atMs);
  }

  /** The input of surface s is gone: what its hands held is let go. */
  surfaceGone(s: number, atMs: number): void {
    const surface = this.world.surfaces[s]!;
    this.#commands.at(atMs).reset(s);
    for (const held of this.world.held.releaseWhere((h) => h.surface === surface.id))
      this.#commands.firing.output.letGo(held);
    surface.handsOff();
    surface.markAllDirty();
    this.#reports.draw(atMs);
  }

  /** A desk whose MIDI is passed on by routes is gone: what it held is let go. */
  deskGone(d: number, atMs: number): void {
    const { id } = this.world.desks[d]!;
    this.#commands.at(atMs);
    for (const held of this.world.held.releaseWhere((h) => h.surface === id)) this.#commands.firing.output.letGo(held);
    this.#reports.draw(atMs);
  }

  /** The output of every surface is about to be closed. */
  leaveSurfaces(atMs: number): void {
    this.world.surfaces.forEach((surface, s) => {
      this.#say(s, surface.compiled.teardown, atMs);
    });
  }

  /** One message of somebody’s own, to try it. */
  sendOnce(to: "desk" | "surface", index: number, bytes: Uint8Array, atMs: number): void {
    const { ring, outbox, desks } = this.world;
    const desk = to === "desk";
    const row = ring.long(atMs, DIRECTION_OUT | (desk ? SIDE_DESK : 0), index, bytes, 0, bytes.length);
    ring.outcome(row, OUTCOME.ownMessage, -1, -1, 0, 0, 0);
    if (desk) {
      desks[index]!.asked(row, -1, atMs);
      outbox.toDesk(index, bytes, 0, bytes.length);
    } else outbox.toSurface(index, bytes, 0, bytes.length);
  }

  #say(s: number, messages: readonly Uint8Array[], atMs: number): void {
    const { ring, outbox } = this.world;
    for (const bytes of messages) {
      const row = ring.long(atMs, DIRECTION_OUT, s, bytes, 0, bytes.length);
      ring.outcome(row, OUTCOME.upkeep, -1, -1, 0, 0, 0);
      outbox.toSurface(s, bytes, 0, bytes.length);
    }
  }

  /** Lets go of everything that is held, on every surface. */
  releaseAll(atMs: number): void {
    this.#commands.at(atMs);
    for (const held of this.world.held.releaseWhere(() => true)) this.#commands.firing.output.letGo(held);
    this.#commands.firing.letGoDelayed();
    this.#reports.draw(atMs);
  }

  /** Puts a control back into service: every group that bypasses it is in service again. */
  endBypass(s: number, control: string, atMs: number): void {
    this.#commands.at(atMs);
    const { firstControl, indexOf } = this.world.surfaces[s]!.compiled;
    const own = indexOf.get(control);
    if (own === undefined) return;
    this.world.context.compiled.groupControls.forEach((controls, g) => {
      if (controls.includes(firstControl + own)) setHouseValue(this.world, "bypass", g, 0);
    });
    settleBypass(this.world);
    for (const surface of this.world.surfaces) surface.markAllDirty();
    this.#reports.draw(atMs);
  }

  /** Draws every light again. */
  redraw(atMs: number): void {
    for (const surface of this.world.surfaces) surface.forgetLights();
    this.#reports.draw(atMs);
  }

  /** Closes the way of a surface, or of a MIDI desk, that heard itself. */
  rearm(of: "surface" | "desk", index: number): void {
    (of === "surface" ? this.world.surfaces[index]! : this.world.desks[index]!).loop?.rearm();
  }

  /** Replaces the show between two messages. What a removed or changed mapping holds is let go first (rule 6). */
  swap(compiled: CompiledShow, atMs: number): void {
    this.#letGoBefore(compiled, atMs);
    const stays = new Set(compiled.surfaces.map((s) => `${s.id} ${JSON.stringify(s.surface.out)}`));
    this.world.surfaces.forEach(({ compiled: old }, s) => {
      if (!stays.has(`${old.id} ${JSON.stringify(old.surface.out)}`)) this.#say(s, old.teardown, atMs);
    });
    replaceShow(this.world, compiled);
    this.#refresh(atMs);
  }

  /** It was told what another translator knew: all that follows from it is worked out, and what the show has no more let go. */
  takenOver(atMs: number): void {
    this.#letGoBefore(this.world.context.compiled, atMs);
    tellLayers(this.world);
    tellPlain(this.world);
    settleBypass(this.world);
    this.#refresh(atMs);
  }

  /** The same for a show of which a few mappings changed (mapping/recompile.ts): nothing else is looked at. */
  swapMappings({ compiled, change }: Recompiled, atMs: number): void {
    const isChanged = this.#letGoBefore(compiled, atMs);
    replaceMappings(this.world, compiled, change);
    if (isChanged) this.#resolve();
    else this.#reports.settleControls(change.controls);
    this.#reports.draw(atMs);
  }

  /** True: that changed what controls mean, such as a layer that was held. Nothing is drawn of it before the show is in. */
  #letGoBefore(compiled: CompiledShow, atMs: number): boolean {
    const before = this.world.context.compiled;
    this.#commands.at(atMs);
    const asleep = (h: Held) => isAsleep(compiled, h.surface, h.control) && !isAsleep(before, h.surface, h.control);
    const gone = this.world.held.releaseWhere(
      (h) =>
        asleep(h) ||
        h.releases.some((r) => {
          // What a route passed on ends where it went, as long as that is there.
          if (r.kind === "route")
            return placeOf(compiled, r.desk) !== placeOf(before, r.desk) || !placeOf(compiled, h.surface);
          const now = functionOf(compiled, r.mapping, r.action);
          return now === undefined || now !== functionOf(before, r.mapping, r.action);
        }),
    );
    this.#isPutting = true;
    this.#changedMeanwhile = false;
    for (const held of gone) this.#commands.firing.output.letGo(held);
    this.#commands.firing.beforeSwap(); // values held back or on their way belong to the old tables
    this.#isPutting = false;
    return this.#changedMeanwhile;
  }

  /** Index of the layer that is up for all controls. */
  get layer(): number {
    const { layers } = this.world.context;
    const whole = layers.filter((l) => this.world.context.compiled.layerCovers[l] === null);
    return whole.at(-1) ?? 0;
  }

  #resolve(): void {
    this.#commands.firing.beforeRefresh();
    this.world.context.refresh(layersUp(this.world));
    this.#reports.settle();
  }

  #changed(): void {
    if (this.#isPutting) this.#changedMeanwhile = true;
    else this.#refresh(this.world.now[0]!);
  }

  // Lights, faders and meanings change together, in one redraw (rule 18).
  #refresh(atMs: number): void {
    this.#resolve();
    this.#reports.draw(atMs);
  }
}

/** Where a desk or a surface is sent to; undefined = there is none of this id. */
function placeOf({ show }: CompiledShow, id: string): string | undefined {
  const desk = show.desks.find((d) => d.id === id);
  if (desk) return JSON.stringify([desk.profile, desk.host, desk.port, desk.midi]);
  const surface = show.surfaces.find((s) => s.id === id);
  return surface && JSON.stringify(surface.out);
}

/** The function of an action that is on, in a mapping that is on; undefined = there is no such action. */
function functionOf(compiled: CompiledShow, mapping: string, action: string): string | undefined {
  const found = compiled.show.mappings[compiled.mappingOf.get(mapping) ?? -1];
  return found?.on ? found.actions.find((a) => a.id === action && a.on)?.function : undefined;
}

function isAsleep({ show }: CompiledShow, surface: string, control: string): boolean {
  return show.surfaces.find((s) => s.id === surface)?.asleep?.includes(control) ?? false;
}
