import { useMemo, useState } from "react";
import type { Control } from "../../core/format/surface-profile.ts";
import { type LearnCandidate, learn } from "../../core/surface/learn.ts";
import { grown, learntControl, sameControl } from "../../core/surface/learnt-control.ts";
import { Button, Switch } from "../components/controls.tsx";
import { Board } from "./Board.tsx";
import { ControlFields, messageWords } from "./ControlFields.tsx";
import { withItem } from "./profile-draft.ts";
import type { SurfaceEditorProps } from "./surface-editor-props.ts";
import { useHeard } from "./use-heard.ts";

/** Learn control by control, lay them out by drag, and say of each what it is. */
export function ControlBoard({ profile, change, users }: SurfaceEditorProps) {
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
function byHand(profile: SurfaceEditorProps["profile"]): Control {
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
