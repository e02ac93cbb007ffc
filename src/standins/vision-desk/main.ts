/** Runs the stand-in vision desk: lines over TCP. */
import { Faults } from "../kit/faults.ts";
import { portsFor, runStandIn } from "../kit/run.ts";
import { type LineClient, LineWire } from "../kit/wire.ts";
import { type Change, type Command, VisionDesk } from "./desk.ts";
import page from "./page.html";
import { oneState, readRequest, tell, wholeState } from "./protocol.ts";

const FRAME_MS = 40;

const ports = portsFor("vision");
const desk = new VisionDesk();
const counted = { lines: 0, refused: 0 };
const faults = new Faults();
const wire = new LineWire(ports.port, faults, answer);
const standIn = runStandIn(
  {
    name: "vision desk",
    page,
    wire,
    faults,
    state() {
      const { mixes, keys, aux, audio, inputs } = desk;
      const tally = inputs.map((_, i) => desk.tally(i + 1));
      return { mixes, keys, aux, audio, inputs, tally, counted };
    },
    act: (data) => carryOut(data as unknown as Command) === null,
    reset: () => desk.reset(),
    flood: () => wire.publish(tell(desk, { kind: "aux" })),
  },
  ports,
);

/** Null where it was done, else the reason. */
function carryOut(command: Command): string | null {
  const result = desk.act(command);
  if (!result?.ok) return result?.reason ?? "this is not a command";
  publish(result.changes);
  if (desk.isMoving) run();
  return null;
}

function publish(changes: readonly Change[]): void {
  for (const change of changes) wire.publish(tell(desk, change));
  standIn.changed();
}

let running: NodeJS.Timeout | null = null;
function run(): void {
  running ??= setInterval(() => {
    publish(desk.frame());
    if (desk.isMoving || !running) return;
    clearInterval(running);
    running = null;
  }, FRAME_MS);
}

function answer(line: string, client: LineClient): void {
  counted.lines++;
  const request = readRequest(line);
  let reason: string | null = null;
  switch (request.kind) {
    case "command":
      reason = carryOut(request.command);
      break;
    case "state":
      for (const told of wholeState(desk)) client.say(told);
      break;
    case "state-of": {
      const told = oneState(desk, request.what);
      if (told) client.say(told);
      else reason = "there is no such thing";
      break;
    }
    case "watch":
      client.watches = true;
      standIn.changed();
      break;
    case "ping":
      client.say(`pong ${request.number}`);
      break;
    case "wrong":
      reason = request.reason;
      break;
    default:
      request satisfies never;
  }
  if (reason !== null) counted.refused++;
  client.say(reason === null ? "ok" : `no ${reason}`);
}
