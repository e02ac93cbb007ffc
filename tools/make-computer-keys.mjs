// Writes profiles/computer-keys.surface.json: the keys of a computer as controls, and two pairs that turn.
import { writeFileSync } from "node:fs";

const CHANNEL = 16;
const ROWS = [
  ["Digit", "1234567890"],
  ["Key", "QWERTYUIOP"],
  ["Key", "ASDFGHJKL"],
  ["Key", "ZXCVBNM"],
];
const controls = [];
let number = 20;
const press = (id, name, code, x, y, width = 1) =>
  controls.push({
    id,
    name,
    kind: "button",
    behaviour: "springs-back",
    box: { x, y, width, height: 1 },
    sends: { kind: "note", channel: CHANNEL, number },
    light: { kind: "note", channel: CHANNEL, number: number++, palette: "colour" },
    keys: [code],
  });
ROWS.forEach(([prefix, letters], row) => {
  [...letters].forEach((letter, i) => {
    press(`key-${letter.toLowerCase()}`, `Key ${letter}`, `${prefix}${letter}`, row * 0.35 + i, row);
  });
});
press("key-space", "Key Space", "Space", 2.2, 4, 4);
const pair = (id, name, codes, controller, x) =>
  controls.push({
    id,
    name,
    kind: "knob",
    behaviour: "relative",
    box: { x, y: 3, width: 1, height: 1.2 },
    sends: { kind: "relative", channel: CHANNEL, number: controller, encoding: "twos-complement" },
    keys: codes,
  });
pair("up-down", "Down and up", ["ArrowDown", "ArrowUp"], 20, 8.3);
pair("left-right", "Left and right", ["ArrowLeft", "ArrowRight"], 21, 9.4);

const colours = JSON.parse(
  String((await import("node:fs")).readFileSync("profiles/deck-grid.surface.json", "utf8")),
).palettes;
const profile = {
  format: "velvet-hinge/surface-profile",
  version: 2,
  id: "computer-keys",
  name: "Computer keys",
  about: "The keyboard of an open browser: letters, digits and space press, the arrows turn.",
  size: { width: 10.5, height: 6 },
  lightsItself: false,
  palettes: [{ ...colours[0], id: "colour" }],
  controls,
};
writeFileSync("profiles/computer-keys.surface.json", `${JSON.stringify(profile, null, 2)}\n`);
