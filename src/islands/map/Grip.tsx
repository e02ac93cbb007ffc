import { GripVertical } from "lucide-react";
import { usePageStore } from "../live/store.ts";
import { toClipboard } from "./copying.ts";

interface GripProps {
  label: string;
  title: string;
  /** What is dragged by it (drag/places.ts). */
  grip: string;
  mapping?: string;
  /** What hangs at the pointer meanwhile. */
  words: string;
  onStep?(by: -1 | 1): void;
  onClick?(): void;
}

/** What something is dragged by. A finger drags by it at once, and does not scroll. */
export function Grip({ label, title, grip, mapping, words, onStep, onClick }: GripProps) {
  return (
    <button
      type="button"
      aria-label={label}
      title={title}
      data-grip={grip}
      data-mapping={mapping}
      data-words={words}
      onClick={onClick}
      onKeyDown={(e) => {
        if (!onStep || (e.key !== "ArrowUp" && e.key !== "ArrowDown")) return;
        e.preventDefault();
        e.stopPropagation();
        onStep(e.key === "ArrowUp" ? -1 : 1);
      }}
      className="shrink-0 cursor-grab touch-none rounded p-1 text-ink-500 hover:bg-velvet-700 hover:text-ink-100"
    >
      <GripVertical size={14} aria-hidden />
    </button>
  );
}

/** What the chosen controls do, all of it. */
export function ChosenGrip({ words }: { words: string }) {
  const store = usePageStore();
  return (
    <Grip
      label="Copy what it does"
      title="Drag it to another control: what it does is copied there, with Alt moved. A click copies it, for Ctrl V."
      grip="chosen"
      words={words}
      onClick={() => void toClipboard(store)}
    />
  );
}
