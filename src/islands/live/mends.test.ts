import { describe, expect, test } from "vitest";
import { liveStateOf } from "../../../tests/rig/row-names.ts";
import { flash, level, mapping, showWith, toggle } from "../../../tests/rig/shows.ts";
import { control, surfaceProfile } from "../../../tests/rig/surfaces.ts";
import type { Edit } from "../../core/edit/edit-kinds.ts";
import type { Show } from "../../core/format/show.ts";
import type { ClientMessage } from "../../core/live/protocol.ts";
import { OUTCOME, type Outcome } from "../../core/trace/outcome.ts";
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import type { PageActions } from "./actions.ts";
import { type Mend, mendsOf } from "./mends.ts";
import type { PageStore } from "./store.ts";

const row = (code: Outcome, more: Partial<TrafficEntry> = {}): TrafficEntry => ({
  seq: 1,
  atMs: 1,
  out: false,
  side: "surface",
  device: "deck",
  code: OUTCOME[code],
  a: 0,
  b: 0,
  cause: 0,
  hex: "90247f",
  length: 3,
  control: "pad-1",
  ...more,
});

/** What a press of the button does. */
function pressed(mend: Mend | undefined) {
  const done: { edits: Edit[]; sent: ClientMessage[]; places: string[]; chosen: string[] } = {
    edits: [],
    sent: [],
    places: [],
    chosen: [],
  };
  const actions = {
    edit: (edit: Edit) => Promise.resolve(done.edits.push(edit) > 0),
    send: (message: ClientMessage) => void done.sent.push(message),
    go: (place: string) => void done.places.push(place),
    choose: (surface: string, id: string) => void done.chosen.push(`${surface} ${id}`),
  } as unknown as PageActions;
  mend?.act({ setState: () => {} } as unknown as PageStore, actions);
  return done;
}

const show = showWith([
  mapping("pad-1", toggle(1)),
  mapping("pad-2", flash(2), { gesture: "hold" }),
  mapping("fader-1", level(1)),
]);
const mends = (code: Outcome, more: Partial<TrafficEntry> = {}, of: Show = show) =>
  mendsOf(liveStateOf(of), row(code, more));
const words = (list: readonly Mend[]) => list.map((m) => m.words);

describe("beside each reason stands what ends it", () => {
  test("nothing is offered where something was sent", () => {
    expect(words(mends("sent"))).toEqual([]);
  });
  test.each<[Outcome, string, Partial<TrafficEntry>]>([
    ["noControl", "Add this control", { hex: "9f0101" }],
    ["noMapping", "Say what it does", { control: "pad-9", hex: "902c7f" }],
    ["mappingOff", "Switch it on", { mapping: "m-pad-1" }],
    ["notHere", "Let it hold everywhere", { mapping: "m-pad-1" }],
    ["bypassed", "End the bypass", {}],
    ["keptForDesk", "Open Lights", { mapping: "m-pad-1" }],
    ["deskSilent", "Open Lights", { mapping: "m-pad-1" }],
    ["pageUnknown", "Open Lights", { mapping: "m-pad-1" }],
    ["looped", "Close it again", {}],
    ["waitingToCatch", "Jump instead", { mapping: "m-fader-1", control: "fader-1" }],
    ["outOfRange", "Go to it", { mapping: "m-pad-1" }],
    ["noActions", "Go to it", { mapping: "m-pad-1" }],
    ["waitingForGesture", "Go to it", { control: "pad-2" }],
  ])("%s: “%s”", (code, wanted, more) => {
    expect(words(mends(code, more))).toContain(wanted);
  });
  test("what they do", () => {
    expect(pressed(mends("mappingOff", { mapping: "m-pad-1" })[0]).edits).toEqual([
      { kind: "change-mapping", id: "m-pad-1", set: { on: true } },
    ]);
    expect(pressed(mends("bypassed")[0]).sent).toEqual([{ kind: "end-bypass", surface: "deck", control: "pad-1" }]);
    expect(pressed(mends("looped")[0]).sent).toEqual([{ kind: "rearm", id: "deck" }]);
    expect(pressed(mends("deskSilent", { mapping: "m-pad-1" })[0])).toMatchObject({
      sent: [{ kind: "try-desk", desk: "lights" }],
      places: ["connect"],
    });
    expect(pressed(mends("outOfRange", { mapping: "m-pad-1" })[0])).toMatchObject({
      chosen: ["deck pad-1"],
      places: ["map"],
    });
  });
  test("a wrong channel: of a kind of one’s own the control is told the one that came, its light too", () => {
    const light = { kind: "note", channel: 1, number: 36, palette: "lit" } as const;
    const own = surfaceProfile([control("pad-1", { kind: "note", channel: 1, number: 36 }, { light })], {
      id: "own",
      palettes: [{ id: "lit", off: 0, colours: [{ name: "lit", colour: "#ffffff", dim: 0, full: 127, pulse: 0 }] }],
    });
    const ours = showWith([mapping("pad-1", toggle(1))], {
      profiles: { surfaces: [own], desks: [] },
      surfaces: [{ id: "deck", name: "Own", profile: "own", in: { kind: "screen" }, out: { kind: "screen" } }],
    });
    const list = mends("noControl", { hex: "92247f" }, ours);
    expect(words(list)).toEqual(["Use channel 3", "Add this control"]);
    expect(pressed(list[0]).edits).toEqual([
      {
        kind: "change-control",
        profile: "own",
        id: "pad-1",
        set: { sends: { kind: "note", channel: 3, number: 36 }, light: { ...light, channel: 3 } },
      },
    ]);
    // Of a kind that ships it cannot be told: the mapping that was meant is shown.
    expect(words(mends("noControl", { hex: "92247f" }))).toContain("Go to that one");
  });
  test("whatever a row says, it makes no fault", () => {
    for (const code of Object.keys(OUTCOME) as Outcome[])
      for (const more of [{}, { mapping: "gone" }, { device: "gone", control: "gone" }, { hex: "" }, { hex: "f0" }])
        expect(Array.isArray(mends(code, more))).toBe(true);
  });
});
