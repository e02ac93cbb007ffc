/** Names and notes of controls and pages, in a draft of a show: where there are none, nothing stands. */
import type { OwnWords, Surface } from "../format/show.ts";
import { keepAsleep } from "./replace.ts";

type Changes = { readonly [K in keyof OwnWords]?: OwnWords[K] | null };

/** `place`: the list of its owner that they stand in. */
export function putWords<P extends string>(
  owner: { [K in P]?: Record<string, OwnWords> | undefined },
  place: P,
  key: string,
  set: Changes,
): void {
  const all: Record<string, OwnWords> = { ...owner[place] };
  const words = Object.fromEntries(Object.entries({ ...all[key], ...set }).filter(([, v]) => v !== null));
  if (Object.keys(words).length > 0) all[key] = words;
  else delete all[key];
  if (Object.keys(all).length > 0) owner[place] = all as never;
  else delete owner[place];
}

/** What is said of controls that are gone goes with them. */
export function keepOnly(surface: Surface, isThere: (control: string) => boolean): void {
  keepAsleep(surface, surface.asleep?.filter(isThere));
  for (const id of Object.keys(surface.controls ?? {}))
    if (!isThere(id)) putWords(surface, "controls", id, { name: null, note: null });
}
