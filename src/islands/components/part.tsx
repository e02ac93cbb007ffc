import { type ComponentType, useEffect, useState } from "react";
import { toast } from "../live/toast.ts";
import { type Fetch, useFetched } from "./fetched.ts";

/** So long it waits before it asks the server again, in ms. */
const AGAIN_MS = 2000;

/** So long after the page it is fetched in any case where it is wanted “soon”, in ms: the page itself comes first. */
const SOON_MS = 200;

/**
 * A part of a view whose code is fetched when it is drawn first; “soon”: before, as soon as the page is there. Where the server
 * does not answer, the view goes on without it, and it is tried again: one that failed for ever would take the page with it.
 */
export function part<P extends object>(load: () => Promise<ComponentType<P>>, when?: "soon"): ComponentType<P> {
  const fetch: Fetch<P> = { load, fetched: null };
  if (when === "soon" && typeof document !== "undefined") fetchSoon(fetch);
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

function fetchSoon<P>(fetch: Fetch<P>): void {
  const begin = () =>
    fetch.load().then(
      (view) => {
        fetch.fetched = view;
      },
      () => {}, // it is asked for again when it is drawn
    );
  setTimeout(begin, SOON_MS);
}
