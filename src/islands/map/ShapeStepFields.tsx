import type { ReactNode } from "react";
import type { ShapeChange } from "../../core/edit/edit-kinds.ts";
import type { Curve, Shape } from "../../core/format/shape.ts";
import { DraftField } from "../components/DraftField.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { Select } from "../components/Select.tsx";
import { useLive } from "../live/store.ts";
import { CURVE_WORDS } from "./shape-words.ts";

/** A curve by its kind, and what it needs. */
export function CurveField({ curve, onChange }: { curve: Curve | undefined; onChange(curve: Curve | null): void }) {
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
  const read = (text: string) =>
    text.split(",").map((pair) =>
      pair
        .trim()
        .split(/\s+/)
        .map((n) => Number(n) / 100),
    );
  return (
    <DraftField
      label="Points, in percent"
      className="w-[150px] font-mono"
      value={points.map((p) => p.map((n) => Math.round(n * 1000) / 10).join(" ")).join(", ")}
      accepts={(text) => read(text).every((p) => p.length === 2 && p.every(Number.isFinite))}
      onCommit={(text) => onCommit(read(text) as Points)}
    />
  );
}

interface StepProps {
  shape: Shape;
  onChange(change: ShapeChange): void;
}

function StepsFields({ shape, onChange }: StepProps) {
  return (
    <NumberField
      label="Steps"
      value={shape.steps ?? 2}
      min={2}
      max={1024}
      onCommit={(v) => onChange({ steps: Math.round(v) })}
    />
  );
}

function DeadBandFields({ shape: { deadBand }, onChange }: StepProps) {
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
}

function FineFields({ shape: { fine }, onChange }: StepProps) {
  const layers = useLive((l) => l.show.layers);
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
    </>
  ) : null;
}

function ThresholdFields({ shape: { threshold }, onChange }: StepProps) {
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
}

function SlewFields({ shape, onChange }: StepProps) {
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
}

function JumpLimitFields({ shape, onChange }: StepProps) {
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
}

function RoundToFields({ shape, onChange }: StepProps) {
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
}

function RateFields({ shape, onChange }: StepProps) {
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
}

/** Which fields each step has that can be added. */
const STEP_FIELDS: Partial<Record<keyof Shape, (props: StepProps) => ReactNode>> = {
  steps: StepsFields,
  deadBand: DeadBandFields,
  fine: FineFields,
  threshold: ThresholdFields,
  slewPerS: SlewFields,
  jumpLimitPerS: JumpLimitFields,
  roundTo: RoundToFields,
  ratePerS: RateFields,
};

/** The fields of one step that was added. */
export function OptionalField({ name, ...props }: StepProps & { name: keyof Shape }) {
  const Fields = STEP_FIELDS[name];
  return Fields ? <Fields {...props} /> : null;
}
