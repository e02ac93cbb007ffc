import { Ear } from "lucide-react";
import { useEffect } from "react";
import { Key } from "../components/controls.tsx";
import { usePageStore } from "../live/store.ts";
import { movedAtDesk } from "./moved-at-desk.ts";

/** Waits for something to be moved at a desk, which is armed then: the next touch is given it. */
export function DeskListen() {
  const store = usePageStore();
  useEffect(
    () =>
      store.subscribe((state, before) => {
        if (!state.listening || state.live === before.live) return;
        const armed = movedAtDesk(before.live, state.live);
        if (armed) store.setState({ armed, listening: false, learning: false, adding: null });
      }),
    [store],
  );
  return (
    <p
      className="flex items-center gap-2.5 rounded-lg border border-cool-dim bg-cool-ground px-3 py-2.5 text-small"
      role="status"
    >
      <Ear size={16} aria-hidden className="shrink-0 text-cool" />
      <span className="min-w-0 flex-1">Move something at a desk, then touch what should do it here.</span>
      <button
        type="button"
        className="text-ink-500 hover:text-ink-100"
        onClick={() => store.setState({ listening: false })}
      >
        <Key>Esc</Key>
      </button>
    </p>
  );
}
