import { useMemo, useState } from "react";
import { encodeMessage } from "../../core/desk/message-template.ts";
import { saysFor } from "../../core/desk/wire-numbers.ts";
import type { DeskFunction, DeskProfile } from "../../core/format/desk-profile.ts";
import type { Desk } from "../../core/format/show.ts";
import { CARRIERS, carrierOf, type MessageKind, WIRES } from "../../core/format/wires.ts";
import { hexBytes } from "../../core/midi/hex.ts";
import { LineFraming } from "../../core/stream/line-framing.ts";
import { describeOsc } from "../../words/osc.ts";
import { Button } from "../components/controls.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { useActions } from "../live/actions.ts";

/** A message as a person reads it, by what it is made of. */
const SEEN: Readonly<Record<MessageKind, (bytes: Uint8Array) => string>> = {
  osc: (bytes) => describeOsc(bytes),
  line: (bytes) => new TextDecoder().decode(bytes),
  midi: (bytes) => hexBytes(bytes),
};

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
  const words = SEEN[WIRES[profile.wire.kind].message];
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
          {WIRES[profile.wire.kind].message === "midi" ? null : (
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
function onTheWire(wire: DeskProfile["wire"], bytes: Uint8Array): Uint8Array {
  const { kind, lineEnd = "lf", lineBytes } = wire;
  const carrier = carrierOf({ wire });
  const isFramed = kind === "lines" && carrier !== null && CARRIERS[carrier].endsLines;
  return isFramed ? new LineFraming(lineEnd, lineBytes).write(bytes) : bytes;
}
