/** Code that is fetched when it is wanted first, and stays from then on. */
import { type ComponentType, useEffect, useState } from "react";

export interface Fetch<P> {
  readonly load: () => Promise<ComponentType<P>>;
  fetched: ComponentType<P> | null;
}

/** `failed` is called where the server does not answer; another `attempt` asks it again. */
export function useFetched<P>(
  fetch: Fetch<P>,
  isWanted: boolean,
  attempt: number,
  failed: () => void,
): ComponentType<P> | null {
  const [View, setView] = useState<ComponentType<P> | null>(() => fetch.fetched);
  // biome-ignore lint/correctness/useExhaustiveDependencies: another attempt, and not another way to tell of it
  useEffect(() => {
    if (!isWanted || View) return;
    let isHere = true;
    fetch.load().then(
      (view) => {
        fetch.fetched = view;
        if (isHere) setView(() => view);
      },
      () => {
        if (isHere) failed();
      },
    );
    return () => {
      isHere = false;
    };
  }, [isWanted, View, attempt]);
  return View;
}
