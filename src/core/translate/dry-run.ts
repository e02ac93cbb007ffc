/**
 * The dry run: a show and a take in, everything that would leave out, on a virtual clock. The same input gives
 * the same output, always. Heartbeats, subscriptions and queries are left out: no desk is there to answer.
 */

import type { Problem } from "../format/problem.ts";
import { type Profiles, profilesWith } from "../format/profiles.ts";
import type { Read } from "../format/read-format.ts";
import type { Show } from "../format/show.ts";
import { entryBytes, midiEntry, type TakeEntry, takeEntry } from "../format/take.ts";
import { type MessageKind, WIRES } from "../format/wires.ts";
import { compileShow } from "../mapping/compile.ts";
import { Translator } from "./translator.ts";

/** The virtual clock stops at every multiple of this, in ms, to do what is due. */
const DRY_RUN_TICK_MS = 20;
/** How long it goes on after the last message, in ms, for what waits. */
const AFTERWARDS_MS = 1000;

export function dryRun(show: Show, take: readonly TakeEntry[], profiles: Profiles): Read<TakeEntry[]> {
  const kinds = kindsOf(show, profiles);
  const problems = checkPorts(show, take, kinds);
  if (problems.length > 0) return { ok: false, problems };
  const out: TakeEntry[] = [];
  let nowMs = 0;
  const translator = new Translator(
    compileShow(show, profiles),
    {
      toDesk: (d, bytes, offset, length) => {
        const { id } = show.desks[d]!;
        out.push(takeEntry(nowMs, id, "out", bytes.slice(offset, offset + length), kinds.get(id)!));
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

/** What the messages of each desk are made of. */
function kindsOf(show: Show, profiles: Profiles): Map<string, MessageKind> {
  const all = profilesWith(profiles, show);
  return new Map(show.desks.map((d) => [d.id, WIRES[all.desks.get(d.profile)?.wire.kind ?? "osc"].message]));
}

function checkPorts(show: Show, take: readonly TakeEntry[], kinds: ReadonlyMap<string, MessageKind>): Problem[] {
  const surfaces = new Set(show.surfaces.map((s) => s.id));
  const problems: Problem[] = [];
  take.forEach((entry, i) => {
    const path = ["lines", i + 1];
    const has: MessageKind = "midi" in entry ? "midi" : "osc" in entry ? "osc" : "line";
    if (surfaces.has(entry.port)) {
      if (has !== "midi")
        problems.push({
          code: "not-valid",
          path: [...path, has],
          expected: { is: "message", message: "midi", to: "surface" },
        });
      return;
    }
    const wanted = kinds.get(entry.port);
    if (wanted === undefined)
      problems.push({ code: "unknown-id", path: [...path, "port"], what: "surface-or-desk", id: entry.port });
    else if (wanted !== has)
      problems.push({
        code: "not-valid",
        path: [...path, has],
        expected: { is: "message", message: wanted, to: "desk" },
      });
  });
  return problems;
}
