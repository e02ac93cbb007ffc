/** The keys of the application. None of them works while something is typed, or in a place that is locked. */
import { isTyping } from "../components/typing.ts";
import type { PageActions } from "../live/actions.ts";
import { allAlike, wholeSurface } from "../live/many.ts";
import type { PageStore } from "../live/store.ts";
import { choiceOf } from "../map/choice.ts";
import { duplicate } from "../map/copying.ts";
import { PLACE_LIST, PLACES, type Place } from "./places.ts";

export interface Page {
  readonly store: PageStore;
  readonly actions: PageActions;
  readonly place: Place;
  go(place: Place): void;
}

export interface KeyEntry {
  /** As `KeyboardEvent.key` says it, in small letters. */
  readonly key: string;
  /** With Ctrl, or with the command key. */
  readonly control?: true;
  readonly shift?: true;
  /** As it is written on a key; left out where that is the key itself. */
  readonly shown?: string;
  /** What it does, for the list of keys. */
  readonly does: string;
  /** Only where a control is chosen. */
  readonly chooses?: true;
  /** Also while the palette is open, which has most keys for itself. */
  readonly overPalette?: true;
  /** Also while something is typed. */
  readonly whileTyping?: true;
  /** It means something only as a key: the palette and the list of keys leave it to others to say. */
  readonly onlyKey?: true;
  /** False: it has nothing to do here, and the key is left to the page. */
  act(page: Page): unknown;
}

/** The mapping that the spine shows. */
const shown = ({ store }: Page) => choiceOf(store.getState())?.shown ?? null;

export const KEYS: readonly KeyEntry[] = [
  ...PLACE_LIST.map(
    ({ id, name, key }): KeyEntry => ({ key, does: `Go to ${name}`, onlyKey: true, act: ({ go }) => go(id) }),
  ),
  {
    key: "k",
    control: true,
    shown: "Ctrl K",
    does: "Find anything",
    overPalette: true,
    whileTyping: true,
    onlyKey: true,
    act: ({ store }) => store.setState((s) => ({ paletteOpen: !s.paletteOpen })),
  },
  {
    key: "z",
    control: true,
    shown: "Ctrl Z",
    does: "Undo",
    overPalette: true,
    onlyKey: true,
    act: ({ actions }) => void actions.undo(),
  },
  {
    key: "z",
    control: true,
    shift: true,
    shown: "Ctrl Shift Z",
    does: "Do again",
    overPalette: true,
    onlyKey: true,
    act: ({ actions }) => void actions.redo(),
  },
  {
    key: "`",
    does: "Open or close all traffic",
    act: ({ store }) => store.setState((s) => ({ trafficOpen: !s.trafficOpen })),
  },
  {
    key: "g",
    does: "Layers, bundles, pages, groups, banks, variables, routes and checks",
    act: ({ store }) => store.setState({ partsOpen: true }),
  },
  {
    key: "e",
    does: "Hold edits, or put in those on hold",
    act: ({ store, actions }) => {
      const { onHold, who } = store.getState();
      if (onHold) store.setState({ holdOpen: true });
      else if (who.role === "edit") void actions.hold("hold");
    },
  },
  { key: "?", does: "The keys of this place", act: ({ store }) => store.setState({ helpOpen: true }) },
  {
    key: "l",
    chooses: true,
    does: "Learn a control",
    act: ({ store }) => store.setState({ learning: true }),
  },
  {
    key: "t",
    chooses: true,
    does: "All mappings as a table, or back",
    act: ({ store }) =>
      store.setState((s) => ({ tableOpen: !s.tableOpen, series: null, strips: false, pasting: null })),
  },
  {
    key: "f",
    does: "What starts each function",
    chooses: true,
    act: ({ store }) =>
      store.setState((s) => ({ startsOpen: !s.startsOpen, series: null, strips: false, pasting: null })),
  },
  {
    key: "h",
    does: "Hands teach, or play",
    act: ({ store, actions }) => actions.teach(!store.getState().live.teaches),
  },
  {
    key: "a",
    control: true,
    shown: "Ctrl A",
    chooses: true,
    does: "Choose all controls that are alike",
    act: ({ store }) => {
      const many = allAlike(store.getState());
      if (!many) return false;
      store.setState({ many });
      return true;
    },
  },
  {
    key: "a",
    control: true,
    shift: true,
    shown: "Ctrl Shift A",
    chooses: true,
    does: "Choose all controls of the surface",
    act: ({ store }) => {
      const many = wholeSurface(store.getState());
      if (!many) return false;
      store.setState({ many });
      return true;
    },
  },
  // The browser's own keys; what they do in the Map is in map/copying.ts.
  {
    key: "c",
    control: true,
    shown: "Ctrl C",
    chooses: true,
    does: "Copy what the chosen controls do",
    onlyKey: true,
    act: () => false,
  },
  {
    key: "x",
    control: true,
    shown: "Ctrl X",
    chooses: true,
    does: "Cut it, to put it in elsewhere",
    onlyKey: true,
    act: () => false,
  },
  {
    key: "v",
    control: true,
    shown: "Ctrl V",
    chooses: true,
    does: "Put in what was copied",
    onlyKey: true,
    act: () => false,
  },
  {
    key: "d",
    control: true,
    shown: "Ctrl D",
    chooses: true,
    does: "Duplicate to the next free controls",
    act: ({ store }) => duplicate(store),
  },
  {
    key: "/",
    chooses: true,
    does: "Look for a function",
    act: () => document.getElementById("function-search")?.focus(),
  },
  {
    key: "o",
    chooses: true,
    does: "Switch the mapping off, or on again",
    act: (page) => {
      const mapping = shown(page);
      if (!mapping) return false;
      void page.actions.edit({ kind: "change-mapping", id: mapping.id, set: { on: !mapping.on } });
      return true;
    },
  },
  {
    key: "z",
    chooses: true,
    does: "Let the control sleep, or wake it",
    act: ({ store, actions }) => {
      const { chosen, live } = store.getState();
      if (!chosen?.control) return false;
      const on = !live.show.surfaces.find((s) => s.id === chosen.surface)?.asleep?.includes(chosen.control);
      void actions.edit({ kind: "set-asleep", id: chosen.surface, control: chosen.control, on });
      return true;
    },
  },
  {
    key: "delete",
    shown: "Delete",
    chooses: true,
    does: "Remove the mapping",
    act: (page) => {
      const mapping = shown(page);
      if (!mapping) return false;
      void page.actions.edit({ kind: "remove-mapping", id: mapping.id });
      return true;
    },
  },
  {
    key: "escape",
    shown: "Esc",
    onlyKey: true,
    does: "Close traffic, or end what waits for a touch",
    act: ({ store, place }) => {
      const { trafficOpen, learning, listening, armed, adding, many, pasting } = store.getState();
      if (trafficOpen) store.setState({ trafficOpen: false });
      else if (pasting) store.setState({ pasting: null });
      else if (armed?.asking) store.setState({ armed: { ...armed, asking: null } });
      else if (armed) store.setState({ armed: null });
      else if (listening) store.setState({ listening: false });
      else if (adding !== null) store.setState({ adding: null });
      else if (many) store.setState({ many: null, series: null, strips: false });
      else if (learning && PLACES[place].chooses) store.setState({ learning: false });
      else return false;
      return true;
    },
  },
];

export function handleKey(e: KeyboardEvent, page: Page): void {
  const { locked, chooses } = PLACES[page.place];
  if (locked) return;
  if (e.altKey) {
    // By where it lies: with Alt many keyboards write something else with it.
    if (e.code !== "KeyS") return;
    page.store.setState((s) => ({ showMenuOpen: !s.showMenuOpen }));
    e.preventDefault();
    return;
  }
  const control = e.ctrlKey || e.metaKey;
  const open = page.store.getState().paletteOpen;
  const found = KEYS.find(
    (k) =>
      k.key === e.key.toLowerCase() &&
      control === (k.control ?? false) &&
      // A sign may need Shift on one keyboard and not on another; a letter or a key with Ctrl says whether it does.
      (!control || e.shiftKey === (k.shift ?? false)) &&
      (chooses || !k.chooses),
  );
  if (!found || (open && !found.overPalette) || (!found.whileTyping && isTyping(e.target))) return;
  if (found.act(page) !== false) e.preventDefault();
}
