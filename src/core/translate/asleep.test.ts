import { describe, expect, test } from "vitest";
import { f, i, Rig } from "../../../tests/rig/rig.ts";
import { flash, level, mapping, profiles, showWith } from "../../../tests/rig/shows.ts";
import type { Edit } from "../edit/edit-kinds.ts";
import { applyEdit } from "../edit/edits.ts";
import type { Show } from "../format/show.ts";
import { compileShow } from "../mapping/compile.ts";

const SHOW = showWith([mapping("pad-1", flash(1)), mapping("fader-1", level(1))]);

function edited(show: Show, edit: Edit): Show {
  const result = applyEdit(show, edit, profiles);
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  return result.show;
}
const sleep = (show: Show, control: string, on = true) => edited(show, { kind: "set-asleep", id: "deck", control, on });
const put = (rig: Rig, show: Show) => rig.translator.swap(compileShow(show, profiles), rig.nowMs);

describe("a control that sleeps", () => {
  test("sends nothing and says so, shows nothing, and plays again when it is woken", () => {
    const rig = Rig.onPage(1, SHOW);
    rig.desk("/now/playback/1/1/flash", i(1));
    put(rig, sleep(SHOW, "pad-1"));
    rig.press("pad-1").release("pad-1");
    expect(rig.sent()).toEqual([]);
    expect(rig.became()).toContain("bypassed");
    put(rig, SHOW);
    rig.press("pad-1").release("pad-1");
    expect(rig.sent()).toHaveLength(2);
  });

  test("what it held is let go when it falls asleep (rule 6)", () => {
    const rig = Rig.onPage(1, SHOW);
    rig.press("pad-1");
    rig.sent();
    put(rig, sleep(SHOW, "pad-1"));
    expect(rig.sent()).toEqual(["/set/playback/1/1/flash 0"]);
    rig.release("pad-1");
    expect(rig.sent()).toEqual([]);
  });

  test("a fader that was moved in its sleep catches its level before it plays (rule 9)", () => {
    const rig = Rig.onPage(1, SHOW);
    rig.desk("/now/playback/1/1/level", f(0.5));
    rig.move("fader-1", 60).move("fader-1", 68);
    expect(rig.sent().length).toBeGreaterThan(0); // it is on its level
    put(rig, sleep(SHOW, "fader-1"));
    rig.move("fader-1", 120);
    put(rig, SHOW);
    rig.move("fader-1", 118);
    expect(rig.sent()).toEqual([]);
  });

  test("it is forgotten where the control goes, and follows it to another kind", () => {
    const asleep = sleep(sleep(SHOW, "pad-1"), "fader-1");
    const { mappings: _, ...free } = asleep;
    const replaced = edited(
      { ...free, mappings: [] },
      { kind: "replace-surface", id: "deck", profile: "tide-strips", becomes: { "pad-1": null, "fader-1": "fader-1" } },
    );
    expect(replaced.surfaces[0]?.asleep).toEqual(["fader-1"]);
    const woken = sleep(sleep(asleep, "pad-1", false), "fader-1", false);
    expect(woken.surfaces[0]).toEqual(SHOW.surfaces[0]);
    const refused = applyEdit(SHOW, { kind: "set-asleep", id: "deck", control: "nobody", on: true }, profiles);
    expect(refused.ok ? [] : refused.problems).toMatchObject([{ code: "unknown-id", what: "control" }]);
  });
});
