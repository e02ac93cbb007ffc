import { usePage } from "../live/store.ts";

/** Over everything while the server is not heard: what is seen below it is old, and hands go nowhere. */
export function LostBanner() {
  const sinceMs = usePage((s) => s.lostAtMs);
  if (sinceMs === null) return null;
  const time = new Date(sinceMs).toLocaleTimeString([], { hour12: false });
  return (
    <div
      role="alert"
      className="fixed inset-x-0 top-0 z-[60] flex h-[52px] items-center justify-center gap-3 border-b-2 border-alert bg-alert-ground text-lead font-semibold text-ink-100 shadow-2xl"
    >
      <svg viewBox="0 0 12 12" className="h-4 w-4 shrink-0 text-alert" aria-hidden="true">
        <circle cx="6" cy="6" r="4.5" fill="none" stroke="currentColor" strokeWidth="1.8" />
        <path d="M3 9 9 3" stroke="currentColor" strokeWidth="1.8" />
      </svg>
      <span>
        No connection since {time}: presses here go nowhere.{" "}
        <span className="font-normal text-ink-300">What you see is how it was then. It comes back by itself.</span>
      </span>
    </div>
  );
}
