import { type KeyboardEvent, type PointerEvent, useCallback, useMemo, useRef, useState } from "react";
import { Line, LineChart, XAxis, YAxis } from "recharts";
import type { Range } from "../../core/format/desk-profile.ts";
import type { Shape } from "../../core/format/shape.ts";
import { type BentShape, bentOutput, bentPart, bentShape, bentSteps, type ShapeStep } from "../../core/shape/bent.ts";
import { valueWords } from "../../core/surface/value-words.ts";
import { useLive } from "../live/store.ts";
import { useCurveDraft } from "./curve-draft.ts";
import { addPoint, type CurvePoints, movePoint, removePoint } from "./curve-points.ts";

/** The height of the picture and what lies around its field, in px. */
const HEIGHT = 156;
const AROUND = { left: 46, top: 8, right: 10, bottom: 24 } as const;
/** Narrower it is not drawn, in px. */
const NARROWEST = 150;
/** The line is drawn through so many places. */
const PLACES = 134;
/** What an arrow moves a point by; with Shift ten times as far. */
const STEP = 0.01;

const STEP_WORDS: Record<ShapeStep, string> = {
  travel: "travel",
  invert: "inverted",
  curve: "curve",
  steps: "steps",
  "dead-band": "dead band",
};
const percent = (part01: number) => `${Math.round(part01 * 100)} %`;

interface Props {
  shape: Shape;
  range: Range | undefined;
  surface: string;
  control: string;
  /** The points of a curve of one's own were moved; false = that was refused. */
  onPoints(points: CurvePoints): Promise<boolean>;
}

/** What goes in along the bottom, what comes out up the side; with the value that is there now, at every step. */
export function CurveChart({ shape, range, surface, control, onPoints }: Props) {
  const points = shape.curve?.kind === "points" ? shape.curve.points : null;
  const { shown, show, commit } = useCurveDraft(points, onPoints);
  const bent = useMemo(
    () => bentShape(shown ? { ...shape, curve: { kind: "points", points: shown } } : shape, range),
    [shape, shown, range],
  );
  const [width, picture] = useWidth();
  const data = useMemo(
    () =>
      Array.from({ length: PLACES + 1 }, (_, i) => {
        const part = bentPart(bent, i / PLACES);
        return { in: i / PLACES, out: Number.isNaN(part) ? null : part };
      }),
    [bent],
  );
  return (
    <figure className="col-span-full grid gap-1" aria-label="What comes out">
      <div ref={picture} className="relative" style={{ height: HEIGHT }}>
        <LineChart
          width={width}
          height={HEIGHT}
          data={data}
          margin={{ top: AROUND.top, right: AROUND.right, bottom: 0, left: 0 }}
          accessibilityLayer={false}
        >
          <XAxis
            dataKey="in"
            type="number"
            domain={[0, 1]}
            ticks={[0, 0.5, 1]}
            height={AROUND.bottom}
            tickFormatter={percent}
            {...AXIS}
          />
          <YAxis
            type="number"
            domain={[0, 1]}
            ticks={[0, 0.5, 1]}
            width={AROUND.left}
            tickFormatter={(part: number) => valueWords(bentOutput(bent, part), range)}
            {...AXIS}
          />
          <Line dataKey="out" dot={false} stroke="var(--color-warm)" strokeWidth={2} isAnimationActive={false} />
        </LineChart>
        <div className="absolute" style={AROUND}>
          <Now bent={bent} surface={surface} control={control} />
          {shown ? <Points points={shown} shape={shape} onDraft={show} onCommit={(next) => void commit(next)} /> : null}
        </div>
      </div>
      <NowWords bent={bent} range={range} surface={surface} control={control} />
    </figure>
  );
}

const AXIS = {
  tick: { fontSize: 10, fill: "var(--color-ink-500)" },
  axisLine: { stroke: "var(--color-velvet-600)" },
  tickLine: false,
} as const;

/** As wide as there is room, in px. */
function useWidth(): [number, (element: HTMLElement | null) => (() => void) | undefined] {
  const [width, setWidth] = useState(NARROWEST);
  const picture = useCallback((element: HTMLElement | null) => {
    if (!element) return undefined;
    const watch = new ResizeObserver(() => setWidth(Math.max(NARROWEST, element.clientWidth)));
    watch.observe(element);
    return () => watch.disconnect();
  }, []);
  return [width, picture];
}

/** Where the control stands, 0..1; null = nobody knows. */
function useTravel(surface: string, control: string): number | null {
  return useLive((l) => {
    const index = l.compiled.surfaces.find((s) => s.id === surface)?.indexOf.get(control) ?? -1;
    const position = l.controls[surface]?.[index]?.position ?? -1;
    return position < 0 ? null : position;
  });
}

function Now({ bent, surface, control }: { bent: BentShape; surface: string; control: string }) {
  const travel = useTravel(surface, control);
  if (travel === null) return null;
  const part = bentPart(bent, travel);
  return (
    <div aria-hidden className="pointer-events-none absolute inset-0">
      <i className="absolute inset-y-0 border-l border-dashed border-cool/60" style={{ left: `${travel * 100}%` }} />
      {Number.isNaN(part) ? null : (
        <i
          className="absolute size-2.5 -translate-x-1/2 -translate-y-1/2 rounded-full bg-cool"
          style={{ left: `${travel * 100}%`, top: `${(1 - part) * 100}%` }}
        />
      )}
    </div>
  );
}

function NowWords({ bent, range, surface, control }: Omit<Props, "shape" | "onPoints"> & { bent: BentShape }) {
  const travel = useTravel(surface, control);
  if (travel === null) return <p className="text-small text-ink-500">Move the control: its value is shown here.</p>;
  const steps = bentSteps(bent, travel);
  const part = bentPart(bent, travel);
  return (
    <p className="flex flex-wrap gap-x-2 text-small text-ink-500" data-now>
      <span>
        in <b className="font-mono text-ink-100">{percent(travel)}</b>,
      </span>
      {steps.map(({ step, part01 }) => (
        <span key={step}>
          {STEP_WORDS[step]} <b className="font-mono text-ink-300">{percent(part01)}</b>,
        </span>
      ))}
      <span>
        out{" "}
        <b className="font-mono text-cool">
          {Number.isNaN(part) ? "nothing" : valueWords(bentOutput(bent, part), range)}
        </b>
      </span>
    </p>
  );
}

interface PointsProps {
  points: CurvePoints;
  shape: Shape;
  /** null = as they were. */
  onDraft(points: CurvePoints | null): void;
  onCommit(points: CurvePoints): void;
}

/** Where a point of the curve lies on the travel: before it, the travel is cut and turned round. */
function travelOf({ input: [from, to], invert }: Shape, x: number): number {
  const way = invert ? 1 - x : x;
  return (1 - way) * from + way * to;
}

function wayOf({ input: [from, to], invert }: Shape, travel: number): number {
  const way = (travel - from) / (to - from);
  return invert ? 1 - way : way;
}

/** The points of a curve, to be dragged; arrows move them, Delete takes one off, a double click on the field puts one there. */
function Points({ points, shape, onDraft, onCommit }: PointsProps) {
  const field = useRef<HTMLDivElement>(null);
  const change = (next: CurvePoints) => {
    if (next !== points) onCommit(next);
  };
  const at = (e: { clientX: number; clientY: number }): [number, number] => {
    const box = field.current!.getBoundingClientRect();
    const travel = (e.clientX - box.left) / box.width;
    return [wayOf(shape, travel), 1 - (e.clientY - box.top) / box.height];
  };
  const drag = (e: PointerEvent<HTMLButtonElement>, i: number) => {
    e.stopPropagation();
    const handle = e.currentTarget;
    handle.setPointerCapture(e.pointerId);
    let next = points;
    const move = (m: globalThis.PointerEvent) => {
      next = movePoint(points, i, ...at(m));
      onDraft(next);
    };
    const end = (u: globalThis.PointerEvent) => {
      handle.removeEventListener("pointermove", move);
      handle.removeEventListener("pointerup", end);
      handle.removeEventListener("pointercancel", end);
      if (u.type === "pointercancel") onDraft(null);
      else change(next);
    };
    handle.addEventListener("pointermove", move);
    handle.addEventListener("pointerup", end);
    handle.addEventListener("pointercancel", end);
  };
  const key = (e: KeyboardEvent, i: number) => {
    const by = e.shiftKey ? STEP * 10 : STEP;
    const way = { ArrowLeft: [-by, 0], ArrowRight: [by, 0], ArrowUp: [0, by], ArrowDown: [0, -by] }[e.key];
    const [x, y] = points[i]!;
    if (way) change(movePoint(points, i, x + way[0]! * (shape.invert ? -1 : 1), y + way[1]!));
    else if (e.key === "Delete" || e.key === "Backspace") change(removePoint(points, i));
    else return;
    e.preventDefault();
    e.stopPropagation();
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: by keys, points are added in the field of numbers
    <div
      ref={field}
      title="A double click puts a point here"
      className="absolute inset-0 touch-none"
      onDoubleClick={(e) => change(addPoint(points, ...at(e)))}
    >
      {points.map(([x, y], i) => (
        <button
          // biome-ignore lint/suspicious/noArrayIndexKey: points are told by their place
          key={i}
          type="button"
          aria-label={`Point ${i + 1}: ${percent(x)} becomes ${percent(y)}`}
          title="Drag it; arrows move it, Delete takes it off"
          onPointerDown={(e) => drag(e, i)}
          onDoubleClick={(e) => e.stopPropagation()}
          onKeyDown={(e) => key(e, i)}
          className="absolute size-3.5 -translate-x-1/2 -translate-y-1/2 cursor-grab touch-none rounded-full border-2 border-brass-400 bg-velvet-950 focus-visible:bg-brass-400"
          style={{ left: `${travelOf(shape, x) * 100}%`, top: `${(1 - y) * 100}%` }}
        />
      ))}
    </div>
  );
}
