/** The column between hands and desks: quiet rows in groups, each with who uses it and whether anything passes. */
import type { LucideIcon } from "lucide-react";
import type { ReactNode } from "react";
import { Activity } from "../components/Activity.tsx";

interface GroupProps {
  icon: LucideIcon;
  title: string;
  /** What it is, in a few quiet words. */
  about: string;
  action?: ReactNode;
  children: ReactNode;
}

export function HingeGroup({ icon: Icon, title, about, action, children }: GroupProps) {
  return (
    <section className="grid grid-cols-[minmax(0,1fr)]" aria-label={title}>
      <div className="flex h-8 items-center gap-2 border-b border-velvet-700 px-1 text-small">
        <Icon size={14} aria-hidden className="text-ink-500" />
        <h2 className="font-semibold whitespace-nowrap text-ink-300">{title}</h2>
        <span className="min-w-0 flex-1 overflow-hidden text-ellipsis whitespace-nowrap text-ink-500">{about}</span>
        {action}
      </div>
      <div className="grid grid-cols-[minmax(0,1fr)] py-1">{children}</div>
    </section>
  );
}

export function HingeAction({ onClick, children }: { onClick(): void; children: ReactNode }) {
  return (
    <button
      type="button"
      onClick={onClick}
      className="h-[26px] shrink-0 rounded-md px-1.5 text-small whitespace-nowrap text-ink-300 hover:bg-velvet-800 hover:text-ink-100"
    >
      {children}
    </button>
  );
}

interface RowProps {
  name: string;
  /** Who uses it. */
  used: string;
  /** Nobody does, and it is heard. */
  isOffered?: boolean;
  title?: string;
  /** How many came and went; left out where that is not known. */
  count?: { in(): number; out(): number };
  /** Something to be said of it, below. */
  note?: ReactNode;
  actions?: ReactNode;
}

export function HingeRow({ name, used, isOffered = false, title, count, note, actions, ...data }: RowProps) {
  return (
    <div
      className={`rounded-md border-l-2 px-1.5 text-small ${isOffered ? "border-brass-400 bg-armed" : "border-transparent hover:bg-velvet-850"}`}
      title={title}
      {...data}
    >
      <div className="flex min-h-[28px] items-center gap-2">
        <span className="min-w-0 flex-1 overflow-hidden text-ellipsis whitespace-nowrap text-ink-100">{name}</span>
        <span
          className={`max-w-[46%] overflow-hidden text-tiny text-ellipsis whitespace-nowrap ${isOffered ? "text-brass-300" : "text-ink-500"}`}
        >
          {used}
        </span>
        {actions}
        {count ? (
          <>
            <Activity count={count.in} way="in" label="in" />
            <Activity count={count.out} way="out" label="out" />
          </>
        ) : null}
      </div>
      {note ? <div className="pb-1.5 text-tiny text-ink-500">{note}</div> : null}
    </div>
  );
}

/** In the place of rows. */
export function HingeNothing({ children }: { children: ReactNode }) {
  return <p className="px-1.5 py-1 text-small text-ink-500">{children}</p>;
}
