/** The translator wired to time and ports. One engine runs in a worker thread; dry run and tests wire their own. */

import { patched } from "../core/edit/patched.ts";
import { type Profiles, profilesOf } from "../core/format/profiles.ts";
import { type CompiledShow, compileShow } from "../core/mapping/compile.ts";
import { type Recompiled, recompile } from "../core/mapping/recompile.ts";
import type { World } from "../core/run-state/world.ts";
import { type Carried, lastHolding, takeOver } from "../core/translate/taking-over.ts";
import { Translator } from "../core/translate/translator.ts";
import { Batches } from "./batches.ts";
import { fail } from "./fail.ts";
import { HoldingNews } from "./holding-news.ts";
import type { FromEngine, ToEngine } from "./messages.ts";
import { MissedReleases } from "./missed-releases.ts";
import { loadMidiSystem, type MidiSystem } from "./ports/midi-system.ts";
import { rehearse } from "./rehearsal.ts";
import type { OpenPort } from "./reports.ts";
import { SameProfiles } from "./same-profiles.ts";
import { ShowPorts } from "./show-ports.ts";

/** How often the translator looks for what is due, in ms. */
const TICK_MS = 17;
/** The server is told at every second tick: it passes on no more than 30 batches a second. */
const TICKS_A_BATCH = 2;
/** So many rows of traffic in that time are a flood: messages come first, and the server is told half as often. */
const FLOOD_ROWS = 128;
/** It recovers so often in that time by itself, in ms; past it what it carries on with may be the very fault. */
const RECOVERIES = 8;
/** A fault that follows a recovery this soon, in ms, lies in what was carried over: another thread begins with less. */
const POISONED_MS = 100;
const RECOVERIES_WITHIN_MS = 10_000;
/** Rows of traffic after which the server is told before its time. */
const ROWS_PER_BATCH = 1024;

/** What an engine has around it. */
export interface EngineSurroundings {
  /** Reaches the MIDI of the computer. */
  loadMidi?: () => Promise<MidiSystem>;
  /** Called at every tick. */
  ticked?: () => void;
  /** The time of day, in seconds since midnight, at `atMs`. */
  secondsOfDay?: (atMs: number) => number;
}

type Load = Extract<ToEngine, { kind: "load" }>;

export class Engine {
  readonly #tell: (message: FromEngine, transfer?: ArrayBuffer[]) => void;
  readonly #nowMs: () => number;
  #translator: Translator | null = null;
  #loadNumber = 0;
  #profiles: Profiles = profilesOf([], []);
  /** Of a spare: the show that it is ready for. */
  #warmed: { readonly load: number; readonly compiled: CompiledShow; readonly translator: Translator } | null = null;
  #hasRehearsed = false;
  /** Hands teach: also under a show, or a translator, that comes later. */
  #teaches = false;
  /** While it takes over: what has come meanwhile, to be done once it knows what the one before knew. */
  #afterwards: (() => void)[] | null = null;
  /** True while a show is put in the place of another. */
  #isPutting = false;
  readonly #same = new SameProfiles();
  readonly #ports: ShowPorts;
  #midiOut: [string, Uint8Array][] = [];
  #timer: NodeJS.Timeout | null = null;
  readonly #batches: Batches;
  readonly #holding: HoldingNews;
  #ticksSinceBatch = 0;
  #lastTickMs = 0;
  readonly #missed = new MissedReleases();
  readonly #ticked: () => void;
  readonly #secondsOfDay: ((atMs: number) => number) | undefined;
  /** When it recovered, in ms, the newest last. */
  #recoveries: number[] = [];

  constructor(
    tell: (message: FromEngine, transfer?: ArrayBuffer[]) => void,
    nowMs: () => number,
    { loadMidi = loadMidiSystem, ticked = () => {}, secondsOfDay }: EngineSurroundings = {},
  ) {
    this.#secondsOfDay = secondsOfDay;
    this.#tell = tell;
    this.#nowMs = nowMs;
    this.#ticked = ticked;
    this.#ports = new ShowPorts(
      {
        nowMs,
        midiBytes: (id, open, bytes) => this.#bytesFrom(id, open, bytes),
        deskBytes: (id, open, bytes) => {
          open.in++;
          this.#fromDesk(id, open, bytes, nowMs());
          this.#flushMidiOut();
        },
        withSurface: (id, run) => this.#withSurface(id, run),
        withDesk: (id, run) => this.#withDesk(id, run),
      },
      loadMidi,
    );
    this.#holding = new HoldingNews((holding) => tell({ kind: "holding", holding }));
    this.#batches = new Batches(this.#ports, this.#holding);
  }

  handle(message: ToEngine): void {
    // At once, and so before anything that hands do meanwhile.
    if (message.kind === "teach") {
      this.#teaches = message.on;
      if (this.#translator) this.#translator.world.teaches = message.on;
      return;
    }
    if (message.kind === "look") {
      this.#ports.look(message.universes, message.ports);
      return;
    }
    if (this.#waits(() => this.handle(message))) return;
    switch (message.kind) {
      case "load":
        this.#load(message);
        return;
      case "load-warm":
        // The server gives it only to whom it made warm with this show; without one there would be no show at all.
        if (this.#warmed?.load !== message.from) throw new Error("the spare is warm with another show");
        this.#put(this.#warmed.compiled, message);
        return;
      case "patch":
        this.#patch(message);
        return;
      case "warm":
        this.#warm(message);
        return;
      case "midi-bytes":
        this.#bytesFrom(message.id, this.#ports.inputs.get(message.id), message.bytes, message.isDrawn);
        return;
      case "bridge":
        this.#ports.bridge(message.id, message.input, message.output);
        break;
      case "try-desk":
        this.#withDesk(message.desk, (t, d) => t.tryDesk(d, this.#nowMs()));
        return;
      case "send-once": {
        const { bytes } = message;
        if (message.to === "desk") this.#withDesk(message.id, (t, d) => t.sendOnce("desk", d, bytes, this.#nowMs()));
        else this.#withSurface(message.id, (t, s) => t.sendOnce("surface", s, bytes, this.#nowMs()));
        break;
      }
      case "end-bypass":
        this.#withSurface(message.surface, (t, s) => t.endBypass(s, message.control, this.#nowMs()));
        break;
      case "redraw":
        this.#translator?.redraw(this.#nowMs());
        break;
      case "release-all":
        this.#translator?.releaseAll(this.#nowMs());
        break;
      case "look-for-midi":
        this.#ports.midi.lookForMidi();
        return;
      case "refuse-peer":
        this.#ports.midi.refusePeer(message.session, message);
        return;
      case "free-slab":
        this.#batches.free(message.slab);
        return;
      case "rearm":
        this.#withSurface(message.id, (t, s) => t.rearm("surface", s));
        this.#withDesk(message.id, (t, d) => t.rearm("desk", d));
        return;
      case "fail":
        fail(message.how);
        return;
      case "retire":
        return; // its thread ends with it (worker.ts)
      case "stop":
        void this.#stop();
        return;
      default:
        message satisfies never;
    }
    this.#flushMidiOut();
  }

  /** The tables of the show, and a translator that has done nothing yet, are kept for the moment in which they are wanted. */
  #warm({ load, show, profiles }: Extract<ToEngine, { kind: "warm" }>): void {
    if (this.#translator) return;
    this.#profiles = profilesOf(profiles.surfaces, profiles.desks);
    const compiled = compileShow(this.#same.of(show), this.#profiles);
    this.#warmed = { load, compiled, translator: this.#translatorOf(compiled) };
    this.#tell({ kind: "warmed", load });
    if (this.#hasRehearsed) return;
    this.#hasRehearsed = true;
    // It is a help and no more: where it is not to be had, the engine is as good, and slower at first.
    rehearse(show, profiles, (tell) => new Engine(tell, this.#nowMs)).catch(() => {});
  }

  #load(message: Load): void {
    if (message.profiles) this.#profiles = profilesOf(message.profiles.surfaces, message.profiles.desks);
    this.#put(compileShow(this.#same.of(message.show), this.#profiles), message);
  }

  #patch(message: Extract<ToEngine, { kind: "patch" }>): void {
    // It is of another show, whose successor as a whole is on its way here.
    if (!this.#translator || message.from !== this.#loadNumber) return;
    const { compiled } = this.#translator.world.context;
    const { show } = compiled;
    const edited = this.#same.of(patched(show, message.patches));
    const recompiled = recompile(compiled, edited, this.#profiles, { reuse: true });
    if (recompiled) this.#put(recompiled.compiled, message, recompiled);
    else this.#put(compileShow(edited, this.#profiles), message);
  }

  /** Puts a compiled show in the place of the one that runs, or begins with it. */
  #put(compiled: CompiledShow, message: Pick<Load, "load" | "passwords" | "carried">, few?: Recompiled): void {
    const atMs = this.#nowMs();
    if (!this.#translator) {
      const { carried } = message;
      this.#translator = this.#warmed?.compiled === compiled ? this.#warmed.translator : this.#translatorOf(compiled);
      this.#warmed = null;
      this.#translator.world.teaches = this.#teaches;
      if (carried) {
        this.#takeOver(compiled, message, carried);
        return;
      }
    } else {
      this.#isPutting = true;
      this.#batch(); // rows written under the old show are told with its revision
      if (few) this.#translator.swapMappings(few, atMs);
      else this.#translator.swap(compiled, atMs);
      this.#isPutting = false;
    }
    this.#loadNumber = message.load;
    this.#ports.open(compiled, message.passwords);
    this.#isIn();
  }

  /**
   * The ports are opened first: what comes to them waits in the system while the rest is done, which takes 25 ms with a
   * large show.
   */
  #takeOver(compiled: CompiledShow, { load, passwords }: Pick<Load, "load" | "passwords">, carried: Carried): void {
    this.#loadNumber = load;
    this.#afterwards = [];
    this.#ports.open(compiled, passwords);
    setImmediate(() => {
      this.#isPutting = true;
      takeOver(this.#translator!, carried, this.#nowMs());
      this.#isPutting = false;
      this.#tookOver(carried);
    });
  }

  #tookOver(carried: Carried | null): void {
    const { world } = this.#translator!;
    if (carried) this.#missed.begin(world, carried.missed, this.#nowMs());
    const afterwards = this.#afterwards ?? [];
    this.#afterwards = null;
    for (const work of afterwards) work();
    this.#isIn();
  }

  /** True: it takes over, and does that once it has. */
  #waits(work: () => void): boolean {
    this.#afterwards?.push(work);
    return this.#afterwards !== null;
  }

  #isIn(): void {
    this.#flushMidiOut();
    this.#batches.tellAll();
    this.#timer ??= setInterval(() => this.#tick(), TICK_MS);
    this.#tell({ kind: "loaded", load: this.#loadNumber });
  }

  /**
   * After a fault: a new translator goes on with all that the old one knew, with ports and traffic as they are. False =
   * it has not helped lately, or there is no show yet.
   */
  recover(): boolean {
    const old = this.#translator;
    const atMs = this.#nowMs();
    this.#recoveries = this.#recoveries.filter((t) => atMs - t < RECOVERIES_WITHIN_MS);
    const isPoisoned = atMs - (this.#recoveries.at(-1) ?? Number.NEGATIVE_INFINITY) < POISONED_MS;
    if (!old || isPoisoned || this.#recoveries.length >= RECOVERIES) return false;
    this.#recoveries.push(atMs);
    const { compiled } = old.world.context;
    // A show that was only half put in may have written into the tables of the one before.
    const whole = this.#isPutting ? compileShow(compiled.show, this.#profiles) : compiled;
    this.#isPutting = false;
    this.#translator = this.#translatorOf(whole, old.world);
    // The fault may have come between a light that was thought of and its message.
    for (const surface of this.#translator.world.surfaces) surface.markAllDirty();
    if (this.#afterwards) this.#tookOver(null); // as far as it came
    this.#translator.tick(atMs);
    this.#flushMidiOut();
    this.#holding.look(this.#translator.world);
    return true;
  }

  #translatorOf(compiled: CompiledShow, from?: World): Translator {
    const translator: Translator = new Translator(
      compiled,
      {
        toDesk: (d, bytes, offset, length) => {
          const { id } = translator.world.desks[d]!;
          const open = this.#ports.desks.get(id);
          if (!open) return;
          open.out++;
          open.port?.send(bytes, offset, length);
          // A MIDI desk that lives in a browser is reached over the server.
          if (open.inBrowser) this.#midiOut.push([id, bytes.slice(offset, offset + length)]);
        },
        toSurface: (s, bytes, offset, length) =>
          this.#toSurface(translator.world.surfaces[s]!.id, bytes, offset, length),
      },
      from ? { from } : this.#secondsOfDay ? { secondsOfDay: this.#secondsOfDay } : {},
    );
    return translator;
  }

  #toSurface(id: string, bytes: Uint8Array, offset: number, length: number): void {
    const open = this.#ports.outputs.get(id);
    if (open) open.out++;
    open?.port?.send(bytes, offset, length);
    this.#midiOut.push([id, bytes.slice(offset, offset + length)]);
  }

  #flushMidiOut(): void {
    if (this.#midiOut.length === 0) return;
    const items = this.#midiOut;
    this.#midiOut = [];
    this.#tell({ kind: "midi-out", items });
  }

  #bytesFrom(id: string, open: OpenPort | undefined, bytes: Uint8Array, isDrawn = false): void {
    if (this.#waits(() => this.#bytesFrom(id, open, bytes, isDrawn))) return;
    const atMs = this.#nowMs();
    if (open) {
      open.in++;
      open.heardAtMs = atMs;
    }
    const s = this.#surfaceIndex(id);
    if (s >= 0) {
      const surface = this.#translator!.world.surfaces[s]!;
      const before = surface.malformed;
      this.#translator!.surfaceBytes(s, bytes, atMs, isDrawn);
      if (open) open.malformed += surface.malformed - before; // among others that may have been good
    } else this.#fromDesk(id, open, bytes, atMs);
    this.#flushMidiOut();
    if ((this.#translator?.world.ring.waiting ?? 0) >= ROWS_PER_BATCH) this.#batch();
    // While messages come they carry the clock: a timer of its own would wake the thread once more for each tick.
    if (atMs - this.#lastTickMs >= TICK_MS && this.#timer) {
      this.#tick();
      this.#timer.refresh();
    }
    if (this.#translator) this.#holding.look(this.#translator.world);
  }

  #surfaceIndex(id: string): number {
    const surfaces = this.#translator?.world.surfaces;
    if (!surfaces) return -1;
    for (let s = 0; s < surfaces.length; s++) if (surfaces[s]!.id === id) return s;
    return -1;
  }

  #withSurface(id: string, run: (translator: Translator, s: number) => void): void {
    if (this.#waits(() => this.#withSurface(id, run))) return;
    const s = this.#surfaceIndex(id);
    if (s >= 0) run(this.#translator!, s);
  }

  /**
   * It ends in this turn: whoever takes over is to find its ports free, and to know what is held, which stays as it is.
   * The turn may have been that of a press, whose release will come.
   */
  leave(): void {
    if (this.#translator) this.#tell({ kind: "holding", holding: lastHolding(this.#translator.world) });
    this.#afterwards = [];
    void this.#ports.leave();
    this.#afterwards = null; // whatever closing them would bring about is the next one's to do
  }

  #withDesk(id: string, run: (translator: Translator, d: number) => void): void {
    if (this.#waits(() => this.#withDesk(id, run))) return;
    const d = this.#translator?.world.desks.findIndex((x) => x.id === id) ?? -1;
    if (d >= 0) run(this.#translator!, d);
  }

  /** What was no message counts as dropped, and not as heard. */
  #fromDesk(id: string, open: OpenPort | undefined, bytes: Uint8Array, atMs: number): void {
    this.#withDesk(id, (translator, d) => {
      const desk = translator.world.desks[d]!;
      const before = desk.malformed;
      translator.deskBytes(d, bytes, atMs);
      if (!open || desk.malformed === before) return;
      open.malformed += desk.malformed - before;
      if (!desk.parser) open.in--; // a datagram is a message; of MIDI others in it may have been good
    });
  }

  #tick(): void {
    this.#lastTickMs = this.#nowMs();
    this.#ticked();
    this.#translator?.tick(this.#lastTickMs);
    this.#letGoMissed(this.#lastTickMs);
    this.#flushMidiOut();
    if (this.#translator) this.#holding.look(this.#translator.world);
    const flood = (this.#translator?.world.ring.waiting ?? 0) > FLOOD_ROWS;
    if (++this.#ticksSinceBatch >= (flood ? 2 * TICKS_A_BATCH : TICKS_A_BATCH)) this.#batch();
  }

  #letGoMissed(atMs: number): void {
    if (!this.#translator) return;
    for (const id of this.#missed.take(this.#translator.world, (desk) => this.#ports.isOpen(desk), atMs))
      if (this.#surfaceIndex(id) >= 0) this.#withSurface(id, (t, s) => t.surfaceGone(s, atMs));
      else this.#withDesk(id, (t, d) => t.deskGone(d, atMs));
  }

  #batch(): void {
    if (!this.#translator) return;
    this.#ticksSinceBatch = 0;
    const batch = this.#batches.next(this.#translator, this.#loadNumber, this.#nowMs());
    if (batch) this.#tell(batch, batch.rests ? [batch.rests] : []);
  }

  async #stop(): Promise<void> {
    this.#translator?.releaseAll(this.#nowMs());
    this.#translator?.leaveSurfaces(this.#nowMs());
    this.#flushMidiOut();
    if (this.#timer) clearInterval(this.#timer);
    // One turn of the loop lets the last datagrams leave before their sockets close.
    await new Promise((resolve) => setImmediate(resolve));
    await this.#ports.close();
    this.#tell({ kind: "stopped" });
  }
}
