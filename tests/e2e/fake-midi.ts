/** A browser's MIDI system under a test's hands: devices come and go, bytes go in, and what came out is kept. */
import type { Page } from "@playwright/test";

declare global {
  interface Window {
    fakeMidi: {
      plug(name: string): void;
      unplug(name: string): void;
      play(name: string, bytes: number[]): void;
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
      name: string;
      state: string;
      onmidimessage: ((event: { data: Uint8Array }) => void) | null;
      send(bytes: number[]): void;
    }
    const inputs = new Map<string, FakePort>();
    const outputs = new Map<string, FakePort>();
    const access = { inputs, outputs, onstatechange: null as (() => void) | null };
    const sent: Record<string, number[][]> = {};
    const port = (name: string): FakePort => ({
      name,
      state: "connected",
      onmidimessage: null,
      send: (bytes) => {
        sent[name] = [...(sent[name] ?? []), [...bytes]];
      },
    });
    window.fakeMidi = {
      sent,
      plug: (name) => {
        inputs.set(name, port(name));
        outputs.set(name, port(name));
        access.onstatechange?.();
      },
      unplug: (name) => {
        inputs.delete(name);
        outputs.delete(name);
        access.onstatechange?.();
      },
      play: (name, bytes) => inputs.get(name)?.onmidimessage?.({ data: Uint8Array.from(bytes) }),
    };
    const value = async () => {
      if (how === "refused") throw new DOMException("no", "NotAllowedError");
      return access;
    };
    Object.defineProperty(navigator, "requestMIDIAccess", { configurable: true, value });
  }, answer);
}
