import { useState } from "react";
import { FIELD } from "./controls.tsx";

interface Props {
  label: string;
  value: number;
  min: number;
  max: number;
  onCommit(value: number): void;
}

/** A number that is taken over when the field is left or Enter is pressed; Escape takes the old one back. */
export function NumberField({ label, value, min, max, onCommit }: Props) {
  const shown = String(Math.round(value * 100) / 100);
  const [draft, setDraft] = useState<string | null>(null);
  const commit = () => {
    const number = Number((draft ?? "").replace(",", "."));
    setDraft(null);
    if (draft === null || draft.trim() === "" || !Number.isFinite(number)) return;
    const clamped = Math.min(max, Math.max(min, number));
    if (clamped !== value) onCommit(clamped);
  };
  return (
    <input
      aria-label={label}
      inputMode="decimal"
      className={`${FIELD} !h-[24px] w-[52px] !px-1.5 text-right font-mono`}
      value={draft ?? shown}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        if (e.key === "Enter") e.currentTarget.blur();
        if (e.key === "Escape") {
          e.stopPropagation();
          setDraft(null);
        }
      }}
    />
  );
}
