import fc from "fast-check";
import { describe, expect, test } from "vitest";
import { fixed, flash, level, mapping, profiles, shift, showWith, toggle } from "../../../tests/rig/shows.ts";
import { control } from "../../../tests/rig/surfaces.ts";
import { told } from "../../../tests/rig/told.ts";
import { editLabel } from "../../words/edits.ts";
import type { Show } from "../format/show.ts";
import { type Edit, parseEdit } from "./edit-kinds.ts";
import { applyEdit, applyStoredPatches } from "./edits.ts";

const show = showWith([
  mapping("pad-1", toggle(1), { pages: { desk: "lights", in: [1] } }),
  mapping("fader-1", level(1)),
  mapping("fader-2", [level(3), level(4)]),
  mapping("shift", shift()),
]);

const EDITS: [Edit, string][] = [
  [{ kind: "rename-show", name: "Regatta" }, "name the show Regatta"],
  [{ kind: "set-middle-c", middleC: "C4" }, "call note 60 C4"],
  [
    {
      kind: "add-surface",
      surface: { id: "two", name: "Second", profile: "deck-grid", in: { kind: "none" }, out: { kind: "none" } },
    },
    "add Second",
  ],
  [{ kind: "rename-surface", id: "deck", name: "Left hand" }, "rename Deck grid"],
  [
    {
      kind: "set-surface-ports",
      id: "deck",
      in: { kind: "browser-midi", device: "Deck", nth: 2 },
      out: { kind: "none" },
    },
    "change the ports of Deck grid",
  ],
  [
    {
      kind: "add-desk",
      desk: { id: "spare", name: "Spare", profile: "quay-lights", host: "127.0.0.1", port: 1, listenPort: 2 },
    },
    "add Spare",
  ],
  [{ kind: "rename-desk", id: "lights", name: "Lamps" }, "rename Lights"],
  [
    { kind: "set-desk-address", id: "lights", host: "127.0.0.2", port: 7, listenPort: 8 },
    "change the address of Lights",
  ],
  [
    { kind: "set-desk-address", id: "lights", host: "127.0.0.2", port: 7, listenPort: 8, over: "tcp-slip" },
    "change the address of Lights",
  ],
  [{ kind: "add-layer", layer: { id: "sends", name: "Sends" } }, "add the layer Sends"],
  [{ kind: "add-mapping", mapping: mapping("pad-2", toggle(2)) }, "map pad-2"],
  [{ kind: "change-mapping", id: "m-pad-1", set: { name: "Lanterns", layers: ["shift"] } }, "change pad-1"],
  [{ kind: "change-mapping", id: "m-pad-1", set: { pages: null } }, "change pad-1"],
  [{ kind: "change-mapping", id: "m-fader-1", set: { pages: { desk: "lights", in: [2, 3] } } }, "change fader-1"],
  [{ kind: "remove-mapping", id: "m-pad-1" }, "unmap pad-1"],
  [{ kind: "add-action", mapping: "m-pad-1", action: toggle(3) }, "add an action to pad-1"],
  [
    { kind: "change-action", mapping: "m-pad-1", id: "t-1", set: { bindings: { page: fixed(2), playback: fixed(9) } } },
    "change an action of pad-1",
  ],
  [
    { kind: "change-action", mapping: "m-fader-1", id: "l-1", set: { shape: { invert: true } } },
    "change an action of fader-1",
  ],
  [
    { kind: "change-action", mapping: "m-pad-1", id: "t-1", set: { function: "cue.go", bindings: {} } },
    "change an action of pad-1",
  ],
  [{ kind: "remove-action", mapping: "m-pad-1", id: "t-1" }, "remove an action of pad-1"],
  [
    { kind: "move-action", mapping: "m-fader-2", id: "l-4", before: "l-3" },
    "put the actions of fader-2 in another order",
  ],
];

test("an action goes in front of another, to the end, or stays", () => {
  const three = showWith([mapping("fader-1", [level(1), level(2), level(3)])]);
  const order = (id: string, before: string | null) => {
    const result = applyEdit(three, { kind: "move-action", mapping: "m-fader-1", id, before }, profiles);
    return result.ok ? result.show.mappings[0]!.actions.map((a) => a.id).join(" ") : told(result.problems[0]!);
  };
  expect(order("l-1", "l-3")).toBe("l-2 l-1 l-3");
  expect(order("l-3", "l-1")).toBe("l-3 l-1 l-2");
  expect(order("l-1", null)).toBe("l-2 l-3 l-1");
  expect(order("l-2", "l-2")).toBe("l-1 l-2 l-3");
  expect(order("l-2", "nothing")).toContain("there is no action “nothing”.");
});

describe("an edit", () => {
  test.each(EDITS)("%o is data, is applied, told in words, undone and done again", (edit, label) => {
    expect(parseEdit(JSON.parse(JSON.stringify(edit)))).toEqual({ ok: true, edit });
    const result = applyEdit(show, edit, profiles);
    if (!result.ok) throw new Error(result.problems.map(told).join(" "));
    expect(editLabel(edit, show)).toBe(label);
    expect(result.show).not.toEqual(show);
    // Revisions are stored as JSON.
    const stored = JSON.parse(JSON.stringify({ patches: result.patches, inverse: result.inverse })) as typeof result;
    expect(applyStoredPatches(result.show, stored.inverse)).toEqual(show);
    expect(applyStoredPatches(show, stored.patches)).toEqual(result.show);
  });

  test("changes only what it says, so that two made from the same view do not undo each other", () => {
    const edits: Edit[] = [
      { kind: "change-action", mapping: "m-fader-1", id: "l-1", set: { shape: { output: [0.2, 1] } } },
      { kind: "change-action", mapping: "m-fader-1", id: "l-1", set: { shape: { invert: true } } },
      { kind: "change-action", mapping: "m-fader-1", id: "l-1", set: { bindings: { page: fixed(2) } } },
      { kind: "change-action", mapping: "m-fader-1", id: "l-1", set: { bindings: { playback: fixed(7) } } },
    ];
    const all = (list: Edit[]) =>
      list.reduce((at, edit) => {
        const result = applyEdit(at, edit, profiles);
        if (!result.ok) throw new Error(result.problems.map(told).join(" "));
        return result.show;
      }, show).mappings[1]!.actions[0]!;
    expect(all(edits)).toMatchObject({
      shape: { input: [0, 1], invert: true, output: [0.2, 1] },
      bindings: { page: fixed(2), playback: fixed(7) },
    });
    const whole: Edit = { kind: "change-action", mapping: "m-fader-1", id: "l-1", set: { shape: { output: null } } };
    expect(all([...edits, whole]).shape).toEqual({ input: [0, 1], invert: true });
  });

  test("of a surface's ports changes the way that it names, and leaves the other", () => {
    const session = { kind: "browser-midi", device: "Deck", nth: 1 } as const;
    const edits: Edit[] = [
      { kind: "set-surface-ports", id: "deck", in: session },
      { kind: "set-surface-ports", id: "deck", out: session },
    ];
    const now = edits.reduce((at, edit) => {
      const result = applyEdit(at, edit, profiles);
      if (!result.ok) throw new Error(result.problems.map(told).join(" "));
      return result.show;
    }, show);
    expect(now.surfaces[0]).toMatchObject({ in: session, out: session });
  });

  test.each<[Edit, string]>([
    [{ kind: "remove-surface", id: "deck" }, "the surface “deck” is used by the mapping of pad-1."],
    [{ kind: "remove-desk", id: "lights" }, "the desk “lights” is used by the mapping of pad-1."],
    [{ kind: "remove-mapping", id: "nothing" }, "there is no mapping “nothing”."],
    [{ kind: "rename-desk", id: "nothing", name: "x" }, "there is no desk “nothing”."],
    [{ kind: "rename-surface", id: "nothing", name: "x" }, "there is no surface “nothing”."],
    [{ kind: "remove-action", mapping: "m-pad-1", id: "nothing" }, "there is no action “nothing”."],
    [{ kind: "add-action", mapping: "nothing", action: toggle(1) }, "there is no mapping “nothing”."],
    [
      { kind: "add-mapping", mapping: mapping("pad-1", toggle(1)) },
      "duplicate id: there is another mapping “m-pad-1”.",
    ],
    [{ kind: "add-mapping", mapping: mapping("pad-3", toggle(44)) }, "playback 44: the desk has 1 to 20."],
    [
      { kind: "change-mapping", id: "m-pad-1", set: { gesture: "move" } },
      "a pad of this kind has no “Move”; it has Press, Release, Tap, Hold, Double tap or While held.",
    ],
  ])("%o is refused with a sentence, and the show is untouched", (edit, sentence) => {
    const before = JSON.stringify(show);
    const result = applyEdit(show, edit, profiles);
    expect(result.ok ? [] : result.problems.map(told)).toEqual(
      expect.arrayContaining([expect.stringContaining(sentence)]),
    );
    expect(JSON.stringify(show)).toBe(before);
  });

  test.each([
    [{ kind: "burn-everything" }, "kind: this “kind” is not known."],
    [{ kind: "rename-show", name: "" }, "name: a name must not be empty."],
    [{ kind: "rename-show", name: "x", more: 1 }, "there is no field “more” here."],
    [null, "expected an object with fields."],
  ])("%o is no edit", (data, sentence) => {
    const parsed = parseEdit(data);
    expect(parsed.ok ? [] : parsed.problems.map(told)).toContain(sentence);
  });

  describe("of one field of a part", () => {
    const parts: Show = {
      ...show,
      banks: [{ id: "b", name: "Strips", first: 1, last: 20, size: 8 }],
      variables: [{ id: "v", name: "Count", from: 0, to: 9, start: 0, wraps: false }],
    };
    const change = (edit: object) => {
      const parsed = parseEdit({ kind: "change-part", ...edit });
      return parsed.ok ? applyEdit(parts, parsed.edit, profiles) : parsed;
    };

    test("leaves the others as they are, and takes away what is null", () => {
      const noted = change({ list: "layers", id: "shift", set: { note: "later", colour: "#112233" } });
      if (!("show" in noted)) throw new Error(JSON.stringify(noted));
      expect(noted.show.layers[1]).toEqual({ ...parts.layers[1], note: "later", colour: "#112233" });
      const parsed = parseEdit({ kind: "change-part", list: "layers", id: "shift", set: { note: null } });
      if (!parsed.ok) throw new Error(JSON.stringify(parsed.problems));
      const back = applyEdit(noted.show, parsed.edit, profiles);
      expect(back.ok && back.show.layers[1]).toEqual({ ...parts.layers[1], colour: "#112233" });
    });

    test.each<[string, object, string, (string | number)[]]>([
      [
        "a bank with less room than it shows",
        { list: "banks", id: "b", set: { last: 5 } },
        "not-valid",
        ["banks", 0, "last"],
      ],
      [
        "a variable that ends below its start",
        { list: "variables", id: "v", set: { to: -1 } },
        "not-valid",
        ["variables", 0, "to"],
      ],
      ["a part that is not there", { list: "groups", id: "none", set: { name: "x" } }, "unknown-id", []],
      ["a field of another kind of part", { list: "layers", id: "shift", set: { size: 3 } }, "not-valid", ["set"]],
      ["its id", { list: "layers", id: "shift", set: { id: "x" } }, "not-valid", ["set"]],
    ])("%s is refused", (_, edit, code, path) => {
      const result = change(edit);
      expect(!result.ok && [result.problems[0]!.code, result.problems[0]!.path.slice(0, path.length)]).toEqual([
        code,
        path,
      ]);
    });
  });

  test("its label has the name that people gave", () => {
    const named = applyEdit(show, { kind: "change-mapping", id: "m-pad-1", set: { name: "Lanterns" } }, profiles);
    expect(named.ok && editLabel({ kind: "remove-mapping", id: "m-pad-1" }, named.show)).toBe("unmap Lanterns");
  });

  describe("its label is known for every kind", () => {
    const none = { kind: "none" } as const;
    const deskProfile = { ...profiles.desks.get("quay-lights")!, name: "Our lights" };
    const surfaceProfile = { ...profiles.surfaces.get("deck-grid")!, name: "Our deck" };
    const session = { port: 5304, reach: "this-computer", admission: "ask", allowed: [], invites: [] } as const;
    const item = { id: "new", name: "New one" };
    /** For each kind what it says; those of EDITS are looked up there. */
    const LABELS: { readonly [K in Edit["kind"]]: readonly [Extract<Edit, { kind: K }>, string] | "above" } = {
      "rename-show": "above",
      "set-middle-c": "above",
      "add-surface": "above",
      "rename-surface": "above",
      "set-surface-ports": "above",
      "set-asleep": [
        { kind: "set-asleep", id: "deck", control: "fader-1", on: true },
        "let fader-1 of Deck grid sleep",
      ],
      "name-control": [
        { kind: "name-control", id: "deck", control: "fader-1", set: { name: "Master" } },
        "call fader-1 of Deck grid Master",
      ],
      "name-page": [
        { kind: "name-page", id: "lights", page: 2, set: { note: "only with the crew" } },
        "note of page 2 of Lights",
      ],
      "change-part": [
        { kind: "change-part", list: "layers", id: "shift", set: { note: "for the band" } },
        "change Shift",
      ],
      "put-bundle": [{ kind: "put-bundle", item: { ...item, on: true } }, "add New one"],
      "remove-surface": [{ kind: "remove-surface", id: "deck" }, "remove Deck grid"],
      "replace-surface": [
        { kind: "replace-surface", id: "deck", profile: "deck-grid", becomes: {} },
        "replace Deck grid",
      ],
      "add-desk": "above",
      "rename-desk": "above",
      "set-desk-address": "above",
      "set-desk-midi": [{ kind: "set-desk-midi", id: "lights", in: none, out: none }, "change the ports of Lights"],
      "set-desk-when-silent": [
        { kind: "set-desk-when-silent", id: "lights", whenSilent: "keep" },
        "change what Lights is sent while it is silent",
      ],
      "remove-desk": [{ kind: "remove-desk", id: "lights" }, "remove Lights"],
      "replace-desk": [{ kind: "replace-desk", id: "lights", profile: "quay-lights", becomes: {} }, "replace Lights"],
      "put-desk-profile": [{ kind: "put-desk-profile", profile: deskProfile }, "change the profile Our lights"],
      "remove-desk-profile": [{ kind: "remove-desk-profile", id: "gone" }, "remove the profile gone"],
      "put-surface-profile": [{ kind: "put-surface-profile", profile: surfaceProfile }, "change the profile Our deck"],
      "remove-surface-profile": [{ kind: "remove-surface-profile", id: "gone" }, "remove the profile gone"],
      "set-times": [{ kind: "set-times", times: { holdMs: 300 } }, "change the times of hold and double tap"],
      "set-takeover": [{ kind: "set-takeover", takeover: { fader: "jump" } }, "change how new mappings take over"],
      "add-layer": "above",
      "put-layer": [{ kind: "put-layer", item: { id: "shift", name: "Shift" } }, "change Shift"],
      "put-group": [{ kind: "put-group", item: { ...item, surface: "deck", controls: ["pad-1"] } }, "add New one"],
      "put-bank": [{ kind: "put-bank", item: { ...item, first: 1, last: 20, size: 8 } }, "add New one"],
      "put-variable": [
        { kind: "put-variable", item: { ...item, from: 0, to: 9, start: 0, wraps: true } },
        "add New one",
      ],
      "put-route": [
        { kind: "put-route", item: { ...item, on: true, from: "deck", to: "deck", what: "all" } as never },
        "add New one",
      ],
      "put-session": [
        { kind: "put-session", item: { ...item, ...session, allowed: [], invites: [], announced: false } },
        "add New one",
      ],
      "remove-part": [{ kind: "remove-part", list: "layers", id: "shift" }, "remove Shift"],
      "add-functions": [
        { kind: "add-functions", profile: "own", parameters: [], states: [], functions: [deskProfile.functions[0]!] },
        `add ${deskProfile.functions[0]!.name} to own`,
      ],
      "add-control": [
        {
          kind: "add-control",
          profile: "own",
          control: { ...control("pad-1", { kind: "note", channel: 1, number: 1 }), name: "Pad 1" },
        },
        "add Pad 1",
      ],
      "change-control": [{ kind: "change-control", profile: "own", id: "pad-1", set: { name: "Sail" } }, "change Sail"],
      "remove-control": [{ kind: "remove-control", profile: "own", id: "pad-1" }, "take off pad-1"],
      "change-surface-profile": [
        { kind: "change-surface-profile", id: "own", set: { lightsItself: true } },
        "change the profile own",
      ],
      together: [
        { kind: "together", does: "add four pads", edits: [{ kind: "rename-show", name: "x" }] },
        "add four pads",
      ],
      "add-mapping": "above",
      "change-mapping": "above",
      "remove-mapping": "above",
      "add-action": "above",
      "change-action": "above",
      "remove-action": "above",
      "move-action": "above",
    };
    test.each(Object.entries(LABELS))("%s", (kind, wanted) => {
      if (wanted === "above") expect(EDITS.map(([edit]) => edit.kind)).toContain(kind);
      else expect(editLabel(wanted[0], show)).toBe(wanted[1]);
    });
  });
});

describe("parts of a show", () => {
  const start = showWith([mapping("pad-1", flash(1), { layers: ["shift"] })]);
  const edited = (show: Show, edit: Edit) => {
    const result = applyEdit(show, edit, profiles);
    if (!result.ok) throw new Error(result.problems.map(told).join(" "));
    return result;
  };
  test("are put, changed and removed by their id, each undone as if it had never been", () => {
    const bank = { id: "b", name: "Strips", first: 1, last: 20, size: 8 };
    const added = edited(start, { kind: "put-bank", item: bank });
    const changed = edited(added.show, { kind: "put-bank", item: { ...bank, last: 16 } });
    const removed = edited(changed.show, { kind: "remove-part", list: "banks", id: "b" });

    expect([added.show.banks, changed.show.banks, removed.show.banks]).toEqual([[bank], [{ ...bank, last: 16 }], []]);
    expect(applyStoredPatches(removed.show, removed.inverse)).toEqual(changed.show);
    expect(applyStoredPatches(added.show, added.inverse)).toEqual(start);
  });
  test("one that a mapping stands on is not removed, with the reason", () => {
    const result = applyEdit(start, { kind: "remove-part", list: "layers", id: "shift" }, profiles);
    expect(result.ok ? [] : result.problems.map(told)).toEqual([
      "mappings[0].layers[0]: the layer “shift” is used by the mapping of pad-1.",
    ]);
  });
  test("one that is not there is told", () => {
    const result = applyEdit(start, { kind: "remove-part", list: "routes", id: "r" }, profiles);
    expect(result.ok ? [] : result.problems.map(told)).toEqual(["there is no route “r”."]);
  });
  test("optional fields of a mapping, an action and a shape are set and taken away again", () => {
    const set = { times: { holdMs: 300 }, radio: "r", whileHeld: { surface: "deck", control: "pad-2" } };
    const one = edited(start, { kind: "change-mapping", id: "m-pad-1", set });
    expect(one.show.mappings[0]).toMatchObject(set);
    const two = edited(one.show, {
      kind: "change-mapping",
      id: "m-pad-1",
      set: { times: null, radio: null, whileHeld: null },
    });
    expect(two.show).toEqual(start);
    const shaped = edited(start, {
      kind: "change-action",
      mapping: "m-pad-1",
      id: "f-1",
      set: { delayMs: 50, shape: { steps: 8, curve: { kind: "s" } } },
    });
    const plain = edited(shaped.show, {
      kind: "change-action",
      mapping: "m-pad-1",
      id: "f-1",
      set: { delayMs: null, shape: { steps: null, curve: null } },
    });
    expect(plain.show).toEqual(start);
  });
  test("times and takeover of the show", () => {
    const { show } = edited(start, { kind: "set-times", times: { holdMs: 300 } });
    expect(edited(show, { kind: "set-takeover", takeover: { fader: "converge" } }).show.settings).toEqual({
      middleC: "C3",
      times: { holdMs: 300 },
      takeover: { fader: "converge" },
    });
  });
});

describe("undo", () => {
  const more: Edit[] = [
    { kind: "put-group", item: { id: "g", name: "G", surface: "deck", controls: ["pad-1", "pad-2"] } },
    { kind: "put-layer", item: { id: "row", name: "Row", group: "g" } },
    { kind: "put-bank", item: { id: "b", name: "B", first: 1, last: 20, size: 8 } },
    { kind: "put-variable", item: { id: "v", name: "V", from: 0, to: 9, start: 0, wraps: false } },
    { kind: "set-times", times: { holdMs: 300 } },
    { kind: "change-mapping", id: "m-pad-1", set: { radio: "r", order: "random", layers: ["row"], pages: null } },
    { kind: "change-mapping", id: "m-fader-1", set: { takeover: "converge" } },
    {
      kind: "change-action",
      mapping: "m-fader-1",
      id: "l-1",
      set: { delayMs: 5, shape: { steps: 4 }, bindings: { playback: { from: "strip", bank: "b", strip: 2 } } },
    },
    { kind: "remove-part", list: "banks", id: "b" },
    { kind: "remove-part", list: "layers", id: "row" },
    { kind: "remove-mapping", id: "m-pad-1" },
  ];
  test("after any series of edits, refused ones among them, undoing all of them is the identity", () => {
    const edits = [...EDITS.map(([edit]) => edit), ...more];
    fc.assert(
      fc.property(fc.array(fc.constantFrom(...edits), { maxLength: 25 }), (series) => {
        let now: Show = show;
        const back: Parameters<typeof applyStoredPatches>[1][] = [];
        for (const edit of series) {
          const result = applyEdit(now, edit, profiles);
          if (!result.ok) continue;
          expect(applyStoredPatches(now, result.patches)).toEqual(result.show);
          back.push(result.inverse);
          now = result.show;
        }
        for (const inverse of back.reverse()) now = applyStoredPatches(now, inverse) as Show;
        expect(now).toEqual(show);
      }),
    );
  });
});

test("a new address without a carrier is what the kind of desk has by itself", () => {
  const address = { kind: "set-desk-address", id: "lights", host: "127.0.0.2", port: 7, listenPort: 8 } as const;
  const tcp = applyEdit(show, { ...address, over: "tcp" }, profiles);
  const back = tcp.ok ? applyEdit(tcp.show, address, profiles) : tcp;
  expect(tcp.ok && tcp.show.desks[0]!.over).toBe("tcp");
  expect(back.ok && "over" in back.show.desks[0]!).toBe(false);
});
