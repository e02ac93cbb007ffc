import { X } from "lucide-react";
import type { ReactNode } from "react";

interface Props {
  label: string;
  /** What helps to fill it in, below it. */
  hint?: string | undefined;
  /** Where it may be left out. */
  onRemove?: () => void;
  children: ReactNode;
}

/** A word and its fields, on the two columns of the grid it stands in. In a dialog the fields take the whole width. */
export function Field({ label, hint, onRemove, children }: Props) {
  return (
    <div className="col-span-full grid grid-cols-subgrid items-center gap-y-1">
      <span className="whitespace-nowrap in-[form]:text-ink-300">{label}</span>
      <span className="flex flex-wrap items-center gap-1.5 in-[form]:*:min-w-0 in-[form]:*:grow">
        {children}
        {onRemove ? <ClearButton label={`Leave out ${label}`} onClick={onRemove} /> : null}
      </span>
      {hint ? <small className="col-start-2 text-[11.5px] text-ink-500">{hint}</small> : null}
    </div>
  );
}

export function ClearButton({ label, onClick }: { label: string; onClick(): void }) {
  return (
    <button
      type="button"
      aria-label={label}
      onClick={onClick}
      className="rounded p-0.5 hover:bg-velvet-700 hover:text-ink-100"
    >
      <X size={12} aria-hidden />
    </button>
  );
}
