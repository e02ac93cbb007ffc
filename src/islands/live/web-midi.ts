/** The bridge to this browser's MIDI devices: finds them, passes their bytes on, and says why there are none. */

import type { Device } from "../../core/live/protocol.ts";
import { identityIn } from "../../core/teach/identity.ts";
import { numberPorts, rememberedNumbers, rememberNumbers } from "./port-numbers.ts";
import type { PageStore } from "./store.ts";

export interface MidiBridge {
  /** Asks the browser for its devices; must follow a click where permission is needed. */
  ask(): Promise<void>;
  /** After the page was loaded anew: takes back the devices that it had, where it had asked for them. */
  askAgain(): Promise<void>;
  send(name: string, nth: number, bytes: readonly number[]): void;
  devices(): Device[];
}

export interface MidiBridgeEvents {
  devicesChanged(devices: Device[]): void;
  bytes(name: string, nth: number, bytes: Uint8Array): void;
}

/** Where this browser keeps that it was asked for its devices, and gave them. */
const ASKED = "velvet-hinge.midi-asked";

const SENTENCES = {
  unsupported:
    "This browser has no MIDI. Use one that has, on this computer or another: open this page there and the surface is here.",
  insecure: "Browsers give MIDI only to pages from this computer or over https. Open this page on 127.0.0.1.",
  refused: "The browser did not allow MIDI for this page. Allow it at the left of the address bar, then ask again.",
  failed: "The browser could not open the computer’s MIDI system. Is another program holding the device?",
} as const;

interface Entry {
  input: MIDIInput | null;
  output: MIDIOutput | null;
}

export function createMidiBridge(store: PageStore, events: MidiBridgeEvents): MidiBridge {
  const entries = new Map<string, Entry>();
  const { deviceActivity: activity } = store.getState();
  /** Read at the first question: on the server, where pages are made first, nothing is stored. */
  let known = new Map<string, number>();
  let access: MIDIAccess | null = null;

  const publish = () => {
    const devices = list();
    store.setState(({ wasHere }) => ({
      midi: { kind: "open", devices },
      wasHere: new Set([...wasHere, ...devices.map((d) => `${d.nth} ${d.name}`)]),
    }));
  };

  const scan = () => {
    if (!access) return;
    entries.clear();
    const add = (port: MIDIInput | MIDIOutput, way: "input" | "output", numbers: ReadonlyMap<string, number>) => {
      const name = nameOf(port);
      const nth = numbers.get(port.id) ?? 1;
      const key = `${nth} ${name}`;
      const entry = entries.get(key) ?? { input: null, output: null };
      entries.set(key, entry);
      if (way === "output") {
        entry.output = port as MIDIOutput;
        return;
      }
      entry.input = port as MIDIInput;
      entry.input.onmidimessage = (event) => {
        if (!event.data || event.data.length === 0) return;
        const identity = identityIn(event.data);
        if (identity !== null) activity.identified(name, nth, identity);
        activity.heard(name, nth, performance.now(), event.data);
        events.bytes(name, nth, event.data);
      };
    };
    for (const way of ["input", "output"] as const) {
      const all: (MIDIInput | MIDIOutput)[] = [...(way === "input" ? access.inputs : access.outputs).values()];
      const ports = all.filter((p) => p.state === "connected");
      const numbers = numberPorts(
        ports.map((p) => ({ id: p.id, name: nameOf(p) })),
        known,
      );
      for (const [id, nth] of numbers) known.set(id, nth);
      for (const port of ports) add(port, way, numbers);
    }
    rememberNumbers(localStorage, known);
    publish();
    events.devicesChanged(list());
  };

  const list = (): Device[] => [...entries].map(([key, e]) => ({ ...split(key), ...ways(e) }));

  return {
    async ask() {
      const say = (sentence: string) => store.setState({ midi: { kind: "none", sentence } });
      if (typeof navigator.requestMIDIAccess !== "function")
        return say(window.isSecureContext ? SENTENCES.unsupported : SENTENCES.insecure);
      store.setState({ midi: { kind: "asking" } });
      try {
        // SysEx is asked for, since texts and settings of surfaces travel by it.
        known = rememberedNumbers(localStorage);
        access = await navigator.requestMIDIAccess({ sysex: true });
      } catch (error) {
        const name = error instanceof DOMException ? error.name : "";
        return say(name === "NotAllowedError" || name === "SecurityError" ? SENTENCES.refused : SENTENCES.failed);
      }
      access.onstatechange = scan;
      scan();
      localStorage.setItem(ASKED, "yes");
    },
    async askAgain() {
      if (localStorage.getItem(ASKED) === "yes") await this.ask();
    },
    send(name, nth, bytes) {
      const entry = entries.get(`${nth} ${name}`);
      if (!entry?.output) return;
      entry.output.send([...bytes]);
      activity.sent(name, nth, performance.now());
    },
    devices: list,
  };
}

function nameOf(port: MIDIPort): string {
  return port.name ?? "MIDI device";
}

function split(key: string): { name: string; nth: number } {
  const space = key.indexOf(" ");
  return { nth: Number(key.slice(0, space)), name: key.slice(space + 1) };
}

function ways(e: Entry): { input: boolean; output: boolean } {
  return { input: e.input !== null, output: e.output !== null };
}
