/**
 * A word to whoever sits here. What shows it is fetched when the page has nothing else to do, so that it is there when the
 * server is not; words that come before wait for it.
 */
import type { ExternalToast } from "sonner";

type Say = (toast: typeof import("sonner").toast) => void;

const waiting: Say[] = [];
let say: ((what: Say) => void) | null = null;
let wanted = () => {};

/** Called when there is a word and nothing yet to show it. */
export function whenWanted(fetch: () => void): void {
  wanted = fetch;
}

/** What shows words is there. */
export function showsWords(toast: typeof import("sonner").toast): void {
  say = (what) => what(toast);
  for (const what of waiting.splice(0)) say(what);
}

function tell(what: Say): void {
  if (say) say(what);
  else {
    waiting.push(what);
    wanted();
  }
}

export const toast = Object.assign((text: string, more?: ExternalToast) => tell((t) => void t(text, more)), {
  error: (text: string, more?: ExternalToast) => tell((t) => void t.error(text, more)),
  /** Takes a word back, by the id it was given. */
  dismiss: (id: string) => tell((t) => void t.dismiss(id)),
});
