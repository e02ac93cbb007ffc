// Writes examples/lantern-regatta.show.json: the demo show, so that its numbers are made in one place.
import { writeFileSync } from "node:fs";

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
  } = more;
  const id = `m-${mappings.length + 1}`;
  mappings.push({
    id,
    name,
    note,
    on: true,
    surface: "deck",
    control,
    gesture,
    layers,
    ...(pages ? { pages } : {}),
    takeover,
    look,
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

const show = {
  format: "velvet-hinge/show",
  version: 1,
  name: "The Lantern Regatta",
  settings: { middleC: "C3" },
  surfaces: [{ id: "deck", name: "Deck grid", profile: "deck-grid", in: { kind: "screen" }, out: { kind: "screen" } }],
  desks: [{ id: "lights", name: "Lights", profile: "quay-lights", host: "127.0.0.1", port: 9100, listenPort: 9101 }],
  layers: [
    { id: "base", name: "Base" },
    { id: "shift", name: "Shift" },
  ],
  mappings,
};
writeFileSync(process.argv[2] ?? "examples/lantern-regatta.show.json", `${JSON.stringify(show, null, 2)}\n`);
console.log(`${mappings.length} mappings`);
