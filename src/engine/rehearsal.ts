/**
 * A spare runs through a show before it is wanted: code that has run is fast, and code that has not takes many times as
 * long. It is an engine like any other, with hands of its own, and its ports lead to a socket of this computer and back.
 */
import { createSocket, type Socket } from "node:dgram";
import { once } from "node:events";
import type { PortRef, Show } from "../core/format/show.ts";
import type { Control } from "../core/format/surface-profile.ts";
import { NOTHING_UNFINISHED } from "../core/hands/unfinished.ts";
import { moveBytes, pressBytes, turnBytes } from "../core/surface/press-bytes.ts";
import type { Carried } from "../core/translate/taking-over.ts";
import type { FromEngine, ToEngine } from "./messages.ts";

const LOOPBACK = "127.0.0.1";
/** Any port that is free. */
const ANY_PORT = 0;
const ROUNDS = 5;
/** Longer than the ticks of an engine, in ms, so that what is due at them runs too. */
const ROUND_MS = 40;
/** Controls that are played in each round: the first that have a mapping. */
const MOST_CONTROLS = 32;
const NOTHING_CARRIED: Carried = {
  values: {},
  controls: {},
  holding: { held: [], layers: { locked: [], held: [] }, kept: [], underWay: {}, unfinished: NOTHING_UNFINISHED },
  missed: "all",
};

/** What a rehearsal needs of an engine. */
export interface RehearsedEngine {
  handle(message: ToEngine): void;
}

type Profiles = NonNullable<Extract<ToEngine, { kind: "load" }>["profiles"]>;

/** Nothing of it leaves this thread but datagrams to that port of this computer. */
export function withoutPorts(show: Show, port: number): Show {
  const nowhere = { kind: "none" } as const;
  return {
    ...show,
    sessions: [],
    surfaces: show.surfaces.map((s) => ({ ...s, in: rehearsed(s.in, ANY_PORT), out: rehearsed(s.out, port) })),
    desks: show.desks.map(({ login: _login, ...desk }) => ({
      ...desk,
      ...(desk.midi ? { midi: { in: nowhere, out: nowhere } } : {}),
      host: LOOPBACK,
      port,
      listenPort: ANY_PORT,
      over: "udp",
      whenSilent: "send",
    })),
  };
}

/** A socket stays one, as its code takes long at the first time; everything else is drawn on no screen. */
function rehearsed({ kind }: PortRef, port: number): PortRef {
  return kind === "midi-udp" ? { kind, host: LOOPBACK, port } : { kind: "screen" };
}

/** `engineFor` makes an engine that tells what it has to say to nobody but this function. Resolves when all is over. */
export async function rehearse(
  show: Show,
  profiles: Profiles,
  engineFor: (tell: (message: FromEngine) => void) => RehearsedEngine,
): Promise<void> {
  const echo = await openEcho();
  let stopped: () => void = () => {};
  const whenStopped = new Promise<void>((resolve) => {
    stopped = resolve;
  });
  const engine = engineFor((message) => message.kind === "stopped" && stopped());
  try {
    const own = withoutPorts(show, echo.address().port);
    engine.handle({ kind: "load", show: own, profiles, load: 1, passwords: {}, carried: NOTHING_CARRIED });
    const played = playedControls(own, profiles);
    for (let n = 0; n < ROUNDS; n++) {
      for (const { surface, control } of played)
        for (const bytes of strokes(control))
          if (bytes.length > 0) engine.handle({ kind: "midi-bytes", id: surface, bytes });
      await new Promise((done) => setTimeout(done, ROUND_MS));
    }
  } finally {
    engine.handle({ kind: "stop" });
    await whenStopped;
    echo.close();
  }
}

function playedControls(show: Show, { surfaces }: Profiles): { surface: string; control: Control }[] {
  const played = new Map<string, { surface: string; control: Control }>();
  for (const { surface, control: id } of show.mappings) {
    const kind = show.surfaces.find((s) => s.id === surface)?.profile;
    const control = surfaces.find((p) => p.id === kind)?.controls.find((c) => c.id === id);
    if (control) played.set(`${surface} ${id}`, { surface, control });
    if (played.size === MOST_CONTROLS) break;
  }
  return [...played.values()];
}

function strokes(control: Control): Uint8Array[] {
  return [pressBytes(control, true), pressBytes(control, false), moveBytes(control, 0.5), turnBytes(control, 1)];
}

/** A socket that sends back what it hears, once each, to whoever sent it. */
async function openEcho(): Promise<Socket> {
  const socket = createSocket("udp4");
  socket.on("message", (bytes, from) => socket.send(bytes, from.port, from.address));
  socket.on("error", () => {}); // who asked may be gone
  socket.bind(ANY_PORT, LOOPBACK);
  await once(socket, "listening");
  return socket;
}
