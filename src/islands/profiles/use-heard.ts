/** MIDI that arrives from surfaces of one kind, in windows as Learn wants them. */
import { useEffect, useRef } from "react";
import { parseHexBytes } from "../../core/midi/hex.ts";
import type { HeardMessage } from "../../core/surface/learn.ts";
import { useActions } from "../live/actions.ts";
import { EntryReader } from "../live/entry-reader.ts";

const WINDOW_MS = 600;

/** Calls `judge` with every window of messages from these surfaces while `on`. */
export function useHeard(on: boolean, surfaces: ReadonlySet<string>, judge: (window: HeardMessage[]) => void): void {
  const { watchTraffic } = useActions();
  const latest = useRef(judge);
  latest.current = judge;
  useEffect(() => {
    if (!on) return;
    const reader = new EntryReader();
    let window: HeardMessage[] = [];
    let timer: ReturnType<typeof setTimeout> | null = null;
    const stop = watchTraffic((frame) => {
      for (const row of reader.read(frame)) {
        if (row.out || row.side !== "surface" || !surfaces.has(row.device)) continue;
        const bytes = parseHexBytes(row.hex);
        if (bytes && bytes.length > 0) window.push({ source: row.device, atMs: row.atMs, bytes });
      }
      if (window.length === 0) return;
      timer ??= setTimeout(() => {
        timer = null;
        const whole = window;
        window = [];
        latest.current(whole);
      }, WINDOW_MS);
    }, false);
    return () => {
      stop();
      if (timer) clearTimeout(timer);
    };
  }, [on, surfaces, watchTraffic]);
}
