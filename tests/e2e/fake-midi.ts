/** A browser's MIDI system under a test's hands: devices come and go, bytes go in, and what came out is kept. */
import type { Page } from "@playwright/test";

declare global {
  interface Window {
    fakeMidi: {
      /** Several with one name are told apart by their ids, which are names where there is only one. */
      plug(name: string, id?: string): void;
      unplug(id: string): void;
      play(id: string, bytes: number[]): void;
      sent: Record<string, number[][]>;
    };
  }
}

export async function fakeMidi(page: Page, answer: "devices" | "refused" | "none" = "devices"): Promise<void> {
  await page.addInitScript((how) => {
    if (how === "none") {
      Object.defineProperty(navigator, "requestMIDIAccess", { configurable: true, value: undefined });
      return;
    }
    interface FakePort {
      id: string;
      name: string;
      state: string;
      onmidimessage: ((event: { data: Uint8Array }) => void) | null;
      send(bytes: number[]): void;
    }
    const inputs = new Map<string, FakePort>();
    const outputs = new Map<string, FakePort>();
    const access = { inputs, outputs, onstatechange: null as (() => void) | null };
    const sent: Record<string, number[][]> = {};
    const port = (name: string, id: string, way: string): FakePort => ({
      id: `${id} ${way}`,
      name,
      state: "connected",
      onmidimessage: null,
      send: (bytes) => {
        sent[id] = [...(sent[id] ?? []), [...bytes]];
      },
    });
    window.fakeMidi = {
      sent,
      plug: (name, id = name) => {
        inputs.set(id, port(name, id, "in"));
        outputs.set(id, port(name, id, "out"));
        access.onstatechange?.();
      },
      unplug: (id) => {
        inputs.delete(id);
        outputs.delete(id);
        access.onstatechange?.();
      },
      play: (id, bytes) => inputs.get(id)?.onmidimessage?.({ data: Uint8Array.from(bytes) }),
    };
    const value = async () => {
      if (how === "refused") throw new DOMException("no", "NotAllowedError");
      return access;
    };
    Object.defineProperty(navigator, "requestMIDIAccess", { configurable: true, value });
  }, answer);
}
