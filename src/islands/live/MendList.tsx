/** What ends the reason that stands beside a message, a button each; nothing for who may not edit. */
import type { TrafficEntry } from "../../core/trace/traffic-entry.ts";
import { useActions } from "./actions.ts";
import type { LiveState } from "./apply-changes.ts";
import { mendsOf } from "./mends.ts";
import { useLive, usePage, usePageStore } from "./store.ts";

/** `rowOf` is asked anew at each change, and when a button is pressed. */
export function MendList({ rowOf }: { rowOf(live: LiveState): TrafficEntry | null }) {
  const store = usePageStore();
  const actions = useActions();
  const mayEdit = usePage((s) => s.who.role === "edit");
  const words = useLive((live) => {
    const row = mayEdit ? rowOf(live) : null;
    return row
      ? mendsOf(live, row)
          .map((m) => m.words)
          .join("\n")
      : "";
  });
  if (words === "") return null;
  return words.split("\n").map((text) => (
    <button
      key={text}
      type="button"
      className="h-[26px] shrink-0 rounded-lg border border-velvet-700 bg-velvet-800 px-2.5 text-small font-medium text-ink-100 hover:bg-velvet-700"
      onClick={() => {
        const { live } = store.getState();
        const row = rowOf(live);
        const mend = row && mendsOf(live, row).find((m) => m.words === text);
        mend?.act(store, actions);
      }}
    >
      {text}
    </button>
  ));
}
