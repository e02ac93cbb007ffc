import { clsx } from "clsx";
import { type ComponentProps, useEffect, useRef, useState } from "react";
import { FIELD } from "./controls.tsx";

interface Props extends Omit<ComponentProps<"input">, "value" | "onChange" | "onBlur" | "onKeyDown"> {
  label: string;
  value: string;
  /** What was typed, trimmed; not called for what is no change, or where `accepts` says no. */
  onCommit(text: string): void;
  accepts?: (text: string) => boolean;
  /** What arrows and the wheel make of it: a text that is so many steps higher. */
  steps?: (text: string, by: number) => string;
}

/** So long after the last step a stepped value is taken over, in ms: a turn of the wheel is one edit. */
const STEPS_MS = 350;

/** A text that is taken over when the field is left or Enter is pressed; Escape takes the old one back. */
export function DraftField({ label, value, onCommit, accepts = () => true, steps, className, ...props }: Props) {
  const [draft, setDraft] = useState<string | null>(null);
  const field = useRef<HTMLInputElement>(null);
  const [stepped, setStepped] = useState(0);
  const commit = () => {
    const text = draft?.trim();
    setDraft(null);
    if (text !== undefined && text !== value && accepts(text)) onCommit(text);
  };
  const step = useRef((_by: number) => {});
  step.current = (by) => {
    if (!steps) return;
    const next = steps(draft ?? value, by);
    if (!accepts(next)) return;
    setDraft(next);
    setStepped((n) => n + 1);
  };
  const taken = useRef(commit);
  taken.current = commit;
  useEffect(() => {
    if (stepped === 0) return;
    const timer = setTimeout(() => taken.current(), STEPS_MS);
    return () => clearTimeout(timer);
  }, [stepped]);
  const takesSteps = steps !== undefined;
  useEffect(() => {
    const input = field.current;
    if (!input || !takesSteps) return;
    // Only the field that has the focus, or a page that is scrolled would change numbers on its way.
    const wheel = (e: WheelEvent) => {
      if (document.activeElement !== input || e.deltaY + e.deltaX === 0) return;
      e.preventDefault();
      step.current((e.deltaY + e.deltaX < 0 ? 1 : -1) * (e.shiftKey ? 10 : 1));
    };
    input.addEventListener("wheel", wheel, { passive: false });
    return () => input.removeEventListener("wheel", wheel);
  }, [takesSteps]);
  return (
    <input
      ref={field}
      aria-label={label}
      aria-invalid={draft !== null && !accepts(draft.trim())}
      className={clsx(FIELD, "!h-[24px] aria-invalid:border-alert", className)}
      value={draft ?? value}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        const by = { ArrowUp: 1, ArrowDown: -1 }[e.key];
        if (by && steps) {
          e.preventDefault();
          e.stopPropagation();
          step.current(by * (e.shiftKey ? 10 : 1));
        }
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
