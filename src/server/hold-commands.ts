/** What is done with edits on hold: they begin to be held, are put in, or are thrown away. */
import type { HoldCommand } from "../core/live/on-hold.ts";
import type { ShowStore, StoreResult } from "./database/show-store.ts";
import type { EditsOnHold } from "./edits-on-hold.ts";
import type { Answer } from "./shows.ts";

export interface HoldEffects {
  /** Puts what came of an edit before the engine and the pages. */
  changed(result: StoreResult): Answer;
  /** The show that is edited becomes the one that runs. */
  putIn(): void;
  /** What is edited is what runs: pages that showed the one are given the other. */
  ended(): void;
  /** Pages are told how it is. */
  tell(): void;
}

export async function carryOutHold(
  command: HoldCommand["do"],
  hold: EditsOnHold,
  store: ShowStore,
  { changed, putIn, ended, tell }: HoldEffects,
): Promise<Answer> {
  const { running } = hold;
  switch (command) {
    case "hold":
      hold.begin(store.id, store.history.revision, store.show);
      tell();
      return { ok: true, label: "hold edits" };
    case "put-in-when-quiet":
    case "wait-on":
      hold.waitForQuiet(command === "put-in-when-quiet");
      tell();
      return { ok: true, label: command === "wait-on" ? "hold edits on" : "put the edits in when it is quiet" };
    case "put-in":
      if (running) putIn();
      return { ok: true, label: "put the edits in" };
    case "throw-away": {
      if (!running) return { ok: true, label: "throw the edits away" };
      if (running.show !== store.show) {
        const answer = changed(await store.replace(running.show, "throw the held edits away"));
        if (!answer.ok) return answer;
      }
      hold.end();
      ended();
      return { ok: true, label: "throw the edits away" };
    }
    default:
      return command satisfies never;
  }
}
