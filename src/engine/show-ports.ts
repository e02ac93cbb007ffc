/** The ports that a show wants: opened, kept where the next show wants the same, and closed where it does not. */
import type { PortRef } from "../core/format/show.ts";
import { carrierOf } from "../core/format/wires.ts";
import type { Stranger } from "../core/live/protocol.ts";
import type { CompiledShow } from "../core/mapping/compile.ts";
import type { Translator } from "../core/translate/translator.ts";
import { closeOthers, deskKey, inputKey } from "./port-keys.ts";
import { deskPort } from "./ports/desk-port.ts";
import { MidiPorts } from "./ports/midi-ports.ts";
import type { MidiSystem } from "./ports/midi-system.ts";
import { listenAddressFor, OPEN, type PortEvents, WAITING, waiting } from "./ports/port.ts";
import { StrayUdp } from "./ports/stray-udp.ts";
import { isForMany } from "./ports/udp.ts";
import { notOpenYet, type OpenPort } from "./reports.ts";
import { Strangers } from "./strangers.ts";

/** What ports bring about. */
export interface ShowPortsEvents {
  nowMs(): number;
  /** MIDI from a surface, or from a desk that is driven by it. */
  midiBytes(id: string, open: OpenPort | undefined, bytes: Uint8Array): void;
  deskBytes(id: string, open: OpenPort, bytes: Uint8Array): void;
  withSurface(id: string, run: (translator: Translator, s: number) => void): void;
  withDesk(id: string, run: (translator: Translator, d: number) => void): void;
}

export class ShowPorts {
  readonly inputs = new Map<string, OpenPort>();
  readonly outputs = new Map<string, OpenPort>();
  readonly desks = new Map<string, OpenPort>();
  readonly midi: MidiPorts;
  readonly strangers: Strangers;
  readonly #stray: StrayUdp;
  /** UDP ports at which pages want anybody to be heard. */
  #listened: readonly number[] = [];
  readonly #events: ShowPortsEvents;
  #compiled: CompiledShow | null = null;

  constructor(events: ShowPortsEvents, loadMidi: () => Promise<MidiSystem>) {
    this.#events = events;
    this.strangers = new Strangers(() => events.nowMs());
    this.#stray = new StrayUdp(this.strangers);
    this.midi = new MidiPorts(() => events.nowMs(), loadMidi, this.strangers);
  }

  /** `passwords`: of desks that ask who we are, by their ids. */
  open(compiled: CompiledShow, passwords: Readonly<Record<string, string>>): void {
    this.#compiled = compiled;
    this.midi.setSessions(compiled.show.sessions ?? []);
    const inputs = new Map(compiled.surfaces.map((s) => [s.id, inputKey(s)]));
    for (const { id, desk } of compiled.desks) if (desk.midi) inputs.set(id, JSON.stringify(desk.midi.in));
    closeOthers(this.inputs, inputs);
    closeOthers(this.outputs, new Map(compiled.surfaces.map((s) => [s.id, JSON.stringify(s.surface.out)])));
    closeOthers(this.desks, new Map(compiled.desks.map((d) => [d.id, deskKey(d, passwords[d.id])])));
    for (const { id, surface } of compiled.surfaces) {
      this.#openMidi(this.inputs, id, surface.in, true, inputs.get(id)!);
      this.#openMidi(this.outputs, id, surface.out, false, JSON.stringify(surface.out));
    }
    for (const compiledDesk of compiled.desks) {
      const { id, desk, inside } = compiledDesk;
      if (inside) continue;
      if (desk.midi) {
        this.#openMidi(this.inputs, id, desk.midi.in, true, JSON.stringify(desk.midi.in));
        this.#openMidi(this.desks, id, desk.midi.out, false, deskKey(compiledDesk, passwords[id]));
      } else if (!this.desks.has(id)) this.#openDesk(compiledDesk, passwords[id]);
    }
    this.#listenForStrays();
    this.strangers.forget((stranger) => isUsed(stranger, compiled));
  }

  /** Pages look for universes, and want anybody to be heard at these ports; or no longer. */
  look(universes: boolean, ports: readonly number[]): void {
    this.midi.lookForUniverses(universes);
    this.#listened = ports;
    this.#listenForStrays();
  }

  #listenForStrays(): void {
    const desks = (this.#compiled?.desks ?? []).filter(
      ({ desk, profile, inside }) =>
        !inside && !desk.midi && carrierOf(profile, desk.over) === "udp" && !isForMany(desk.host),
    );
    this.#stray.set(
      [
        ...desks.map(({ desk }) => ({ host: listenAddressFor(desk.host), port: desk.listenPort, isAsked: false })),
        ...this.#listened.map((port) => ({ host: "0.0.0.0", port, isAsked: true })),
      ],
      desks.map(({ desk }) => desk),
    );
  }

  #openDesk(compiled: CompiledShow["desks"][number], password: string | undefined): void {
    const { id, desk, profile } = compiled;
    const { nowMs, deskBytes, withDesk } = this.#events;
    const open = notOpenYet(deskKey(compiled, password));
    this.desks.set(id, open);
    const events: PortEvents = {
      message: (bytes) => {
        deskBytes(id, open, bytes);
      },
      refused: () => withDesk(id, (t, d) => t.deskRefused(d, nowMs())),
      state: (state) => {
        open.state = state;
        if (state.state === "open") withDesk(id, (t, d) => t.tryDesk(d, nowMs()));
      },
      stranger: (host) => {
        const { listenPort } = desk;
        this.strangers.sender({ carrier: "tcp-server", host, port: listenPort, listenPort }, null);
      },
    };
    open.port = deskPort(desk, profile, events, password);
    open.port?.open();
  }

  /** A port of a surface, or of a desk that is driven by MIDI. */
  #openMidi(ports: Map<string, OpenPort>, id: string, ref: PortRef, input: boolean, key: string): void {
    if (ports.has(id)) return;
    const open = notOpenYet(key, ref.kind === "browser-midi");
    ports.set(id, open);
    switch (ref.kind) {
      case "screen":
      case "none":
        open.state = OPEN;
        if (!input) this.#surfaceOpened(id);
        return;
      case "browser-midi":
        open.state = waiting({ code: "not-in-browser", device: ref.device });
        return;
      default: {
        const controls = this.#compiled?.surfaces.find((s) => s.id === id)?.profile.controls ?? [];
        open.port = this.midi.make(ref, input, controls, this.#midiEvents(id, open, input));
        open.port.open();
      }
    }
  }

  #midiEvents(id: string, open: OpenPort, input: boolean): PortEvents {
    const { nowMs, midiBytes, withDesk } = this.#events;
    return {
      // What comes back on an output counts as heard by the input.
      message: (bytes) => midiBytes(id, input ? open : this.inputs.get(id), bytes),
      refused: () => withDesk(id, (t, d) => t.deskRefused(d, nowMs())),
      state: (state) => {
        const was = open.state.state;
        open.state = state;
        // What was held on a unit that is gone is let go; its release will not come.
        if (input && was === "open" && state.state !== "open") this.#surfaceGone(id);
        if (input || state.state !== "open") return;
        this.#surfaceOpened(id);
        withDesk(id, (t, d) => t.tryDesk(d, nowMs()));
      },
    };
  }

  /** The bridge to a surface or a MIDI desk that lives in a browser was opened or closed. */
  bridge(id: string, input: boolean, output: boolean): void {
    const compiled = this.#compiled;
    const surface =
      compiled?.surfaces.find((s) => s.id === id)?.surface ?? compiled?.desks.find((d) => d.id === id)?.desk.midi;
    if (!surface) return;
    const gone = (ref: PortRef) =>
      ref.kind === "browser-midi" ? waiting({ code: "not-in-browser", device: ref.device }) : WAITING;
    const inPort = this.inputs.get(id);
    const outPort = this.outputs.get(id) ?? this.desks.get(id);
    if (inPort && surface.in.kind === "browser-midi") {
      const was = inPort.state.state;
      inPort.state = input ? OPEN : gone(surface.in);
      if (was === "open" && !input) this.#surfaceGone(id);
    }
    if (outPort && surface.out.kind === "browser-midi") {
      const was = outPort.state.state;
      outPort.state = output ? OPEN : gone(surface.out);
      if (was !== "open" && output) this.#surfaceOpened(id);
    }
  }

  #surfaceOpened(id: string): void {
    const { nowMs, withSurface } = this.#events;
    withSurface(id, (t, s) => t.surfaceOpened(s, nowMs()));
  }

  #surfaceGone(id: string): void {
    const { nowMs, withSurface, withDesk } = this.#events;
    withSurface(id, (t, s) => t.surfaceGone(s, nowMs()));
    withDesk(id, (t, d) => t.deskGone(d, nowMs())); // a MIDI desk, whose notes routes pass on
  }

  /** Whether what is sent to a desk or a surface leaves; what has no port of its own is always there. */
  isOpen(id: string): boolean {
    const open = this.desks.get(id) ?? this.outputs.get(id);
    return (open?.state.state ?? "open") === "open";
  }

  /** Closes them in this turn, but for sessions of the network, which say good-bye. */
  leave(): Promise<unknown> {
    this.#stray.close();
    const all = [...this.inputs.values(), ...this.outputs.values(), ...this.desks.values()];
    return Promise.all(all.map((open) => open.port?.close()));
  }

  async close(): Promise<void> {
    await this.leave();
    await this.midi.close();
  }
}

/** Whether somebody who was a stranger is a desk or a port of this show. */
function isUsed(stranger: Stranger, { show }: CompiledShow): boolean {
  switch (stranger.kind) {
    case "universe":
      return show.surfaces.some(
        ({ in: port }) =>
          port.kind === "dmx" &&
          port.protocol === stranger.protocol &&
          port.universe === stranger.universe &&
          port.reach === stranger.reach,
      );
    case "sender":
      return show.desks.some(
        (d) =>
          !d.midi &&
          d.listenPort === stranger.listenPort &&
          d.host === stranger.host &&
          (stranger.carrier === "tcp-server" || d.port === stranger.port),
      );
    default:
      return false; // a device is looked after where it is opened
  }
}
