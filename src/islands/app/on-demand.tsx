import type { ComponentType } from "react";
import { useFetched } from "../components/fetched.ts";
import { toast } from "../live/toast.ts";

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
  const fetch = { load, fetched: null };
  return function OnDemand({ wanted, refuse, with: props }) {
    const View = useFetched<P>(fetch, wanted, 0, () => {
      toast.error(NOT_FETCHED.title, { description: NOT_FETCHED.description });
      refuse();
    });
    return View ? <View {...props} /> : null;
  };
}
