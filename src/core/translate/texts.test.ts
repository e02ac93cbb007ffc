import { describe, expect, test } from "vitest";
import { i, Rig } from "../../../tests/rig/rig.ts";
import { action, fixed, library, mapping, page, profiles, showWith } from "../../../tests/rig/shows.ts";
import { likelyUse, readTyped, typedFunction, unknownDesk, withTyped } from "../desk/typed.ts";
import { checkDeskProfile } from "../edit/check-desk-profile.ts";
import { checkShow } from "../edit/check-show.ts";
import type { DeskFunction, DeskProfile } from "../format/desk-profile.ts";
import { profilesOf } from "../format/profiles.ts";

const lights = library.profiles.desks.get("quay-lights")!;

/** The lighting desk with functions that say a text. */
function withText(...functions: DeskFunction[]): { profiles: typeof profiles } {
  const profile: DeskProfile = { ...lights, functions: [...lights.functions, ...functions] };
  expect(checkDeskProfile(profile)).toEqual([]);
  const others = [...profiles.desks.values()].filter((p) => p.id !== lights.id);
  return { profiles: profilesOf([...profiles.surfaces.values()], [...others, profile]) };
}

const SAY: DeskFunction = {
  id: "say",
  name: "Say",
  words: [],
  parameters: ["playback"],
  acts: "trigger",
  text: "Good evening",
  send: [{ address: "/say/{playback}", arguments: [{ type: "s", value: "{text}" }] }],
};
const CAPTION: DeskFunction = {
  ...SAY,
  id: "caption",
  name: "Caption",
  parameters: [],
  acts: "level",
  range: { from: 0, to: 1, unit: "%" },
  send: [
    {
      address: "/caption",
      arguments: [
        { type: "s", value: "<{text}>" },
        { type: "f", value: "{value}" },
      ],
    },
  ],
};

describe("what actions say in words", () => {
  test("its own text, or that of its function, with the name of the control and the page that is up", () => {
    const say = (text?: string) => action("a", "say", { playback: fixed(2) }, text === undefined ? {} : { text });
    const rig = Rig.onPage(
      4,
      showWith([
        mapping("pad-1", say()),
        mapping("pad-2", say("{name}, page {page}, {value}")),
        mapping("pad-3", say("{name}"), { name: "Foghorn" }),
      ]),
      withText(SAY),
    );
    rig.press("pad-1").press("pad-2").press("pad-3");
    expect(rig.sent()).toEqual(["/say/2 “Good evening”", "/say/2 “Pad 2, page 4, 1”", "/say/2 “Foghorn”"]);
    rig.desk("/now/page", i(5));
    rig.press("pad-2");
    expect(rig.sent()).toEqual(["/say/2 “Pad 2, page 5, 1”"]);
  });

  test("of a fader each value, and of a press that waits what was meant when it was made", () => {
    const text = { text: "{value}" };
    const rig = Rig.onPage(
      1,
      showWith([
        mapping("fader-1", action("a", "caption", {}, text), { takeover: "jump" }),
        mapping("pad-1", action("b", "say", { playback: fixed(1) }, { text: "page {page}", delayMs: 100 })),
      ]),
      withText(SAY, CAPTION),
    );
    rig.move("fader-1", 127).move("fader-1", 0);
    expect(rig.sent()).toEqual(["/caption “<1>” 1", "/caption “<0>” 0"]);
    rig.press("pad-1");
    rig.desk("/now/page", i(2));
    rig.wait(120);
    expect(rig.sent()).toEqual(["/say/1 “page 1”"]); // as it was meant
  });

  test("texts of any length follow each other in one message's room", () => {
    const long = "ö".repeat(200);
    const rig = Rig.onPage(
      1,
      showWith([
        mapping("pad-1", action("a", "say", { playback: fixed(1) }, { text: "" })),
        mapping("pad-2", action("b", "say", { playback: fixed(1) }, { text: long })),
        mapping("pad-3", action("c", "say", { playback: fixed(1) }, { text: "{name}".repeat(30) }), {
          name: "名".repeat(80),
        }),
        mapping("pad-4", action("d", "playback.toggle", { page, playback: fixed(3) })),
      ]),
      withText(SAY),
    );
    rig.press("pad-1").press("pad-2").press("pad-3").press("pad-4").press("pad-1");
    const sent = rig.sent();
    expect(sent.slice(0, 3)).toEqual(["/say/1 “”", `/say/1 “${long}”`, `/say/1 “${"名".repeat(200)}”`]);
    expect(sent.at(-1)).toBe("/say/1 “”");
  });

  test("names that mean nothing, and a text where none is taken, are refused with their place", () => {
    const options = withText(SAY);
    const problems = (a: ReturnType<typeof action>) => checkShow(showWith([mapping("pad-1", a)]), options.profiles);
    expect(problems(action("a", "say", { playback: fixed(1) }, { text: "{page" }))).toMatchObject([
      { code: "template", fault: "braces", path: ["mappings", 0, "actions", 0, "text"] },
    ]);
    expect(problems(action("a", "say", { playback: fixed(1) }, { text: "{bank}" }))).toMatchObject([
      { code: "template", fault: "unknown-name", name: "bank", in: "text" },
    ]);
    const toggles = action("a", "playback.toggle", { page, playback: fixed(1) }, { text: "hello" });
    expect(problems(toggles)).toMatchObject([{ code: "not-valid", expected: { is: "no-text" } }]);
    const { text: _, ...mute } = SAY;
    expect(checkDeskProfile({ ...lights, functions: [...lights.functions, mute] })).toMatchObject([
      { code: "template", fault: "unknown-name", name: "text" },
    ]);
  });

  test.each([
    ["osc", '/quay/say "Page {page} now"', "Page {page} now", { arguments: [{ type: "s", value: "{text}" }] }],
    ["osc", '/quay/say "a {b"', "a {{b", { arguments: [{ type: "s", value: "{text}" }] }],
    ["lines", "SAY hello", "hello", { line: "SAY {text}" }],
    ["lines", 'CAPTION 3 "to the quay"', "to the quay", { line: 'CAPTION {caption} "{text}"' }],
  ] as const)("typed as a text by %s: %s", (wire, typed, text, message) => {
    const empty = unknownDesk("k", "Any", wire);
    const example = readTyped(typed, wire)!;
    const made = typedFunction([example], { ...likelyUse([example]), as: "text" }, empty);
    expect(made.fn.text).toBe(text);
    expect(made.fn.send).toMatchObject([message]);
    expect(checkDeskProfile(withTyped(empty, made))).toEqual([]);
  });
});
