/** Functions, actions and what controls do, carried by the pointer to where they should be. Keys have their own ways to all of it. */
import {
  DndContext,
  type DragEndEvent,
  DragOverlay,
  MeasuringStrategy,
  type Modifier,
  PointerSensor,
  pointerWithin,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
} from "@dnd-kit/core";
import { type PointerEvent as ReactPointerEvent, useEffect, useMemo, useRef, useState } from "react";
import { useActions } from "../../live/actions.ts";
import { type PageStore, useLive, usePageStore } from "../../live/store.ts";
import { type Dragged, dropped, type Place } from "./dropped.ts";
import { type FoundPlace, placesIn, sourceAt } from "./places.ts";

/** The one thing that can be dragged: what lies under the pointer when it goes down. */
const CARRIED = "carried";
/** So far the pointer goes before it drags, in px: a press that trembles is still a press. */
const DISTANCE_PX = 6;

/** It has no parts of its own in the Map: what can be dragged and where to is read from the page when a pointer goes down. */
export function DragLayer() {
  const store = usePageStore();
  const actions = useActions();
  const [carried, setCarried] = useState<{ dragged: Dragged; words: string } | null>(null);
  const [places, setPlaces] = useState<readonly FoundPlace[]>([]);
  const [over, setOver] = useState<string | null>(null);
  const isMoved = useAltKey(carried !== null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: DISTANCE_PX } }));
  const picked = useRef<{ dragged: Dragged; words: string } | null>(null);
  const end = () => {
    setCarried(null);
    setPlaces([]);
    setOver(null);
  };
  const letGo = async ({ over: at }: DragEndEvent) => {
    const place = places.find((p) => p.id === at?.id);
    const what = carried?.dragged;
    end();
    if (!place || !what) return;
    const found = dropped(store.getState(), what, place.place, isMoved);
    if (found?.kind === "series") store.setState({ series: { desk: found.desk, fn: found.fn } });
    if (found?.kind !== "edits") return;
    const { does, edits } = found;
    if (!(await actions.edit(edits.length === 1 ? edits[0]! : { kind: "together", does, edits: [...edits] }))) return;
    if (place.place.kind === "control") choose(store, place.place);
  };
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={pointerWithin}
      measuring={{ droppable: { strategy: MeasuringStrategy.WhileDragging } }}
      autoScroll={false}
      accessibility={{ announcements: SAID, screenReaderInstructions: { draggable: "" } }}
      onDragStart={() => {
        setCarried(picked.current);
        setPlaces(placesIn(document));
      }}
      onDragOver={(e) => setOver(e.over === null ? null : String(e.over.id))}
      onDragEnd={(e) => void letGo(e)}
      onDragCancel={end}
    >
      <Source
        onPick={(found) => {
          picked.current = found;
        }}
      />
      {places.map((p) => (
        <Target key={p.id} place={p} />
      ))}
      <OverPlace place={places.find((p) => p.id === over)} dragged={carried?.dragged ?? null} isMoved={isMoved} />
      <DragOverlay dropAnimation={null} zIndex={60} modifiers={[besidePointer]}>
        {carried ? (
          <span className="pointer-events-none inline-block max-w-[240px] overflow-hidden rounded-lg border border-brass-500 bg-velvet-800 px-3 py-1.5 text-ellipsis whitespace-nowrap shadow-2xl">
            {carried.words}
          </span>
        ) : null}
      </DragOverlay>
    </DndContext>
  );
}

/** What hangs at the pointer hides nothing of the place under it. */
const besidePointer: Modifier = ({ activatorEvent, activeNodeRect, transform }) => {
  if (!(activatorEvent instanceof PointerEvent) || !activeNodeRect) return transform;
  return {
    ...transform,
    x: transform.x + activatorEvent.clientX - activeNodeRect.left + 14,
    y: transform.y + activatorEvent.clientY - activeNodeRect.top + 16,
  };
};

/** The layer says it in its frame, and the server's answer says what was done. */
const SAID = {
  onDragStart: () => undefined,
  onDragOver: () => undefined,
  onDragEnd: () => undefined,
  onDragCancel: () => undefined,
};

function choose(store: PageStore, { surface, control }: Extract<Place, { kind: "control" }>): void {
  store.setState({ chosen: { surface, control }, chosenMapping: null, many: null });
}

function useAltKey(isWatched: boolean): boolean {
  const [isDown, setDown] = useState(false);
  useEffect(() => {
    if (!isWatched) return setDown(false);
    const watch = (e: KeyboardEvent | PointerEvent) => {
      if (e instanceof KeyboardEvent && e.key === "Alt") e.preventDefault(); // else the browser's own menu is opened
      setDown(e.altKey);
    };
    for (const kind of ["keydown", "keyup", "pointermove"] as const) window.addEventListener(kind, watch);
    return () => {
      for (const kind of ["keydown", "keyup", "pointermove"] as const) window.removeEventListener(kind, watch);
    };
  }, [isWatched]);
  return isDown;
}

function Source({ onPick }: { onPick(found: { dragged: Dragged; words: string }): void }) {
  const { setNodeRef, listeners } = useDraggable({ id: CARRIED });
  const newest = useRef({ setNodeRef, listeners, onPick });
  newest.current = { setNodeRef, listeners, onPick };
  useEffect(() => {
    const down = (e: PointerEvent) => {
      const found = sourceAt(e);
      if (!found) return;
      newest.current.setNodeRef(found.element);
      newest.current.onPick(found);
      // The sensor takes an event of React's, of which it reads the browser's own.
      newest.current.listeners?.onPointerDown?.({ nativeEvent: e } as ReactPointerEvent);
    };
    document.addEventListener("pointerdown", down);
    return () => document.removeEventListener("pointerdown", down);
  }, []);
  return null;
}

function Target({ place }: { place: FoundPlace }) {
  const { setNodeRef } = useDroppable({ id: place.id });
  useEffect(() => setNodeRef(place.element), [setNodeRef, place.element]);
  return null;
}

/** A frame around the place under the pointer, with what would become of it. */
function OverPlace({
  place,
  dragged,
  isMoved,
}: {
  place: FoundPlace | undefined;
  dragged: Dragged | null;
  isMoved: boolean;
}) {
  const store = usePageStore();
  const show = useLive((l) => l.show);
  const context = useLive((l) => l.context);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what would become of it changes with the show, and with what is up
  const says = useMemo(
    () => (place && dragged ? (dropped(store.getState(), dragged, place.place, isMoved)?.says ?? "") : ""),
    [store, place, dragged, isMoved, show, context],
  );
  if (!place || says === "") return null;
  const { left, top, width, height } = place.element.getBoundingClientRect();
  const isOrder = place.place.kind === "order";
  return (
    <div
      role="status"
      data-drop
      className={`pointer-events-none fixed z-50 ${isOrder ? "border-t-2" : "rounded-lg border-2"} border-brass-400`}
      style={{ left, top, width, height }}
    >
      <span
        className={`absolute left-0 w-max max-w-[240px] bg-brass-400 px-2 py-0.5 text-small font-semibold text-velvet-975 ${top > 120 ? "bottom-full rounded-t-md" : "top-full rounded-b-md"}`}
      >
        {says}
      </span>
    </div>
  );
}
