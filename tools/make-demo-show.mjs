// Writes examples/lantern-regatta.show.json: the demo show, so that its numbers are made in one place.
import { writeFileSync } from "node:fs";
import { STAND_INS } from "../src/standins/table.mjs";

/** Where a desk of the network and its answers are. */
const at = (id) => ({ port: STAND_INS[id].port, listenPort: STAND_INS[id].port + 1 });
const WHOLE = { input: [0, 1], invert: false };
const mappings = [];
const action = (id, desk, fn, bindings, shape = WHOLE) => ({ id, on: true, desk, function: fn, bindings, shape });
function map(control, name, fn, bindings, more = {}) {
  const {
    desk = "lights",
    gesture = "press",
    takeover = "jump",
    look = {},
    layers = [],
    pages,
    note = "",
    shape,
    surface = "deck",
    when,
  } = more;
  const id = `m-${mappings.length + 1}`;
  mappings.push({
    id,
    name,
    note,
    on: true,
    surface,
    control,
    gesture,
    layers,
    ...(pages ? { pages } : {}),
    takeover,
    look,
    ...(when ? { when } : {}),
    actions: [action("a-1", desk, fn, bindings, shape)],
  });
  return mappings.at(-1);
}
const page = { from: "page" };
const fixed = (value) => ({ from: "fixed", value });
const onPage = (...pages) => ({ pages: { desk: "lights", in: pages } });

// Rows 1 and 2: playbacks 1 to 12 of the page that is up.
for (let i = 1; i <= 12; i++)
  map(`pad-${i}`, "", "playback.toggle", { page, playback: fixed(i) }, { layers: ["base"] });
// The same pads with Shift: flash.
for (let i = 1; i <= 12; i++)
  map(`pad-${i}`, "", "playback.flash", { page, playback: fixed(i) }, { layers: ["shift"] });
// Row 3: what belongs to one page only.
map(
  "pad-13",
  "Squall",
  "playback.flash",
  { page: fixed(3), playback: fixed(13) },
  { ...onPage(3), note: "Only while Breakwater is up." },
);
map("pad-14", "Harbour glow", "playback.go", { page: fixed(3), playback: fixed(14) }, onPage(3));
map("pad-13", "Stage floor", "playback.toggle", { page: fixed(1), playback: fixed(9) }, onPage(1));
map("pad-14", "Gulls", "playback.go", { page: fixed(1), playback: fixed(14) }, onPage(1));
map("pad-13", "Choir steps", "playback.toggle", { page: fixed(4), playback: fixed(10) }, onPage(4));
// Row 4: cues and flares.
map("pad-19", "Go cue", "cue.go", {}, { look: { colour: "#f2a65e" } });
map("pad-20", "Back", "cue.back", {}, { look: { colour: "#f2a65e" } });
map("pad-21", "Storm lamp", "playback.flash", { page: fixed(3), playback: fixed(6) }, { look: { colour: "#f0d36d" } });
map("pad-22", "Lightning", "playback.flash", { page: fixed(3), playback: fixed(7) }, { look: { colour: "#f0d36d" } });
map("pad-24", "Blackout", "blackout", {}, { look: { colour: "#e2574c" } });
// Row 5: pages.
map("pad-25", "Page −", "page.step", { direction: fixed(-1) }, { look: { colour: "#86cbd6" } });
map("pad-26", "Page +", "page.step", { direction: fixed(1) }, { look: { colour: "#86cbd6" } });
for (const [i, p] of [1, 3, 4].entries())
  map(
    `pad-${28 + i}`,
    ["Slack Water", "Breakwater", "Foghorn Waltz"][i],
    "page.go",
    { page: fixed(p) },
    { look: { colour: "#b9a7f0" } },
  );
// Faders: five levels of the page that is up, and the grand master.
for (let i = 1; i <= 5; i++)
  map(`fader-${i}`, "", "playback.level", { page, playback: fixed(i) }, { gesture: "move", takeover: "catch" });
map(
  "fader-6",
  "Grand master",
  "grand",
  {},
  {
    gesture: "move",
    takeover: "catch",
    note: "Never below a tenth: somebody has to find the exit.",
    shape: { input: [0, 1], invert: false, output: [0.1, 1] },
  },
);
map("shift", "Shift", "layer", { layer: fixed(2) }, { desk: "house", look: { colour: "#d8b066" } });

// The strips: eight channels of the sound desk at a time, wherever its bank stands.
const strips = { surface: "strips", desk: "sound" };
for (let i = 1; i <= 8; i++) {
  const channel = { from: "strip", bank: "channels", strip: i };
  const sends = [{ desk: "house", state: "variable", parameters: { variable: 1 }, from: 1, to: 12 }];
  map(`fader-${i}`, "", "channel.level", { channel }, { ...strips, gesture: "move" });
  map(
    `fader-${i}`,
    "",
    "channel.send",
    { channel, bus: { from: "state", desk: "house", state: "variable", parameters: { variable: 1 }, offset: 0 } },
    { ...strips, gesture: "move", when: sends, note: "While sends are up: how much goes to that bus." },
  );
  map(`knob-${i}`, "", "channel.pan", { channel }, { ...strips, gesture: "turn" });
  map(`push-${i}`, "", "channel.gate", { channel }, strips);
  map(`select-${i}`, "", "channel.select", { channel }, strips);
  map(`mute-${i}`, "", "channel.mute", { channel }, strips);
}
const bank = (by) => [
  { bank: fixed(1), by: fixed(by) },
  { surface: "strips", desk: "house" },
];
map("bank-down", "Eight down", "bank.by", ...bank(-8));
map("bank-up", "Eight up", "bank.by", ...bank(8));
map("one-down", "One down", "bank.by", ...bank(-1));
map("one-up", "One up", "bank.by", ...bank(1));
map("sends", "Sends", "variable.step", { variable: fixed(1), by: fixed(1) }, { surface: "strips", desk: "house" });
map(
  "solo",
  "Solo of the selected",
  "channel.solo",
  { channel: { from: "selection" } },
  { ...strips, look: { colour: "#e9b44c" } },
);
const scene = (offset) => ({ scene: { from: "state", desk: "sound", state: "scene", offset } });
map("scene-back", "Scene back", "scene.recall", scene(-1), strips);
map("scene-next", "Scene next", "scene.recall", scene(1), strips);

// The pocket keyboard: kits of the instrument, pictures of the vision desk.
const keys = { surface: "keys" };
const LOWER = [48, 50, 52, 53, 55, 57, 59, 60];
for (const [i, key] of LOWER.entries())
  map(`key-${key}`, "", "program.choose", { mix: fixed(1), input: fixed(i + 1) }, { ...keys, desk: "vision" });
for (const [i, key] of [62, 64, 65, 67, 69, 71, 72].entries())
  map(`key-${key}`, "", "kit.choose", { kit: fixed(i + 1) }, { ...keys, desk: "bell" });
map("key-49", "Cut", "cut", { mix: fixed(1) }, { ...keys, desk: "vision" });
map("key-51", "Auto", "auto", { mix: fixed(1) }, { ...keys, desk: "vision" });
for (const [i, key] of [54, 56, 58].entries())
  map(`key-${key}`, `Keyer ${i + 1}`, "key", { key: fixed(i + 1) }, { ...keys, desk: "vision" });
map("knob-1", "", "audio", { input: fixed(4) }, { ...keys, desk: "vision", gesture: "turn" });
map("knob-2", "Transition", "bar", { mix: fixed(1) }, { ...keys, desk: "vision", gesture: "turn" });
map("knob-3", "Bell volume", "volume", {}, { ...keys, desk: "bell", gesture: "turn" });
map("knob-4", "Narrator", "channel.level", { channel: fixed(1) }, { ...keys, desk: "sound", gesture: "turn" });
const kit = (offset) => ({ kit: { from: "state", desk: "bell", state: "kit", offset } });
map("program-down", "Kit down", "kit.choose", kit(-1), { ...keys, desk: "bell" });
map("program-up", "Kit up", "kit.choose", kit(1), { ...keys, desk: "bell" });

const onScreen = { in: { kind: "screen" }, out: { kind: "screen" } };
const udp = (port) => ({ kind: "midi-udp", host: "127.0.0.1", port });
const show = {
  format: "velvet-hinge/show",
  version: 2,
  name: "The Lantern Regatta",
  settings: { middleC: "C3" },
  surfaces: [
    { id: "deck", name: "Deck grid", profile: "deck-grid", ...onScreen },
    { id: "strips", name: "Tide strips", profile: "tide-strips", ...onScreen },
    { id: "keys", name: "Pocket keys", profile: "pocket-keys", ...onScreen },
  ],
  desks: [
    { id: "lights", name: "Lights", profile: "quay-lights", host: "127.0.0.1", ...at("lights") },
    { id: "vision", name: "Vision", profile: "spyglass-vision", host: "127.0.0.1", ...at("vision") },
    { id: "sound", name: "Sound", profile: "undertow-sound", host: "127.0.0.1", ...at("sound") },
    {
      id: "bell",
      name: "Bellbuoy",
      profile: "bellbuoy",
      host: "127.0.0.1",
      ...at("bell"),
      midi: { in: udp(STAND_INS.bell.port + 1), out: udp(STAND_INS.bell.port) },
    },
  ],
  banks: [{ id: "channels", name: "Channels", first: 1, last: 32, size: 8 }],
  variables: [{ id: "sends-to", name: "Sends to bus", from: 0, to: 12, start: 0, wraps: true }],
  layers: [
    { id: "base", name: "Base" },
    { id: "shift", name: "Shift" },
  ],
  mappings,
};
writeFileSync(process.argv[2] ?? "examples/lantern-regatta.show.json", `${JSON.stringify(show, null, 2)}\n`);
console.log(`${mappings.length} mappings`);
