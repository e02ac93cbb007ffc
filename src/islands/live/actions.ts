/** What the views can do: edits over HTTP, live commands over the socket, choices in the page. */
import { createContext, useContext } from "react";
import type { Edit, OneEdit } from "../../core/edit/edit-kinds.ts";
import type { Desk, Show } from "../../core/format/show.ts";
import type { HoldCommand } from "../../core/live/on-hold.ts";
import type { ClientMessage } from "../../core/live/protocol.ts";
import type { ShelfCommand, VersionCommand } from "../../core/live/shelf.ts";
import { NO_TEACHING, type PageStore } from "./store.ts";
import { toast } from "./toast.ts";
import type { TrafficFeed } from "./traffic-feed.ts";
import type { MidiBridge } from "./web-midi.ts";

interface Answer {
  ok: boolean;
  label?: string;
  problems?: string[];
  /** What another window did to the same thing. */
  meanwhile?: string;
}

export interface PageActions {
  send(message: ClientMessage): void;
  /** Carries out an edit; false if it was refused, which has then been said. */
  edit(edit: Edit): Promise<boolean>;
  /** Holds edits, puts them in or throws them away. */
  hold(command: HoldCommand["do"]): Promise<void>;
  undo(): Promise<void>;
  redo(): Promise<void>;
  /** Puts a show file beside the shows that are here, and opens it. */
  addShow(file: File): Promise<void>;
  /** Puts a show beside those that are here, opens it, and carries out edits in it as one; false if something was refused. */
  beginShow(show: Show, does: string, edits: readonly OneEdit[]): Promise<boolean>;
  /** Begins, duplicates, opens, deletes or recovers a show; false if it was refused, which has then been said. */
  onShelf(command: ShelfCommand): Promise<boolean>;
  /** Names the present version, goes back to one, or opens one beside the show; false if it was refused. */
  version(command: VersionCommand): Promise<boolean>;
  /** Starts the stand-in of a kind of desk; the desk as a show has it, or null where there is none, which has been said. */
  standIn(profile: string): Promise<Desk | null>;
  /** Opens the demo show in the place of this one. */
  openDemo(): Promise<boolean>;
  /** Opens a backup in the place of the show; false if it was refused, which has then been said. */
  restore(backup: string): Promise<boolean>;
  choose(surface: string, control: string): void;
  /** Hands teach from now on, or play, whoever had them teach. */
  teach(on: boolean): void;
  /** Goes to a place. */
  go(place: string): void;
  askMidi(): Promise<void>;
  /** Bytes to a device of this browser that is no surface yet. */
  toDevice(name: string, nth: number, bytes: readonly number[]): void;
  /** Calls back with rows of traffic as they come; with `history` also with those before. Answers how to stop. */
  watchTraffic(listener: (frame: ArrayBuffer) => void, history: boolean): () => void;
}

export function createActions(
  store: PageStore,
  send: (message: ClientMessage) => void,
  midi: MidiBridge,
  feed: TrafficFeed,
  go: (place: string) => void,
): PageActions {
  /** Who this window is, for the server to tell its edits from those of others. */
  const page = Array.from(crypto.getRandomValues(new Uint8Array(8)), (b) => b.toString(16).padStart(2, "0")).join("");
  const post = async (
    path: string,
    body?: unknown,
    method = "POST",
    headers: Record<string, string> = {},
  ): Promise<Answer> => {
    try {
      const response = await fetch(path, {
        method,
        headers: { "content-type": "application/json", ...headers },
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
  const onShelf = async (command: ShelfCommand) => {
    const answer = await post("/api/shows", command);
    if (!say(answer)) return false;
    if (command.do === "delete")
      toast("Deleted. It can be recovered for 30 days.", {
        duration: 10_000,
        action: { label: "Undo", onClick: () => void onShelf({ do: "recover", id: command.id }) },
      });
    else toast(`Done: ${answer.label}`);
    return true;
  };
  return {
    send,
    undo,
    redo,
    edit: async (edit) => {
      const seen = String(store.getState().live.history.turn);
      const answer = await post("/api/edit", edit, "POST", { "x-page": page, "x-seen": seen });
      if (answer.meanwhile !== undefined) {
        toast("Not changed: another window was first", {
          description: `Meanwhile: ${answer.meanwhile}.`,
          duration: 20_000,
          action: { label: "Do mine too", onClick: () => void post("/api/edit", edit).then(say) },
        });
        return false;
      }
      if (!say(answer)) return false;
      if (edit.kind.startsWith("remove-"))
        toast(`Done: ${answer.label}`, { action: { label: "Undo", onClick: () => void undo() } });
      return true;
    },
    hold: async (command) => {
      const answer = await post("/api/hold", { do: command });
      if (!say(answer)) return;
      if (command === "hold")
        toast("Edits are held", { description: "What runs stays as it is until you put them in (E)." });
      else if (command === "put-in") toast("The edits are in");
      else if (command === "throw-away")
        toast("Thrown away", { description: "The show is what ran all the while. Undo brings the edits back." });
    },
    addShow: async (file) => {
      const before = store.getState().live.show.name;
      const answer = await post("/api/shows", await file.text(), "PUT");
      if (say(answer))
        toast(`Done: ${answer.label}`, { description: `Nothing was replaced: ${before} is still here.` });
    },
    beginShow: async (show, does, edits) => {
      const answer = await post("/api/shows", show, "PUT");
      if (!say(answer)) return false;
      if (edits.length === 0) return true;
      return say(await post("/api/edit", { kind: "together", does, edits }));
    },
    onShelf,
    version: async (command) => {
      const answer = await post("/api/versions", command);
      if (!say(answer)) return false;
      const isBack = command.do === "go-back";
      toast(
        command.do === "name" ? `Kept as ${command.name}` : `Done: ${answer.label}`,
        isBack ? { action: { label: "Undo", onClick: () => void undo() } } : {},
      );
      return true;
    },
    standIn: async (profile) => {
      const answer = await post("/api/stand-ins", { profile });
      return say(answer) ? ((answer as { desk?: Desk }).desk ?? null) : null;
    },
    openDemo: async () => {
      const answer = await post("/api/demo-show");
      if (say(answer)) toast(`Done: ${answer.label}`, { action: { label: "Undo", onClick: () => void undo() } });
      return answer.ok;
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
        many: null,
        series: null,
        strips: false,
        learning: false,
        // What Learn saw belongs to the control it chose.
        ...(learning ? {} : { learned: null }),
      });
    },
    teach: (on) => {
      // Who may change nothing has nothing to teach.
      if (on && store.getState().who.role !== "edit") return;
      store.setState(on ? { handsTeach: true } : NO_TEACHING);
      if (!on) send({ kind: "play" });
    },
    go,
    askMidi: () => midi.ask(),
    toDevice: (name, nth, bytes) => midi.send(name, nth, bytes),
    watchTraffic: (listener, history) => feed.watch(listener, history),
  };
}

export const PageActionsContext = createContext<PageActions | null>(null);

export function useActions(): PageActions {
  const actions = useContext(PageActionsContext);
  if (!actions) throw new Error("The page actions are missing above this component.");
  return actions;
}
