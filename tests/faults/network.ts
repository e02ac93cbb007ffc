/** What was lost is found: hands on a desk by a line that loses a fifth, doubles and reorders, and rings of cables. */
import { type ChildProcess, fork } from "node:child_process";
import { once } from "node:events";
import { join } from "node:path";
import type { WebSocket } from "ws";
import quayLights from "../../profiles/quay-lights.desk.json" with { type: "json" };
import { compileDesk } from "../../src/core/desk/compile-desk.ts";
import type { DeskProfile } from "../../src/core/format/desk-profile.ts";
import { WHOLE_TRAVEL } from "../../src/core/format/givens.ts";
import { emptyShow, type Mapping, type Show } from "../../src/core/format/show.ts";
import type { Snapshot } from "../../src/core/live/protocol.ts";
import { Program, until } from "./program.ts";
import type { Result, Scene } from "./scenes.ts";

const WEB_PORT = 23_110;
const LIGHTS = { port: 23_160, web: 23_162 };
const FADERS = [1, 2, 3, 4, 5];
const FLASHES = [6, 7, 8, 9];
const SWITCHES = [10, 11, 12, 13];
const FIRST_NOTE = 36;
const FIRST_CONTROLLER = 20;

interface StandInState {
  pages: { level: number; on: boolean; flash: boolean }[][];
}

function show(): Show {
  const map = (control: string, fn: string, playback: number): Mapping => ({
    id: `m-${control}`,
    name: "",
    note: "",
    on: true,
    surface: "deck",
    control,
    gesture: control.startsWith("fader") ? "move" : "press",
    layers: [],
    takeover: "jump",
    look: {},
    actions: [
      {
        id: `a-${control}`,
        on: true,
        desk: "lights",
        function: fn,
        bindings: { page: { from: "fixed", value: 1 }, playback: { from: "fixed", value: playback } },
        shape: WHOLE_TRAVEL,
      },
    ],
  });
  return {
    ...emptyShow("Faults"),
    surfaces: [
      { id: "deck", name: "Deck grid", profile: "deck-grid", in: { kind: "screen" }, out: { kind: "screen" } },
    ],
    desks: [
      {
        id: "lights",
        name: "Lights",
        profile: "quay-lights",
        host: "127.0.0.1",
        port: LIGHTS.port,
        listenPort: LIGHTS.port + 1,
      },
    ],
    mappings: [
      ...FADERS.map((n) => map(`fader-${n}`, "playback.level", n)),
      ...FLASHES.map((n) => map(`pad-${n}`, "playback.flash", n)),
      ...SWITCHES.map((n) => map(`pad-${n}`, "playback.toggle", n)),
    ],
  };
}

async function standIn(): Promise<ChildProcess> {
  const file = join(import.meta.dirname, "standins", "lighting-desk.mjs");
  const child = fork(file, ["--port", String(LIGHTS.port), "--web-port", String(LIGHTS.web)], { silent: true });
  await once(child, "message");
  return child;
}
const asked = async () => (await (await fetch(`http://127.0.0.1:${LIGHTS.web}/state`)).json()) as StandInState;
const fault = (body: object) =>
  fetch(`http://127.0.0.1:${LIGHTS.web}/fault`, { method: "POST", body: JSON.stringify(body) });

/** What the program knows of the desk, by state and playback, as a browser that comes now is told. */
async function known(program: Program): Promise<(what: string, n: number) => number> {
  const live = await program.live();
  const [data] = (await once(live, "message")) as [unknown];
  live.close();
  const snapshot = JSON.parse(String(data)) as Snapshot;
  const values = new Map((snapshot.live.values?.lights ?? []).map(([index, value]) => [index, Number(value)]));
  const desk = compileDesk(show().desks[0]!, quayLights as unknown as DeskProfile);
  return (what, n) => values.get(desk.states.get(`playback.${what}`)!.base + n - 1) ?? Number.NaN;
}

const say = (live: WebSocket, bytes: number[]) =>
  live.send(JSON.stringify({ kind: "screen-midi", surface: "deck", bytes }));

/** Hands at work: faders at 50 a second, flashes of a third of a second and switches now and then. */
async function play(live: WebSocket, ms: number, seed: number): Promise<number[]> {
  let x = seed;
  const random = () => {
    x ^= x << 13;
    x ^= x >>> 17;
    x ^= x << 5;
    return (x >>> 0) / 0x1_0000_0000;
  };
  const at = FADERS.map(() => 0);
  const down = new Map<number, number>();
  const endMs = performance.now() + ms;
  while (performance.now() < endMs) {
    FADERS.forEach((n, i) => {
      at[i] = Math.min(127, Math.max(0, at[i]! + Math.round((random() - 0.45) * 6)));
      say(live, [0xb0, FIRST_CONTROLLER + n - 1, at[i]!]);
    });
    for (const n of [...FLASHES, ...SWITCHES]) {
      const untilMs = down.get(n);
      if (untilMs !== undefined && performance.now() > untilMs) {
        say(live, [0x90, FIRST_NOTE + n - 1, 0]);
        down.delete(n);
      } else if (untilMs === undefined && random() < 0.02) {
        say(live, [0x90, FIRST_NOTE + n - 1, 127]);
        down.set(n, performance.now() + 50 + random() * 300);
      }
    }
    await new Promise((done) => setTimeout(done, 20));
  }
  for (const n of down.keys()) say(live, [0x90, FIRST_NOTE + n - 1, 0]);
  return at;
}

function truth(seeds: number, ms: number, isShort: boolean): Scene {
  return {
    name: isShort ? "truth, short" : "truth",
    isShort,
    limitMs: 60_000 + seeds * (ms + 15_000),
    async run(): Promise<Result[]> {
      const desk = await standIn();
      const program = new Program(WEB_PORT);
      const wrong: string[] = [];
      let held = 0;
      try {
        await program.start();
        await program.put(show());
        await until(async () => (await (await known(program))("level", 1)) === 0);
        const live = await program.live();
        for (let seed = 1; seed <= seeds; seed++) {
          await fault({ kind: "none" });
          await new Promise((done) => setTimeout(done, 1500));
          await fault({ drop: 20, double: 10, reorder: true });
          const left = await play(live, ms, seed * 7919);
          await fault({ kind: "none" });
          await new Promise((done) => setTimeout(done, 3000));
          const { pages } = await asked();
          const told = await known(program);
          const page = pages[0]!;
          held += page.filter((p) => p.flash).length;
          for (const n of [...FADERS, ...FLASHES, ...SWITCHES]) {
            const is = page[n - 1]!;
            if (Math.fround(told("level", n)) !== Math.fround(is.level)) wrong.push(`level ${n}`);
            if (told("on", n) !== Number(is.on)) wrong.push(`on ${n}`);
            if (told("flash", n) !== Number(is.flash)) wrong.push(`flash ${n}`);
          }
          for (const [i, n] of FADERS.entries())
            if (Math.abs(page[n - 1]!.level - left[i]! / 127) > 1e-4) wrong.push(`fader ${n} not as left`);
        }
        live.close();
      } finally {
        await program.end();
        desk.kill("SIGKILL");
      }
      return [
        {
          scene: `${seeds} times ${ms / 1000} s of hands, 20 % lost both ways, doubled and reordered; 3 s after it ends`,
          figure: `${wrong.length} values wrong${wrong.length > 0 ? ` (${wrong.slice(0, 5).join(", ")})` : ""}, ${held} held`,
          wanted: "0 values wrong, 0 held",
          ok: wrong.length === 0 && held === 0,
        },
      ];
    },
  };
}

export const NETWORK: readonly Scene[] = [truth(1, 6000, true), truth(20, 15_000, false)];
