import { useMemo, useState } from "react";
import { encodeMessage } from "../../core/desk/message-template.ts";
import { saysFor } from "../../core/desk/wire-numbers.ts";
import { hexBytes } from "../../core/midi/words.ts";
import { describeOsc } from "../../core/osc/words.ts";
import type { DeskFunction, DeskProfile } from "../../core/show/desk-profile.ts";
import type { Desk } from "../../core/show/show.ts";
import { LineFraming } from "../../core/stream/line-framing.ts";
import { useActions } from "../live/actions.ts";
import { Button } from "../parts/controls.tsx";
import { NumberField } from "../parts/NumberField.tsx";

/** The exact bytes of a function for numbers that can be tried, and a way to send them once. */
export function FunctionPreview({
  profile,
  fn,
  users,
}: {
  profile: DeskProfile;
  fn: DeskFunction;
  users: readonly Desk[];
}) {
  const actions = useActions();
  const [numbers, setNumbers] = useState<Record<string, number>>({});
  const parameters = fn.parameters.flatMap((id) => profile.parameters.find((p) => p.id === id) ?? []);
  const from = fn.range?.from ?? 0;
  const to = fn.range?.to ?? 1;
  const value = numbers.value ?? to;
  const values = parameters.map((p) => numbers[p.id] ?? p.from);
  // biome-ignore lint/correctness/useExhaustiveDependencies: the values stand for the list they are in
  const messages = useMemo(
    () => fn.send.map((m) => encodeMessage(m, saysFor(parameters, values, value))),
    [fn, profile, values.join(" "), value],
  );
  const words = (bytes: Uint8Array) =>
    profile.wire.kind === "osc-udp"
      ? describeOsc(bytes)
      : profile.wire.kind === "line-tcp"
        ? new TextDecoder().decode(bytes)
        : hexBytes(bytes);
  return (
    <section className="grid gap-2 rounded-[10px] bg-velvet-950 px-3 py-2.5 text-small" aria-label="What is sent">
      <div className="flex flex-wrap items-center gap-2 text-ink-500">
        <span>with</span>
        {parameters.map((p) => (
          <span key={p.id} className="flex items-center gap-1">
            {p.name}
            <NumberField
              label={`Try ${p.name}`}
              value={numbers[p.id] ?? p.from}
              min={p.from}
              max={p.to}
              onCommit={(n) => setNumbers({ ...numbers, [p.id]: n })}
            />
          </span>
        ))}
        value
        <NumberField
          label="Try value"
          value={value}
          min={Math.min(from, to)}
          max={Math.max(from, to)}
          onCommit={(n) => setNumbers({ ...numbers, value: n })}
        />
        it sends
        <span className="flex-1" />
        {users.map((desk) => (
          <Button
            key={desk.id}
            size="small"
            onClick={() => {
              for (const bytes of messages)
                actions.send({ kind: "send-once", to: "desk", id: desk.id, bytes: [...bytes] });
            }}
          >
            Send it once{users.length > 1 ? ` to ${desk.name}` : ""}
          </Button>
        ))}
      </div>
      {messages.map((bytes, i) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: messages have no names
        <div key={i} className="grid gap-0.5">
          <span className="font-mono text-warm" data-preview>
            {words(bytes)}
          </span>
          {profile.wire.kind === "midi" ? null : (
            <span className="break-all font-mono text-tiny text-ink-500" data-bytes>
              {hexBytes(onTheWire(profile.wire, bytes))}
            </span>
          )}
        </div>
      ))}
    </section>
  );
}

/** A line as it leaves, with its end and with bytes in the place of what stands for them; requests and topics have neither. */
function onTheWire({ kind, over, lineEnd = "lf", lineBytes }: DeskProfile["wire"], bytes: Uint8Array): Uint8Array {
  const isFramed = kind === "line-tcp" && over !== "http" && over !== "mqtt";
  return isFramed ? new LineFraming(lineEnd, lineBytes).write(bytes) : bytes;
}
