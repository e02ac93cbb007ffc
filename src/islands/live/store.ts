/** The one live store of the page. Views select from it; nothing else holds a copy of the show or of the desk. */
import { dequal } from "dequal/lite";
import { createContext, useContext, useRef } from "react";
import { createStore, type StoreApi, useStore } from "zustand";
import type { MappingsDocument } from "../../core/format/mappings-document.ts";
import type { OnHold } from "../../core/live/on-hold.ts";
import type { BrowserDevice, Snapshot } from "../../core/live/protocol.ts";
import { fromSnapshot, type LiveState } from "./apply-changes.ts";
import type { Armed } from "./armed.ts";
import { DeviceActivity } from "./device-activity.ts";
import type { LearnedNow } from "./learned.ts";
import type { Many } from "./many.ts";

/** A control that hands were at. */
export interface Touch {
  readonly surface: string;
  readonly control: string;
}

export type Connection = "open" | "closed";

export interface PageState {
  /** The build of the server that this page came from. */
  readonly build: string;
  readonly live: LiveState;
  readonly connection: Connection;
  /** Since when the server is not heard, in ms by the clock on the wall; null = it is. */
  readonly lostAtMs: number | null;
  /** Surface and control that the Map works on. */
  readonly chosen: { readonly surface: string; readonly control: string } | null;
  /** Controls that were chosen together; null = only the one. */
  readonly many: Many | null;
  /** The function that many are about to be given. */
  readonly series: { readonly desk: string; readonly fn: string } | null;
  /** The many are about to be made strips of a desk. */
  readonly strips: boolean;
  /** What was copied and is about to be put in; `cut`: by their ids, the mappings that go from where they were. */
  readonly pasting: {
    readonly document: MappingsDocument;
    readonly cut: readonly string[];
    readonly moveOn: number;
  } | null;
  /** What was copied or cut here last, as it lies on the clipboard. */
  readonly copied: { readonly text: string; readonly cut: readonly string[] } | null;
  /** Which of the chosen control's mappings the spine shows; null = the one that holds now. */
  readonly chosenMapping: string | null;
  readonly followTouch: boolean;
  /** Somebody threw the switch: hands teach. What the engine does is in `live.teaches`. */
  readonly handsTeach: boolean;
  /** The function that the next touch is given, with what comes after it. */
  readonly armed: Armed | null;
  /** What is moved at a desk next is armed. */
  readonly listening: boolean;
  /** The surface whose controls are added as they are touched. */
  readonly adding: string | null;
  /** Who takes touches in the place of the choice: what waits for one. */
  readonly takesTouch: ((touch: Touch) => void) | null;
  /** Whether the computer's keys play surfaces outside of Run, in the place of the application's own plain keys. */
  readonly keysPlay: boolean;
  readonly learning: boolean;
  /** What Learn found last, and the controls it does not listen to because they will not stand still. */
  readonly learned: LearnedNow | null;
  readonly ignored: ReadonlySet<string>;
  /** Surfaces that Learn does not listen to. */
  readonly ignoredSources: ReadonlySet<string>;
  /** The Map shows all mappings as a table. */
  readonly tableOpen: boolean;
  /** What the rows of the table stand under. */
  readonly tableGroups: "surface" | "desk" | "holds" | "bundle" | "none";
  /** Beside each function stands what starts it. */
  readonly startsOpen: boolean;
  readonly trafficOpen: boolean;
  readonly paletteOpen: boolean;
  /** Layers, bundles, pages, groups, banks, variables, routes and checks. */
  readonly partsOpen: boolean;
  /** The keys, and what is said of the program itself. */
  readonly helpOpen: boolean;
  /** What is done with the show as a whole. */
  readonly showMenuOpen: boolean;
  /** Label sheets lie over the place. */
  readonly labelsOpen: boolean;
  /** Who is let in from elsewhere, and how. */
  readonly accessOpen: boolean;
  /** Desks whose password is known to the server. */
  readonly withPassword: readonly string[];
  /** Edits wait, and what runs is as it was; null = what is edited is what runs. */
  readonly onHold: OnHold | null;
  /** What becomes of edits on hold is asked. */
  readonly holdOpen: boolean;
  /** What this page may do, and whether it is on the computer that the program runs on. */
  readonly who: Snapshot["who"];
  /** The profile that is being edited. */
  readonly editing: { readonly side: "desk" | "surface"; readonly id: string } | null;
  /** The way to the first light was put away. */
  readonly firstLightAway: boolean;
  readonly midi: MidiAccessState;
  /** Devices that were plugged into this browser since the page was opened, as "number name". */
  readonly wasHere: ReadonlySet<string>;
  /** When each of this browser's devices was heard and sent to last; the same object as long as the page lives. */
  readonly deviceActivity: DeviceActivity;
  /** The MIDI devices of all open browsers, each once. */
  readonly browserDevices: readonly BrowserDevice[];
}

/** What the browser lets us have of its MIDI devices. */
export type MidiAccessState =
  | { readonly kind: "not-asked" }
  | { readonly kind: "asking" }
  | { readonly kind: "none"; readonly sentence: string }
  | { readonly kind: "open"; readonly devices: readonly MidiDevice[] };

export interface MidiDevice {
  readonly name: string;
  readonly nth: number;
  readonly input: boolean;
  readonly output: boolean;
}

/** This page waits for no touch, and the switch is at “play”. */
export const NO_TEACHING = {
  handsTeach: false,
  learning: false,
  listening: false,
  adding: null,
  armed: null,
} as const satisfies Partial<PageState>;

/** Another show is open. */
export const NOTHING_CHOSEN = {
  ...NO_TEACHING,
  chosen: null,
  many: null,
  series: null,
  strips: false,
  pasting: null,
  chosenMapping: null,
  learned: null,
  editing: null,
} as const satisfies Partial<PageState>;

export type PageStore = StoreApi<PageState>;

export function createPageStore(snapshot: Snapshot): PageStore {
  return createStore<PageState>(() => ({
    build: snapshot.build,
    live: fromSnapshot(snapshot),
    connection: "closed",
    lostAtMs: null,
    chosen: null,
    many: null,
    series: null,
    strips: false,
    pasting: null,
    copied: null,
    chosenMapping: null,
    followTouch: true,
    handsTeach: false,
    armed: null,
    listening: false,
    adding: null,
    takesTouch: null,
    keysPlay: false,
    learning: false,
    learned: null,
    ignored: new Set(),
    ignoredSources: new Set(),
    tableOpen: false,
    tableGroups: "surface",
    startsOpen: false,
    trafficOpen: false,
    paletteOpen: false,
    partsOpen: false,
    helpOpen: false,
    accessOpen: false,
    showMenuOpen: false,
    labelsOpen: false,
    withPassword: snapshot.withPassword,
    onHold: snapshot.onHold,
    holdOpen: false,
    who: snapshot.who,
    editing: null,
    firstLightAway: false,
    midi: { kind: "not-asked" },
    wasHere: new Set(),
    deviceActivity: new DeviceActivity(),
    browserDevices: [],
  }));
}

export const PageStoreContext = createContext<PageStore | null>(null);

export function usePageStore(): PageStore {
  const store = useContext(PageStoreContext);
  if (!store) throw new Error("The page store is missing above this component.");
  return store;
}

/** Selects from the store; the component renders when the selected value changes. */
export function usePage<T>(select: (state: PageState) => T): T {
  return useStore(usePageStore(), select);
}

/**
 * Selects from what is live. A change elsewhere on the page, such as a choice or an open dialog, asks nobody anything: the
 * live state is the same object then, and so is the answer.
 */
export function useLive<T>(select: (live: LiveState) => T): T {
  const last = useRef<{ live: LiveState; select: unknown; value: T } | null>(null);
  return useStore(usePageStore(), ({ live }) => {
    if (last.current?.live !== live || last.current.select !== select)
      last.current = { live, select, value: select(live) };
    return last.current.value;
  });
}

/** As `useLive`, for what is put together anew each time: the component renders when its content changes. */
export function useLiveEqual<T>(select: (live: LiveState) => T): T {
  const last = useRef<{ value: T } | null>(null);
  return useLive((live) => {
    const value = select(live);
    if (!last.current || !dequal(value, last.current.value)) last.current = { value };
    return last.current.value;
  });
}
