import { Keyboard } from "lucide-react";
import { usePage, usePageStore } from "../live/store.ts";
import { useHasKeys } from "../live/what-is-up.ts";

/** Whether the computer's keys play here too, or do what they do in the application. */
export function KeysPlay() {
  const store = usePageStore();
  const on = usePage((s) => s.keysPlay);
  if (!useHasKeys()) return null;
  return (
    <button
      type="button"
      aria-pressed={on}
      title={
        on
          ? "The computer’s keys play surfaces. The application’s own plain keys rest meanwhile."
          : "The computer’s keys play in Run. Let them play here too."
      }
      onClick={() => store.setState({ keysPlay: !on })}
      className="inline-flex h-[26px] items-center gap-1.5 rounded-full bg-velvet-800 px-2.5 text-small text-ink-300 hover:bg-velvet-700 aria-pressed:bg-brass-400 aria-pressed:text-brass-ink"
    >
      <Keyboard size={14} aria-hidden />
      Keys <b className="font-semibold">{on ? "play" : "rest"}</b>
    </button>
  );
}
