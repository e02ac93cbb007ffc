import { useMemo, useRef, useState } from "react";
import type { Control } from "../../core/format/surface-profile.ts";
import { type LearnCandidate, learn } from "../../core/surface/learn.ts";
import { grown, learntControl, sameControl } from "../../core/surface/learnt-control.ts";
import { Button, Switch } from "../components/controls.tsx";
import { ControlFields, messageWords } from "./ControlFields.tsx";
import { withItem } from "./profile-draft.ts";
import type { SurfaceParts } from "./surface-editor-props.ts";
import { useHeard } from "./use-heard.ts";

/** Controls snap to halves of a pad. */
const SNAP = 0.5;
const ARROWS: Record<string, readonly [number, number]> = {
  ArrowLeft: [-SNAP, 0],
  ArrowRight: [SNAP, 0],
  ArrowUp: [0, -SNAP],
  ArrowDown: [0, SNAP],
};

/** Learn control by control, lay them out by drag, and say of each what it is. */
export function ControlBoard({ profile, change, users }: SurfaceParts) {
  const [learning, setLearning] = useState(false);
  const [touchFor, setTouchFor] = useState<string | null>(null);
  const [picked, setPicked] = useState<string | null>(null);
  const [found, setFound] = useState<LearnCandidate | null>(null);
  // By their names: an edit makes new objects of the same surfaces, and listening goes on.
  const ids = users.map((s) => s.id).join(" ");
  const surfaces = useMemo(() => new Set(ids.split(" ")), [ids]);
  const index = profile.controls.findIndex((c) => c.id === picked);
  const chosen = profile.controls[index];
  const set = (next: Control | null) =>
    change(grown({ ...profile, controls: withItem(profile.controls, index, next) }));

  useHeard(learning || touchFor !== null, surfaces, (window) => {
    const { best } = learn(window);
    if (touchFor !== null) {
      const at = profile.controls.findIndex((c) => c.id === touchFor);
      const note = window.find((m) => (m.bytes[0]! & 0xf0) === 0x90);
      const control = profile.controls[at];
      setTouchFor(null);
      if (!note || !control) return;
      const touch = { kind: "note", channel: (note.bytes[0]! & 15) + 1, number: note.bytes[1]! } as const;
      change({ ...profile, controls: withItem(profile.controls, at, { ...control, touch }) });
      return;
    }
    if (!best) return;
    setFound(best);
    const known = sameControl(profile, best.sends);
    if (known) {
      setPicked(known.id);
      return;
    }
    const control = learntControl(profile, best);
    setPicked(control.id);
    change(grown({ ...profile, controls: [...profile.controls, control] }));
  });

  return (
    <div className="grid h-full min-h-0 grid-cols-[minmax(0,1fr)_360px] gap-5">
      <div className="grid min-h-0 grid-rows-[auto_minmax(0,1fr)] gap-3">
        <div className="flex items-center gap-4 text-small text-ink-500">
          <Switch
            label="Learn"
            hint="Touch one control after the other; each appears on the board"
            checked={learning}
            onChange={setLearning}
          />
          <span role="status">
            {users.length === 0
              ? "Add a surface of this kind in Connect, so that it can be heard."
              : touchFor !== null
                ? "Rest a finger on it, without moving it."
                : !learning
                  ? "Drag a control to where it lies; arrows move the chosen one."
                  : found
                    ? `Heard: ${found.kind}, ${messageWords(found.sends)}. The next one, please.`
                    : "Listening. Move or press a control."}
          </span>
        </div>
        <Board profile={profile} change={change} picked={picked} onPick={setPicked} />
      </div>
      {chosen ? (
        <ControlFields
          key={chosen.id}
          profile={profile}
          control={chosen}
          canLearn={users.length > 0}
          learningTouch={touchFor === chosen.id}
          onLearnTouch={() => setTouchFor(chosen.id)}
          onChange={(next) => {
            if (next) setPicked(next.id);
            set(next);
          }}
        />
      ) : (
        <div className="grid content-start gap-3 text-small text-ink-500">
          <p>Choose a control on the board to say what it is.</p>
          <Button
            size="small"
            className="justify-self-start"
            onClick={() => {
              const control = byHand(profile);
              setPicked(control.id);
              change(grown({ ...profile, controls: [...profile.controls, control] }));
            }}
          >
            Add one by hand
          </Button>
        </div>
      )}
    </div>
  );
}

/** A pad on the first note that no control of the profile has. */
function byHand(profile: SurfaceParts["profile"]): Control {
  let number = 36;
  while (sameControl(profile, { kind: "note", channel: 1, number }) && number < 127) number++;
  return learntControl(profile, {
    source: "",
    kind: "pad",
    sends: { kind: "note", channel: 1, number },
    behaviour: "springs-back",
    confidence: 1,
    moved: 1,
    messages: 1,
  });
}

function Board({
  profile,
  change,
  picked,
  onPick,
}: Pick<SurfaceParts, "profile" | "change"> & { picked: string | null; onPick(id: string): void }) {
  const board = useRef<HTMLDivElement>(null);
  const [dragged, setDragged] = useState<{ id: string; x: number; y: number } | null>(null);
  const { width, height } = profile.size;
  const moveTo = (id: string, x: number, y: number) => {
    const at = profile.controls.findIndex((c) => c.id === id);
    const control = profile.controls[at]!;
    const box = { ...control.box, x: Math.max(0, x), y: Math.max(0, y) };
    if (box.x !== control.box.x || box.y !== control.box.y)
      change(grown({ ...profile, controls: withItem(profile.controls, at, { ...control, box }) }));
  };
  const snapped = (n: number) => Math.round(n / SNAP) * SNAP;
  return (
    <div ref={board} className="deck relative min-h-0 overflow-hidden" data-board>
      {profile.controls.map((c) => {
        const at = dragged?.id === c.id ? dragged : c.box;
        return (
          <button
            key={c.id}
            type="button"
            aria-pressed={c.id === picked}
            data-board-control={c.id}
            className="narrow absolute overflow-hidden rounded-md border border-black bg-velvet-800 p-1 text-left text-[11px] leading-tight text-ink-300 aria-pressed:border-brass-400 aria-pressed:text-ink-100"
            style={{
              left: `${(at.x / width) * 100}%`,
              top: `${(at.y / height) * 100}%`,
              width: `calc(${(c.box.width / width) * 100}% - 4px)`,
              height: `calc(${(c.box.height / height) * 100}% - 4px)`,
              touchAction: "none",
            }}
            onPointerDown={(e) => {
              onPick(c.id);
              e.currentTarget.setPointerCapture(e.pointerId);
              setDragged({ id: c.id, x: c.box.x, y: c.box.y });
            }}
            onPointerMove={(e) => {
              if (dragged?.id !== c.id || !board.current) return;
              const box = board.current.getBoundingClientRect();
              const x = ((e.clientX - box.left) / box.width) * width - c.box.width / 2;
              const y = ((e.clientY - box.top) / box.height) * height - c.box.height / 2;
              // A press alone moves nothing.
              if (Math.hypot(e.movementX, e.movementY) > 0) setDragged({ id: c.id, x, y });
            }}
            onPointerUp={() => {
              if (dragged) moveTo(c.id, snapped(dragged.x), snapped(dragged.y));
              setDragged(null);
            }}
            onPointerCancel={() => setDragged(null)}
            onKeyDown={(e) => {
              const by = ARROWS[e.key];
              if (!by) return;
              e.preventDefault();
              moveTo(c.id, c.box.x + by[0], c.box.y + by[1]);
            }}
          >
            {c.name}
            <span className="block font-mono text-[10px] text-ink-500">{messageWords(c.sends)}</span>
          </button>
        );
      })}
    </div>
  );
}
