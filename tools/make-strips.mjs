// Writes profiles/tide-strips.surface.json: our own eight-strip surface with motor faders, knobs with rings, and texts;
// and profiles/pocket-keys.surface.json: two octaves of keys, four endless knobs, program up and down.
import { writeFileSync } from "node:fs";

const STRIPS = 8;
const box = (x, y, width, height) => ({ x, y, width, height });
const note = (channel, number) => ({ kind: "note", channel, number });
const lamp = (id, name, colour) => ({ id, off: 0, colours: [{ name, colour, dim: 1, full: 2, pulse: 3 }] });
const button = (id, name, number, at, palette) => ({
  id,
  name,
  kind: "button",
  behaviour: "springs-back",
  box: at,
  sends: note(2, number),
  light: { ...note(2, number), palette },
});

const controls = [];
const displays = [];
for (let i = 0; i < STRIPS; i++) {
  const n = i + 1;
  displays.push(
    ...[
      ["name", "1", 0],
      ["value", "2", 0.36],
    ].map(([shows, line, y]) => ({
      id: `${shows}-${n}`,
      name: `${shows === "name" ? "Name" : "Value"} ${n}`,
      box: box(i, y, 1, 0.36),
      of: `fader-${n}`,
      shows,
      length: 12,
      bytes: `F0 7D 51 0${n} 0${line} {text} F7`,
    })),
  );
  controls.push({
    id: `knob-${n}`,
    name: `Knob ${n}`,
    kind: "knob",
    behaviour: "relative",
    box: box(i, 0.8, 1, 1.05),
    sends: { kind: "relative", channel: 2, number: 70 + i, encoding: "twos-complement" },
    ring: { kind: "controller", channel: 2, number: 90 + i, from: 1, to: 31, off: 0 },
    acceleration: 1,
  });
  controls.push(button(`push-${n}`, `Push ${n}`, 60 + i, box(i, 1.87, 1, 0.46), "white"));
  controls.push(button(`select-${n}`, `Select ${n}`, 20 + i, box(i, 2.36, 1, 0.56), "blue"));
  controls.push(button(`mute-${n}`, `Mute ${n}`, 40 + i, box(i, 2.95, 1, 0.56), "red"));
  controls.push({
    id: `fader-${n}`,
    name: `Fader ${n}`,
    kind: "fader",
    behaviour: "absolute",
    box: box(i, 3.55, 1, 3.95),
    sends: { kind: "bend", channel: n },
    motor: { kind: "bend", channel: n },
    touch: note(2, 100 + i),
  });
}
const side = [
  ["bank-down", "Bank down", "white"],
  ["bank-up", "Bank up", "white"],
  ["one-down", "One down", "white"],
  ["one-up", "One up", "white"],
  ["sends", "Sends", "amber"],
  ["solo", "Solo", "amber"],
  ["scene-back", "Scene back", "blue"],
  ["scene-next", "Scene next", "blue"],
];
side.forEach(([id, name, palette], i) => {
  controls.push(
    button(id, name, 80 + i, box(8.15 + (i % 2) * 0.8, 0.8 + Math.floor(i / 2) * 0.92, 0.8, 0.86), palette),
  );
});

const strips = {
  format: "velvet-hinge/surface-profile",
  version: 2,
  id: "tide-strips",
  name: "Tide strips",
  about: "Eight strips: motor faders with touch, push knobs with rings, mute and select with lights, a text each.",
  size: { width: 9.75, height: 7.5 },
  lightsItself: false,
  controls,
  palettes: [
    lamp("white", "white", "#f4edf1"),
    lamp("blue", "blue", "#4fa3c7"),
    lamp("red", "red", "#e2574c"),
    lamp("amber", "amber", "#e9b44c"),
  ],
  displays,
  init: ["F0 7D 51 7F 01 F7"],
  teardown: ["F0 7D 51 7F 00 F7"],
};
writeFileSync("profiles/tide-strips.surface.json", `${JSON.stringify(strips, null, 2)}\n`);

const WHITE = [0, 2, 4, 5, 7, 9, 11];
const NAMES = ["C", "C sharp", "D", "D sharp", "E", "F", "F sharp", "G", "G sharp", "A", "A sharp", "B"];
const keys = [];
let white = 0;
const FIRST = 48;
const black = [];
for (let n = FIRST; n <= 72; n++) {
  const tone = n % 12;
  const isWhite = WHITE.includes(tone);
  const key = {
    id: `key-${n}`,
    name: `${NAMES[tone]} ${Math.floor((n - FIRST) / 12) + 1}`,
    kind: "key",
    behaviour: "springs-back",
    box: isWhite ? box(white, 1.5, 1, 4) : box(white - 0.32, 1.5, 0.64, 2.4),
    sends: note(3, n),
    pressure: { kind: "channel-pressure", channel: 3 },
  };
  if (isWhite) {
    keys.push(key);
    white++;
  } else black.push(key); // drawn over the white ones
}
for (const k of [...keys, ...black]) if (k.id !== `key-${FIRST}`) delete k.pressure;
const knobs = Array.from({ length: 4 }, (_, i) => ({
  id: `knob-${i + 1}`,
  name: `Knob ${i + 1}`,
  kind: "knob",
  behaviour: "relative",
  box: box(0.2 + i * 1.5, 0.1, 1.3, 1.3),
  sends: { kind: "relative", channel: 3, number: 30 + i, encoding: "offset-64" },
}));
const programs = [
  ["program-down", "Program down", 102],
  ["program-up", "Program up", 103],
].map(([id, name, number], i) => ({
  id,
  name,
  kind: "button",
  behaviour: "springs-back",
  box: box(10.6 + i * 2.2, 0.25, 2.1, 0.95),
  sends: { kind: "controller", channel: 3, number },
}));
const pocket = {
  format: "velvet-hinge/surface-profile",
  version: 2,
  id: "pocket-keys",
  name: "Pocket keys",
  about: "Two octaves of keys with velocity, four endless knobs, program up and down. No lights.",
  size: { width: 15, height: 5.5 },
  lightsItself: false,
  controls: [...keys, ...black, ...knobs, ...programs],
  palettes: [],
};
writeFileSync("profiles/pocket-keys.surface.json", `${JSON.stringify(pocket, null, 2)}\n`);
