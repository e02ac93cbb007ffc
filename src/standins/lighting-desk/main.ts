/** Runs the stand-in lighting desk: OSC over UDP. */
import { runOscDesk } from "../kit/osc-desk.ts";
import { portsFor } from "../kit/run.ts";
import { type Change, type Command, LightingDesk } from "./desk.ts";
import page from "./page.html";
import { oneState, pulseBack, readRequests, tellBytes, wholeState } from "./protocol.ts";

const KINDS = new Set([
  "level",
  "on",
  "go",
  "flash",
  "cue-go",
  "cue-back",
  "grand",
  "blackout",
  "page",
  "page-step",
  "reset",
]);
const SWITCHES = new Set(["on", "flash", "blackout"]);

const desk = new LightingDesk();
runOscDesk<Command, Change>(
  {
    name: "lighting desk",
    page,
    state() {
      const { pages, pageNames, pageUp, grand, blackout, cue, cueName } = desk;
      return { pages, pageNames, pageUp, grand, blackout, cue, cueName };
    },
    act: (command) => desk.act(command),
    readCommand,
    reset: () => desk.act({ kind: "reset" }),
    flooded: { kind: "grand" },
    readRequests,
    tell: (change) => tellBytes(desk, change),
    wholeState: () => wholeState(desk),
    oneState: (what) => oneState(desk, what),
    pulseBack,
  },
  portsFor("lights"),
);

function readCommand(data: Record<string, unknown>): Command | null {
  const { kind, page: p, playback, value } = data;
  if (typeof kind !== "string" || !KINDS.has(kind)) return null;
  if (!["number", "undefined"].includes(typeof p) || !["number", "undefined"].includes(typeof playback)) return null;
  const wanted = SWITCHES.has(kind)
    ? "boolean"
    : ["go", "cue-go", "cue-back", "reset"].includes(kind)
      ? "undefined"
      : "number";
  return typeof value === wanted ? (data as unknown as Command) : null;
}
