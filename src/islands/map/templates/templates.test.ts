/** Templates: filled for what is here, with no control in two of them, and nothing a desk does not have. */
import { describe, expect, test } from "vitest";
import demo from "../../../../examples/lantern-regatta.show.json" with { type: "json" };
import { liveStateOf } from "../../../../tests/rig/row-names.ts";
import { profiles, showWith } from "../../../../tests/rig/shows.ts";
import { parseEdit } from "../../../core/edit/edit-kinds.ts";
import { applyEdit } from "../../../core/edit/edits.ts";
import type { Show } from "../../../core/format/show.ts";
import type { PageState } from "../../live/store.ts";
import { bareShow, plansOf, proposed, type TemplateChoice } from "./choices.ts";

const page = (show: Show) => ({ live: liveStateOf(show) }) as PageState;
const regatta = bareShow(demo as unknown as Show, "From templates");
const state = page(regatta);

function made(choices: readonly TemplateChoice[]): Show {
  const edits = plansOf(state, choices).flatMap((plan, i) => (choices[i]!.isOn ? (plan?.edits ?? []) : []));
  const parsed = parseEdit({ kind: "together", does: "start from templates", edits });
  if (!parsed.ok) throw new Error(JSON.stringify(parsed.problems));
  const result = applyEdit(regatta, parsed.edit, profiles);
  if (!result.ok) throw new Error(JSON.stringify(result.problems));
  return result.show;
}

describe("templates for the surfaces and desks of the regatta", () => {
  test("pads and faders go to the lights, strips to the sound, rows to the picture", () => {
    expect(proposed(state).map((c) => [c.template, c.desk])).toEqual([
      ["pads-and-faders", "lights"],
      ["strips", "sound"],
      ["rows", "vision"],
    ]);
  });

  test("what is proposed is a show in order: twenty playbacks, their levels, and eight strips through a bank", () => {
    const show = made(proposed(state));
    const of = (fn: string) => show.mappings.filter((m) => m.actions[0]?.function === fn);
    expect([of("playback.toggle").length, of("playback.level").length]).toEqual([20, 6]);
    expect(of("playback.toggle").map((m) => m.actions[0]!.bindings.playback)).toEqual(
      Array.from({ length: 20 }, (_, i) => ({ from: "fixed", value: i + 1 })),
    );
    expect(show.banks).toHaveLength(1);
    expect(of("channel.mute").length).toBe(8);
  });

  test("no control has two of them, whatever is chosen", () => {
    const { surfaces, desks } = state.live.compiled;
    for (const { id: surface } of surfaces)
      for (const { id: desk } of desks) {
        const all = proposed(state).map((c) => ({ ...c, surface, desk, isOn: true }));
        const plans = plansOf(state, all);
        const controls = plans.flatMap((p) => p?.parts.flatMap((part) => part.controls.map((c) => c.id)) ?? []);
        expect(new Set(controls).size).toBe(controls.length);
        if (plans.some((p) => p !== null)) made(all);
      }
  });

  test("what is not ticked leaves its controls to the next", () => {
    const [pads, strips, rows] = proposed(state);
    const shared = [{ ...strips!, isOn: false }, { ...rows!, surface: strips!.surface, isOn: true }, pads!];
    const [, picture] = plansOf(state, shared);
    expect(picture?.parts.map((p) => p.fn.id).slice(0, 2)).toEqual(["program.choose", "preview.choose"]);
  });

  test("with nothing here that fits, nothing is proposed", () => {
    expect(proposed(page({ ...showWith([]), surfaces: [], desks: [] }))).toEqual([]);
    expect(proposed(page({ ...showWith([]), desks: [] }))).toEqual([]);
  });
});
