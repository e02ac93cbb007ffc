import { useState } from "react";
import type { Control, Palette, PaletteColour } from "../../core/format/surface-profile.ts";
import { Button } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { ClearButton } from "../components/FieldRow.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { idFrom } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { CARD } from "./desk-editor-props.ts";
import { NewName } from "./ParameterRows.tsx";
import { freeId, withItem } from "./profile-draft.ts";
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
            palettes: [
              ...profile.palettes,
              {
                id: freeId(idFrom(name), profile.palettes),
                off: 0,
                colours: [{ name: "lit", colour: "#f4edf1", dim: 1, full: 127, pulse: 127 }],
              },
            ],
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
          <>
            <span>try on {target.name}</span>
            <input
              type="range"
              min={0}
              max={127}
              value={value}
              aria-label="Value to try"
              onChange={(e) => send(Number(e.target.value))}
              className="w-[280px] accent-brass-400"
            />
            <span className="w-8 font-mono text-ink-100">{value}</span>
            <Button size="small" onClick={() => send(value)}>
              Send it again
            </Button>
            {pads.length > 1 ? (
              <Button size="small" look="quiet" onClick={() => setPad((pad + 1) % pads.length)}>
                another pad
              </Button>
            ) : null}
            <Button
              size="small"
              onClick={() =>
                onChange({
                  ...palette,
                  colours: [
                    ...palette.colours,
                    { name: `value ${value}`, colour: "#f4edf1", dim: value, full: value, pulse: value },
                  ],
                })
              }
            >
              It is a new colour
            </Button>
          </>
        ) : (
          <span>Give a control of a surface in the show these colours, and values can be tried on it.</span>
        )}
      </div>
      {palette.colours.map((c, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: colours have no ids, and their names may be edited
        <div key={i} className="flex flex-wrap items-center gap-2">
          <input
            type="color"
            aria-label={`Colour of ${c.name}`}
            value={c.colour}
            onChange={(e) => setColour(i, { ...c, colour: e.target.value })}
            className="h-[24px] w-[34px] rounded bg-transparent"
          />
          <DraftField
            label={`Name of the colour ${i + 1}`}
            value={c.name}
            className="w-[130px]"
            accepts={(t) => t !== ""}
            onCommit={(name) => setColour(i, { ...c, name })}
          />
          {(["dim", "full", "pulse"] as const).map((mode) => (
            <span key={mode} className="flex items-center gap-1">
              {mode}
              <NumberField
                label={`${c.name}: ${mode}`}
                value={c[mode]}
                min={0}
                max={127}
                onCommit={(v) => setColour(i, { ...c, [mode]: v })}
              />
            </span>
          ))}
          {target && surface ? (
            <Button size="small" look="quiet" onClick={() => send(c.full)}>
              show it
            </Button>
          ) : null}
          {palette.colours.length > 1 ? (
            <ClearButton label={`Remove ${c.name}`} onClick={() => setColour(i, null)} />
          ) : null}
        </div>
      ))}
    </section>
  );
}
