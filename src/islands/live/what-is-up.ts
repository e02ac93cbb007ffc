/** What several views say of the moment: the page that is up, and whether the keys can play. */
import { useShallow } from "zustand/react/shallow";
import { pagedDesk, pageName } from "./page-name.ts";
import { useLive } from "./store.ts";

/** The page that is up at the first desk that has pages. */
export function usePageWords(): { desk: string; words: string } | null {
  return useLive(
    useShallow((l) => {
      const desk = pagedDesk(l);
      if (!desk) return null;
      const page = l.desks[desk.id]?.page ?? null;
      return { desk: desk.desk.name, words: page === null ? "not known" : `${page} ${pageName(l, desk, page)}`.trim() };
    }),
  );
}

/** True where a surface that is drawn on the screen can be played by the computer's keys. */
export function useHasKeys(): boolean {
  return useLive((l) =>
    l.compiled.surfaces.some((s) => s.surface.in.kind === "screen" && s.profile.controls.some((c) => c.keys)),
  );
}
