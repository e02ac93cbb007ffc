import { useRef } from "react";
import { usePage } from "../live/store.ts";
import { type Choice, choiceOf } from "./choice.ts";

/**
 * The choice, made anew only where something changed that it is made of: what is chosen, the show, or the context of
 * pages and layers, all of which are replaced when they change.
 */
export function useChoice(): Choice | null {
  const last = useRef<{ readonly of: readonly unknown[]; readonly choice: Choice | null } | null>(null);
  return usePage((state) => {
    const of = [state.chosen, state.chosenMapping, state.live.show, state.live.compiled, state.live.context];
    if (!last.current || last.current.of.some((part, i) => part !== of[i]))
      last.current = { of, choice: choiceOf(state) };
    return last.current.choice;
  });
}
