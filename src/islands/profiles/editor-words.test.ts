import { describe, expect, test } from "vitest";
import { profiles } from "../../../tests/rig/shows.ts";
import { freeId } from "../../core/format/free-id.ts";
import { textList } from "../components/ListField.tsx";
import { readProfile } from "../documents/files.ts";
import { idFrom, newId } from "../documents/new-ids.ts";
import { messageWords } from "./ControlFields.tsx";
import { withItem } from "./profile-draft.ts";

describe("the words of the profile editor", () => {
  test("a message of a control in short", () => {
    expect(messageWords({ kind: "note", channel: 1, number: 36 })).toBe("note 36 ch 1");
    expect(messageWords({ kind: "bend", channel: 3 })).toBe("bend ch 3");
    expect(messageWords({ kind: "relative", channel: 2, number: 7, encoding: "twos-complement" })).toBe("turns 7 ch 2");
    expect(messageWords({ kind: "controller-14", channel: 1, number: 5 })).toBe("ctl-14 5 ch 1");
  });

  test("several texts in one field: what is empty between them is none", () => {
    expect(textList(" go, next ,,  ", ",")).toEqual(["go", "next"]);
    expect(textList("", ";")).toEqual([]);
  });
});

describe("ids and lists of a profile", () => {
  test("a name becomes an id, and one that is taken gets a number", () => {
    expect(idFrom("  Grand Master, Ünit 2 ")).toBe("grand-master-nit-2");
    expect(freeId("pad", [{ id: "pad" }, { id: "pad-2" }])).toBe("pad-3");
    expect(freeId("", [])).toBe("new");
    expect(new Set(Array.from({ length: 100 }, () => newId("m"))).size).toBe(100);
  });

  test("an item is changed or left out, and the list it was in stays as it was", () => {
    const list = ["a", "b", "c"];
    expect(withItem(list, 1, "B")).toEqual(["a", "B", "c"]);
    expect(withItem(list, 1, null)).toEqual(["a", "c"]);
    expect(list).toEqual(["a", "b", "c"]);
  });
});

describe("a profile from a file", () => {
  test("is read by its own format, on the side it belongs to", () => {
    const desk = readProfile(JSON.stringify(profiles.desks.get("quay-lights")));
    expect(desk).toMatchObject({ side: "desk", read: { ok: true, value: { id: "quay-lights" } } });
    const surface = readProfile(JSON.stringify(profiles.surfaces.get("deck-grid")));
    expect(surface).toMatchObject({ side: "surface", read: { ok: true, value: { id: "deck-grid" } } });
  });

  test("what is no document, or none of ours, is refused and never thrown", () => {
    for (const text of ["", "{", "null", "[]", '{"format":"elsewhere"}', "3"])
      expect(readProfile(text).read.ok).toBe(false);
  });
});
