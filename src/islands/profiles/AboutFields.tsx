import type { DeskProfile } from "../../core/format/desk-profile.ts";
import { CARRIERS, carrierOf, carriersOf, WIRES } from "../../core/format/wires.ts";
import { carrierWords, WIRE_CHOICES } from "../../words/wires.ts";
import { Switch } from "../components/controls.tsx";
import { DraftField } from "../components/DraftField.tsx";
import { Field } from "../components/Field.tsx";
import { ListField } from "../components/ListField.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { optionsOf, Select } from "../components/Select.tsx";
import { AboutRow } from "./AboutRow.tsx";
import { type DeskEditorProps, FIELDS } from "./desk-editor-props.ts";

const KINDS = [
  { value: "lighting", label: "lighting desk" },
  { value: "vision", label: "vision desk" },
  { value: "sound", label: "sound desk" },
  { value: "instrument", label: "instrument" },
  { value: "midi", label: "anything that takes MIDI" },
] as const;
const SPEAKS = optionsOf(WIRE_CHOICES);
const MQTT_VERSIONS = optionsOf({ "3.1.1": "3.1.1", "5": "5" } as const);
const ENDS = [
  { value: "lf", label: "a line feed" },
  { value: "crlf", label: "carriage return and line feed" },
  { value: "cr", label: "a carriage return" },
  { value: "none", label: "nothing" },
] as const;

/** What a desk is, and how one speaks to it. */
export function AboutFields({ profile, change }: DeskEditorProps) {
  const { wire } = profile;
  const setWire = (set: Partial<DeskProfile["wire"]>) => change({ ...profile, wire: { ...wire, ...set } });
  return (
    <div className={FIELDS}>
      <Field label="it is a">
        <Select
          label="Kind of desk"
          value={profile.kind}
          options={KINDS}
          onChange={(kind) => change({ ...profile, kind })}
        />
      </Field>
      <Field label="it speaks">
        <Select label="How it speaks" value={wire.kind} options={SPEAKS} onChange={(kind) => setWire({ kind })} />
        {wire.kind === "lines" && hasLineEnds(wire) ? (
          <>
            and ends a line with
            <Select
              label="What ends a line"
              value={wire.lineEnd ?? "lf"}
              options={ENDS}
              onChange={(v) => setWire({ lineEnd: v })}
            />
            <Switch
              label="bytes as \02"
              hint="bytes that are no letters stand as hexadecimal after a backslash; {value:8} is a number as one byte, {value:16} as two"
              checked={wire.lineBytes ?? false}
              onChange={(lineBytes) => setWire({ lineBytes })}
            />
          </>
        ) : null}
      </Field>
      {wire.kind === "lines" ? <LineCarrier wire={wire} setWire={setWire} /> : null}
      {WIRES[wire.kind].reachedBy === "address" ? (
        <Field label="its usual port">
          <NumberField label="Port" value={wire.port} min={1} max={65_535} onCommit={(port) => setWire({ port })} />
        </Field>
      ) : null}
      <AboutRow about={profile.about} onCommit={(about) => change({ ...profile, about })} />
      <Field label="when it is silent, check">
        <ListField
          label="What to check at the desk, separated by semicolons"
          value={wire.checkAtDesk}
          by=";"
          className="w-full"
          onCommit={(checkAtDesk) => setWire({ checkAtDesk })}
        />
      </Field>
    </div>
  );
}

type Wire = DeskProfile["wire"];

/** Requests and topics are lines by themselves: nothing ends them, and their bytes are text. */
function hasLineEnds(wire: Wire): boolean {
  const carrier = carrierOf({ wire });
  return carrier !== null && CARRIERS[carrier].endsLines;
}

/** What carries lines by itself, and what belongs to that. */
function LineCarrier({ wire, setWire }: { wire: Wire; setWire(set: Partial<Wire>): void }) {
  const own = carriersOf(wire.kind);
  const carrier = wire.over ?? own[0]!;
  const { headers = {}, timeoutMs } = wire.http ?? {};
  return (
    <>
      <Field label="they are carried by">
        <Select
          label="What carries the lines"
          value={carrier}
          options={own.map((c) => ({ value: c, label: carrierWords(wire.kind, c) }))}
          onChange={(v) => setWire({ over: v })}
        />
        {carrier === "mqtt" ? (
          <>
            of version
            <Select
              label="Version of MQTT"
              value={wire.mqtt?.version ?? "3.1.1"}
              options={MQTT_VERSIONS}
              onChange={(v) => setWire({ mqtt: { ...wire.mqtt, version: v } })}
            />
          </>
        ) : null}
      </Field>
      {carrier === "http" ? (
        <Field label="every request says">
          <ListField
            label="Header fields, separated by semicolons"
            placeholder="X-Key: lantern; Accept: application/json"
            value={Object.entries(headers).map(([name, value]) => `${name}: ${value}`)}
            by=";"
            className="w-full"
            onCommit={(list) => setWire({ http: { ...(timeoutMs ? { timeoutMs } : {}), headers: headersOf(list) } })}
          />
          and waits for its answer
          <NumberField
            label="Longest wait in milliseconds"
            value={timeoutMs ?? 2000}
            min={100}
            max={30_000}
            onCommit={(ms) => setWire({ http: { ...wire.http, timeoutMs: ms } })}
          />
          ms
        </Field>
      ) : null}
      {carrier === "mqtt" ? (
        <Field label="when we are gone">
          <DraftField
            label="What the broker says when we are gone"
            placeholder="retained stage/bridge/there 0"
            value={wire.mqtt?.will ?? ""}
            className="w-full"
            onCommit={(text) => {
              const { will: _, ...mqtt } = wire.mqtt ?? {};
              setWire({ mqtt: text === "" ? mqtt : { ...mqtt, will: text } });
            }}
          />
        </Field>
      ) : null}
    </>
  );
}

function headersOf(list: readonly string[]): Record<string, string> {
  return Object.fromEntries(
    list.map((field) => {
      const colon = field.indexOf(":");
      return colon < 0 ? [field, ""] : [field.slice(0, colon).trim(), field.slice(colon + 1).trim()];
    }),
  );
}
