import { X } from "lucide-react";
import type { ReactNode } from "react";

/** A word and its fields, in a grid of two columns; with a way to leave it out where that makes sense. */
export function FieldRow({ label, onRemove, children }: { label: string; onRemove?: () => void; children: ReactNode }) {
  return (
    <>
      <span className="whitespace-nowrap">{label}</span>
      <span className="flex flex-wrap items-center gap-1.5">
        {children}
        {onRemove ? <ClearButton label={`Leave out ${label}`} onClick={onRemove} /> : null}
      </span>
    </>
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
