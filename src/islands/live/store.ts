/** The one live store of the page. Views select from it; nothing else holds a copy of the show or of the desk. */
import { createContext, useContext } from "react";
import { createStore, type StoreApi, useStore } from "zustand";
import type { BrowserDevice, Snapshot } from "../../core/live/protocol.ts";
import { fromSnapshot, type LiveState } from "./apply-changes.ts";
import type { LearnedNow } from "./learned.ts";

export type Connection = "open" | "closed";

export interface PageState {
  /** The build of the server that this page came from. */
  readonly build: string;
  readonly live: LiveState;
  readonly connection: Connection;
  /** Surface and control that the Map works on. */
  readonly chosen: { readonly surface: string; readonly control: string } | null;
  /** Which of the chosen control's mappings the spine shows; null = the one that holds now. */
  readonly chosenMapping: string | null;
  readonly followTouch: boolean;
  readonly touchPlays: boolean;
  /** Whether the computer's keys play surfaces outside of Run, in the place of the application's own plain keys. */
  readonly keysPlay: boolean;
  readonly learning: boolean;
  /** What Learn found last, and the controls it does not listen to because they will not stand still. */
  readonly learned: LearnedNow | null;
  readonly ignored: ReadonlySet<string>;
  /** Surfaces that Learn does not listen to. */
  readonly ignoredSources: ReadonlySet<string>;
  readonly trafficOpen: boolean;
  readonly paletteOpen: boolean;
  /** Layers, groups, banks, variables, routes and checks. */
  readonly partsOpen: boolean;
  /** The keys, and what is said of the program itself. */
  readonly helpOpen: boolean;
  /** The profile that is being edited. */
  readonly editing: { readonly side: "desk" | "surface"; readonly id: string } | null;
  readonly midi: MidiAccessState;
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
  /** When something came in or went out last, by the page's clock; 0 = never. */
  readonly heardAtMs: number;
  readonly sentAtMs: number;
}

export type PageStore = StoreApi<PageState>;

export function createPageStore(snapshot: Snapshot): PageStore {
  return createStore<PageState>(() => ({
    build: snapshot.build,
    live: fromSnapshot(snapshot),
    connection: "closed",
    chosen: null,
    chosenMapping: null,
    followTouch: true,
    touchPlays: true,
    keysPlay: false,
    learning: false,
    learned: null,
    ignored: new Set(),
    ignoredSources: new Set(),
    trafficOpen: false,
    paletteOpen: false,
    partsOpen: false,
    helpOpen: false,
    editing: null,
    midi: { kind: "not-asked" },
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

export function useLive<T>(select: (live: LiveState) => T): T {
  return useStore(usePageStore(), (state) => select(state.live));
}
