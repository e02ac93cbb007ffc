import { type FieldRule, type MidiField, midiFields } from "../../core/desk/midi-fields.ts";
import { type MessageTemplate, MIDI_TEMPLATES, type MidiTemplate } from "../../core/format/desk-profile.ts";
import type { Wire } from "../../core/format/wires.ts";
import { Button } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { ClearButton } from "../components/Field.tsx";
import { Select } from "../components/Select.tsx";
import { FRESH, freshMidi } from "./fresh-messages.ts";
import { FIELD_HINTS, FIELD_NAMES, takes, takesWords } from "./midi-field-words.ts";
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

const TIME_PARTS: readonly MidiField[] = ["hours", "minutes", "seconds", "frames"];

/** Fields of a kind of MIDI message, as the table of its standard has them, and what each of them takes. */
function MidiFields({
  label,
  message,
  onChange,
}: {
  label: string;
  message: MidiTemplate;
  onChange(message: MidiTemplate): void;
}) {
  const put = (field: MidiField, value: unknown) => {
    const { [field]: _old, ...rest } = message;
    onChange((value === "" || value === false ? rest : { ...rest, [field]: value }) as MidiTemplate);
  };
  return (
    <>
      <Select
        label={`${label}: kind`}
        value={message.midi}
        options={MIDI_TEMPLATES.map((k) => ({ value: k, label: k.replaceAll("-", " ") }))}
        onChange={(midi) => onChange(freshMidi(midi))}
      />
      {Object.entries(midiFields(message)).map(([name, rule]) => {
        const field = name as MidiField;
        // A time is given by its value or by its parts, and not by both.
        if (message.value !== undefined && TIME_PARTS.includes(field) && message[field] === undefined) return null;
        // What belongs to another command goes with the command.
        const change = (value: unknown) =>
          field === "command" ? onChange(freshMidi(message.midi, String(value), message)) : put(field, value);
        return (
          <OneField
            key={field}
            label={`${label}: ${field}`}
            field={field}
            rule={rule}
            value={message[field]}
            onChange={change}
          />
        );
      })}
    </>
  );
}

function OneField({
  label,
  field,
  rule,
  value,
  onChange,
}: {
  label: string;
  field: MidiField;
  rule: FieldRule;
  value: unknown;
  onChange(value: unknown): void;
}) {
  const text = value === undefined ? "" : String(value);
  switch (rule.is) {
    case "word":
      return (
        <span className="flex items-center gap-1 text-tiny text-ink-500">
          {field}
          <Select
            label={label}
            value={text}
            options={[
              ...(rule.needed ? [] : [{ value: "", label: "left out" }]),
              ...rule.words.map((w) => ({ value: w, label: w.replaceAll("-", " ") })),
            ]}
            onChange={onChange}
          />
        </span>
      );
    case "yes-no":
      return (
        <label className="flex items-center gap-1 text-tiny text-ink-500" title={FIELD_HINTS[field]}>
          <input
            type="checkbox"
            aria-label={label}
            checked={value === true}
            onChange={(e) => onChange(e.target.checked)}
          />
          {FIELD_NAMES[field] ?? field}
        </label>
      );
    default:
      return (
        <span className="flex items-center gap-1 text-tiny text-ink-500" title={takesWords(field, rule)}>
          {field}
          <DraftField
            label={label}
            value={text}
            placeholder={rule.is === "number" && !rule.needed ? `${rule.from}–${rule.to}` : undefined}
            className={`${MONO} ${rule.is === "bytes" ? "min-w-[320px] flex-1" : "w-[76px]"}`}
            accepts={(t) => (t === "" ? !rule.needed : takes(rule, t))}
            onCommit={(t) => onChange(/^-?\d+$/.test(t) ? Number(t) : t)}
          />
        </span>
      );
  }
}
