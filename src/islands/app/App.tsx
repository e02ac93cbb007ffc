import { useEffect, useMemo, useState } from "react";
import { Toaster, toast } from "sonner";
import type { Snapshot } from "../../core/live/protocol.ts";
import { ConnectView } from "../connect/ConnectView.tsx";
import { createActions, PageActionsContext } from "../live/actions.ts";
import { type LiveSocket, openSocket } from "../live/socket.ts";
import { createPageStore, PageStoreContext } from "../live/store.ts";
import { TrafficFeed } from "../live/traffic-feed.ts";
import { createMidiBridge } from "../live/web-midi.ts";
import { MapView } from "../map/MapView.tsx";
import { DeskEditor } from "../profiles/DeskEditor.tsx";
import { SurfaceEditor } from "../profiles/SurfaceEditor.tsx";
import { RunView } from "../run/RunView.tsx";
import { ShowParts } from "../show/ShowParts.tsx";
import { TrafficPanel } from "../traffic/TrafficPanel.tsx";
import { BottomLine } from "./BottomLine.tsx";
import { CommandPalette } from "./CommandPalette.tsx";
import { followTouch } from "./follow-touch.ts";
import { Header } from "./Header.tsx";
import { handleKey } from "./keys.ts";
import { isPlace, PLACES, type Place } from "./places.ts";
import { keyHands } from "./play-keys.ts";

interface Props {
  place: Place;
  snapshot: Snapshot;
}

/** The shell of every place: one store, one live socket and one MIDI bridge, which stay while places change. */
export function App({ place: first, snapshot }: Props) {
  const [place, setPlace] = useState<Place>(first);
  const [page] = useState(() => {
    const store = createPageStore(snapshot);
    const wire: { socket: LiveSocket | null } = { socket: null };
    const send: LiveSocket["send"] = (message) => wire.socket?.send(message);
    const midi = createMidiBridge(store, {
      devicesChanged: (devices) => send({ kind: "devices", devices }),
      bytes: (name, nth, bytes) => send({ kind: "device-midi", name, nth, bytes: [...bytes] }),
    });
    const feed = new TrafficFeed(send);
    const keys = keyHands(store, send);
    return { store, wire, send, midi, feed, keys, actions: createActions(store, send, midi, feed) };
  });
  const go = useMemo(
    () => (to: Place) => {
      setPlace(to);
      history.pushState(null, "", `/${to}`);
    },
    [],
  );

  useEffect(() => {
    const { store, wire, midi, send, feed } = page;
    wire.socket = openSocket(store, {
      opened: () => {
        send({ kind: "devices", devices: midi.devices() });
        feed.opened();
        // What hands do is heard from now on; before, it would go nowhere.
        document.documentElement.dataset.ready = "true";
      },
      traffic: (frame) => feed.frame(frame),
      deviceMidi: (name, nth, bytes) => midi.send(name, nth, bytes),
      notice: (text) => toast(text),
      refused: (reason) => toast.error("Not understood", { description: reason }),
    });
    void midi.askAgain();
    const unfollow = followTouch(store, page.actions);
    return () => {
      unfollow();
      wire.socket?.close();
    };
  }, [page]);

  useEffect(() => {
    const back = () => {
      const name = location.pathname.slice(1);
      if (isPlace(name)) setPlace(name);
    };
    const onKey = (e: KeyboardEvent) => {
      if (page.keys.down(e, place)) e.preventDefault();
      else handleKey(e, page.store, page.actions, place, go);
    };
    const onClick = (e: MouseEvent) => {
      const link = (e.target as Element).closest<HTMLElement>("a[data-place]");
      const to = link?.dataset.place;
      if (!to || !isPlace(to) || e.ctrlKey || e.metaKey || e.shiftKey || e.button !== 0) return;
      e.preventDefault();
      go(to);
    };
    window.addEventListener("popstate", back);
    window.addEventListener("keydown", onKey);
    window.addEventListener("keyup", page.keys.up);
    window.addEventListener("blur", page.keys.letGo);
    window.addEventListener("click", onClick);
    return () => {
      window.removeEventListener("popstate", back);
      window.removeEventListener("keydown", onKey);
      window.removeEventListener("keyup", page.keys.up);
      window.removeEventListener("blur", page.keys.letGo);
      page.keys.letGo();
      window.removeEventListener("click", onClick);
    };
  }, [page, place, go]);

  return (
    <PageStoreContext value={page.store}>
      <PageActionsContext value={page.actions}>
        {place === "run" ? (
          <RunView leave={() => go("map")} />
        ) : (
          <div className="relative grid h-dvh min-w-[1180px] grid-rows-[52px_minmax(0,1fr)_40px]">
            <Header place={place} places={PLACES} />
            {place === "connect" ? <ConnectView /> : <MapView />}
            <DeskEditor />
            <SurfaceEditor />
            <BottomLine />
            <TrafficPanel />
          </div>
        )}
        <CommandPalette go={go} />
        <ShowParts />
        <Toaster
          theme="dark"
          position="bottom-right"
          offset={56}
          toastOptions={{ style: { background: "#2b1e33", borderColor: "#57445f", color: "#f4edf1" } }}
        />
      </PageActionsContext>
    </PageStoreContext>
  );
}
