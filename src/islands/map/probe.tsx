/** What the probes have in common: something is sent to a unit, and what was seen is asked. */
import { type ReactNode, useLayoutEffect } from "react";
import type { Control, SurfaceProfile } from "../../core/format/surface-profile.ts";
import { Key } from "../components/controls.tsx";
import { isTyping } from "../components/typing.ts";

export interface ProbeProps {
  surface: string;
  profile: SurfaceProfile;
  control: Control;
  /** False: it cannot be sent to, and there is nothing to ask. */
  hasOutput: boolean;
}

/** Answers by a letter, while nothing is typed. */
export function useAnswerKeys(keys: Readonly<Record<string, () => void>>): void {
  useLayoutEffect(() => {
    const onKey = (e: KeyboardEvent) => {
      const act = keys[e.key.toLowerCase()];
      if (!act || e.ctrlKey || e.metaKey || e.altKey || isTyping(e.target)) return;
      e.preventDefault();
      act();
    };
    window.addEventListener("keydown", onKey);
    return () => window.removeEventListener("keydown", onKey);
  });
}

interface AnswerProps {
  onClick(): void;
  icon: ReactNode;
  words: string;
  letter: string;
}

export function Answer({ onClick, icon, words, letter }: AnswerProps) {
  return (
    <button
      type="button"
      onClick={onClick}
      className="flex h-9 items-center justify-center gap-2 rounded-lg border border-cool-dim bg-follow font-medium hover:bg-velvet-700"
    >
      {icon} {words} <Key>{letter}</Key>
    </button>
  );
}
