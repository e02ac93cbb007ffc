import type { ShapeChange } from "../../core/edit/edit-kinds.ts";
import type { Range } from "../../core/format/desk-profile.ts";
import type { Shape } from "../../core/format/shape.ts";
import { outputOf } from "../../core/shape/linear.ts";
import { Switch } from "../components/controls.tsx";
import { Field } from "../components/Field.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { part } from "../components/part.tsx";
import { Select } from "../components/Select.tsx";
import { CurveField, OptionalField } from "./ShapeStepFields.tsx";
import { OPTIONAL } from "./shape-words.ts";

/** The fields are there before the picture of them is. */
const CurveChart = part(async () => (await import("./CurveChart.tsx")).CurveChart);

interface Props {
  shape: Shape;
  range: Range | undefined;
  /** An endless control: it has a step, and no travel. */
  endless: boolean;
  surface: string;
  control: string;
  /** False = it was refused. */
  onChange(change: ShapeChange): Promise<boolean>;
}

/** Every step of a shape, in the order a value goes through them. */
export function ShapeFields({ shape, range, endless, surface, control, onChange }: Props) {
  const absent = OPTIONAL.filter((o) => !o.of(shape));
  return (
    <div className="grid grid-cols-[auto_1fr] items-center gap-x-3 gap-y-1.5 border-t border-velvet-700 pt-2 text-small text-ink-500">
      {endless ? null : (
        <CurveChart
          shape={shape}
          range={range}
          surface={surface}
          control={control}
          onPoints={(points) => onChange({ curve: { kind: "points", points } })}
        />
      )}
      {endless ? (
        <Field label="one step is">
          <NumberField
            label="Step size"
            value={(shape.stepSize ?? 0.01) * 100}
            min={0.01}
            max={100}
            onCommit={(v) => onChange({ stepSize: v / 100 })}
          />
          % of the way
        </Field>
      ) : (
        <TravelField shape={shape} onChange={onChange} />
      )}
      <Field label="direction">
        <Switch label="invert" checked={shape.invert} onChange={(invert) => onChange({ invert })} />
      </Field>
      <Field label="curve">
        <CurveField curve={shape.curve} onChange={(curve) => onChange({ curve })} />
      </Field>
      {OPTIONAL.filter((o) => o.of(shape)).map((o) => (
        <Field key={o.key} label={o.word} onRemove={() => onChange({ [o.key]: null } as ShapeChange)}>
          <OptionalField name={o.key} shape={shape} onChange={onChange} />
        </Field>
      ))}
      <DrivesField shape={shape} range={range} onChange={onChange} />
      {absent.length > 0 ? (
        <Field label="">
          <Select
            label="Add a step"
            value=""
            placeholder="+ a step"
            options={absent.map((o) => ({ value: o.key, label: o.word }))}
            onChange={(key) => onChange(OPTIONAL.find((o) => o.key === key)!.first)}
          />
        </Field>
      ) : null}
    </div>
  );
}

/** Which part of the travel is used, and what happens outside of it. */
function TravelField({ shape, onChange }: Pick<Props, "shape" | "onChange">) {
  return (
    <Field label="travel">
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
    </Field>
  );
}

/** What comes out, in the unit of the function. */
function DrivesField({ shape, range, onChange }: Pick<Props, "shape" | "range" | "onChange">) {
  const [from, to] = outputOf(shape, range);
  const scale = range?.unit === "%" ? 100 / (range.to - range.from) : 1;
  const unit = range?.unit === "none" ? "" : (range?.unit ?? "");
  const low = range?.unit === "%" ? range.from : 0;
  const limits = [((range?.from ?? 0) - low) * scale, ((range?.to ?? 1) - low) * scale] as const;
  const output = (a: number, b: number) => onChange({ output: [a, b] });
  const based = shape.output !== undefined && !Array.isArray(shape.output) ? shape.output : null;
  return (
    <Field label="drives">
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
    </Field>
  );
}
