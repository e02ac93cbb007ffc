/** What is patched on the stand-in: the lights of the Lantern Regatta in Saltmarsh Basin. */

export const PAGE_NAMES = [
  "Slack Water",
  "Pilot Light",
  "Breakwater",
  "Foghorn Waltz",
  "Home on the Flood",
  "",
  "",
  "",
  "",
];

const AMBER = "#e9b44c";
const BLUE = "#4fa3c7";
const PINK = "#c46bb0";
const GREEN = "#7bc47f";
const RED = "#e2574c";
const VIOLET = "#8f5fd6";
const TEAL = "#3fae8c";
const WHITE = "#f4edf1";
const ORANGE = "#f2a65e";
const LILAC = "#b9a7f0";

/** Name and colour of the playbacks of each page, from playback 1; the others are empty. */
export const PLAYBACKS: readonly (readonly (readonly [string, string])[])[] = [
  [
    ["Mast lanterns", AMBER],
    ["Water fans", BLUE],
    ["Quay wash", PINK],
    ["Pier bulbs", AMBER],
    ["Swell", BLUE],
    ["Moon on mud", WHITE],
    ["Reed bed", GREEN],
    ["Ferry lamp", RED],
    ["Stage floor", ORANGE],
    ["Band box", LILAC],
    ["Rigging", WHITE],
    ["Far shore", VIOLET],
    ["Still water", TEAL],
    ["Gulls", WHITE],
  ],
  [
    ["Pilot flame", ORANGE],
    ["Harbour mouth", TEAL],
    ["Channel marks", RED],
    ["Leading lights", GREEN],
    ["Lamp boat", AMBER],
    ["Fog bank", WHITE],
    ["Wake", BLUE],
    ["Wheelhouse", AMBER],
    ["Oars", LILAC],
    ["Lantern row", ORANGE],
    ["Tide gauge", TEAL],
    ["Quiet sky", VIOLET],
  ],
  [
    ["Sea wall", BLUE],
    ["Spray", WHITE],
    ["Crest", TEAL],
    ["Undertow", VIOLET],
    ["Lee side", GREEN],
    ["Storm lamp", AMBER],
    ["Lightning", WHITE],
    ["Rope locker", ORANGE],
    ["Bow wave", BLUE],
    ["Black rock", PINK],
    ["Foam line", WHITE],
    ["Beacon", RED],
    ["Squall", LILAC],
    ["Harbour glow", AMBER],
  ],
  [
    ["Ballroom quay", PINK],
    ["Waltz circle", LILAC],
    ["Brass band", AMBER],
    ["Foghorn", RED],
    ["Mirror boats", WHITE],
    ["Paper moons", AMBER],
    ["Dance floor", VIOLET],
    ["Slow turn", BLUE],
    ["Garlands", GREEN],
    ["Choir steps", ORANGE],
  ],
  [
    ["All lanterns", AMBER],
    ["Flood tide", BLUE],
    ["Home lights", ORANGE],
    ["Fire on water", RED],
    ["Every mast", WHITE],
    ["Bells", AMBER],
    ["Long wake", TEAL],
    ["Crowd", PINK],
    ["Last ferry", LILAC],
    ["Good night", VIOLET],
  ],
];

export const CUES = [
  "House open",
  "Slack water",
  "First lantern",
  "Pilot lit",
  "Boats in",
  "Breakwater",
  "Squall",
  "Calm again",
  "Waltz begins",
  "Foghorn",
  "Waltz ends",
  "Turn of the tide",
  "All home",
  "Bows",
  "House out",
];
