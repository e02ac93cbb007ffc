import { Suspense, startTransition, useEffect, useLayoutEffect, useMemo, useState } from "react";
import { MESSAGE_ROLES } from "../../core/live/message-roles.ts";
import type { Snapshot } from "../../core/live/protocol.ts";
import { LostBanner } from "../components/LostBanner.tsx";
import { part } from "../components/part.tsx";
import { createActions, PageActionsContext } from "../live/actions.ts";
import { type LiveSocket, openSocket } from "../live/socket.ts";
import { createPageStore, NO_TEACHING, PageStoreContext } from "../live/store.ts";
import { toast, whenWanted } from "../live/toast.ts";
import { TrafficFeed } from "../live/traffic-feed.ts";
import { createMidiBridge } from "../live/web-midi.ts";
import { BottomLine } from "./BottomLine.tsx";
import { followTouch } from "./follow-touch.ts";
import { Header } from "./Header.tsx";
import { keepTeaching } from "./keep-teaching.ts";
import { handleKey } from "./keys.ts";
import { Dialogs, PlaceOverlays } from "./Overlays.tsx";
import { NOT_FETCHED } from "./on-demand.tsx";
import { FIRST_PLACE, isPlace, PLACE_VIEWS, PLACES, type Place } from "./places.ts";
import { keyHands } from "./play-keys.ts";

const LOST = "Not played: there is no connection to the server.";
const LOOKS = "Not played: you are here to look.";

const STEPS_IN_LOCK = 3;
const WORDS_AFTER_MS = 1500;

interface Props {
  place: Place;
  snapshot: Snapshot;
}

/** The shell of every place: one store, one live socket and one MIDI bridge, which stay while places change. */
export function App({ place: first, snapshot }: Props) {
  const [place, setPlace] = useState<Place>(first);
  const [page] = useState(() => newPage(snapshot));
  const { show, go } = usePlaces(setPlace);
  page.ways.go = go;
  useLiveSocket(page);
  useWindow(page, place, show, go);
  useLayoutEffect(() => {
    document.documentElement.setAttribute("data-place", place); // Run is dark whatever the theme
  }, [place]);
  useEffect(() => {
    // Where nothing can be changed, nothing is taught.
    if (PLACES[place].locked) page.store.setState(NO_TEACHING);
    page.seen.show = PLACES[place].locked ? "running" : "edited";
    page.tellShows();
  }, [page, place]);
  const View = PLACE_VIEWS[place];
  const view = (
    <Suspense>
      <View leave={() => go(FIRST_PLACE)} />
      <Drawn ready={page.ready} />
    </Suspense>
  );
  return (
    <PageStoreContext value={page.store}>
      <PageActionsContext value={page.actions}>
        {PLACES[place].locked ? (
          view
        ) : (
          <div className="relative grid h-dvh min-h-[640px] min-w-[1000px] grid-rows-[52px_minmax(0,1fr)_40px]">
            <Header place={place} />
            {view}
            <BottomLine />
            <PlaceOverlays />
          </div>
        )}
        <LostBanner />
        <Dialogs place={place} go={go} />
        <Words />
      </PageActionsContext>
    </PageStoreContext>
  );
}

const Toasts = part(async () => (await import("../components/Toasts.tsx")).Toasts);

/** What shows words is fetched once the page has nothing else to do, or at the first word. */
function Words() {
  const [isWanted, setWanted] = useState(false);
  useEffect(() => {
    const fetch = () => setWanted(true);
    whenWanted(fetch);
    const timer = setTimeout(fetch, WORDS_AFTER_MS);
    return () => clearTimeout(timer);
  }, []);
  return isWanted ? <Toasts /> : null;
}

type Page = ReturnType<typeof newPage>;

/** What stays while places change: the store, the live socket, the MIDI bridge and the hands on keys. */
function newPage(snapshot: Snapshot) {
  const store = createPageStore(snapshot);
  const wire: { socket: LiveSocket | null } = { socket: null };
  const send: LiveSocket["send"] = (message) => {
    const { lostAtMs, who } = store.getState();
    // A press that goes nowhere must not look like one that did something.
    const why = lostAtMs !== null ? LOST : who.role === "look" ? LOOKS : null;
    if (message.kind === "screen-midi" && why !== null) toast.error(why, { id: why });
    // Its devices play nothing either, and need not be told of.
    else if (who.role !== "look" || MESSAGE_ROLES[message.kind] === "look") wire.socket?.send(message);
  };
  const midi = createMidiBridge(store, {
    devicesChanged: (devices) => send({ kind: "devices", devices }),
    bytes: (name, nth, bytes) => send({ kind: "device-midi", name, nth, bytes: [...bytes] }),
  });
  const feed = new TrafficFeed(send);
  const keys = keyHands(store, send);
  const ready = { opened: false, drawn: false };
  /** Ways to places are made when the page is drawn. */
  const ways: { go: (place: Place) => void } = { go: () => {} };
  const actions = createActions(store, send, midi, feed, (place) => isPlace(place) && ways.go(place));
  /** Where nothing can be edited stands what runs. */
  const seen: { show: "running" | "edited" } = { show: "edited" };
  const tellShows = () => send({ kind: "shows", show: seen.show });
  return { store, wire, send, midi, feed, keys, ready, ways, actions, seen, tellShows };
}

/** Ways to another place: `show` where the address says so already, `go` with a step in the history. */
function usePlaces(setPlace: (place: Place) => void) {
  return useMemo(() => {
    let wanted: Place | null = null;
    // A place is shown once its code is here; until then, and where it cannot be fetched, the old one stays.
    const show = async (to: Place) => {
      wanted = to;
      try {
        await PLACES[to].load();
      } catch {
        toast.error(NOT_FETCHED.title, { description: NOT_FETCHED.description });
        return false;
      }
      if (wanted !== to) return false;
      startTransition(() => setPlace(to));
      return true;
    };
    const go = async (to: Place) => {
      if (await show(to)) history.pushState(null, "", `/${to}`);
    };
    return { show, go: (to: Place) => void go(to) };
  }, [setPlace]);
}

function useLiveSocket(page: Page): void {
  useEffect(() => {
    const { store, wire, midi, send, feed } = page;
    const teaching = keepTeaching(store, send);
    wire.socket = openSocket(store, {
      opened: () => {
        page.tellShows();
        send({ kind: "devices", devices: midi.devices() });
        feed.opened();
        teaching.opened();
        page.ready.opened = true;
        tellReady(page.ready);
      },
      traffic: (frame) => feed.frame(frame),
      deviceMidi: (name, nth, bytes) => midi.send(name, nth, bytes),
      lost: (sinceMs) => {
        store.setState({ lostAtMs: sinceMs });
        if (sinceMs === null) delete document.documentElement.dataset.lost;
        else document.documentElement.dataset.lost = "";
      },
      notice: (text) => toast(text),
      play: () => store.setState(NO_TEACHING),
      out: () => location.assign(`/enter?to=${encodeURIComponent(location.pathname)}`),
      refused: (reason) => toast.error("Not understood", { description: reason }),
    });
    void midi.askAgain();
    const unfollow = followTouch(store, page.actions);
    return () => {
      unfollow();
      teaching.stop();
      wire.socket?.close();
    };
  }, [page]);
}

/** Keys, the way back, and links to places. */
function useWindow(page: Page, place: Place, show: (to: Place) => Promise<boolean>, go: (to: Place) => void): void {
  useEffect(() => {
    const { locked } = PLACES[place];
    // The browser's way back does not lead out of a lock: there are always a few more steps here to take back, so that two
    // quick ones do not lead out either.
    const stay = () => history.pushState(null, "", `/${place}`);
    if (locked) for (let i = 0; i < STEPS_IN_LOCK; i++) stay();
    const back = () => {
      if (locked) {
        stay();
        return;
      }
      const name = location.pathname.slice(1);
      if (isPlace(name)) void show(name);
    };
    const onKey = (e: KeyboardEvent) => {
      if (page.keys.down(e, place)) e.preventDefault();
      else handleKey(e, { ...page, place, go });
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
  }, [page, place, show, go]);
}

interface Ready {
  /** The live socket has been opened. */
  opened: boolean;
  /** The place has been drawn. */
  drawn: boolean;
}

/** What hands do is heard once both are so; before, it would go nowhere. */
function tellReady({ opened, drawn }: Ready): void {
  if (opened && drawn) document.documentElement.dataset.ready = "true";
}

/** Stands beside a place, and is there as soon as the place is. */
function Drawn({ ready }: { ready: Ready }) {
  useEffect(() => {
    ready.drawn = true;
    tellReady(ready);
  }, [ready]);
  return null;
}
