import { type CSSProperties, memo, type PointerEvent, useMemo, useRef, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Control } from "../../core/format/surface-profile.ts";
import { useActions } from "../live/actions.ts";
import { framed, reached, toggled } from "../live/many.ts";
import { type PageState, useLive, usePage, usePageStore } from "../live/store.ts";
import { controlView } from "./control-view.ts";
import { DisplayText } from "./DisplayText.tsx";
import { FaderControl } from "./FaderControl.tsx";
import { Frame, useFrame } from "./frame.tsx";
import { KeyControl } from "./KeyControl.tsx";
import { KnobControl } from "./KnobControl.tsx";
import { PadControl } from "./PadControl.tsx";

interface Props {
  surface: string;
  size: "map" | "run";
  /** On the Map touching a control chooses it; in Run it only plays. */
  chooses: boolean;
}

/** Surfaces flatter than this keep their proportions, a little taller than they are. */
const WIDE = 1.8;
const FLATTENED = 1.35;
/** So many that are chosen are numbered. */
const COUNTED = 64;
/** With more controls than this they stand closer. */
const MANY = 40;

function placed(box: Control["box"], size: { width: number; height: number }): CSSProperties {
  return {
    left: `${(box.x / size.width) * 100}%`,
    top: `${(box.y / size.height) * 100}%`,
    width: `${(box.width / size.width) * 100}%`,
    height: `${(box.height / size.height) * 100}%`,
  };
}

/** A surface as it lies under the hands, drawn from its profile's geometry. */
export function SurfaceView({ surface, size, chooses }: Props) {
  const index = useLive((l) => l.compiled.surfaces.findIndex((s) => s.id === surface));
  const profile = useLive((l) => l.compiled.surfaces[index]?.profile);
  const [picked, setPicked] = useState<string | undefined>(undefined);
  const chosen = usePage((s) => (s.chosen?.surface === surface ? s.chosen.control : undefined));
  const store = usePageStore();
  const field = useRef<HTMLDivElement>(null);
  const { area, frame } = useFrame(field, profile?.size, (found) => {
    if (chooses) store.setState({ many: framed(store.getState(), surface, found), series: null, strips: false });
  });
  const chosenBank = chooses ? profile?.controls.find((c) => c.id === chosen)?.bank : undefined;
  if (!profile) return null;
  const { width, height } = profile.size;
  /** With Ctrl or Shift a press chooses several, and plays nothing. */
  const chooseMany = (e: PointerEvent<HTMLElement>) => {
    const isOne = e.ctrlKey || e.metaKey;
    const control = (e.target as Element).closest("[data-control]")?.getAttribute("data-control");
    if (!chooses || !control || (!isOne && !e.shiftKey) || e.button !== 0) return;
    e.preventDefault();
    e.stopPropagation();
    const page = store.getState();
    const many = isOne ? toggled(page, surface, control) : reached(page, surface, control);
    store.setState({
      many,
      series: null,
      strips: false,
      ...(many ? { chosenMapping: null, learning: false } : {}),
      ...(page.chosen?.surface === surface ? {} : { chosen: { surface, control } }),
    });
  };
  const wide = width / height > WIDE;
  const gap = profile.controls.length > MANY ? 2 : size === "run" ? 5 : 4;
  const banks = [...new Set(profile.controls.flatMap((c) => c.bank ?? []))];
  const bank = (chosenBank !== undefined && banks.includes(chosenBank) ? chosenBank : picked) ?? banks[0];
  return (
    <div
      className="deck relative min-h-0 flex-1 p-3"
      data-surface={chooses ? surface : undefined}
      onPointerDown={chooses ? frame : undefined}
    >
      {banks.length > 1 ? (
        <div className="absolute top-0 right-3 z-10 flex gap-1" role="tablist" aria-label="Banks of the surface itself">
          {banks.map((b) => (
            <button
              key={b}
              type="button"
              role="tab"
              aria-selected={b === bank}
              onClick={() => setPicked(b)}
              className="rounded-b-md bg-velvet-850 px-2 text-tiny text-ink-500 uppercase aria-selected:bg-velvet-700 aria-selected:text-ink-100"
            >
              {b}
            </button>
          ))}
        </div>
      ) : null}
      <div
        ref={field}
        className="relative m-auto h-full w-full"
        onPointerDownCapture={chooseMany}
        style={wide ? { maxHeight: "100%", height: "auto", aspectRatio: `${width} / ${height * FLATTENED}` } : {}}
      >
        {(profile.displays ?? []).map((display, i) => (
          <div key={display.id} className="absolute" style={{ ...placed(display.box, profile.size), padding: 2 }}>
            <DisplayText surface={surface} index={i} name={display.name} />
          </div>
        ))}
        {area ? <Frame area={area} size={profile.size} /> : null}
        {profile.controls.map((control, i) =>
          control.sends.kind === "any" || (control.bank !== undefined && control.bank !== bank) ? null : (
            <div
              key={control.id}
              className="absolute"
              style={{ ...placed(control.box, profile.size), padding: control.kind === "key" ? 1 : gap }}
            >
              <SurfaceControl surface={surface} surfaceIndex={index} controlIndex={i} size={size} chooses={chooses} />
            </div>
          ),
        )}
      </div>
    </div>
  );
}

interface ControlProps {
  surface: string;
  surfaceIndex: number;
  controlIndex: number;
  size: "map" | "run";
  chooses: boolean;
}

// Each control listens to itself alone: a moved fader renders one control, not the surface.
const SurfaceControl = memo(function SurfaceControl({
  surface,
  surfaceIndex,
  controlIndex,
  size,
  chooses,
}: ControlProps) {
  const store = usePageStore();
  const actions = useActions();
  const control = useLive((l) => l.compiled.surfaces[surfaceIndex]!.profile.controls[controlIndex]!);
  // A strip with texts of its own is not labelled a second time.
  const told = useLive((l) => l.compiled.surfaces[surfaceIndex]!.displaysOf.has(controlIndex));
  const texts = useLive((l) => l.compiled.surfaces[surfaceIndex]!.displays.length > 0);
  const view = useLive(useShallow((l) => controlView(l, surfaceIndex, controlIndex)));
  const across = useLive((l) => l.compiled.surfaces[surfaceIndex]!.profile.size.width / control.box.width);
  const chosen = usePage((s) => chooses && s.chosen?.surface === surface && s.chosen.control === control.id);
  /** Which of many it is, from 1; 0 = none of them. */
  const nth = usePage((s) => (chooses && s.many?.surface === surface ? s.many.controls.indexOf(control.id) + 1 : 0));
  // On a wall of small pads the numbers would lie over each other.
  const isCounted = usePage((s) => (s.many?.controls.length ?? 0) <= COUNTED);
  const isMany = usePage((s) => s.many !== null);
  const hands = useMemo(
    () => ({
      send: (bytes: Uint8Array) => {
        if (bytes.length === 0) return; // a control without such a message
        actions.send({ kind: "screen-midi", surface, bytes: [...bytes] });
      },
      touched: () => {
        // While something waits for a touch, the engine says which it was, of this surface as of all others.
        if (chooses && isForChoice(store.getState())) actions.choose(surface, control.id);
      },
    }),
    [actions, chooses, control.id, store, surface],
  );
  const onFocus = () => {
    // Moving the focus by keys chooses as well, without playing anything.
    if (chooses && isForChoice(store.getState())) actions.choose(surface, control.id);
  };
  return (
    <div className="control relative h-full" data-chosen={isMany ? nth > 0 : chosen}>
      <span className="chosen-frame" />
      {nth > 0 && isCounted ? (
        <span className="pointer-events-none absolute -top-1 -right-1 z-3 rounded-md bg-brass-400 px-1 text-[10.5px] font-semibold text-brass-ink tabular-nums">
          {nth}
        </span>
      ) : null}
      {control.behaviour === "absolute" ? (
        <FaderControl control={control} view={view} hands={hands} onFocus={onFocus} told={told} />
      ) : control.kind === "knob" && control.behaviour === "relative" ? (
        <KnobControl control={control} view={view} hands={hands} onFocus={onFocus} told={texts} />
      ) : control.kind === "key" ? (
        <KeyControl control={control} view={view} hands={hands} onFocus={onFocus} />
      ) : (
        <PadControl control={control} view={view} hands={hands} size={size} across={across} onFocus={onFocus} />
      )}
    </div>
  );
});

/** Whether a touch here chooses its control: not while something waits for touches, and those are told by the engine. */
function isForChoice({ followTouch, learning, takesTouch, many, live }: PageState): boolean {
  return followTouch && !learning && !takesTouch && !(many && live.teaches);
}
