import { DndContext, type DragEndEvent, PointerSensor, useDraggable, useSensor, useSensors } from "@dnd-kit/core";
import { useRef } from "react";
import type { Control } from "../../core/format/surface-profile.ts";
import { grown } from "../../core/surface/learnt-control.ts";
import { ARROWS, dragged, stepped } from "./board-moves.ts";
import { messageWords } from "./ControlFields.tsx";
import { withItem } from "./profile-draft.ts";
import type { SurfaceEditorProps } from "./surface-editor-props.ts";

/** A press becomes a drag after this many pixels; until then it only chooses. */
const DRAG_AFTER_PX = 4;

interface Props extends Pick<SurfaceEditorProps, "profile" | "change"> {
  picked: string | null;
  onPick(id: string): void;
}

/** The controls of a surface as they lie on it, to be chosen, and moved by drag or by arrows. */
export function Board({ profile, change, picked, onPick }: Props) {
  const board = useRef<HTMLDivElement>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: DRAG_AFTER_PX } }));
  const put = (control: Control, box: Control["box"]) => {
    const at = profile.controls.indexOf(control);
    if (box.x !== control.box.x || box.y !== control.box.y)
      change(grown({ ...profile, controls: withItem(profile.controls, at, { ...control, box }) }));
  };
  const end = ({ active, delta }: DragEndEvent) => {
    const control = profile.controls.find((c) => c.id === active.id);
    if (!control || !board.current) return;
    const { width, height } = board.current.getBoundingClientRect();
    const { size } = profile;
    put(control, dragged(control.box, (delta.x / width) * size.width, (delta.y / height) * size.height));
  };
  return (
    <DndContext id="board" sensors={sensors} onDragEnd={end} accessibility={SAID}>
      <div ref={board} className="deck relative min-h-0 overflow-hidden" data-board>
        {profile.controls.map((control) => (
          <BoardControl
            key={control.id}
            control={control}
            size={profile.size}
            isPicked={control.id === picked}
            onPick={() => onPick(control.id)}
            onStep={(by) => put(control, stepped(control.box, by))}
          />
        ))}
      </div>
    </DndContext>
  );
}

/** What is said aloud; keys move a control by themselves, so that nothing has to be picked up first. */
const SAID = {
  screenReaderInstructions: { draggable: "Arrow keys move it by half a pad." },
  announcements: {
    onDragStart: ({ active }: { active: { id: string | number } }) => `${active.id} is being moved.`,
    onDragOver: () => undefined,
    onDragEnd: ({ active }: { active: { id: string | number } }) => `${active.id} lies there now.`,
    onDragCancel: ({ active }: { active: { id: string | number } }) => `${active.id} stays where it was.`,
  },
};

interface ControlProps {
  control: Control;
  /** Of the board, in pads. */
  size: { readonly width: number; readonly height: number };
  isPicked: boolean;
  onPick(): void;
  onStep(by: readonly [dx: number, dy: number]): void;
}

function BoardControl({ control, size, isPicked, onPick, onStep }: ControlProps) {
  const { attributes, listeners, setNodeRef, transform, isDragging } = useDraggable({ id: control.id });
  const { box } = control;
  return (
    <button
      ref={setNodeRef}
      {...attributes}
      {...listeners}
      type="button"
      aria-pressed={isPicked}
      data-board-control={control.id}
      className={`narrow absolute overflow-hidden rounded-md border border-black bg-velvet-800 p-1 text-left text-[11px] leading-tight text-ink-300 aria-pressed:border-brass-400 aria-pressed:text-ink-100 ${isDragging ? "z-10" : ""}`}
      style={{
        left: `${(box.x / size.width) * 100}%`,
        top: `${(box.y / size.height) * 100}%`,
        width: `calc(${(box.width / size.width) * 100}% - 4px)`,
        height: `calc(${(box.height / size.height) * 100}% - 4px)`,
        touchAction: "none",
        ...(transform ? { transform: `translate(${transform.x}px, ${transform.y}px)` } : {}),
      }}
      onPointerDown={(e) => {
        onPick();
        listeners?.onPointerDown?.(e);
      }}
      onKeyDown={(e) => {
        const by = ARROWS[e.key];
        if (!by) return;
        e.preventDefault();
        onStep(by);
      }}
      onClick={onPick}
    >
      {control.name}
      <span className="block font-mono text-[10px] text-ink-500">{messageWords(control.sends)}</span>
    </button>
  );
}
