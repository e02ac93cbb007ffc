/** Which surfaces and MIDI desks have a browser with their device right now, as the engine was told. */
import type { PortRef, Show } from "../../core/format/show.ts";
import type { ToEngine } from "../../engine/messages.ts";
import type { BrowserDevices } from "./browser-devices.ts";

/** The MIDI ports of surfaces and of desks that are driven by MIDI. */
export function midiPorts({ surfaces, desks }: Show): { id: string; in: PortRef; out: PortRef }[] {
  return [...surfaces, ...desks.flatMap((d) => (d.midi ? [{ id: d.id, ...d.midi }] : []))];
}

export class Bridges {
  readonly #devices: BrowserDevices;
  readonly #send: (message: ToEngine) => void;
  /** By surface or desk, what was told last. */
  readonly #told = new Map<string, string>();

  constructor(devices: BrowserDevices, send: (message: ToEngine) => void) {
    this.#devices = devices;
    this.#send = send;
  }

  /** There is another engine, which knows nothing of them. */
  forget(): void {
    this.#told.clear();
  }

  /** Tells the engine what is other than it was told. */
  tell(show: Show): void {
    const has = (ref: PortRef, way: "input" | "output") =>
      ref.kind === "browser-midi" && this.#devices.has(ref.device, ref.nth, way);
    const owner = (ref: PortRef) =>
      ref.kind === "browser-midi" ? this.#devices.ownerOf(ref.device, ref.nth)?.number : undefined;
    for (const s of midiPorts(show)) {
      if (s.in.kind !== "browser-midi" && s.out.kind !== "browser-midi") continue;
      const input = has(s.in, "input");
      const output = has(s.out, "output");
      const state = JSON.stringify([s.in, s.out, input, output, owner(s.in), owner(s.out)]);
      const before = this.#told.get(s.id);
      if (before === state) continue;
      this.#told.set(s.id, state);
      // By another browser it is another unit's wire: what was held is let go, and its lights are drawn anew.
      if (before) this.#send({ kind: "bridge", id: s.id, input: false, output: false });
      this.#send({ kind: "bridge", id: s.id, input, output });
    }
  }
}
