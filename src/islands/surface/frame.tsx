/** A frame drawn around controls with the pointer, from where nothing lies: what it holds is chosen. */
import { type PointerEvent, type RefObject, useState } from "react";
import type { Box } from "../../core/format/surface-profile.ts";

/** A press that moves less than this, in px, draws no frame. */
const LEAST = 6;

interface Size {
  readonly width: number;
  readonly height: number;
}

/** `found` is told of the area, in pads, when the pointer is let go. */
export function useFrame(field: RefObject<HTMLElement | null>, size: Size | undefined, found: (area: Box) => void) {
  const [area, setArea] = useState<Box | null>(null);
  const frame = (e: PointerEvent<HTMLElement>) => {
    const bounds = field.current?.getBoundingClientRect();
    if (!bounds || !size || e.button !== 0 || (e.target as Element).closest(".control, button")) return;
    const at = (x: number, y: number) => ({
      x: ((x - bounds.left) / bounds.width) * size.width,
      y: ((y - bounds.top) / bounds.height) * size.height,
    });
    const from = at(e.clientX, e.clientY);
    const areaTo = (to: { clientX: number; clientY: number }): Box => {
      const other = at(to.clientX, to.clientY);
      return {
        x: Math.min(from.x, other.x),
        y: Math.min(from.y, other.y),
        width: Math.abs(other.x - from.x),
        height: Math.abs(other.y - from.y),
      };
    };
    const isFrame = (to: { clientX: number; clientY: number }) =>
      Math.hypot(to.clientX - e.clientX, to.clientY - e.clientY) >= LEAST;
    const ended = new AbortController();
    const { signal } = ended;
    window.addEventListener("pointermove", (to) => setArea(isFrame(to) ? areaTo(to) : null), { signal });
    const end = (to: globalThis.PointerEvent) => {
      ended.abort();
      setArea(null);
      if (to.type === "pointerup" && isFrame(to)) found(areaTo(to));
    };
    window.addEventListener("pointerup", end, { signal });
    window.addEventListener("pointercancel", end, { signal });
  };
  return { area, frame };
}

export function Frame({ area, size }: { area: Box; size: Size }) {
  return (
    <div
      className="pointer-events-none absolute z-3 rounded border border-dashed border-brass-300 bg-armed/40"
      style={{
        left: `${(area.x / size.width) * 100}%`,
        top: `${(area.y / size.height) * 100}%`,
        width: `${(area.width / size.width) * 100}%`,
        height: `${(area.height / size.height) * 100}%`,
      }}
    />
  );
}
