/** An address or a line that was typed or heard, on its way to become a function: what it is to do, and with which numbers. */
import { useState } from "react";
import { actionText } from "../../core/desk/action-text.ts";
import type { HeardExample } from "../../core/desk/listen.ts";
import { encodeMessage } from "../../core/desk/message-template.ts";
import {
  likelyUse,
  type TypedAs,
  type TypedFunction,
  type TypedOptions,
  type TypedType,
  typedFunction,
} from "../../core/desk/typed.ts";
import { saysFor } from "../../core/desk/wire-numbers.ts";
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import { Button, Key, TextField } from "../components/controls.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { Segments } from "../components/Segments.tsx";
import { Select } from "../components/Select.tsx";
import { useActions } from "../live/actions.ts";

interface Props {
  /** Null: a new desk is meant. */
  desk: string | null;
  deskName: string;
  profile: DeskProfile;
  examples: readonly HeardExample[];
  /** It was heard from the desk, and not typed. */
  wasHeard: boolean;
  /** It is for a control that is pressed. */
  isPressed: boolean;
  /** Of a new desk: where it is. */
  onKeep(made: TypedFunction, at: TypedAddress): void;
  onLeave(): void;
}

export interface TypedAddress {
  readonly host: string;
  readonly port: number;
}

/** "10.0.7.31:9000" or only the host; null = it is none. */
function addressIn(text: string, port: number): TypedAddress | null {
  const [, host, own] = /^([^\s:]+)(?::(\d{1,5}))?$/.exec(text.trim()) ?? [];
  const number = own === undefined ? port : Number(own);
  return host && number > 0 && number < 65_536 ? { host, port: number } : null;
}

const AS: readonly (readonly [TypedAs, string])[] = [
  ["level", "level"],
  ["switch", "on/off"],
  ["press", "press"],
  ["text", "text"],
];
const TYPES: readonly { value: TypedType; label: string }[] = [
  { value: "f", label: "a number with a point (f)" },
  { value: "i", label: "a whole number (i)" },
  { value: "bool", label: "true or false (T, F)" },
];
const LEVEL_RANGE: Partial<Record<TypedType, readonly [number, number]>> = { f: [0, 1], i: [0, 127] };

export function TypedPanel({ desk, deskName, profile, examples, wasHeard, isPressed, onKeep, onLeave }: Props) {
  const actions = useActions();
  const [address, setAddress] = useState(`127.0.0.1:${profile.wire.port}`);
  const at = addressIn(address, profile.wire.port);
  const [own, setOwn] = useState<Partial<TypedOptions>>({});
  const options: TypedOptions = { ...likelyUse(examples, isPressed), ...own };
  const example = examples.at(-1)!;
  const set = (next: Partial<TypedOptions>) => setOwn({ ...own, ...next });
  const made = typedFunction(examples, options, profile);
  const isOsc = example.wire === "osc";
  const named = likelyUse(examples).marks;
  const sendOnce = () => {
    const parameters = made.fn.parameters.flatMap(
      (id) => [...profile.parameters, ...made.parameters].find((p) => p.id === id) ?? [],
    );
    const numbers = made.fn.parameters.map((id) => Number(example.parts[options.marks.indexOf(id)]?.text ?? 1));
    const value = options.as === "level" ? options.range[1] : 1;
    if (desk === null) return;
    for (const message of made.fn.send)
      actions.send({
        kind: "send-once",
        to: "desk",
        id: desk,
        bytes: [
          ...encodeMessage(
            message,
            saysFor(
              parameters,
              numbers,
              value,
              0,
              made.fn.text && actionText(made.fn.text, { name: made.fn.name, page: null }, value),
            ),
          ),
        ],
      });
  };
  return (
    <section
      className="grid gap-2.5 rounded-xl border border-brass-500 bg-armed px-3 py-3 text-small"
      aria-label="New function"
    >
      <div className="flex items-baseline justify-between gap-2">
        <b className="font-semibold">
          {wasHeard ? `Heard from ${deskName}` : desk === null ? "Say it to a new desk" : `Say it to ${deskName}`}
        </b>
        <button type="button" className="text-ink-500 hover:text-ink-100" onClick={onLeave}>
          leave it
        </button>
      </div>
      <div className="flex flex-wrap items-center gap-1 font-mono text-ink-100">
        {example.parts.map((p, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: parts are told by their place
          <span key={i} className="inline-flex items-center">
            {isOsc ? <span className="text-ink-500">/</span> : null}
            {p.counts ? (
              <button
                type="button"
                aria-pressed={options.marks[i] !== null}
                title={
                  options.marks[i] !== null
                    ? "It counts: each mapping says which. Press to leave it as it is."
                    : "It stays as it is. Press to let it count."
                }
                onClick={() =>
                  set({
                    marks: options.marks.map((m, k) =>
                      k !== i ? m : m === null ? (named[i] ?? `number-${i + 1}`) : null,
                    ),
                  })
                }
                className="rounded bg-velvet-800 px-1.5 py-0.5 aria-pressed:bg-follow aria-pressed:text-cool"
              >
                {options.marks[i] === null ? p.text : `${options.marks[i]} ${p.text}`}
              </button>
            ) : (
              <span className={isOsc ? "" : "pr-1"}>{p.text}</span>
            )}
          </span>
        ))}
        {example.values.map((v, k) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: values are told by their place
          <span key={k} className="pl-1 text-warm">
            {v.text}
          </span>
        ))}
      </div>
      <Segments label="What it does" value={options.as} options={AS} onChange={(as) => set({ as })} />
      {isOsc && (options.as === "level" || options.as === "switch") ? (
        <Select
          label="Type of its value"
          value={options.type}
          options={options.as === "level" ? TYPES.slice(0, 2) : TYPES}
          onChange={(type) =>
            set({ type, ...(LEVEL_RANGE[type] && options.as === "level" ? { range: LEVEL_RANGE[type] } : {}) })
          }
          className="h-[28px] !bg-velvet-950 px-2"
        />
      ) : null}
      {options.as === "level" ? (
        <span className="flex items-center gap-1.5 text-ink-300">
          from
          <NumberField
            label="Lowest value"
            value={options.range[0]}
            min={-65_536}
            max={65_536}
            onCommit={(v) => v < options.range[1] && set({ range: [v, options.range[1]] })}
          />
          to
          <NumberField
            label="Highest value"
            value={options.range[1]}
            min={-65_536}
            max={65_536}
            onCommit={(v) => v > options.range[0] && set({ range: [options.range[0], v] })}
          />
        </span>
      ) : null}
      {desk === null ? (
        <span className="flex items-center gap-2 text-ink-300">
          at
          <TextField
            label="Address of the new desk"
            className="min-w-0 flex-1 font-mono"
            value={address}
            aria-invalid={at === null}
            onChange={(e) => setAddress(e.target.value)}
            onKeyDown={(e) => {
              if (e.key === "Enter" && at) onKeep(made, at);
            }}
          />
        </span>
      ) : null}
      <p className="text-ink-500">
        {made.state
          ? "The same message back is its state: lights and motors follow it."
          : "Nothing is heard back of it."}
      </p>
      <div className="flex flex-wrap gap-2">
        {desk === null ? null : (
          <Button size="small" onClick={sendOnce}>
            Send it once
          </Button>
        )}
        <Button size="small" look="primary" disabled={at === null} onClick={() => at && onKeep(made, at)} data-keep>
          Use it <Key>Enter</Key>
        </Button>
      </div>
    </section>
  );
}
