/** What of the Map can be dragged, and where to: read from the attributes that its parts carry. */
import type { Dragged, Place } from "./dropped.ts";

export interface FoundPlace {
  readonly id: string;
  readonly element: HTMLElement;
  readonly place: Place;
}

export interface Source {
  readonly element: HTMLElement;
  readonly dragged: Dragged;
  readonly words: string;
}

/** What lies under a pointer that goes down. A finger drags by a grip only: elsewhere it scrolls, and a long press arms. */
export function sourceAt({ target, button, pointerType }: PointerEvent): Source | null {
  if (button !== 0 || !(target instanceof Element)) return null;
  const grip = target.closest<HTMLElement>("[data-grip]");
  const element = grip ?? (pointerType === "touch" ? null : target.closest<HTMLElement>("[data-function]"));
  const dragged = element && draggedOf(element);
  return dragged ? { element, dragged, words: element.dataset.words ?? "" } : null;
}

function draggedOf({ dataset }: HTMLElement): Dragged | null {
  if (dataset.function && dataset.desk) return { kind: "function", desk: dataset.desk, fn: dataset.function };
  if (dataset.grip === "chosen") return { kind: "chosen" };
  if (dataset.grip && dataset.mapping) return { kind: "action", mapping: dataset.mapping, action: dataset.grip };
  return null;
}

/** Every control that is drawn, and the actions of the mapping that is shown. */
export function placesIn(page: ParentNode): FoundPlace[] {
  const controls = [...page.querySelectorAll<HTMLElement>("[data-surface] [data-control]")].flatMap((element) => {
    const { surface } = element.closest<HTMLElement>("[data-surface]")!.dataset;
    const { control } = element.dataset;
    return surface && control ? [found(element, { kind: "control", surface, control })] : [];
  });
  const order = [...page.querySelectorAll<HTMLElement>("[data-mapping] > [data-action], [data-mapping] > [data-end]")];
  return [
    ...controls,
    ...order.flatMap((element) => {
      const { mapping } = element.parentElement!.dataset;
      return mapping ? [found(element, { kind: "order", mapping, before: element.dataset.action ?? null })] : [];
    }),
  ];
}

function found(element: HTMLElement, place: Place): FoundPlace {
  const id =
    place.kind === "control" ? `${place.surface} ${place.control}` : `${place.mapping} ${place.before ?? "end"}`;
  return { id: `${place.kind} ${id}`, element, place };
}
