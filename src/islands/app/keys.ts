/** The keys of the application. None of them works while something is typed. */
import type { PageActions } from "../live/actions.ts";
import type { PageStore } from "../live/store.ts";
import { choiceOf } from "../map/choice.ts";
import { PLACE_LIST, PLACES, type Place } from "./places.ts";

export function handleKey(
  e: KeyboardEvent,
  store: PageStore,
  actions: PageActions,
  place: Place,
  go: (place: Place) => void,
): void {
  const control = e.ctrlKey || e.metaKey;
  if (control && e.key.toLowerCase() === "k" && !PLACES[place].locked) {
    e.preventDefault();
    store.setState((s) => ({ paletteOpen: !s.paletteOpen }));
    return;
  }
  if (isTyping(e.target) || PLACES[place].locked) return;
  if (control && e.key.toLowerCase() === "z") {
    e.preventDefault();
    void (e.shiftKey ? actions.redo() : actions.undo());
    return;
  }
  if (control || e.altKey || store.getState().paletteOpen) return;
  const done = plainKey(e.key, store, actions, place, go);
  if (done) e.preventDefault();
}

function plainKey(key: string, store: PageStore, actions: PageActions, place: Place, go: (p: Place) => void): boolean {
  const to = PLACE_LIST.find((p) => p.key === key);
  if (to) {
    go(to.id);
    return true;
  }
  if (key === "`") {
    const open = !store.getState().trafficOpen;
    store.setState({ trafficOpen: open });
    return true;
  }
  if (key === "g" || key === "G") {
    store.setState({ partsOpen: true });
    return true;
  }
  if (key === "Escape" && store.getState().trafficOpen) {
    store.setState({ trafficOpen: false });
    return true;
  }
  if (!PLACES[place].chooses) return false;
  const shown = choiceOf(store.getState())?.shown;
  switch (key) {
    case "l":
    case "L":
      store.setState({ learning: true });
      return true;
    case "Escape":
      if (!store.getState().learning) return false;
      store.setState({ learning: false });
      return true;
    case "/":
      document.getElementById("function-search")?.focus();
      return true;
    case "Delete":
      if (!shown) return false;
      void actions.edit({ kind: "remove-mapping", id: shown.id });
      return true;
    case "o":
    case "O":
      if (!shown) return false;
      void actions.edit({ kind: "change-mapping", id: shown.id, set: { on: !shown.on } });
      return true;
    default:
      return false;
  }
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
