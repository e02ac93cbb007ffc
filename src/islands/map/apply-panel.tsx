/** What panels share that show every line of what they would do: their keys, and what becomes of what is taken. */
import { TriangleAlert } from "lucide-react";
import { type RefObject, useLayoutEffect, useRef, useState } from "react";
import { type Option, Select } from "../components/Select.tsx";
import { isTyping } from "../components/typing.ts";

/** Enter applies and Escape leaves all as it was. Returns what the panel, which can be focused, is put into. */
export function useApplyPanel(apply: () => void, leave: () => void): RefObject<HTMLElement | null> {
  const panel = useRef<HTMLElement>(null);
  useLayoutEffect(() => {
    // The keys are for the panel, from the moment it is seen, and not for the pad that was chosen last; they go back to it.
    const before = document.activeElement;
    panel.current?.focus();
    return () => {
      if (before instanceof HTMLElement && before.isConnected) before.focus();
    };
  }, []);
  useLayoutEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const isButton = (e.target as Element).closest("button") !== null;
      if (e.key === "Enter" && !isTyping(e.target) && !isButton) apply();
      else if (e.key === "Escape" && !isTyping(e.target)) leave();
      else return;
      e.preventDefault();
      e.stopPropagation();
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  });
  return panel;
}

/** One at a time: a second Enter does nothing until the server has answered the first. */
export function useApplying(): { isApplying: boolean; run(work: () => Promise<void>): Promise<void> } {
  const [isApplying, setApplying] = useState(false);
  const running = useRef(false);
  const run = async (work: () => Promise<void>) => {
    if (running.current) return;
    running.current = true;
    setApplying(true);
    try {
      await work();
    } finally {
      running.current = false;
      setApplying(false);
    }
  };
  return { isApplying, run };
}

/** The value as it was when it began to be held: with what was just made, every line would be told to be taken. */
export function useHeld<T>(value: T, isHeld: boolean): T {
  const before = useRef(value);
  if (!isHeld) before.current = value;
  return before.current;
}

interface AnswerProps<T extends string> {
  /** The controls that do something already. */
  taken: readonly string[];
  answers: Readonly<Record<string, T>>;
  /** What becomes of those that nothing was said of. */
  usual: T;
  options: readonly Option<T>[];
  onChange(answers: Readonly<Record<string, T>>): void;
}

/** One answer for all that are taken, from two on; none is shown where they differ. */
export function AnswerForAll<T extends string>({ taken, answers, usual, options, onChange }: AnswerProps<T>) {
  if (taken.length < 2) return null;
  const all = new Set(taken.map((id) => answers[id] ?? usual));
  return (
    <Select
      label="For all that are taken"
      value={all.size === 1 ? [...all][0]! : ""}
      placeholder="each its own"
      options={options}
      onChange={(a) => onChange(Object.fromEntries(taken.map((id) => [id, a])) as Record<string, T>)}
    />
  );
}

export function Taken() {
  return (
    <span className="inline-flex items-center gap-1 text-care">
      <TriangleAlert size={12} aria-hidden /> taken
    </span>
  );
}
