import { type MessageTemplate, MIDI_TEMPLATES, type MidiTemplate } from "../../core/format/desk-profile.ts";
import type { Wire } from "../../core/format/wires.ts";
import { Button } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { ClearButton } from "../components/Field.tsx";
import { Select } from "../components/Select.tsx";
import { FRESH } from "./fresh-messages.ts";
import { withItem } from "./profile-draft.ts";

interface Props {
  label: string;
  wire: Wire;
  messages: readonly MessageTemplate[];
  onChange(messages: MessageTemplate[]): void;
}

/** Messages that are sent one after the other, in the words of the desk's wire. Names in braces are filled in. */
export function MessageFields({ label, wire, messages, onChange }: Props) {
  return (
    <div className="grid gap-1.5">
      {messages.map((m, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: messages have no names; their place is what they are
        <div key={i} className="flex flex-wrap items-center gap-1.5 rounded-lg bg-velvet-800 px-2 py-1.5">
          <OneMessage
            label={`${label} ${i + 1}`}
            message={m}
            onChange={(next) => onChange(withItem(messages, i, next))}
          />
          <ClearButton label={`Leave out ${label} ${i + 1}`} onClick={() => onChange(withItem(messages, i, null))} />
        </div>
      ))}
      <Button size="small" className="justify-self-start" onClick={() => onChange([...messages, FRESH[wire].message])}>
        Add a message
      </Button>
    </div>
  );
}

const MONO = "font-mono !text-[12px]";

function OneMessage({
  label,
  message,
  onChange,
}: {
  label: string;
  message: MessageTemplate;
  onChange(message: MessageTemplate): void;
}) {
  if ("line" in message)
    return (
      <DraftField
        label={`${label}: line`}
        value={message.line}
        className={`${MONO} min-w-[320px] flex-1`}
        accepts={(t) => t !== ""}
        onCommit={(line) => onChange({ line })}
      />
    );
  if ("midi" in message) return <MidiFields label={label} message={message} onChange={onChange} />;
  return (
    <>
      <DraftField
        label={`${label}: address`}
        value={message.address}
        className={`${MONO} w-[300px]`}
        accepts={(t) => t.startsWith("/")}
        onCommit={(address) => onChange({ ...message, address })}
      />
      {message.arguments.map((a, k) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: arguments are told by their place
        <span key={k} className="flex items-center gap-1">
          <Select
            label={`${label}: type of argument ${k + 1}`}
            value={a.type}
            options={[
              { value: "f", label: "number" },
              { value: "i", label: "whole" },
              { value: "bool", label: "yes or no" },
              { value: "s", label: "text" },
            ]}
            onChange={(type) =>
              onChange({ ...message, arguments: withItem(message.arguments, k, { ...a, type: type as typeof a.type }) })
            }
          />
          <DraftField
            label={`${label}: argument ${k + 1}`}
            value={String(a.value)}
            className={`${MONO} w-[96px]`}
            onCommit={(text) =>
              onChange({
                ...message,
                arguments: withItem(message.arguments, k, {
                  ...a,
                  value: a.type !== "s" && text !== "" && Number.isFinite(Number(text)) ? Number(text) : text,
                }),
              })
            }
          />
          <ClearButton
            label={`Leave out argument ${k + 1}`}
            onClick={() => onChange({ ...message, arguments: withItem(message.arguments, k, null) })}
          />
        </span>
      ))}
      <Button
        size="small"
        look="quiet"
        onClick={() => onChange({ ...message, arguments: [...message.arguments, { type: "f", value: "{value}" }] })}
      >
        + argument
      </Button>
    </>
  );
}

const SLOTS = ["channel", "number", "value", "bank", "device", "cue", "list"] as const;
/** Fields that a kind of MIDI message is shown with. */
const SHOWN: Partial<Record<MidiTemplate["midi"], readonly (typeof SLOTS)[number][]>> = {
  program: ["channel", "number", "bank"],
  bend: ["channel", "value"],
  "channel-pressure": ["channel", "value"],
  sysex: [],
  start: [],
  continue: [],
  stop: [],
  "show-control": ["device", "cue", "list"],
  "machine-control": ["device"],
};

function MidiFields({
  label,
  message,
  onChange,
}: {
  label: string;
  message: MidiTemplate;
  onChange(message: MidiTemplate): void;
}) {
  const shown = SHOWN[message.midi] ?? ["channel", "number", "value"];
  return (
    <>
      <Select
        label={`${label}: kind`}
        value={message.midi}
        options={MIDI_TEMPLATES.map((k) => ({ value: k, label: k.replaceAll("-", " ") }))}
        onChange={(midi) => onChange(fresh(midi))}
      />
      {shown.map((slot) => (
        <span key={slot} className="flex items-center gap-1 text-tiny text-ink-500">
          {slot}
          <DraftField
            label={`${label}: ${slot}`}
            value={String(message[slot] ?? "")}
            className={`${MONO} w-[76px]`}
            onCommit={(text) => {
              const { [slot]: _old, ...rest } = message;
              onChange(text === "" ? rest : { ...message, [slot]: /^-?\d+$/.test(text) ? Number(text) : text });
            }}
          />
        </span>
      ))}
      {message.midi === "sysex" ? (
        <DraftField
          label={`${label}: bytes`}
          value={message.bytes ?? ""}
          className={`${MONO} min-w-[320px] flex-1`}
          onCommit={(bytes) => onChange({ ...message, bytes })}
        />
      ) : null}
      {message.midi === "show-control" || message.midi === "machine-control" ? (
        <DraftField
          label={`${label}: command`}
          value={message.command ?? ""}
          className={`${MONO} w-[110px]`}
          onCommit={(command) => onChange({ ...message, command })}
        />
      ) : null}
    </>
  );
}

function fresh(midi: MidiTemplate["midi"]): MidiTemplate {
  switch (midi) {
    case "sysex":
      return { midi, bytes: "F0 7D {value} F7" };
    case "show-control":
      return { midi, device: 127, format: "lighting", command: "go" };
    case "machine-control":
      return { midi, device: 127, command: "play" };
    case "start":
    case "continue":
    case "stop":
      return { midi };
    case "program":
      return { midi, channel: 1, number: "{value}" };
    case "bend":
    case "channel-pressure":
      return { midi, channel: 1, value: "{value}" };
    default:
      return { midi, channel: 1, number: 0, value: "{value}" };
  }
}
