/** What the server has of shows and versions, asked for when it is shown. */
import { useEffect, useState } from "react";
import type { ShowOnShelf } from "../../core/live/shelf.ts";
import { useLive } from "../live/store.ts";

export interface Shelf {
  readonly shows: readonly ShowOnShelf[];
  readonly versions: number;
}

/**
 * The answer of an address; null until the server has given one. Asked for anew with each edit, with each other show, and
 * when `again` is called. That the server is not there is said by the line at the top.
 */
export function useAsked<T>(address: string | null): { answer: T | null; again(): void } {
  const turn = useLive((l) => l.history.turn);
  const [asked, setAsked] = useState(0);
  const [answer, setAnswer] = useState<T | null>(null);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what was answered is no longer so
  useEffect(() => {
    if (address === null) return;
    const controller = new AbortController();
    fetch(address, { signal: controller.signal })
      .then(async (response) => {
        if (response.ok) setAnswer((await response.json()) as T);
      })
      .catch(() => {});
    return () => controller.abort();
  }, [address, turn, asked]);
  return { answer, again: () => setAsked((n) => n + 1) };
}

export function useShelf(): { answer: Shelf | null; again(): void } {
  return useAsked<Shelf>("/api/shows");
}

export function clockWords(atMs: number): string {
  return new Date(atMs).toLocaleTimeString([], { hour: "2-digit", minute: "2-digit", hour12: false });
}

/** "today", "yesterday", or the date. */
export function dayWords(atMs: number, nowMs: number): string {
  const day = (ms: number) => new Date(ms).toLocaleDateString([], { year: "numeric", month: "long", day: "numeric" });
  if (day(atMs) === day(nowMs)) return "today";
  return day(atMs) === day(nowMs - 86_400_000) ? "yesterday" : day(atMs);
}
