/**
 * The dry run: a show and a take in, everything that would leave out, on a virtual clock. The same input gives
 * the same output, always. Heartbeats, subscriptions and queries are left out: no desk is there to answer.
 */
import { compileShow } from "../mapping/compile.ts";
import { type Profiles, profilesWith } from "../show/check.ts";
import type { Problem } from "../show/problem.ts";
import type { Read } from "../show/read.ts";
import type { Show } from "../show/show.ts";
import { entryBytes, midiEntry, TAKE_WIRES, type TakeEntry, type TakeWire, takeEntry } from "../show/take.ts";
import { Translator } from "./translator.ts";

/** The virtual clock stops at every multiple of this, in ms, to do what is due. */
export const DRY_RUN_TICK_MS = 20;
/** How long it goes on after the last message, in ms, for what waits. */
const AFTERWARDS_MS = 1000;

export function dryRun(show: Show, take: readonly TakeEntry[], profiles: Profiles): Read<TakeEntry[]> {
  const wires = wiresOf(show, profiles);
  const problems = checkPorts(show, take, wires);
  if (problems.length > 0) return { ok: false, problems };
  const out: TakeEntry[] = [];
  let nowMs = 0;
  const translator = new Translator(
    compileShow(show, profiles),
    {
      toDesk: (d, bytes, offset, length) => {
        const { id } = show.desks[d]!;
        out.push(takeEntry(nowMs, id, "out", bytes.slice(offset, offset + length), wires.get(id)!));
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

/** What each desk carries. */
function wiresOf(show: Show, profiles: Profiles): Map<string, TakeWire> {
  const all = profilesWith(profiles, show);
  return new Map(show.desks.map((d) => [d.id, TAKE_WIRES[all.desks.get(d.profile)?.wire.kind ?? "osc-udp"]]));
}

const EXPECTED: Record<TakeWire, string> = {
  midi: "MIDI bytes for this desk",
  osc: "an OSC message for this desk",
  line: "a line for this desk",
};

function checkPorts(show: Show, take: readonly TakeEntry[], wires: ReadonlyMap<string, TakeWire>): Problem[] {
  const surfaces = new Set(show.surfaces.map((s) => s.id));
  const problems: Problem[] = [];
  take.forEach((entry, i) => {
    const path = [`line ${i + 2}`];
    const has: TakeWire = "midi" in entry ? "midi" : "osc" in entry ? "osc" : "line";
    if (surfaces.has(entry.port)) {
      if (has !== "midi")
        problems.push({ code: "not-valid", path: [...path, has], expected: "MIDI bytes for a surface" });
      return;
    }
    const wire = wires.get(entry.port);
    if (wire === undefined)
      problems.push({ code: "unknown-id", path: [...path, "port"], what: "surface or desk", id: entry.port });
    else if (wire !== has) problems.push({ code: "not-valid", path: [...path, has], expected: EXPECTED[wire] });
  });
  return problems;
}
