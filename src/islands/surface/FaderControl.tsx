import { memo, useMemo, useRef } from "react";
import type { Control } from "../../core/format/surface-profile.ts";
import type { ControlView } from "./control-view.ts";
import { FADER_MARGIN_PX, type Hands, moveHandlers } from "./play.ts";

interface Props {
  control: Control;
  view: ControlView;
  hands: Hands;
  onFocus(): void;
  /** The surface has a text of its own for it. */
  told?: boolean;
}

/** Length of this much travel, as a CSS term. */
const travel = (value01: number) => `(100% - ${2 * FADER_MARGIN_PX}px) * ${Math.max(0, value01)}`;

/** A fader: where the hand has put the cap, the level it drives beside it, and where to go to catch it. */
export const FaderControl = memo(function FaderControl({ control, view, hands, onFocus, told = false }: Props) {
  const position = useRef(view.position);
  position.current = view.position;
  const handlers = useMemo(() => moveHandlers(control, hands, () => position.current), [control, hands]);
  const shown = Math.max(0, view.position);
  // Until the hand is known, the level is where the desk has it.
  const level = view.target >= 0 && (view.catching || view.position < 0) ? view.target : view.position;
  const label = view.label || (view.state === "free" ? "free" : control.name);
  return (
    <div className={`grid h-full grid-cols-[minmax(0,1fr)] gap-1.5 text-center ${told ? "" : "grid-rows-[1fr_auto]"}`}>
      <div
        className="fader-slot"
        role="slider"
        tabIndex={0}
        aria-label={`${control.name}: ${label}`}
        aria-orientation="vertical"
        aria-valuemin={0}
        aria-valuemax={100}
        aria-valuenow={Math.round(shown * 100)}
        aria-valuetext={
          [view.word, view.catching && `${view.catching} to catch`].filter(Boolean).join(", ") || "not heard"
        }
        data-control={control.id}
        data-state={view.state}
        data-catching={view.catching}
        onFocus={onFocus}
        {...handlers}
      >
        <i
          className="absolute left-1/2 -ml-[1.5px] w-[3px] rounded bg-groove"
          style={{ top: FADER_MARGIN_PX, bottom: FADER_MARGIN_PX }}
        />
        <u
          className="absolute left-1/2 -ml-[1.5px] w-[3px] rounded bg-cool no-underline"
          style={{ bottom: FADER_MARGIN_PX, height: `calc(${travel(level)})` }}
        />
        {view.catching ? (
          <span
            className="absolute inset-x-1 h-0 border-t-2 border-dashed border-care"
            style={{ bottom: `calc(${FADER_MARGIN_PX - 1}px + ${travel(view.target)})` }}
          />
        ) : null}
        <em
          className={`absolute inset-x-2 h-4 rounded border border-edge bg-(image:--cap) shadow-[inset_0_7px_0_-6px_var(--color-ink-300)] ${view.position < 0 ? "opacity-45" : ""}`}
          style={{ bottom: `calc(${FADER_MARGIN_PX - 8}px + ${travel(shown)})` }}
        />
      </div>
      {told ? null : (
        <span className="narrow flex h-[42px] flex-col text-tiny leading-tight text-ink-300">
          <span className="overflow-hidden text-ellipsis whitespace-nowrap">{label}</span>
          {view.catching ? (
            <span className="text-care">
              {view.catching === "raise" ? "▲" : "▼"} {view.catching} to catch
            </span>
          ) : (
            <span className="font-mono text-ink-500">{view.word && view.word !== label ? view.word : " "}</span>
          )}
        </span>
      )}
    </div>
  );
});
