/** What the views can do: edits over HTTP, live commands over the socket, choices in the page. */
import { createContext, useContext } from "react";
import { toast } from "sonner";
import type { Edit } from "../../core/edit/edit-kinds.ts";
import type { ClientMessage } from "../../core/live/protocol.ts";
import type { PageStore } from "./store.ts";
import type { TrafficFeed } from "./traffic-feed.ts";
import type { MidiBridge } from "./web-midi.ts";

interface Answer {
  ok: boolean;
  label?: string;
  problems?: string[];
}

export interface PageActions {
  send(message: ClientMessage): void;
  /** Carries out an edit; false if it was refused, which has then been said. */
  edit(edit: Edit): Promise<boolean>;
  undo(): Promise<void>;
  redo(): Promise<void>;
  openShow(file: File): Promise<void>;
  /** Opens a backup in the place of the show; false if it was refused, which has then been said. */
  restore(backup: string): Promise<boolean>;
  choose(surface: string, control: string): void;
  askMidi(): Promise<void>;
  /** Calls back with rows of traffic as they come; with `history` also with those before. Answers how to stop. */
  watchTraffic(listener: (frame: ArrayBuffer) => void, history: boolean): () => void;
}

export function createActions(
  store: PageStore,
  send: (message: ClientMessage) => void,
  midi: MidiBridge,
  feed: TrafficFeed,
): PageActions {
  const post = async (path: string, body?: unknown, method = "POST"): Promise<Answer> => {
    try {
      const response = await fetch(path, {
        method,
        headers: { "content-type": "application/json" },
        body: body === undefined ? null : typeof body === "string" ? body : JSON.stringify(body),
      });
      return (await response.json()) as Answer;
    } catch {
      return { ok: false, problems: ["The server does not answer. Nothing was changed."] };
    }
  };
  const say = (answer: Answer): boolean => {
    if (!answer.ok)
      toast.error("Not changed", { description: (answer.problems ?? []).slice(0, 4).join(" "), duration: 8000 });
    return answer.ok;
  };
  const undo = async () => {
    const answer = await post("/api/undo");
    if (say(answer)) toast(`Undone: ${answer.label}`);
  };
  const redo = async () => {
    const answer = await post("/api/redo");
    if (say(answer)) toast(`Done again: ${answer.label}`);
  };
  return {
    send,
    undo,
    redo,
    edit: async (edit) => {
      const answer = await post("/api/edit", edit);
      if (!say(answer)) return false;
      if (edit.kind.startsWith("remove-"))
        toast(`Done: ${answer.label}`, { action: { label: "Undo", onClick: () => void undo() } });
      return true;
    },
    openShow: async (file) => {
      const answer = await post("/api/show", await file.text(), "PUT");
      if (say(answer)) toast(`Done: ${answer.label}`, { action: { label: "Undo", onClick: () => void undo() } });
    },
    restore: async (backup) => {
      const answer = await post("/api/backups", { file: backup });
      if (say(answer)) toast(`Restored: ${answer.label}`, { action: { label: "Undo", onClick: () => void undo() } });
      return answer.ok;
    },
    choose: (surface, control) => {
      const { learning } = store.getState();
      store.setState({
        chosen: { surface, control },
        chosenMapping: null,
        learning: false,
        // What Learn saw belongs to the control it chose.
        ...(learning ? {} : { learned: null }),
      });
    },
    askMidi: () => midi.ask(),
    watchTraffic: (listener, history) => feed.watch(listener, history),
  };
}

export const PageActionsContext = createContext<PageActions | null>(null);

export function useActions(): PageActions {
  const actions = useContext(PageActionsContext);
  if (!actions) throw new Error("The page actions are missing above this component.");
  return actions;
}
