/** The keys of the application. None of them works while something is typed, or in a place that is locked. */
import type { PageActions } from "../live/actions.ts";
import type { PageStore } from "../live/store.ts";
import { choiceOf } from "../map/choice.ts";
import { PLACE_LIST, PLACES, type Place } from "./places.ts";

interface Page {
  readonly store: PageStore;
  readonly actions: PageActions;
  readonly place: Place;
  go(place: Place): void;
}

interface KeyEntry {
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
  /** False: it has nothing to do here, and the key is left to the page. */
  act(page: Page): unknown;
}

/** The mapping that the spine shows. */
const shown = ({ store }: Page) => choiceOf(store.getState())?.shown ?? null;

export const KEYS: readonly KeyEntry[] = [
  ...PLACE_LIST.map(({ id, name, key }): KeyEntry => ({ key, does: `Go to ${name}`, act: ({ go }) => go(id) })),
  {
    key: "k",
    control: true,
    shown: "Ctrl K",
    does: "Find anything",
    overPalette: true,
    whileTyping: true,
    act: ({ store }) => store.setState((s) => ({ paletteOpen: !s.paletteOpen })),
  },
  {
    key: "z",
    control: true,
    shown: "Ctrl Z",
    does: "Undo",
    overPalette: true,
    act: ({ actions }) => void actions.undo(),
  },
  {
    key: "z",
    control: true,
    shift: true,
    shown: "Ctrl Shift Z",
    does: "Do again",
    overPalette: true,
    act: ({ actions }) => void actions.redo(),
  },
  {
    key: "`",
    does: "Open or close all traffic",
    act: ({ store }) => store.setState((s) => ({ trafficOpen: !s.trafficOpen })),
  },
  {
    key: "g",
    does: "Layers, groups, banks, variables, routes and checks",
    act: ({ store }) => store.setState({ partsOpen: true }),
  },
  { key: "?", does: "This list", act: ({ store }) => store.setState({ helpOpen: true }) },
  {
    key: "l",
    chooses: true,
    does: "Learn a control",
    act: ({ store }) => store.setState({ learning: true }),
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
    does: "Close traffic, or leave Learn",
    act: ({ store, place }) => {
      const { trafficOpen, learning } = store.getState();
      if (trafficOpen) store.setState({ trafficOpen: false });
      else if (learning && PLACES[place].chooses) store.setState({ learning: false });
      else return false;
      return true;
    },
  },
];

export function handleKey(e: KeyboardEvent, page: Page): void {
  const { locked, chooses } = PLACES[page.place];
  if (locked || e.altKey) return;
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

export function isTyping(target: EventTarget | null): boolean {
  return (
    target instanceof HTMLElement &&
    (target.isContentEditable ||
      target instanceof HTMLTextAreaElement ||
      (target instanceof HTMLInputElement && !["checkbox", "color", "range"].includes(target.type)) ||
      target.closest('[role="dialog"],[role="listbox"]:not(#functions, #traffic-rows)') !== null)
  );
}
