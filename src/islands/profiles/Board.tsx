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
  /** Where a control may come is drawn, and the board is never smaller than a few of them. */
  holes?: boolean;
}

/** A board with holes has at least so many, in pads. */
const HOLES = { width: 8, height: 7 };

/** The controls of a surface as they lie on it, to be chosen, and moved by drag or by arrows. */
export function Board({ profile, change, picked, onPick, holes = false }: Props) {
  const board = useRef<HTMLDivElement>(null);
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: DRAG_AFTER_PX } }));
  const put = (control: Control, box: Control["box"]) => {
    const at = profile.controls.indexOf(control);
    if (box.x !== control.box.x || box.y !== control.box.y)
      change(grown({ ...profile, controls: withItem(profile.controls, at, { ...control, box }) }));
  };
  const size = holes
    ? { width: Math.max(HOLES.width, profile.size.width), height: Math.max(HOLES.height, profile.size.height) }
    : profile.size;
  const end = ({ active, delta }: DragEndEvent) => {
    const control = profile.controls.find((c) => c.id === active.id);
    if (!control || !board.current) return;
    const { width, height } = board.current.getBoundingClientRect();
    put(control, dragged(control.box, (delta.x / width) * size.width, (delta.y / height) * size.height));
  };
  return (
    <DndContext id="board" sensors={sensors} onDragEnd={end} accessibility={SAID}>
      <div className={`deck relative min-h-0 overflow-hidden p-2.5 ${holes ? "flex-1" : ""}`} data-board>
        <div ref={board} className="relative h-full w-full">
          {holes ? <Holes size={size} /> : null}
          {profile.controls.map((control) => (
            <BoardControl
              key={control.id}
              control={control}
              size={size}
              isPicked={control.id === picked}
              onPick={() => onPick(control.id)}
              onStep={(by) => put(control, stepped(control.box, by))}
            />
          ))}
        </div>
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

function Holes({ size: { width, height } }: { size: { readonly width: number; readonly height: number } }) {
  const all = Array.from({ length: Math.ceil(width) * Math.ceil(height) }, (_, i) => i);
  return all.map((i) => (
    <span
      key={i}
      aria-hidden
      className="absolute rounded-md border border-dashed border-velvet-700"
      style={{
        left: `calc(${((i % Math.ceil(width)) / width) * 100}% + 2px)`,
        top: `calc(${(Math.floor(i / Math.ceil(width)) / height) * 100}% + 2px)`,
        width: `calc(${100 / width}% - 6px)`,
        height: `calc(${100 / height}% - 6px)`,
      }}
    />
  ));
}

/** Its message without the channel, for which a pad has no room. */
function shortWords(sends: Control["sends"]): string {
  return messageWords(sends).replace(/ ch \d+$/, "");
}

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
      className={`narrow absolute flex flex-col justify-between overflow-hidden border border-edge bg-velvet-925 p-1.5 text-left text-[11px] leading-tight text-ink-100 shadow-[inset_0_-3px_0_var(--color-velvet-600)] outline-offset-1 aria-pressed:outline-2 aria-pressed:outline-brass-400 ${control.kind === "knob" ? "rounded-full" : "rounded-md"} ${isDragging ? "z-10" : ""}`}
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
      <span className="block overflow-hidden font-mono text-[10px] text-ellipsis whitespace-nowrap text-ink-500">
        {shortWords(control.sends)}
      </span>
      {control.kind === "fader" ? (
        <i aria-hidden className="mx-auto h-2/5 w-1 rounded bg-velvet-600" />
      ) : control.kind === "knob" ? (
        <i aria-hidden className="mx-auto h-1/4 w-0.5 rounded bg-ink-300" />
      ) : null}
      <span className="block">{control.name}</span>
    </button>
  );
}
