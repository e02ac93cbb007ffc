/** What pages say over their live sockets, on its way to the engine. Who may say it was checked before (hub.ts). */
import type { Profiles } from "../../core/format/profiles.ts";
import type { Show, Surface } from "../../core/format/show.ts";
import type { ClientMessage } from "../../core/live/protocol.ts";
import type { ToEngine } from "../../engine/messages.ts";
import { midiPorts } from "./bridges.ts";
import type { BrowserDevices } from "./browser-devices.ts";
import { HeldNotes, isPress } from "./held-notes.ts";
import type { LiveClient } from "./hub.ts";
import { Looking } from "./looking.ts";
import { Teaching } from "./teaching.ts";

export interface PagesSurroundings {
  send(message: ToEngine): void;
  show(): Show;
  /** The kinds that ship. */
  readonly profiles: Profiles;
  readonly devices: BrowserDevices;
}

export class FromPages {
  readonly #around: PagesSurroundings;
  readonly #heldNotes = new HeldNotes();
  readonly #teaching: Teaching;
  readonly #looking: Looking;

  constructor(around: PagesSurroundings) {
    this.#around = around;
    this.#teaching = new Teaching((on) => around.send({ kind: "teach", on }));
    this.#looking = new Looking((wanted) => around.send({ kind: "look", ...wanted }));
  }

  /** What an engine that begins is to know of the pages that are there. */
  engineStarted(): void {
    // Before the show: nothing that hands do meanwhile is to be played.
    this.#around.send({ kind: "teach", on: this.#teaching.isOn });
    this.#looking.tell();
  }

  message(client: LiveClient, message: ClientMessage): void {
    const { send, show, devices } = this.#around;
    switch (message.kind) {
      case "screen-midi": {
        const surface = show().surfaces.find((s) => s.id === message.surface);
        if (surface) this.#drawn(surface, message.bytes, client);
        return;
      }
      case "device-midi": {
        if (devices.ownerOf(message.name, message.nth) !== client) return; // another window says it already
        for (const p of midiPorts(show()))
          if (p.in.kind === "browser-midi" && p.in.device === message.name && p.in.nth === message.nth)
            send({ kind: "midi-bytes", id: p.id, bytes: Uint8Array.from(message.bytes) });
        return;
      }
      case "send-once":
        send({ ...message, bytes: Uint8Array.from(message.bytes) });
        return;
      case "teach":
        this.#teaching.set(client, message.on);
        return;
      case "play":
        this.#teaching.end();
        return;
      case "look":
        this.#looking.set(client, message);
        return;
      case "try-desk":
      case "end-bypass":
      case "redraw":
      case "release-all":
      case "rearm":
      case "refuse-peer":
      case "look-for-midi":
        send(message);
        return;
      case "devices":
      case "watch-traffic":
      case "shows":
        return; // the hub has taken care of them
      default:
        message satisfies never;
    }
  }

  /** A page went away: what it held is let go, and it has nobody teach any more. */
  left(client: LiveClient): void {
    this.#teaching.set(client, false);
    this.#looking.leave(client);
    for (const { surface, bytes } of this.#heldNotes.leave(client.number)) this.#drawnBytes(surface, bytes);
  }

  /** From where a surface is drawn: also beside a device that is its port. */
  #drawn(surface: Surface, bytes: readonly number[], client: LiveClient): void {
    const { show, profiles } = this.#around;
    const own = show().profiles?.surfaces.find((p) => p.id === surface.profile);
    const profile = own ?? profiles.surfaces.get(surface.profile);
    if (this.#heldNotes.admit(client.number, surface.id, profile, bytes)) this.#drawnBytes(surface.id, bytes);
    else if (isPress(bytes))
      client.send({
        kind: "notice",
        text: `Another window holds this key of ${surface.name}. It plays here once it is let go there.`,
      });
  }

  #drawnBytes(id: string, bytes: Iterable<number>): void {
    this.#around.send({ kind: "midi-bytes", id, bytes: Uint8Array.from(bytes), isDrawn: true });
  }
}
