import { X } from "lucide-react";
import type { ReactNode } from "react";
import { useState } from "react";
import { valueWords } from "../../core/mapping/describe.ts";
import { outputOf } from "../../core/shape/linear.ts";
import type { Range } from "../../core/show/desk-profile.ts";
import type { ShapeChange } from "../../core/show/edits.ts";
import type { Curve, Shape } from "../../core/show/show.ts";
import { useLive } from "../live/store.ts";
import { FIELD, Switch } from "../parts/controls.tsx";
import { NumberField } from "../parts/NumberField.tsx";
import { Select } from "../parts/Select.tsx";

const percent = (x: number) => `${Math.round(x * 100)} %`;

const CURVE_WORDS: Record<Curve["kind"] | "straight", string> = {
  straight: "straight",
  audio: "audio taper",
  s: "S",
  exponential: "exponential",
  points: "own points",
};

/** A shape in a few words: what it drives, and which further steps it has. */
export function shapeWords(shape: Shape, range: Range | undefined): string {
  const [from, to] = outputOf(shape, range);
  const travel =
    shape.input[0] === 0 && shape.input[1] === 1
      ? ""
      : `travel ${percent(shape.input[0])}–${percent(shape.input[1])}, `;
  const more = OPTIONAL.filter((o) => o.of(shape)).map((o) => o.word);
  const curve = shape.curve ? [CURVE_WORDS[shape.curve.kind]] : [];
  return [
    `${travel}${valueWords(from, range)} to ${valueWords(to, range)}${shape.invert ? ", inverted" : ""}`,
    ...curve,
    ...more,
  ].join(", ");
}

interface Props {
  shape: Shape;
  range: Range | undefined;
  /** An endless control: it has a step, and no travel. */
  endless: boolean;
  onChange(change: ShapeChange): void;
}

/** Steps that are added when they are wanted. */
const OPTIONAL: readonly { key: keyof Shape; word: string; first: ShapeChange; of(shape: Shape): boolean }[] = [
  { key: "steps", word: "steps", first: { steps: 11 }, of: (s) => s.steps !== undefined },
  {
    key: "deadBand",
    word: "dead band",
    first: { deadBand: { at: 0.5, width: 0.1 } },
    of: (s) => s.deadBand !== undefined,
  },
  {
    key: "fine",
    word: "fine",
    first: { fine: { factor: 0.1, while: { layer: "base" } } },
    of: (s) => s.fine !== undefined,
  },
  {
    key: "threshold",
    word: "threshold",
    first: { threshold: { at: 0.5, hysteresis: 0.1 } },
    of: (s) => s.threshold !== undefined,
  },
  { key: "slewPerS", word: "slew", first: { slewPerS: 1 }, of: (s) => s.slewPerS !== undefined },
  { key: "jumpLimitPerS", word: "jump limit", first: { jumpLimitPerS: 100 }, of: (s) => s.jumpLimitPerS !== undefined },
  { key: "roundTo", word: "rounding", first: { roundTo: 1 }, of: (s) => s.roundTo !== undefined },
  { key: "ratePerS", word: "rate limit", first: { ratePerS: 30 }, of: (s) => s.ratePerS !== undefined },
];

/** Every step of a shape, in the order a value goes through them. */
export function ShapeFields({ shape, range, endless, onChange }: Props) {
  const [from, to] = outputOf(shape, range);
  const scale = range?.unit === "%" ? 100 / (range.to - range.from) : 1;
  const unit = range?.unit === "none" ? "" : (range?.unit ?? "");
  const low = range?.unit === "%" ? range.from : 0;
  const limits = [((range?.from ?? 0) - low) * scale, ((range?.to ?? 1) - low) * scale] as const;
  const output = (a: number, b: number) => onChange({ output: [a, b] });
  const based = shape.output !== undefined && !Array.isArray(shape.output) ? shape.output : null;
  const absent = OPTIONAL.filter((o) => !o.of(shape));
  return (
    <div className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1.5 border-t border-velvet-700 pt-2 text-small text-ink-500">
      {endless ? (
        <Row label="one step is">
          <NumberField
            label="Step size"
            value={(shape.stepSize ?? 0.01) * 100}
            min={0.01}
            max={100}
            onCommit={(v) => onChange({ stepSize: v / 100 })}
          />
          % of the way
        </Row>
      ) : (
        <Row label="travel">
          <NumberField
            label="Travel from"
            value={shape.input[0] * 100}
            min={0}
            max={99}
            onCommit={(v) => onChange({ input: [v / 100, shape.input[1]] })}
          />
          to
          <NumberField
            label="Travel to"
            value={shape.input[1] * 100}
            min={1}
            max={100}
            onCommit={(v) => onChange({ input: [shape.input[0], v / 100] })}
          />
          %
          {shape.input[0] > 0 || shape.input[1] < 1 ? (
            <Select
              label="Outside of it"
              value={shape.outside ?? "clamp"}
              options={[
                { value: "clamp", label: "outside: the nearer end" },
                { value: "ignore", label: "outside: nothing is sent" },
              ]}
              onChange={(v) => onChange({ outside: v === "ignore" ? "ignore" : null })}
            />
          ) : null}
        </Row>
      )}
      <Row label="direction">
        <Switch label="invert" checked={shape.invert} onChange={(invert) => onChange({ invert })} />
      </Row>
      <Row label="curve">
        <CurveField curve={shape.curve} onChange={(curve) => onChange({ curve })} />
      </Row>
      {OPTIONAL.filter((o) => o.of(shape)).map((o) => (
        <Row key={o.key} label={o.word} onRemove={() => onChange({ [o.key]: null } as ShapeChange)}>
          <OptionalField name={o.key} shape={shape} onChange={onChange} />
        </Row>
      ))}
      <Row label="drives">
        {based ? (
          <>
            <NumberField
              label="Base"
              value={based.base}
              min={limits[0]}
              max={limits[1]}
              onCommit={(base) => onChange({ output: { ...based, base } })}
            />
            +
            <NumberField
              label="Step of the value"
              value={based.step}
              min={-1000}
              max={1000}
              onCommit={(step) => onChange({ output: { ...based, step } })}
            />
            × 0…127 {unit}
          </>
        ) : (
          <>
            <NumberField
              label="Output from"
              value={(from - low) * scale}
              min={limits[0]}
              max={limits[1]}
              onCommit={(v) => output(v / scale + low, to)}
            />
            to
            <NumberField
              label="Output to"
              value={(to - low) * scale}
              min={limits[0]}
              max={limits[1]}
              onCommit={(v) => output(from, v / scale + low)}
            />
            {unit}
          </>
        )}
        <Select
          label="How the output is said"
          value={based ? "base" : "range"}
          options={[
            { value: "range", label: "two ends" },
            { value: "base", label: "base and step" },
          ]}
          onChange={(v) => onChange({ output: v === "base" ? { base: from, step: (to - from) / 127 } : null })}
        />
      </Row>
      {absent.length > 0 ? (
        <Row label="">
          <Select
            label="Add a step"
            value=""
            placeholder="+ a step"
            options={absent.map((o) => ({ value: o.key, label: o.word }))}
            onChange={(key) => onChange(OPTIONAL.find((o) => o.key === key)!.first)}
          />
        </Row>
      ) : null}
    </div>
  );
}

function Row({ label, onRemove, children }: { label: string; onRemove?: () => void; children: ReactNode }) {
  return (
    <>
      <span className="whitespace-nowrap">{label}</span>
      <span className="flex flex-wrap items-center gap-1.5">
        {children}
        {onRemove ? (
          <button
            type="button"
            aria-label={`Leave out ${label}`}
            onClick={onRemove}
            className="rounded p-0.5 hover:bg-velvet-700 hover:text-ink-100"
          >
            <X size={12} aria-hidden />
          </button>
        ) : null}
      </span>
    </>
  );
}

function CurveField({ curve, onChange }: { curve: Curve | undefined; onChange(curve: Curve | null): void }) {
  const kind = curve?.kind ?? "straight";
  const begin = (k: string): Curve | null => {
    switch (k) {
      case "audio":
      case "s":
        return { kind: k };
      case "exponential":
        return { kind: k, amount: 3 };
      case "points":
        return {
          kind: k,
          points: [
            [0, 0],
            [0.5, 0.5],
            [1, 1],
          ],
        };
      default:
        return null;
    }
  };
  return (
    <>
      <Select
        label="Curve"
        value={kind}
        options={Object.entries(CURVE_WORDS).map(([value, label]) => ({ value, label }))}
        onChange={(k) => onChange(begin(k))}
      />
      {curve?.kind === "exponential" ? (
        <NumberField
          label="Amount"
          value={curve.amount}
          min={-10}
          max={10}
          onCommit={(amount) => onChange({ ...curve, amount: amount || 0.1 })}
        />
      ) : null}
      {curve?.kind === "points" ? (
        <PointsField points={curve.points} onCommit={(points) => onChange({ kind: "points", points })} />
      ) : null}
    </>
  );
}

type Points = Extract<Curve, { kind: "points" }>["points"];

/** Points as "0 0, 50 90, 100 100", in percent. */
function PointsField({ points, onCommit }: { points: Points; onCommit(points: Points): void }) {
  const [draft, setDraft] = useState<string | null>(null);
  const words = points.map((p) => p.map((n) => Math.round(n * 1000) / 10).join(" ")).join(", ");
  const commit = () => {
    const read = (draft ?? "").split(",").map((pair) =>
      pair
        .trim()
        .split(/\s+/)
        .map((n) => Number(n) / 100),
    );
    setDraft(null);
    if (draft !== null && read.every((p) => p.length === 2 && p.every(Number.isFinite))) onCommit(read as Points);
  };
  return (
    <input
      aria-label="Points, in percent"
      className={`${FIELD} !h-[24px] w-[150px] font-mono`}
      value={draft ?? words}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={commit}
      onKeyDown={(e) => {
        if (e.key === "Enter") e.currentTarget.blur();
      }}
    />
  );
}

function OptionalField({
  name,
  shape,
  onChange,
}: {
  name: keyof Shape;
  shape: Shape;
  onChange(change: ShapeChange): void;
}) {
  const layers = useLive((l) => l.show.layers);
  const { deadBand, fine, threshold } = shape;
  switch (name) {
    case "steps":
      return (
        <NumberField
          label="Steps"
          value={shape.steps ?? 2}
          min={2}
          max={1024}
          onCommit={(v) => onChange({ steps: Math.round(v) })}
        />
      );
    case "deadBand":
      return deadBand ? (
        <>
          <NumberField
            label="Dead band width"
            value={deadBand.width * 100}
            min={1}
            max={90}
            onCommit={(v) => onChange({ deadBand: { ...deadBand, width: v / 100 } })}
          />
          % around
          <NumberField
            label="Dead band at"
            value={deadBand.at * 100}
            min={0}
            max={100}
            onCommit={(v) => onChange({ deadBand: { ...deadBand, at: v / 100 } })}
          />
          %
        </>
      ) : null;
    case "fine":
      return fine ? (
        <>
          ×
          <NumberField
            label="Fine factor"
            value={fine.factor}
            min={0.01}
            max={1}
            onCommit={(factor) => onChange({ fine: { ...fine, factor } })}
          />
          while
          <Select
            label="Fine while"
            value={"layer" in fine.while ? fine.while.layer : ""}
            placeholder={"control" in fine.while ? fine.while.control : ""}
            options={layers.map((l) => ({ value: l.id, label: l.name }))}
            onChange={(layer) => onChange({ fine: { ...fine, while: { layer } } })}
          />
          is up
        </>
      ) : null;
    case "threshold":
      return threshold ? (
        <>
          on above
          <NumberField
            label="Threshold"
            value={threshold.at * 100}
            min={0}
            max={100}
            onCommit={(v) => onChange({ threshold: { ...threshold, at: v / 100 } })}
          />
          %, room
          <NumberField
            label="Hysteresis"
            value={threshold.hysteresis * 100}
            min={0}
            max={50}
            onCommit={(v) => onChange({ threshold: { ...threshold, hysteresis: v / 100 } })}
          />
          %
        </>
      ) : null;
    case "slewPerS":
      return (
        <>
          <NumberField
            label="Slew"
            value={(shape.slewPerS ?? 1) * 100}
            min={0.1}
            max={100_000}
            onCommit={(v) => onChange({ slewPerS: v / 100 })}
          />
          % of its range a second
        </>
      );
    case "jumpLimitPerS":
      return (
        <>
          <NumberField
            label="Jump limit"
            value={shape.jumpLimitPerS ?? 100}
            min={0.1}
            max={10_000}
            onCommit={(jumpLimitPerS) => onChange({ jumpLimitPerS })}
          />
          a second at most
        </>
      );
    case "roundTo":
      return (
        <>
          to multiples of
          <NumberField
            label="Round to"
            value={shape.roundTo ?? 1}
            min={0.001}
            max={1_000_000}
            onCommit={(roundTo) => onChange({ roundTo })}
          />
        </>
      );
    case "ratePerS":
      return (
        <>
          <NumberField
            label="Rate"
            value={shape.ratePerS ?? 30}
            min={1}
            max={1000}
            onCommit={(ratePerS) => onChange({ ratePerS })}
          />
          messages a second
        </>
      );
    default:
      return null;
  }
}
