/**
 * What hands feel while something else goes on: people edit, a large show is opened, another port is flooded. The flood
 * comes from a program that is not Node, so that what sends it is not held up by what holds us up.
 */
import { type ChildProcess, fork, spawn, spawnSync } from "node:child_process";
import { once } from "node:events";
import { join } from "node:path";
import { WebSocket } from "ws";
import type { Mapping, Show } from "../../src/core/format/show.ts";
import { NODE_FLAGS } from "../../src/server/node-flags.mjs";
import type { LoadResult } from "./load.ts";
import { openShow, order, outputHas, ready } from "./processes.ts";
import type { Row } from "./rows.ts";
import { largeShowForLatency, showForLatency } from "./shows.ts";

const PORTS = {
  web: 4791,
  midi: 9160,
  desk: 9161,
  listen: 9162,
  relayed: 9163,
  flooded: 9164,
  sink: 9165,
  unheard: 9166,
};
const PER_S = 1000;
const CALM_MS = 4000;
const BUSY_MS = 8000;
const EDITS_PER_S = 20;
/** A show has at most 20,000 mappings; the measured ones and those that edits add are among them. */
const OPENED = 19_900;
const OPEN_EVERY_MS = 3000;
/** While its ports change hands. */
const LOST_BY_SOCKETS = 10;
const FLOOD_PER_S = 45_000;
const FLOOD_S = 8;
/**
 * Sends faders to a port of this computer at a steady rate: port, messages a second, seconds. It is also the desk that they
 * go to, at its fourth argument, and reads nothing: what is measured is not to wait for what the flood comes to.
 */
const FLOODER = `
#include <arpa/inet.h>
#include <stdio.h>
#include <stdlib.h>
#include <time.h>
#include <unistd.h>
static double now(void) { struct timespec t; clock_gettime(CLOCK_MONOTONIC, &t); return t.tv_sec + t.tv_nsec * 1e-9; }
int main(int n, char **args) {
  long port = atol(args[1]), rate = atol(args[2]), total = rate * atol(args[3]), sent = 0;
  struct sockaddr_in to = { .sin_family = AF_INET, .sin_port = htons(atol(args[4])) };
  to.sin_addr.s_addr = htonl(INADDR_LOOPBACK);
  int sink = socket(AF_INET, SOCK_DGRAM, 0), out = socket(AF_INET, SOCK_DGRAM, 0);
  if (bind(sink, (struct sockaddr *)&to, sizeof to)) return 1;
  to.sin_port = htons(port);
  if (connect(out, (struct sockaddr *)&to, sizeof to)) return 1;
  for (double begun = now(); sent < total; usleep(500))
    for (long due = (now() - begun) * rate; sent < due && sent < total; sent++) {
      unsigned char fader[] = { 0xb0, 20 + sent % 5, sent & 127 };
      send(out, fader, sizeof fader, 0);
    }
  printf("%ld", sent);
}
`;

interface Bench {
  data: string;
  here(file: string): string;
}

export async function measureBusy({ data, here }: Bench): Promise<Row[]> {
  const server = fork(here("./main.mjs"), ["--port", String(PORTS.web), "--data", data], {
    stdio: ["ignore", "pipe", "ignore", "ipc"],
    execArgv: [...process.execArgv, ...NODE_FLAGS],
  });
  await outputHas(server, "is ready");
  const load = await ready(fork(here("./bench-load.mjs"), [String(PORTS.desk), String(PORTS.relayed)]));
  try {
    const plain = showForLatency(PORTS.midi, PORTS.desk, PORTS.listen);
    await openShow(PORTS.web, plain);
    await run(load, 2000); // warms up
    return [
      await edited(load, plain, 2000, 5),
      await edited(load, plain, OPENED, 20),
      await opened(load, plain),
      ...(await flooded(load, plain, data)),
    ];
  } finally {
    load.disconnect();
    server.kill("SIGTERM");
    await once(server, "exit");
  }
}

function run(load: ChildProcess, forMs: number): Promise<LoadResult> {
  return order(load, { kind: "run", port: PORTS.midi, returns: "osc", perS: PER_S, forMs });
}

const inMs = (micros: number) => micros / 1000;

/** Twenty edits a second: names, numbers, switches, mappings more and fewer, each of another mapping. */
async function edited(load: ChildProcess, plain: Show, mappings: number, wantedMs: number): Promise<Row> {
  const show = largeShowForLatency(plain, mappings);
  await openShow(PORTS.web, show);
  await run(load, 3000);
  const calm = await run(load, CALM_MS);
  const running = run(load, BUSY_MS);
  const pending: Promise<void>[] = [];
  for (let n = 0; n < (BUSY_MS / 1000) * EDITS_PER_S; n++) {
    pending.push(edit(editOf(show, n)));
    await new Promise((done) => setTimeout(done, 1000 / EDITS_PER_S));
  }
  const busy = await running;
  await Promise.all(pending);
  return {
    id: `busy.edits.${mappings}`,
    value: inMs(busy.p99),
    unit: `ms press to desk, p99, ${EDITS_PER_S} edits a second of ${mappings} mappings x 3 actions (calm ${inMs(calm.p99).toFixed(1)}; lost ${busy.sent - busy.received})`,
    ratio: busy.p99 / calm.p99,
    wanted: `at most ${wantedMs} ms`,
    ok: inMs(busy.p99) <= wantedMs && busy.sent === busy.received,
  };
}

function editOf({ mappings }: Show, n: number): object {
  // Those of the faders that are measured come first and stay as they are.
  const mapping = mappings[5 + ((n * 7919) % (mappings.length - 5))]!;
  switch (n % 4) {
    case 0:
      return { kind: "change-mapping", id: mapping.id, set: { name: `Edit ${n}` } };
    case 1:
      return { kind: "change-mapping", id: mapping.id, set: { on: n % 8 === 1 } };
    case 2:
      return { kind: "add-mapping", mapping: { ...mapping, id: `new-${n}` } satisfies Mapping };
    default:
      // One that was added a second ago: its own edit may still be on its way.
      if (n > EDITS_PER_S) return { kind: "remove-mapping", id: `new-${n - 1 - EDITS_PER_S}` };
      return { kind: "change-mapping", id: mapping.id, set: { note: `Edit ${n}` } };
  }
}

async function edit(data: object): Promise<void> {
  const response = await fetch(`http://127.0.0.1:${PORTS.web}/api/edit`, {
    method: "POST",
    headers: { "content-type": "application/json" },
    body: JSON.stringify(data),
  });
  if (!response.ok) throw new Error(await response.text());
}

/** A large show is opened and another one in its place, again and again. */
async function opened(load: ChildProcess, plain: Show): Promise<Row> {
  const large = largeShowForLatency(plain, OPENED);
  await openShow(PORTS.web, plain);
  await run(load, 2000);
  const calm = await run(load, CALM_MS);
  const running = run(load, BUSY_MS);
  let opens = 0;
  for (let n = 0; n < BUSY_MS / OPEN_EVERY_MS - 1; n++) {
    await Promise.all([
      openShow(PORTS.web, n % 2 === 0 ? large : plain),
      new Promise((done) => setTimeout(done, OPEN_EVERY_MS)),
    ]);
    opens++;
  }
  const busy = await running;
  const stallMs = inMs(busy.most) - inMs(calm.most);
  return {
    id: "busy.open",
    value: inMs(busy.most),
    unit: `ms press to desk at the most, while a show of ${OPENED} mappings is opened and left, ${opens} times (calm ${inMs(calm.most).toFixed(1)}; lost ${busy.sent - busy.received})`,
    ratio: busy.most / calm.most,
    wanted: `at most 30 ms over a calm run, ${LOST_BY_SOCKETS} lost each time`,
    ok: stallMs <= 30 && busy.sent - busy.received <= opens * LOST_BY_SOCKETS,
  };
}

async function flooded(load: ChildProcess, plain: Show, data: string): Promise<Row[]> {
  const program = join(data, "flooder");
  const made = spawnSync("cc", ["-O2", "-x", "c", "-", "-o", program], { input: FLOODER, encoding: "utf8" });
  if (made.status !== 0) throw new Error(`The flooder could not be made: ${made.stderr ?? made.error?.message}`);
  await openShow(PORTS.web, withFloodedSurface(plain));
  await run(load, 2000);
  const before = await run(load, CALM_MS);
  const flooder = spawn(program, [PORTS.flooded, FLOOD_PER_S, FLOOD_S, PORTS.sink].map(String), {
    stdio: ["ignore", "pipe", "inherit"],
  });
  let told = "";
  flooder.stdout.on("data", (piece: Buffer) => {
    told += String(piece);
  });
  const ended = once(flooder, "exit");
  const during = await run(load, FLOOD_S * 1000 - 1000);
  await ended;
  const after = await run(load, CALM_MS);
  const sent = Number(told);
  const heard = await heardBy("flooded");
  const calm = (before.p99 + after.p99) / 2;
  return [
    {
      id: "busy.flood.heard",
      value: sent - heard,
      unit: `messages lost of ${sent}, ${FLOOD_PER_S} a second into one port`,
      ratio: heard / sent,
      wanted: "all heard",
      ok: heard === sent && sent === FLOOD_PER_S * FLOOD_S,
    },
    {
      id: "busy.flood.other",
      value: inMs(during.p99),
      unit: `ms press to desk through another port, p99 (calm before ${inMs(before.p99).toFixed(1)}, after ${inMs(after.p99).toFixed(1)})`,
      ratio: during.p99 / calm,
      wanted: "at most 3 times its calm one",
      ok: during.p99 <= 3 * calm,
    },
  ];
}

function withFloodedSurface(plain: Show): Show {
  const port = { kind: "midi-udp", host: "127.0.0.1", port: PORTS.flooded } as const;
  return {
    ...plain,
    surfaces: [
      ...plain.surfaces,
      { id: "flooded", name: "Flooded", profile: "deck-grid", in: port, out: { kind: "none" } },
    ],
    desks: [
      ...plain.desks,
      {
        ...plain.desks[0]!,
        id: "sink",
        name: "Sink",
        port: PORTS.sink,
        listenPort: PORTS.unheard,
        whenSilent: "send",
      },
    ],
    mappings: [
      ...plain.mappings,
      ...plain.mappings.map((m) => ({
        ...m,
        id: `flooded-${m.id}`,
        surface: "flooded",
        actions: m.actions.map((a) => ({ ...a, desk: "sink" })),
      })),
    ],
  };
}

/** How many messages the input of a surface has heard, as the program tells its browsers. */
async function heardBy(surface: string): Promise<number> {
  const socket = new WebSocket(`ws://127.0.0.1:${PORTS.web}/live`, { origin: `http://127.0.0.1:${PORTS.web}` });
  const [data] = (await once(socket, "message")) as [unknown];
  socket.terminate();
  const { live } = JSON.parse(String(data)) as { live: { surfaces: Record<string, { in: number }> } };
  return live.surfaces[surface]!.in;
}
