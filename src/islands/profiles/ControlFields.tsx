import type { Control, ControlMessage, SurfaceProfile } from "../../core/format/surface-profile.ts";
import { RELATIVE_ENCODINGS } from "../../core/midi/relative.ts";
import { Button, Switch } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { ClearButton, Field } from "../components/Field.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { optionsOf, Select } from "../components/Select.tsx";
import { KeysField } from "./KeysField.tsx";

const KINDS = ["pad", "button", "key", "fader", "knob"] as const;
const BEHAVIOURS: Record<Control["behaviour"], string> = {
  "springs-back": "springs back",
  latches: "latches: on, off",
  "latches-both-on": "latches, and says “on” both times",
  "one-shot": "says only that it was pressed",
  absolute: "stays where it is put",
  relative: "turns without end",
};
const SENDS = ["note", "controller", "controller-14", "bend", "relative", "program"] as const;
const NONE = "none";

/** One message of a control in short: "note 36, ch 1". */
export function messageWords(sends: ControlMessage): string {
  const { channel, number } = sends as { channel?: number; number?: number };
  const kind = sends.kind === "relative" ? "turns" : sends.kind.replace("controller", "ctl");
  return [kind, number, channel === undefined ? "" : `ch ${channel}`]
    .filter((x) => x !== undefined && x !== "")
    .join(" ");
}

type Optional = "light" | "motor" | "ring" | "touch" | "banked" | "acceleration" | "keys";

/** What every row of a control is given. */
interface RowProps {
  control: Control;
  set(next: Partial<Control>): void;
  without(key: Optional): void;
}

interface Props {
  profile: SurfaceProfile;
  control: Control;
  canLearn: boolean;
  learningTouch: boolean;
  onLearnTouch(): void;
  onChange(control: Control | null): void;
}

/** Everything a profile says of one control. */
export function ControlFields({ profile, control, canLearn, learningTouch, onLearnTouch, onChange }: Props) {
  const set = (next: Partial<Control>) => onChange({ ...control, ...next });
  const without = (key: Optional) => {
    const { [key]: _old, ...rest } = control;
    onChange(rest);
  };
  const { sends } = control;
  const row: RowProps = { control, set, without };
  const canHaveMotor = control.behaviour === "absolute" && ["bend", "controller", "controller-14"].includes(sends.kind);
  return (
    <div className="grid content-start gap-3 overflow-y-auto" data-control-fields>
      <div className="grid grid-cols-[110px_minmax(0,1fr)] items-center gap-x-3 gap-y-2 text-small text-ink-500">
        <Field label="called">
          <DraftField
            label="Name of the control"
            value={control.name}
            className="w-[150px] font-semibold"
            accepts={(t) => t !== ""}
            onCommit={(name) => set({ name })}
          />
          <ClearButton label={`Remove ${control.name}`} onClick={() => onChange(null)} />
        </Field>
        <Field label="it is a">
          <Select
            label="Kind of control"
            value={control.kind}
            options={KINDS.map((k) => ({ value: k, label: k }))}
            onChange={(kind) => set({ kind })}
          />
          <Select
            label="How it behaves"
            value={control.behaviour}
            options={optionsOf(BEHAVIOURS)}
            onChange={(b) => set({ behaviour: b })}
          />
        </Field>
        <Field label="it sends">
          <SendsFields sends={sends} onChange={(next) => set({ sends: next })} />
        </Field>
        <SizeRow {...row} />
        {sends.kind === "note" || sends.kind === "controller" ? (
          <LightRow {...row} sends={sends} palettes={profile.palettes} />
        ) : null}
        {canHaveMotor ? (
          <Field label="motor">
            <Switch
              label="It has one, and is sent what it sends"
              checked={control.motor !== undefined}
              onChange={(on) => (on ? set({ motor: sends as NonNullable<Control["motor"]> }) : without("motor"))}
            />
          </Field>
        ) : null}
        {control.kind === "knob" ? <RingRow {...row} /> : null}
        {control.behaviour === "absolute" ? null : (
          <Field label="computer key">
            <KeysField control={control} onChange={(keys) => (keys ? set({ keys }) : without("keys"))} />
          </Field>
        )}
        <TouchRow {...row} canLearn={canLearn} learning={learningTouch} onLearn={onLearnTouch} />
        {profile.banks ? (
          <Field label="bank button">
            <Switch
              label="shifts what it sends"
              checked={control.banked === true}
              onChange={(on) => (on ? set({ banked: true }) : without("banked"))}
            />
          </Field>
        ) : null}
      </div>
    </div>
  );
}

function SizeRow({ control: { box }, set }: RowProps) {
  return (
    <Field label="size">
      <NumberField
        label="Width"
        value={box.width}
        min={0.25}
        max={64}
        onCommit={(width) => set({ box: { ...box, width } })}
      />
      by
      <NumberField
        label="Height"
        value={box.height}
        min={0.25}
        max={64}
        onCommit={(height) => set({ box: { ...box, height } })}
      />
    </Field>
  );
}

interface LightProps extends RowProps {
  sends: Extract<ControlMessage, { kind: "note" | "controller" }>;
  palettes: SurfaceProfile["palettes"];
}

function LightRow({ control, set, without, sends, palettes }: LightProps) {
  const { light } = control;
  return (
    <Field label="its light">
      <Select
        label="Colours of its light"
        value={light?.palette ?? NONE}
        options={[
          { value: NONE, label: palettes.length === 0 ? "none: make colours first" : "none" },
          ...palettes.map((p) => ({ value: p.id, label: p.id })),
        ]}
        onChange={(palette) =>
          palette === NONE
            ? without("light")
            : set({
                light: { kind: "note", channel: sends.channel, number: sends.number, ...light, palette },
              })
        }
      />
      {light ? (
        <>
          <Select
            label="Light message"
            value={light.kind}
            options={[
              { value: "note", label: "note" },
              { value: "controller", label: "controller" },
            ]}
            onChange={(kind) => set({ light: { ...light, kind: kind as "note" } })}
          />
          <NumberField
            label="Number of its light"
            value={light.number}
            min={0}
            max={127}
            onCommit={(number) => set({ light: { ...light, number } })}
          />
          ch
          <NumberField
            label="Channel of its light"
            value={light.channel}
            min={1}
            max={16}
            onCommit={(channel) => set({ light: { ...light, channel } })}
          />
        </>
      ) : null}
    </Field>
  );
}

function RingRow({ control, set, without }: RowProps) {
  const { ring, sends } = control;
  return (
    <Field label="ring">
      {ring ? (
        <>
          ctl
          <NumberField
            label="Number of its ring"
            value={ring.number}
            min={0}
            max={127}
            onCommit={(number) => set({ ring: { ...ring, number } })}
          />
          from
          <NumberField
            label="Ring from"
            value={ring.from}
            min={0}
            max={126}
            onCommit={(from) => set({ ring: { ...ring, from } })}
          />
          to
          <NumberField
            label="Ring to"
            value={ring.to}
            min={1}
            max={127}
            onCommit={(to) => set({ ring: { ...ring, to } })}
          />
          <ClearButton label="It has no ring" onClick={() => without("ring")} />
        </>
      ) : (
        <Button
          size="small"
          onClick={() => {
            const { channel = 1, number = 0 } = sends as { channel?: number; number?: number };
            set({ ring: { kind: "controller", channel, number, from: 1, to: 127, off: 0 } });
          }}
        >
          It has one
        </Button>
      )}
    </Field>
  );
}

interface TouchProps extends RowProps {
  canLearn: boolean;
  learning: boolean;
  onLearn(): void;
}

function TouchRow({ control: { touch }, without, canLearn, learning, onLearn }: TouchProps) {
  return (
    <Field label="touch-sensitive">
      {touch ? (
        <>
          {touch.kind} {touch.number} ch {touch.channel}
          <ClearButton label="It is not touch-sensitive" onClick={() => without("touch")} />
        </>
      ) : (
        <Button size="small" disabled={!canLearn || learning} onClick={onLearn}>
          {learning ? "listening …" : "Learn its touch"}
        </Button>
      )}
    </Field>
  );
}

function SendsFields({ sends, onChange }: { sends: ControlMessage; onChange(sends: ControlMessage): void }) {
  const { channel = 1, number = 0 } = sends as { channel?: number; number?: number };
  if (!(SENDS as readonly string[]).includes(sends.kind)) return <code>{messageWords(sends)}</code>;
  const make = (kind: string): ControlMessage => {
    switch (kind) {
      case "bend":
        return { kind, channel };
      case "relative":
        return { kind, channel, number, encoding: "twos-complement" };
      case "controller-14":
        return { kind, channel, number: Math.min(31, number) };
      default:
        return { kind: kind as "note", channel, number };
    }
  };
  return (
    <>
      <Select
        label="What it sends"
        value={sends.kind}
        options={SENDS.map((k) => ({ value: k, label: k === "relative" ? "steps" : k.replace("-14", ", 14 bits") }))}
        onChange={(kind) => onChange(make(kind))}
      />
      {sends.kind === "bend" ? null : (
        <NumberField
          label="Number it sends"
          value={number}
          min={0}
          max={127}
          onCommit={(n) => onChange({ ...sends, number: n } as ControlMessage)}
        />
      )}
      ch
      <NumberField
        label="Channel it sends on"
        value={channel}
        min={1}
        max={16}
        onCommit={(c) => onChange({ ...sends, channel: c } as ControlMessage)}
      />
      {sends.kind === "relative" ? (
        <Select
          label="How it says steps"
          value={sends.encoding}
          options={RELATIVE_ENCODINGS.map((e) => ({ value: e, label: e.replaceAll("-", " ") }))}
          onChange={(encoding) => onChange({ ...sends, encoding })}
        />
      ) : null}
    </>
  );
}
