// Writes profiles/dmx-channels.surface.json: 24 channels of a DMX universe as faders, and eight as switches.
import { writeFileSync } from "node:fs";

const FADERS = 24;
const A_ROW = 8;
const SWITCHES = 8;
const HEIGHT = 1.9;
const controls = [];
for (let i = 0; i < FADERS; i++)
  controls.push({
    id: `channel-${i + 1}`,
    name: `Channel ${i + 1}`,
    kind: "fader",
    behaviour: "absolute",
    box: { x: i % A_ROW, y: Math.floor(i / A_ROW) * HEIGHT, width: 1, height: HEIGHT },
    sends: { kind: "controller-14", channel: 1, number: i },
  });
for (let i = 0; i < SWITCHES; i++)
  controls.push({
    id: `switch-${FADERS + i + 1}`,
    name: `Channel ${FADERS + i + 1}`,
    kind: "button",
    behaviour: "springs-back",
    box: { x: (i * A_ROW) / SWITCHES, y: (FADERS / A_ROW) * HEIGHT + 0.1, width: A_ROW / SWITCHES, height: 0.8 },
    sends: { kind: "note", channel: 1, number: FADERS + i },
  });
const profile = {
  format: "velvet-hinge/surface-profile",
  version: 2,
  id: "dmx-channels",
  name: "DMX channels",
  about: "32 channels of a DMX universe: 24 as faders, eight as switches.",
  size: { width: A_ROW, height: (FADERS / A_ROW) * HEIGHT + 1 },
  lightsItself: false,
  palettes: [],
  controls,
};
writeFileSync("profiles/dmx-channels.surface.json", `${JSON.stringify(profile, null, 2)}\n`);
