/** The names that rows of a show are told with, as a page and its worker have them. */
import type { Show } from "../../src/core/format/show.ts";
import type { LiveChanges } from "../../src/core/live/protocol.ts";
import { fromSnapshot, type LiveState } from "../../src/islands/live/apply-changes.ts";
import { plainNames } from "../../src/islands/live/row-names.ts";
import { fromPlain, type RowNames } from "../../src/words/traffic.ts";
import { library } from "./shows.ts";

export function liveStateOf(show: Show, live: Partial<LiveChanges> = {}): LiveState {
  return fromSnapshot({
    build: "of this test",
    who: { role: "edit", isHere: true },
    withPassword: [],
    onHold: null,
    kind: "snapshot",
    show,
    history: { show: 1, turn: 0, revision: 0, savedAtMs: 0, undo: null, redo: null },
    surfaceProfiles: library.surfaces,
    deskProfiles: library.desks,
    live: { atMs: 0, ...live },
  });
}

export function rowNamesOf(show: Show): RowNames {
  return fromPlain(plainNames(liveStateOf(show)));
}
