import { clsx } from "clsx";
import { type ComponentProps, useState } from "react";
import { FIELD } from "./controls.tsx";

interface Props extends Omit<ComponentProps<"input">, "value" | "onChange" | "onBlur" | "onKeyDown"> {
  label: string;
  value: string;
  /** What was typed, trimmed; not called for what is no change, or where `accepts` says no. */
  onCommit(text: string): void;
  accepts?: (text: string) => boolean;
}

/** A text that is taken over when the field is left or Enter is pressed; Escape takes the old one back. */
export function DraftField({ label, value, onCommit, accepts = () => true, className, ...props }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    const text = draft?.trim();
    setDraft(null);
    if (text !== undefined && text !== value && accepts(text)) onCommit(text);
  };
  return (
    <input
      aria-label={label}
      aria-invalid={draft !== null && !accepts(draft.trim())}
      className={clsx(FIELD, "!h-[24px] aria-invalid:border-alert", className)}
      value={draft ?? value}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        if (e.key === "Enter") e.currentTarget.blur();
        if (e.key === "Escape") {
          e.stopPropagation();
          setDraft(null);
        }
      }}
      {...props}
    />
  );
}
