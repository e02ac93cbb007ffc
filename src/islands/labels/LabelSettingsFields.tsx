import { type ReactNode, useId } from "react";
import { BASE_LAYER } from "../../core/format/givens.ts";
import { NumberField } from "../components/NumberField.tsx";
import { Segments } from "../components/Segments.tsx";
import type { LiveState } from "../live/apply-changes.ts";
import { type LabelSettings, type PaperName, sizeOf } from "./label-settings.ts";
import { pageName } from "./label-words.ts";

interface SettingsProps {
  live: LiveState;
  settings: LabelSettings;
  set(change: Partial<LabelSettings>): void;
}

export function LabelSettingsFields({ live, settings, set }: SettingsProps) {
  const parameter = live.compiled.desks.find((d) => d.page)?.pageParameter;
  const pages = parameter
    ? Array.from({ length: parameter.to - parameter.from + 1 }, (_, i) => parameter.from + i)
    : [];
  const toggled = <T,>(list: readonly T[], item: T) =>
    list.includes(item) ? list.filter((x) => x !== item) : [...list, item];
  return (
    <>
      <Part title="For">
        {live.compiled.surfaces.map((surface) => {
          const isOn = settings.surfaces.includes(surface.id);
          const size = sizeOf(settings, surface.profile.id);
          const setSize = (change: Partial<typeof size>) =>
            set({ sizes: { ...settings.sizes, [surface.profile.id]: { ...size, ...change } } });
          return (
            <div key={surface.id} className="grid gap-1">
              <Tick
                label={surface.surface.name}
                about={`${surface.profile.controls.length} controls`}
                checked={isOn}
                onChange={() => set({ surfaces: toggled(settings.surfaces, surface.id) })}
              />
              {isOn ? (
                <div className="flex items-center gap-1 pl-4 text-small text-ink-500">
                  pad
                  <MmPair
                    of={`a pad of ${surface.surface.name}`}
                    widthMm={size.padWidthMm}
                    heightMm={size.padHeightMm}
                    min={4}
                    max={120}
                    onWidth={(padWidthMm) => setSize({ padWidthMm })}
                    onHeight={(padHeightMm) => setSize({ padHeightMm })}
                  />
                  strip
                  <NumberField
                    label={`Height of a strip of ${surface.surface.name} in mm`}
                    value={size.stripMm}
                    min={4}
                    max={60}
                    onCommit={(stripMm) => setSize({ stripMm })}
                  />
                  mm
                </div>
              ) : null}
            </div>
          );
        })}
      </Part>
      {pages.length > 0 ? (
        <Part title="What they do on page" about="Shift for more than one.">
          <div className="flex flex-wrap gap-1" role="toolbar" aria-label="Pages">
            {pages.map((page) => (
              <button
                key={page}
                type="button"
                aria-pressed={settings.pages.includes(page)}
                title={pageName(live, page) || undefined}
                onClick={(e) => {
                  const next = e.shiftKey ? toggled(settings.pages, page).toSorted((a, b) => a - b) : [page];
                  set({ pages: next.length === 0 ? [page] : next });
                }}
                className="h-7 min-w-7 rounded-md border border-transparent bg-velvet-900 px-1.5 text-small text-ink-300 aria-pressed:border-brass-400 aria-pressed:font-semibold aria-pressed:text-ink-100"
              >
                {page}
              </button>
            ))}
          </div>
        </Part>
      ) : null}
      <Part title="In layer" about={live.show.layers.length > 1 ? "Shift for more than one." : ""}>
        <div className="flex flex-wrap gap-1" role="toolbar" aria-label="Layers">
          {live.show.layers.map(({ id, name }) => (
            <button
              key={id}
              type="button"
              aria-pressed={settings.layers.includes(id)}
              onClick={(e) => {
                const next = e.shiftKey ? toggled(settings.layers, id) : [id];
                set({ layers: next.length === 0 ? [BASE_LAYER] : next });
              }}
              className="h-7 max-w-[130px] overflow-hidden rounded-md border border-transparent bg-velvet-900 px-2.5 text-small text-ellipsis whitespace-nowrap text-ink-300 aria-pressed:border-brass-400 aria-pressed:font-semibold aria-pressed:text-ink-100"
            >
              {name}
            </button>
          ))}
        </div>
      </Part>
      <Part title="Paper">
        <Segments<PaperName>
          label="Paper"
          value={settings.paper}
          options={[
            ["a4", "A4"],
            ["letter", "Letter"],
            ["tape", "tape 24 mm"],
            ["own", "own size"],
          ]}
          onChange={(paper) => set({ paper })}
        />
        {settings.paper === "own" ? (
          <div className="flex items-center gap-1.5 text-small text-ink-500">
            <MmPair
              of="the sheet"
              widthMm={settings.ownWidthMm}
              heightMm={settings.ownHeightMm}
              min={40}
              max={1500}
              onWidth={(ownWidthMm) => set({ ownWidthMm })}
              onHeight={(ownHeightMm) => set({ ownHeightMm })}
            />
            mm
          </div>
        ) : null}
      </Part>
      <Part title="Text">
        <label className="flex items-center gap-2.5 text-small text-ink-500">
          A
          <input
            type="range"
            aria-label="Size of the names in mm"
            min={2}
            max={8}
            step={0.1}
            value={settings.textMm}
            onChange={(e) => set({ textMm: Number(e.target.value) })}
            className="flex-1 accent-brass-400"
          />
          <span className="font-mono text-ink-100">{settings.textMm.toFixed(1)} mm</span>
        </label>
      </Part>
      <Part title="Also print">
        <Tick
          label="The colour, as a bar"
          about="no full fills"
          checked={settings.colours}
          onChange={(colours) => set({ colours })}
        />
        <Tick
          label="Cut marks"
          about="outside the labels"
          checked={settings.cutMarks}
          onChange={(cutMarks) => set({ cutMarks })}
        />
        <Tick
          label="Number and note"
          about="small, at the edge"
          checked={settings.numbers}
          onChange={(numbers) => set({ numbers })}
        />
        <Tick label="What is free, as empty" checked={settings.empty} onChange={(empty) => set({ empty })} />
        <Tick
          label="A list of all mappings"
          about={settings.paper === "tape" ? "not on tape" : "for whoever stands in"}
          checked={settings.list}
          onChange={(list) => set({ list })}
        />
      </Part>
    </>
  );
}

interface MmPairProps {
  of: string;
  widthMm: number;
  heightMm: number;
  min: number;
  max: number;
  onWidth(mm: number): void;
  onHeight(mm: number): void;
}

function MmPair({ of, widthMm, heightMm, min, max, onWidth, onHeight }: MmPairProps) {
  return (
    <>
      <NumberField label={`Width of ${of} in mm`} value={widthMm} min={min} max={max} onCommit={onWidth} />
      ×
      <NumberField label={`Height of ${of} in mm`} value={heightMm} min={min} max={max} onCommit={onHeight} />
    </>
  );
}

function Part({ title, about, children }: { title: string; about?: string; children: ReactNode }) {
  return (
    <fieldset className="grid gap-1.5">
      <legend className="mb-1.5 text-small font-semibold text-ink-300">
        {title} {about ? <small className="ml-1 font-normal text-ink-500">{about}</small> : null}
      </legend>
      {children}
    </fieldset>
  );
}

interface TickProps {
  label: string;
  about?: string;
  checked: boolean;
  onChange(on: boolean): void;
}

function Tick({ label, about, checked, onChange }: TickProps) {
  const id = useId();
  return (
    <div className="flex min-h-[26px] items-center gap-2.5">
      <input
        id={id}
        type="checkbox"
        checked={checked}
        onChange={(e) => onChange(e.target.checked)}
        className="size-4 accent-brass-400"
      />
      <label htmlFor={id} className="min-w-0 flex-1 overflow-hidden text-ellipsis whitespace-nowrap">
        {label}
      </label>
      {about ? <small className="text-small text-ink-500">{about}</small> : null}
    </div>
  );
}
