import { usePage } from "../live/store.ts";

type Shape = "tick" | "broken-ring" | "struck-ring" | "dot";

const PATHS: Record<Shape, React.ReactNode> = {
  tick: <path d="M2 6.5 5 9.5 10 3" fill="none" stroke="currentColor" strokeWidth="2" />,
  "broken-ring": (
    <circle cx="6" cy="6" r="4.5" fill="none" stroke="currentColor" strokeWidth="1.8" strokeDasharray="3 2" />
  ),
  "struck-ring": (
    <>
      <circle cx="6" cy="6" r="4.5" fill="none" stroke="currentColor" strokeWidth="1.8" />
      <path d="M3 9 9 3" stroke="currentColor" strokeWidth="1.8" />
    </>
  ),
  dot: <circle cx="6" cy="6" r="3" fill="currentColor" />,
};

const COLOURS = { good: "text-good", care: "text-care", alert: "text-alert", quiet: "text-ink-500" } as const;

/** A state as word, shape and colour. While the server is not heard, nobody can say that anything is well. */
export function StateMark({
  shape,
  tone,
  children,
}: {
  shape: Shape;
  tone: keyof typeof COLOURS;
  children: React.ReactNode;
}) {
  const isLost = usePage((s) => s.lostAtMs !== null);
  if (isLost && tone === "good") return <NotKnown />;
  return (
    <span className={`inline-flex items-center gap-1.5 whitespace-nowrap text-small ${COLOURS[tone]}`}>
      <svg viewBox="0 0 12 12" className="h-3 w-3 shrink-0" aria-hidden="true">
        {PATHS[shape]}
      </svg>
      {children}
    </span>
  );
}

/** In the place of a state while the server is not heard. */
export function NotKnown() {
  return (
    <StateMark shape="broken-ring" tone="quiet">
      not known
    </StateMark>
  );
}

export function seconds(ms: number): string {
  const s = Math.max(0, Math.floor(ms / 1000));
  return s < 120 ? `${s} s` : `${Math.floor(s / 60)} min`;
}
