import { type ComponentType, useEffect, useState } from "react";
import { toast } from "../live/toast.ts";
import { useFetched } from "./fetched.ts";

/** So long it waits before it asks the server again, in ms. */
const AGAIN_MS = 2000;

/**
 * A part of a view whose code is fetched when it is drawn first. Where the server does not answer, the view goes on without
 * it, and it is tried again: one that failed for ever would take the page with it.
 */
export function part<P extends object>(load: () => Promise<ComponentType<P>>): ComponentType<P> {
  const fetch = { load, fetched: null };
  return function Part(props: P) {
    const [attempt, setAttempt] = useState(0);
    const [failures, setFailures] = useState(0);
    const View = useFetched<P>(fetch, true, attempt, () => {
      if (failures === 0)
        toast.error("It could not be opened", {
          description: "The server does not answer. It is tried again by itself.",
        });
      setFailures(failures + 1);
    });
    useEffect(() => {
      if (failures === 0) return;
      const again = setTimeout(() => setAttempt(failures), AGAIN_MS);
      return () => clearTimeout(again);
    }, [failures]);
    return View ? <View {...props} /> : null;
  };
}
