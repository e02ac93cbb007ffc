import { useState } from "react";
import { freeId } from "../../core/format/free-id.ts";
import type { Control, Palette, PaletteColour } from "../../core/format/surface-profile.ts";
import { firstPalette } from "../../core/surface/first-palette.ts";
import { Button } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { ClearButton } from "../components/Field.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { idFrom } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { CARD } from "./desk-editor-props.ts";
import { NewName } from "./ParameterRows.tsx";
import { withItem } from "./profile-draft.ts";
import type { SurfaceEditorProps } from "./surface-editor-props.ts";

type Lit = Control & { light: NonNullable<Control["light"]> };

/** Colours by trying: send values to a real pad, look, and write down what they show. */
export function PaletteEditor({ profile, change, users }: SurfaceEditorProps) {
  const set = (at: number, p: Palette | null) => change({ ...profile, palettes: withItem(profile.palettes, at, p) });
  return (
    <div className="grid max-w-[900px] gap-3">
      <p className="text-small text-ink-500">
        A pad shows the colour of the value it is sent. Try values on the real pad, and name what you see.
      </p>
      {profile.palettes.map((p, i) => (
        <OnePalette key={p.id} palette={p} profile={profile} users={users} onChange={(next) => set(i, next)} />
      ))}
      <NewName
        label="Name of the colours"
        add="Add a set of colours"
        onAdd={(name) =>
          change({
            ...profile,
            palettes: [...profile.palettes, firstPalette(freeId(idFrom(name), profile.palettes))],
          })
        }
      />
    </div>
  );
}

function OnePalette({
  palette,
  profile,
  users,
  onChange,
}: Pick<SurfaceEditorProps, "profile" | "users"> & { palette: Palette; onChange(palette: Palette | null): void }) {
  const actions = useActions();
  const [value, setValue] = useState(0);
  const pads = profile.controls.filter((c): c is Lit => c.light?.palette === palette.id);
  const [pad, setPad] = useState(0);
  const target = pads[pad] ?? pads[0];
  const surface = users[0];
  const send = (v: number) => {
    setValue(v);
    if (!target || !surface) return;
    const status = (target.light.kind === "note" ? 0x90 : 0xb0) | (target.light.channel - 1);
    actions.send({ kind: "send-once", to: "surface", id: surface.id, bytes: [status, target.light.number, v] });
  };
  const setColour = (at: number, c: PaletteColour | null) =>
    onChange({ ...palette, colours: withItem(palette.colours, at, c) });
  return (
    <section className={CARD} aria-label={`Colours ${palette.id}`}>
      <div className="flex flex-wrap items-center gap-3">
        <b className="text-ink-100">{palette.id}</b>
        <span className="flex items-center gap-1.5">
          dark is
          <NumberField
            label="Value that darkens it"
            value={palette.off}
            min={0}
            max={127}
            onCommit={(off) => onChange({ ...palette, off })}
          />
        </span>
        <span className="flex-1" />
        <ClearButton label={`Remove the colours ${palette.id}`} onClick={() => onChange(null)} />
      </div>
      <div className="flex flex-wrap items-center gap-3 rounded-lg bg-velvet-950 px-3 py-2">
        {target && surface ? (
          <TryValues
            target={target}
            value={value}
            onTry={send}
            onAnother={pads.length > 1 ? () => setPad((pad + 1) % pads.length) : null}
            onNew={() => onChange({ ...palette, colours: [...palette.colours, newColour(value)] })}
          />
        ) : (
          <span>Give a control of a surface in the show these colours, and values can be tried on it.</span>
        )}
      </div>
      {palette.colours.map((c, i) => (
        <ColourRow
          // biome-ignore lint/suspicious/noArrayIndexKey: colours have no ids, and their names may be edited
          key={i}
          at={i}
          colour={c}
          onChange={(next) => setColour(i, next)}
          onShow={target && surface ? () => send(c.full) : null}
          canRemove={palette.colours.length > 1}
        />
      ))}
    </section>
  );
}

/** A colour found by trying: it has the name of its value until somebody gives it one. */
function newColour(value: number): PaletteColour {
  return { name: `value ${value}`, colour: "#f4edf1", dim: value, full: value, pulse: value };
}

interface TryProps {
  target: Lit;
  value: number;
  onTry(value: number): void;
  /** Null where no other pad has these colours. */
  onAnother: (() => void) | null;
  onNew(): void;
}

function TryValues({ target, value, onTry, onAnother, onNew }: TryProps) {
  return (
    <>
      <span>try on {target.name}</span>
      <input
        type="range"
        min={0}
        max={127}
        value={value}
        aria-label="Value to try"
        onChange={(e) => onTry(Number(e.target.value))}
        className="w-[280px] accent-brass-400"
      />
      <span className="w-8 font-mono text-ink-100">{value}</span>
      <Button size="small" onClick={() => onTry(value)}>
        Send it again
      </Button>
      {onAnother ? (
        <Button size="small" look="quiet" onClick={onAnother}>
          another pad
        </Button>
      ) : null}
      <Button size="small" onClick={onNew}>
        It is a new colour
      </Button>
    </>
  );
}

interface ColourProps {
  at: number;
  colour: PaletteColour;
  onChange(colour: PaletteColour | null): void;
  /** Null where no pad can show it. */
  onShow: (() => void) | null;
  canRemove: boolean;
}

function ColourRow({ at, colour, onChange, onShow, canRemove }: ColourProps) {
  return (
    <div className="flex flex-wrap items-center gap-2">
      <input
        type="color"
        aria-label={`Colour of ${colour.name}`}
        value={colour.colour}
        onChange={(e) => onChange({ ...colour, colour: e.target.value })}
        className="h-[24px] w-[34px] rounded bg-transparent"
      />
      <DraftField
        label={`Name of the colour ${at + 1}`}
        value={colour.name}
        className="w-[130px]"
        accepts={(t) => t !== ""}
        onCommit={(name) => onChange({ ...colour, name })}
      />
      {(["dim", "full", "pulse"] as const).map((mode) => (
        <span key={mode} className="flex items-center gap-1">
          {mode}
          <NumberField
            label={`${colour.name}: ${mode}`}
            value={colour[mode]}
            min={0}
            max={127}
            onCommit={(v) => onChange({ ...colour, [mode]: v })}
          />
        </span>
      ))}
      {onShow ? (
        <Button size="small" look="quiet" onClick={onShow}>
          show it
        </Button>
      ) : null}
      {canRemove ? <ClearButton label={`Remove ${colour.name}`} onClick={() => onChange(null)} /> : null}
    </div>
  );
}
