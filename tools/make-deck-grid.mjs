// Writes profiles/deck-grid.surface.json: our own pad grid, 5 rows of 6 pads, 6 faders and a shift button.
import { writeFileSync } from "node:fs";

const HUES = [
  ["red", "#e2574c"],
  ["coral", "#f07a5a"],
  ["orange", "#f2a65e"],
  ["amber", "#e9b44c"],
  ["yellow", "#f0d36d"],
  ["lime", "#b8d45a"],
  ["green", "#7bc47f"],
  ["sea green", "#3fae8c"],
  ["teal", "#3f9ea0"],
  ["cyan", "#86cbd6"],
  ["blue", "#4fa3c7"],
  ["deep blue", "#4a78d0"],
  ["indigo", "#6a5fd0"],
  ["violet", "#8f5fd6"],
  ["lilac", "#b9a7f0"],
  ["purple", "#a85cc0"],
  ["magenta", "#c46bb0"],
  ["pink", "#e88fb4"],
  ["rose", "#d85a86"],
  ["brown", "#9a6a42"],
  ["brass", "#d8b066"],
  ["sand", "#d9c7a3"],
  ["slate", "#8a8091"],
  ["white", "#f4edf1"],
];
// Three blocks of forty values: dim 1.., full 41.., pulse 81..
const palette = {
  id: "glow",
  off: 0,
  colours: HUES.map(([name, colour], i) => ({ name, colour, dim: 1 + i, full: 41 + i, pulse: 81 + i })),
};
const controls = [];
for (let i = 0; i < 30; i++) {
  const number = 36 + i;
  controls.push({
    id: `pad-${i + 1}`,
    name: `Pad ${i + 1}`,
    kind: "pad",
    behaviour: "springs-back",
    box: { x: i % 6, y: Math.floor(i / 6), width: 1, height: 1 },
    sends: { kind: "note", channel: 1, number },
    light: { kind: "note", channel: 1, number, palette: "glow" },
  });
}
for (let i = 0; i < 6; i++)
  controls.push({
    id: `fader-${i + 1}`,
    name: `Fader ${i + 1}`,
    kind: "fader",
    behaviour: "absolute",
    box: { x: i * 0.84, y: 5.2, width: 0.84, height: 2.4 },
    sends: { kind: "controller", channel: 1, number: 20 + i },
  });
controls.push({
  id: "shift",
  name: "Shift",
  kind: "button",
  behaviour: "springs-back",
  box: { x: 5.04, y: 5.2, width: 0.96, height: 2.4 },
  sends: { kind: "note", channel: 1, number: 66 },
  light: { kind: "note", channel: 1, number: 66, palette: "glow" },
});
const profile = {
  format: "velvet-hinge/surface-profile",
  version: 2,
  id: "deck-grid",
  name: "Deck grid",
  about: "Thirty colour pads in five rows, six faders without motors, and a shift button.",
  size: { width: 6, height: 7.6 },
  lightsItself: false,
  controls,
  palettes: [palette],
};
const path = process.argv[2] ?? "profiles/deck-grid.surface.json";
writeFileSync(path, `${JSON.stringify(profile, null, 2)}\n`);
