import { memo, useMemo } from "react";
import type { Control } from "../../core/format/surface-profile.ts";
import type { ControlView } from "./control-view.ts";
import { type Hands, pressHandlers } from "./play.ts";

interface Props {
  control: Control;
  view: ControlView;
  hands: Hands;
  onFocus(): void;
}

/** Keys narrower than this lie above the others. */
const UPPER_BELOW = 0.8;

/** A key of a keyboard: struck harder the further down it is touched. */
export const KeyControl = memo(function KeyControl({ control, view, hands, onFocus }: Props) {
  const handlers = useMemo(() => pressHandlers(control, hands), [control, hands]);
  const upper = control.box.width < UPPER_BELOW;
  const label = view.state === "free" ? "" : view.label;
  return (
    <button
      type="button"
      className={`key ${upper ? "key-upper" : "key-lower"}`}
      data-control={control.id}
      data-state={view.state}
      data-lamp={view.lightMode}
      data-pressed={view.pressed}
      onFocus={onFocus}
      {...handlers}
    >
      <span className="sr-only">
        {control.name}
        {view.state === "free" ? ", free" : view.word ? `, ${view.word}` : ""}
        {label ? ": " : ""}
      </span>
      {label ? (
        <span className="narrow [writing-mode:vertical-rl] rotate-180 overflow-hidden text-ellipsis whitespace-nowrap text-[11px] leading-none">
          {label}
        </span>
      ) : null}
    </button>
  );
});
