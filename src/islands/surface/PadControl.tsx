import { ChevronsUpDown, CircleDot, Layers, type LucideIcon, Play, Power, SlidersVertical, Zap } from "lucide-react";
import { memo, useMemo } from "react";
import type { Control } from "../../core/format/surface-profile.ts";
import { keyWord } from "../../core/surface/computer-keys.ts";
import type { ControlView } from "./control-view.ts";
import { type Hands, pressHandlers, turnHandlers } from "./play.ts";

const GLYPHS: Record<ControlView["acts"], LucideIcon | null> = {
  level: SlidersVertical,
  trigger: Play,
  toggle: Power,
  flash: Zap,
  none: null,
};

interface Props {
  control: Control;
  view: ControlView;
  hands: Hands;
  size: "map" | "run";
  /** How many of its width fit beside each other on the surface. */
  across: number;
  onFocus(): void;
}

/** More than so many beside each other have no room for their state in a word: in Run, on the Map, and there in a small window. */
const ACROSS = { run: 15, map: 8, smallMap: 5 };
/** A button lower than this, in units of a pad, has room for one word. */
const LOW = 0.7;

/** A pad or button: clipped corners, a lip in the colour that came back, its state in a word above its name. */
export const PadControl = memo(function PadControl({ control, view, hands, size, across, onFocus }: Props) {
  const handlers = useMemo(
    () => (control.behaviour === "relative" ? turnHandlers(control, hands) : pressHandlers(control, hands)),
    [control, hands],
  );
  const Glyph = control.kind === "button" && view.acts === "flash" ? Layers : GLYPHS[view.acts];
  // A key of the computer is known by what stands on it, also in Run: it is looked for there.
  const key = control.keys ? keyWord(control.keys[0]!) : null;
  const number = key ?? control.id.split("-")[1] ?? "";
  const run = size === "run";
  const free = view.state === "free";
  const label = view.label || (free ? (run ? "" : "free") : control.name);
  const low = control.box.height < LOW;
  const tight = control.box.width < 1 && !run;
  return (
    <button
      type="button"
      className={`pad flex flex-col justify-between leading-[1.15] ${run && free ? "!border-transparent" : ""} ${low || tight || (key !== null && !run) ? "px-1 py-1 text-[11px]" : run ? `px-3 py-2.5 [@media(max-height:820px)]:pt-1 [@media(max-height:820px)]:pb-2 max-[760px]:px-1 max-[760px]:py-1 max-[760px]:!text-[10px] ${control.box.width < 1 ? "text-small" : "text-title [@media(max-height:820px)]:text-lead"}` : "px-2 pt-1.5 pb-2.5 text-small"}`}
      style={{ "--lamp": view.lightColour || undefined } as React.CSSProperties}
      data-state={view.state}
      data-lamp={view.lightMode}
      data-pressed={view.pressed}
      data-control={control.id}
      aria-pressed={view.acts === "toggle" ? view.state === "on" : undefined}
      onFocus={onFocus}
      {...handlers}
    >
      <span className="sr-only">
        {control.name}
        {free ? ", free" : view.word ? `, ${view.word}` : ""}:{" "}
      </span>
      {low ? (
        <span aria-hidden className="narrow m-auto overflow-hidden text-ellipsis whitespace-nowrap">
          {view.does || (free ? "·" : label)}
        </span>
      ) : null}
      {/* For eyes: number, state and way of acting; the words above say the same. */}
      <span
        aria-hidden
        className={`${low || tight ? "hidden" : run ? "flex max-[760px]:hidden" : "flex"} items-center justify-between gap-1 overflow-hidden font-mono ${run ? "text-small [@media(max-height:820px)]:text-[10px]" : "text-[10px]"} text-ink-500`}
      >
        <span className={view.lightMode === "full" || view.lightMode === "pulse" ? "text-bright/85" : ""}>
          {run && key === null ? (free ? "" : view.word) : run && free ? "" : number}
        </span>
        <span className="flex items-center gap-1">
          {view.actions > 1 ? <span>×{view.actions}</span> : null}
          {across <= ACROSS[size] &&
          run === (key !== null) &&
          view.word &&
          view.state !== "free" &&
          view.word.length < 9 ? (
            <span className={!run && across > ACROSS.smallMap ? "max-[1179px]:hidden" : ""}>{view.word}</span>
          ) : null}
          {Glyph && !run && key === null ? <Glyph size={11} aria-hidden /> : null}
          {view.state === "silent" ? <CircleDot size={11} aria-hidden className="text-alert" /> : null}
          {view.state === "elsewhere" ? <ChevronsUpDown size={11} aria-hidden /> : null}
        </span>
      </span>
      <span
        className={low ? "sr-only" : `narrow overflow-hidden text-ellipsis ${run ? "line-clamp-2" : "line-clamp-3"}`}
      >
        {label}
      </span>
    </button>
  );
});
