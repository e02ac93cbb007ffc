/**
 * The dry run: a show and a take in, everything that would leave out, on a virtual clock. The same input gives
 * the same output, always. Heartbeats, subscriptions and queries are left out: no desk is there to answer.
 */
import { compileShow } from "../mapping/compile.ts";
import type { Profiles } from "../show/check.ts";
import type { Problem } from "../show/problem.ts";
import type { Read } from "../show/read.ts";
import type { Show } from "../show/show.ts";
import { entryBytes, midiEntry, oscEntry, type TakeEntry } from "../show/take.ts";
import { Translator } from "./translator.ts";

/** The virtual clock stops at every multiple of this, in ms, to do what is due. */
export const DRY_RUN_TICK_MS = 20;
/** How long it goes on after the last message, in ms, for what waits. */
const AFTERWARDS_MS = 1000;

export function dryRun(show: Show, take: readonly TakeEntry[], profiles: Profiles): Read<TakeEntry[]> {
  const problems = checkPorts(show, take);
  if (problems.length > 0) return { ok: false, problems };
  const out: TakeEntry[] = [];
  let nowMs = 0;
  const translator = new Translator(
    compileShow(show, profiles),
    {
      toDesk: (d, bytes, offset, length) => {
        const { id, midi } = show.desks[d]!;
        const own = bytes.slice(offset, offset + length);
        out.push(midi ? midiEntry(nowMs, id, "out", own) : oscEntry(nowMs, id, "out", own));
      },
      toSurface: (s, bytes, offset, length) => {
        out.push(midiEntry(nowMs, show.surfaces[s]!.id, "out", bytes.slice(offset, offset + length)));
      },
    },
    { links: false },
  );
  const advanceTo = (endMs: number) => {
    for (let at = (Math.floor(nowMs / DRY_RUN_TICK_MS) + 1) * DRY_RUN_TICK_MS; at <= endMs; at += DRY_RUN_TICK_MS) {
      nowMs = at;
      translator.tick(at);
    }
    nowMs = endMs;
  };
  translator.tick(0);
  for (const entry of take) {
    if (entry.dir === "out") continue; // a recording of both ways: what left then is worked out anew
    advanceTo(entry.ms);
    const s = show.surfaces.findIndex((x) => x.id === entry.port);
    if (s >= 0) translator.surfaceBytes(s, entryBytes(entry), nowMs);
    else
      translator.deskBytes(
        show.desks.findIndex((x) => x.id === entry.port),
        entryBytes(entry),
        nowMs,
      );
  }
  advanceTo(nowMs + AFTERWARDS_MS);
  return { ok: true, value: out };
}

function checkPorts(show: Show, take: readonly TakeEntry[]): Problem[] {
  const surfaces = new Set(show.surfaces.map((s) => s.id));
  /** Whether each desk speaks MIDI. */
  const desks = new Map(show.desks.map((d) => [d.id, d.midi !== undefined]));
  const problems: Problem[] = [];
  take.forEach((entry, i) => {
    const path = [`line ${i + 2}`];
    if (surfaces.has(entry.port)) {
      if (!("midi" in entry))
        problems.push({ code: "not-valid", path: [...path, "osc"], expected: "MIDI bytes for a surface" });
      return;
    }
    const midi = desks.get(entry.port);
    if (midi !== undefined) {
      const wrong = midi !== "midi" in entry;
      if (wrong)
        problems.push({
          code: "not-valid",
          path: [...path, midi ? "osc" : "midi"],
          expected: midi ? "MIDI bytes for this desk" : "an OSC message for this desk",
        });
    } else problems.push({ code: "unknown-id", path: [...path, "port"], what: "surface or desk", id: entry.port });
  });
  return problems;
}
