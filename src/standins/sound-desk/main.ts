/** Runs the stand-in sound desk: OSC over UDP, with meters. */
import { runOscDesk } from "../kit/osc-desk.ts";
import { portsFor } from "../kit/run.ts";
import { type Change, type Command, SoundDesk } from "./desk.ts";
import page from "./page.html";
import { beatBack, meters, oneState, readRequests, tellBytes, wholeState } from "./protocol.ts";

const METERS_EVERY_MS = 100;

const desk = new SoundDesk();
const { wire, changed } = runOscDesk<Command, Change>(
  {
    name: "sound desk",
    page,
    state() {
      const { channels, buses, busNames, selected, layer, scene, names } = desk;
      const meter = channels.map((_, i) => desk.meter(i + 1, Date.now()));
      return { channels, buses, busNames, selected, layer, scene, sceneName: desk.sceneName(scene), names, meter };
    },
    act: (command) => desk.act(command),
    readCommand: (data) => data as unknown as Command, // `act` refuses what is none
    reset: () => desk.reset(),
    flooded: { kind: "selected" },
    readRequests,
    tell: (change) => tellBytes(desk, change),
    wholeState: () => wholeState(desk),
    oneState: (what) => oneState(desk, what),
    pulseBack: beatBack,
  },
  portsFor("sound"),
);

// Meters are told only while somebody listens; the page has them with every state.
setInterval(() => {
  if (wire.listeners > 0) for (const bytes of meters(desk, Date.now())) wire.publish(bytes);
  changed();
}, METERS_EVERY_MS).unref();
