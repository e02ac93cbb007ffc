// @vitest-environment happy-dom
/** What is drawn anew when a hand moves a fader and when a desk speaks: what shows it, and nothing else. */
import { act, cleanup, render } from "@testing-library/react";
import { Profiler, type ReactNode } from "react";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { liveStateOf } from "../../tests/rig/row-names.ts";
import { fixed, level, mapping, showWith, toggle } from "../../tests/rig/shows.ts";
import type { LiveChanges } from "../core/live/protocol.ts";
import { OUTCOME } from "../core/trace/outcome.ts";
import { BottomLine } from "./app/BottomLine.tsx";
import { LabelsView } from "./labels/LabelsView.tsx";
import { type PageActions, PageActionsContext } from "./live/actions.ts";
import { applyChanges } from "./live/apply-changes.ts";
import { createPageStore, type PageStore, PageStoreContext } from "./live/store.ts";
import { FunctionLeaf } from "./map/FunctionLeaf.tsx";
import { Spine } from "./map/Spine.tsx";
import { RunView } from "./run/RunView.tsx";
import { SurfaceView } from "./surface/SurfaceView.tsx";

/** Controls that were drawn since it was emptied, by their id. */
const drawn = vi.hoisted(() => ({ controls: [] as string[], parts: [] as string[] }));

vi.mock("./surface/FaderControl.tsx", async (original) => recording(await original(), "FaderControl"));
vi.mock("./surface/PadControl.tsx", async (original) => recording(await original(), "PadControl"));

/** The real component, that also says which control it draws. */
async function recording(module: object, name: string) {
  const { memo } = await import("react");
  const { type: Real } = (module as Record<string, { type: (props: object) => ReactNode }>)[name]!;
  const Recording = (props: { control: { id: string } }) => {
    drawn.controls.push(props.control.id);
    return <Real {...props} />;
  };
  return { ...module, [name]: memo(Recording) };
}

const show = showWith([
  mapping("fader-1", level(1, fixed(1))),
  mapping("fader-2", level(2, fixed(1))),
  mapping("pad-1", toggle(1, fixed(1))),
  mapping("pad-2", toggle(2, fixed(1))),
]);
const idle = { send: () => {}, watchTraffic: () => () => {} } as unknown as PageActions;

let store: PageStore;

function page(children: ReactNode): void {
  const first = liveStateOf(show, { desks: answering() });
  store = createPageStore({
    kind: "snapshot",
    build: "of this test",
    who: { role: "edit", isHere: true },
    withPassword: [],
    onHold: null,
    show,
    history: first.history,
    surfaceProfiles: first.compiled.surfaces.map((s) => s.profile),
    deskProfiles: first.compiled.desks.map((d) => d.profile),
    live: { atMs: 0, desks: answering() },
  });
  store.setState({ chosen: { surface: "deck", control: "pad-9" } });
  render(
    <PageStoreContext value={store}>
      <PageActionsContext value={idle}>{children}</PageActionsContext>
    </PageStoreContext>,
  );
  forget();
}

function answering(): NonNullable<LiveChanges["desks"]> {
  const numbers = { sinceMs: 0, heardAtMs: 1, roundTripMs: 2, in: 0, out: 0, dropped: 0 };
  return { lights: { health: "answering", page: 1, port: { state: "open" }, ...numbers } };
}

const part = (id: string, children: ReactNode) => (
  <Profiler id={id} onRender={() => drawn.parts.push(id)}>
    {children}
  </Profiler>
);

const map = () => (
  <>
    <SurfaceView surface="deck" size="map" chooses />
    {part("spine", <Spine />)}
    {part("functions", <FunctionLeaf />)}
    {part("bottom line", <BottomLine />)}
  </>
);

function forget(): void {
  drawn.controls.length = 0;
  drawn.parts.length = 0;
}

/** A batch of the live socket. */
function told(changes: Partial<LiveChanges>): void {
  act(() => store.setState((s) => ({ live: applyChanges(s.live, { atMs: s.live.atMs + 33, ...changes }) })));
}

/** The index of a control in the profile of the deck. */
const control = (id: string) => store.getState().live.compiled.surfaces[0]!.indexOf.get(id)!;
/** The index of a playback's value on page 1. */
const value = (state: string, playback: number) =>
  store
    .getState()
    .live.compiled.desks.find((d) => d.desk.id === "lights")!
    .states.get(state)!.base +
  playback -
  1;

beforeEach(forget);
afterEach(cleanup);

describe("on the Map", () => {
  beforeEach(() => page(map()));

  test("a fader that moves draws itself", () => {
    for (const position of [0.2, 0.3, 0.4]) {
      told({ controls: { deck: [[control("fader-1"), position, -1, 1, 0]] } });
      expect([drawn.controls, drawn.parts]).toEqual([["fader-1"], []]);
      forget();
    }
  });

  test("a pad that is pressed draws itself", () => {
    told({ controls: { deck: [[control("pad-2"), -1, -1, 1, 1]] } });
    expect([drawn.controls, drawn.parts]).toEqual([["pad-2"], []]);
  });

  test("a datagram of the desk draws the controls that show its value", () => {
    told({ values: { lights: [[value("playback.on", 2), 1, 2, 0]] } });
    expect([drawn.controls, drawn.parts]).toEqual([["pad-2"], []]);
  });

  test("time that passes draws nothing", () => {
    told({});
    expect([drawn.controls, drawn.parts]).toEqual([[], []]);
  });

  test("a row of traffic draws the bottom line once, and the same story not again", () => {
    const row = { seq: 1, atMs: 5, out: false, side: "surface", device: "deck", control: "pad-1", a: 0, b: 0 } as const;
    const heard = { ...row, code: OUTCOME.noMapping, cause: 0, hex: "90247f", length: 3 };
    told({ line: [heard] });
    expect([drawn.controls, drawn.parts]).toEqual([[], ["bottom line"]]);
    forget();
    told({ line: [{ ...heard, seq: 2 }] });
    expect([drawn.controls, drawn.parts]).toEqual([[], []]);
  });

  test("what a page opens or chooses asks no control but the two it concerns", () => {
    act(() => store.setState({ trafficOpen: true }));
    expect(drawn.controls).toEqual([]);
    act(() => store.setState({ chosen: { surface: "deck", control: "pad-10" } }));
    expect([...drawn.controls].sort()).toEqual(["pad-10", "pad-9"]);
  });

  test("activity of devices is no business of the store", () => {
    let stored = 0;
    store.subscribe(() => stored++);
    for (let i = 1; i <= 100; i++) store.getState().deviceActivity.heard("Deck grid", 1, i);
    expect(stored).toBe(0);
  });
});

describe("labels", () => {
  beforeEach(() => {
    vi.stubGlobal("fetch", () => Promise.reject(new Error("the font is not here")));
    page(part("labels", <LabelsView />));
  });
  afterEach(() => void vi.unstubAllGlobals());

  test("a fader that moves and a level from the desk draw no sheet", () => {
    told({ controls: { deck: [[control("fader-1"), 0.4, -1, 1, 0]] } });
    told({ values: { lights: [[value("playback.level", 2), 0.3, 2, 0]] } });
    expect(drawn.parts).toEqual([]);
  });

  test("a name from the desk is on the sheet at once", () => {
    told({ values: { lights: [[value("playback.name", 2), "Sluice", 2, 0]] } });
    expect(drawn.parts).toContain("labels");
    const pictures = document.querySelectorAll<HTMLImageElement>("img[alt='A sheet of labels']");
    expect([...pictures].some((p) => decodeURIComponent(p.src).includes(">Sluice<"))).toBe(true);
  });
});

describe("in Run", () => {
  beforeEach(() => page(part("run", <RunView leave={() => {}} />)));

  test("a fader that moves draws itself", () => {
    told({ controls: { deck: [[control("fader-2"), 0.5, -1, 1, 0]] } });
    expect(drawn.controls).toEqual(["fader-2"]);
  });

  test("what is held is told once a second, not with every batch", () => {
    told({ held: [{ surface: "deck", control: "pad-1", sinceMs: 0 }] });
    expect(drawn.parts).toContain("run");
    forget();
    for (let i = 0; i < 20; i++) told({});
    expect(drawn.parts).toEqual([]);
  });

  test("of a range, each message that is held has a row of its own", () => {
    const faults = vi.spyOn(console, "error");
    const held = [1, 2, 3].map((sinceMs) => ({ surface: "deck", control: "pad-1", sinceMs }));
    told({ held });
    told({ held: held.slice(1) });
    expect(faults).not.toHaveBeenCalled();
  });
});
