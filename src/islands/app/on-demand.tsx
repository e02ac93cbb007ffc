import { type ComponentType, useEffect, useState } from "react";
import { toast } from "sonner";

export const NOT_FETCHED = {
  title: "It could not be opened",
  description: "The server does not answer. Try again when the line at the top says that all is saved.",
};

interface Wanted {
  readonly wanted: boolean;
  /** Takes the wish back: it could not be fetched. */
  refuse(): void;
}

/**
 * A part of the page whose code is fetched when it is wanted first, and which stays from then on, so that it can close
 * as it likes. Where the code cannot be fetched, the page says so and goes on, and the next time it is tried again.
 */
export function onDemand<P extends object>(load: () => Promise<ComponentType<P>>): ComponentType<Wanted & { with: P }> {
  let fetched: ComponentType<P> | null = null;
  return function OnDemand({ wanted, refuse, with: props }) {
    const [View, setView] = useState<ComponentType<P> | null>(() => fetched);
    useEffect(() => {
      if (!wanted || View) return;
      let isHere = true;
      load().then(
        (view) => {
          fetched = view;
          if (isHere) setView(() => view);
        },
        () => {
          if (!isHere) return;
          toast.error(NOT_FETCHED.title, { description: NOT_FETCHED.description });
          refuse();
        },
      );
      return () => {
        isHere = false;
      };
    }, [wanted, View, refuse]);
    return View ? <View {...props} /> : null;
  };
}
