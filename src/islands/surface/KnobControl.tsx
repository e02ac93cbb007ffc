import { memo, useMemo } from "react";
import type { Control } from "../../core/format/surface-profile.ts";
import { keyWord } from "../../core/surface/computer-keys.ts";
import type { ControlView } from "./control-view.ts";
import { type Hands, turnHandlers } from "./play.ts";

interface Props {
  control: Control;
  view: ControlView;
  hands: Hands;
  onFocus(): void;
  /** Its strip has a text that names it. */
  told?: boolean;
}

const RADIUS = 15;
const STROKE = 3.2;
/** The ring is open at the bottom: it runs over three quarters of the circle. */
const ARC = 0.75;
const ROUND = 2 * Math.PI * RADIUS;

/** An endless knob, with the ring of lights as it was sent, or without one the level it turns. */
export const KnobControl = memo(function KnobControl({ control, view, hands, onFocus, told = false }: Props) {
  const handlers = useMemo(() => turnHandlers(control, hands), [control, hands]);
  const label = view.label || (view.state === "free" ? "free" : control.name);
  const level = control.ring ? view.ring : -1;
  return (
    <div
      className="knob grid h-full grid-rows-[1fr_auto] justify-items-center gap-0.5 text-center"
      role="spinbutton"
      tabIndex={0}
      aria-label={`${control.name}: ${label}`}
      aria-valuenow={level < 0 ? undefined : Math.round(level * 100)}
      aria-valuetext={view.word || "not known"}
      data-control={control.id}
      data-state={view.state}
      data-ring={level < 0 ? "" : Math.round(level * 100)}
      onFocus={onFocus}
      {...handlers}
    >
      <svg viewBox="0 0 40 40" className="h-full min-h-0 max-w-full" aria-hidden="true">
        <g transform="rotate(135 20 20)" fill="none" strokeWidth={STROKE} strokeLinecap="butt">
          <circle
            cx="20"
            cy="20"
            r={RADIUS}
            stroke="var(--color-velvet-700)"
            strokeDasharray={`${ROUND * ARC} ${ROUND}`}
          />
          {level >= 0 ? (
            <circle
              cx="20"
              cy="20"
              r={RADIUS}
              stroke="var(--color-cool)"
              strokeDasharray={`${Math.max(0.6, ROUND * ARC * level)} ${ROUND}`}
            />
          ) : null}
        </g>
        <circle cx="20" cy="20" r="10.5" className="fill-velvet-800 stroke-black" strokeWidth="1" />
        <path d="M20 11.5 v4.5" stroke="var(--color-ink-500)" strokeWidth="1.6" transform="rotate(0 20 20)" />
      </svg>
      <span className="narrow w-full overflow-hidden text-ellipsis whitespace-nowrap text-[10px] leading-tight text-ink-300">
        {control.keys ? (
          <span className="mr-1 font-mono text-ink-500">{control.keys.map(keyWord).join(" ")}</span>
        ) : null}
        {view.state === "free" ? "" : told ? `${view.does} ${view.word}` : label}
      </span>
    </div>
  );
});
