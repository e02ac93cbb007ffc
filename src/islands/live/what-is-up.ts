/** What several views say of the moment: the page that is up, and whether the keys can play. */
import { useShallow } from "zustand/react/shallow";
import { useLive } from "./store.ts";

/** The page that is up at the first desk that has pages. */
export function usePageWords(): { desk: string; words: string } | null {
  return useLive(
    useShallow((l) => {
      const desk = l.compiled.desks.find((d) => d.page);
      if (!desk) return null;
      const page = l.desks[desk.id]?.page ?? null;
      const names = desk.states.get(desk.pageParameter?.names ?? "");
      const name =
        names && page !== null ? l.values[desk.id]?.value[names.base + page - (desk.pageParameter?.from ?? 1)] : "";
      return { desk: desk.desk.name, words: page === null ? "not known" : `${page} ${name ?? ""}`.trim() };
    }),
  );
}

/** True where a surface that is drawn on the screen can be played by the computer's keys. */
export function useHasKeys(): boolean {
  return useLive((l) =>
    l.compiled.surfaces.some((s) => s.surface.in.kind === "screen" && s.profile.controls.some((c) => c.keys)),
  );
}
