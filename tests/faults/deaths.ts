/** Nothing ends a process, and what does end is there again at once: the border, bad addresses, deaths. */
import { once } from "node:events";
import { connect } from "node:net";
import { WHOLE_TRAVEL } from "../../src/core/format/givens.ts";
import { type Action, emptyShow, type Mapping, type Show } from "../../src/core/format/show.ts";
import { ENGINE_FAULTS, type EngineFault } from "../../src/engine/messages.ts";
import { Desk, Program, percentile, SceneBroken, until } from "./program.ts";
import type { Result, Scene } from "./scenes.ts";

const WEB_PORT = 23_100;
const DESK_PORT = 23_150;
const PADS = 30;
/** Note of the first pad of the deck grid, on channel 1. */
const FIRST_NOTE = 36;
const NOTE_ON = 0x90;

/** The deck grid drawn on the screen: each pad flashes a playback of its own; a layer and a variable besides. */
export function flashShow(more: Partial<Show> = {}): Show {
  const pad = (n: number, action: Omit<Action, "id" | "on" | "shape">): Mapping => ({
    id: `m-${n}`,
    name: "",
    note: "",
    on: true,
    surface: "deck",
    control: `pad-${n}`,
    gesture: "press",
    layers: [],
    takeover: "jump",
    look: {},
    actions: [{ id: `a-${n}`, on: true, shape: WHOLE_TRAVEL, ...action }],
  });
  const fixed = (value: number) => ({ from: "fixed", value }) as const;
  return {
    ...emptyShow("Faults"),
    surfaces: [
      { id: "deck", name: "Deck grid", profile: "deck-grid", in: { kind: "screen" }, out: { kind: "screen" } },
    ],
    desks: [desk("lights", "127.0.0.1", DESK_PORT)],
    mappings: Array.from({ length: PADS }, (_, i) =>
      pad(i + 1, {
        desk: "lights",
        function: "playback.flash",
        bindings: { page: fixed(1), playback: fixed((i % 20) + 1) },
      }),
    ),
    ...more,
  };
}

function desk(id: string, host: string, port: number, listenPort = port + 1) {
  return { id, name: id, profile: "quay-lights", host, port, listenPort };
}

export async function onStage(work: (program: Program, desk: Desk) => Promise<Result[]>, show = flashShow()) {
  const lights = new Desk();
  await lights.open(DESK_PORT);
  const program = new Program(WEB_PORT);
  try {
    await program.start();
    const put = await program.put(show);
    if (!put.ok) throw new Error(await put.text());
    await until(() => lights.heard > 0);
    return await work(program, lights);
  } finally {
    await program.end();
    lights.close();
  }
}

/** Presses and lets go pads in turn over a live socket; answers a way to stop, which tells how many messages left. */
async function hands(program: Program, everyMs: number): Promise<() => Promise<number>> {
  const live = await program.live();
  let sent = 0;
  const startedAtMs = performance.now();
  const timer = setInterval(() => {
    const due = Math.floor((performance.now() - startedAtMs) / everyMs);
    for (; sent < due; sent++) {
      const pad = (sent >> 1) % PADS;
      const bytes = [NOTE_ON, FIRST_NOTE + pad, sent % 2 === 0 ? 127 : 0];
      live.send(JSON.stringify({ kind: "screen-midi", surface: "deck", bytes }));
    }
  }, 1);
  return async () => {
    clearInterval(timer);
    const all = sent + (sent % 2);
    if (sent % 2 === 1)
      live.send(
        JSON.stringify({
          kind: "screen-midi",
          surface: "deck",
          bytes: [NOTE_ON, FIRST_NOTE + ((sent >> 1) % PADS), 0],
        }),
      );
    live.close();
    await once(live, "close");
    return all;
  };
}

const TARGETS = ["//", "//[", "/%", "*", "http://[::", "//a.invalid/live", "/\\x", "/live"];

const border: Scene = {
  name: "the border",
  isShort: true,
  limitMs: 60_000,
  run: () =>
    onStage(async (program) => {
      const before = await program.pid();
      for (const target of TARGETS)
        for (const more of ["", "Connection: Upgrade\r\nUpgrade: websocket\r\n"])
          for (const method of ["GET", "POST", "OPTIONS", "CONNECT"]) {
            const socket = connect(program.port, "127.0.0.1");
            socket.on("error", () => {});
            socket.end(`${method} ${target} HTTP/1.1\r\nHost: 127.0.0.1:${program.port}\r\n${more}\r\n`);
            socket.resume();
            await Promise.race([once(socket, "close"), new Promise((done) => setTimeout(done, 500))]);
            socket.destroy();
          }
      const after = (await program.isAlive()) ? await program.pid() : 0;
      const deaths = after === before ? 0 : 1;
      return [{ scene: "hostile targets", figure: `${deaths} deaths`, wanted: "0 deaths", ok: deaths === 0 }];
    }),
};

const BAD_HOSTS = ["no-such-desk.invalid", "::1", "999.999.999.999", "240.0.0.1", "host name", "fe80::1%nowhere"];

const addresses: Scene = {
  name: "bad addresses",
  isShort: true,
  limitMs: 60_000,
  run: () =>
    onStage(
      async (program, lights) => {
        const stop = await hands(program, 10);
        await until(() => lights.changes >= 80);
        const sent = await stop();
        await until(() => lights.changes >= sent, 2000);
        const arrived = lights.changes;
        const restarts = faultsTold(program);
        return [
          {
            scene: `${BAD_HOSTS.length} desks at addresses that lead nowhere`,
            figure: `${sent - arrived} of ${sent} lost, ${restarts} deaths`,
            wanted: "0 lost, 0 deaths",
            ok: arrived === sent && restarts === 0,
          },
        ];
      },
      flashShow({
        desks: [desk("lights", "127.0.0.1", DESK_PORT), ...BAD_HOSTS.map((h, i) => desk(`bad-${i}`, h, 9, 23_200 + i))],
      }),
    ),
};

/** A spare is there by then, in ms. */
const SPARE_WITHIN_MS = 1500;
/** Before a death it is looked what a calm moment is like, for so long, in ms. */
const CALM_MS = 250;
/** The death and what follows from it lie within this time, in ms: memory is not taken at once. */
const WINDOW_MS: Record<EngineFault, number> = { throw: 250, exit: 250, memory: 1250, loop: 1250, leak: 5500 };
/** p50 of how long nothing arrives when an engine dies, in ms. What stands still in one turn has to be noticed first. */
const TAKEOVER_MS: Record<EngineFault, number> = { throw: 5, exit: 20, memory: 800, loop: 800, leak: 20 };

function deaths(how: EngineFault, count: number, isShort: boolean): Scene {
  return {
    name: `engine: ${how}`,
    isShort,
    limitMs: 30_000 + count * (WINDOW_MS[how] + 3000),
    run: () =>
      onStage(async (program, lights) => {
        const stop = await hands(program, 1);
        await until(() => lights.sets > 200);
        await new Promise((done) => setTimeout(done, SPARE_WITHIN_MS));
        const gaps: number[] = [];
        const calm: number[] = [];
        for (let n = 0; n < count; n++) {
          const from = lights.sets;
          const broken = performance.now();
          const before = faultsTold(program);
          if (!(await program.post(`/api/break-engine?how=${how}`)).ok) throw new SceneBroken(`it cannot ${how}`);
          // The gap is over once messages of the next engine have arrived for a while.
          await until(() => lights.sets > from + 300 && performance.now() > broken + WINDOW_MS[how], 20_000);
          // That it did is told by the program's output, which comes when it comes.
          await until(() => faultsTold(program) > before, 10_000);
          if (faultsTold(program) === before) throw new SceneBroken(`the engine did not ${how}`);
          await new Promise((done) => setTimeout(done, SPARE_WITHIN_MS));
          calm.push(lights.longestGap(broken - CALM_MS, broken - CALM_MS / 4));
          gaps.push(lights.longestGap(broken, broken + WINDOW_MS[how]));
        }
        const sent = await stop();
        await until(() => lights.changes >= sent, 3000);
        const arrived = lights.changes;
        const held = lights.flashesOn();
        const p50 = percentile(gaps, 0.5);
        // A message that was in hand may be lost with each death; nothing else.
        const lost = sent - arrived;
        return [
          {
            scene: `${count} engines ${WAYS[how]}, 1,000 messages a second`,
            figure: `takes over in p50 ${p50.toFixed(1)} ms, p90 ${percentile(gaps, 0.9).toFixed(1)} (calm ${percentile(calm, 0.5).toFixed(1)}); ${lost} of ${sent} lost; ${held} held`,
            wanted: `p50 ${TAKEOVER_MS[how]} ms over a calm moment; at most ${count} lost; 0 held`,
            // A machine that is busy with tests says nothing of times.
            ok: (isShort || p50 - percentile(calm, 0.5) <= TAKEOVER_MS[how]) && lost <= count && held === 0,
          },
        ];
      }),
  };
}

/** How often the program said that its engine failed or ended. */
function faultsTold(program: Program): number {
  return (program.output.match(/engine (stopped|failed)/g) ?? []).length;
}

const WAYS: Record<EngineFault, string> = {
  throw: "throw",
  exit: "end",
  loop: "stand still",
  memory: "take all memory in one turn",
  leak: "take more and more memory",
};

/** Holds one pad, kills, and looks whether it is let go and how long the address was dead. */
const kills: Scene = {
  name: "the server is killed",
  isShort: true,
  limitMs: 60_000,
  async run() {
    const lights = new Desk();
    await lights.open(DESK_PORT);
    const program = new Program(WEB_PORT);
    const results: Result[] = [];
    const hold = async () => {
      const live = await program.live();
      const before = lights.changes;
      live.send(JSON.stringify({ kind: "screen-midi", surface: "deck", bytes: [NOTE_ON, FIRST_NOTE, 127] }));
      await until(() => lights.changes > before);
      await new Promise((done) => setTimeout(done, 50)); // written down
      return live;
    };
    try {
      await program.start({ underParent: true });
      await program.put(flashShow());
      await until(() => lights.heard > 0);
      await hold();
      const pid = await program.pid();
      const killed = performance.now();
      process.kill(pid, "SIGKILL");
      await until(async () => (await program.isAlive()) && (await program.pid()) !== pid, 10_000);
      const backMs = performance.now() - killed;
      await until(() => lights.flashesOn() === 0, 4000);
      results.push({
        scene: "kill -9 of the server, a flash held",
        figure: `back after ${Math.round(backMs)} ms, ${lights.flashesOn()} held`,
        wanted: "back by itself, 0 held",
        ok: backMs < 10_000 && lights.flashesOn() === 0,
      });

      await hold();
      const all = [await program.pid()];
      program.signal("SIGKILL");
      for (const p of all) process.kill(p, "SIGKILL");
      await program.exited();
      await program.start({ underParent: true });
      await until(() => lights.flashesOn() === 0, 5000);
      results.push({
        scene: "kill -9 of everything, a flash held, then a new start",
        figure: `${lights.flashesOn()} held`,
        wanted: "0 held",
        ok: lights.flashesOn() === 0,
      });

      await hold();
      program.signal("SIGHUP");
      const code = await program.exited();
      results.push({
        scene: "the terminal is closed, a flash held",
        figure: `exit code ${code}, ${lights.flashesOn()} held`,
        wanted: "exit code 0, 0 held",
        ok: code === 0 && lights.flashesOn() === 0,
      });
    } finally {
      await program.end();
      lights.close();
    }
    return results;
  },
};

export const DEATHS: readonly Scene[] = [
  border,
  addresses,
  deaths("throw", 2, true),
  deaths("exit", 2, true),
  ...ENGINE_FAULTS.map((how) => deaths(how, how === "throw" || how === "exit" ? 50 : 10, false)),
  kills,
];
