/** Has hands teach while this page waits for a touch, or somebody has thrown the switch. */
import type { LiveSocket } from "../live/socket.ts";
import type { PageState, PageStore } from "../live/store.ts";

/** Whether this page wants hands to teach, and may have them do so. */
export function wantsTeaching({ who, handsTeach, learning, listening, adding, armed }: PageState): boolean {
  return who.role === "edit" && (handsTeach || learning || listening || adding !== null || armed !== null);
}

export interface KeptTeaching {
  /** The connection is there again, and whoever is at its other end knows nothing of this page. */
  opened(): void;
  stop(): void;
}

export function keepTeaching(store: PageStore, send: LiveSocket["send"]): KeptTeaching {
  const tell = () => send({ kind: "teach", on: wantsTeaching(store.getState()) });
  const stop = store.subscribe((state, before) => {
    if (wantsTeaching(state) !== wantsTeaching(before)) tell();
  });
  return {
    opened: () => {
      if (wantsTeaching(store.getState())) tell();
    },
    stop,
  };
}
