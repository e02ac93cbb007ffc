import type { DeskProfile } from "../../core/show/desk-profile.ts";
import { FieldRow } from "../parts/FieldRow.tsx";
import { ListField } from "../parts/ListField.tsx";
import { NumberField } from "../parts/NumberField.tsx";
import { Select } from "../parts/Select.tsx";
import { AboutRow } from "./AboutRow.tsx";
import { type DeskParts, FIELDS } from "./parts.ts";

const KINDS = [
  { value: "lighting", label: "lighting desk" },
  { value: "vision", label: "vision desk" },
  { value: "sound", label: "sound desk" },
  { value: "instrument", label: "instrument" },
  { value: "midi", label: "anything that takes MIDI" },
];
const WIRES = [
  { value: "osc-udp", label: "OSC over UDP" },
  { value: "line-tcp", label: "lines of text over TCP" },
  { value: "midi", label: "MIDI" },
];
const ENDS = [
  { value: "lf", label: "a line feed" },
  { value: "crlf", label: "carriage return and line feed" },
  { value: "cr", label: "a carriage return" },
];

/** What a desk is, and how one speaks to it. */
export function AboutFields({ profile, change }: DeskParts) {
  const { wire } = profile;
  const setWire = (set: Partial<DeskProfile["wire"]>) => change({ ...profile, wire: { ...wire, ...set } });
  return (
    <div className={FIELDS}>
      <FieldRow label="it is a">
        <Select
          label="Kind of desk"
          value={profile.kind}
          options={KINDS}
          onChange={(kind) => change({ ...profile, kind: kind as DeskProfile["kind"] })}
        />
      </FieldRow>
      <FieldRow label="it speaks">
        <Select
          label="How it speaks"
          value={wire.kind}
          options={WIRES}
          onChange={(kind) => setWire({ kind: kind as DeskProfile["wire"]["kind"] })}
        />
        {wire.kind === "line-tcp" ? (
          <>
            and ends a line with
            <Select
              label="What ends a line"
              value={wire.lineEnd ?? "lf"}
              options={ENDS}
              onChange={(v) => setWire({ lineEnd: v as "lf" })}
            />
          </>
        ) : null}
      </FieldRow>
      {wire.kind === "midi" ? null : (
        <FieldRow label="its usual port">
          <NumberField label="Port" value={wire.port} min={1} max={65_535} onCommit={(port) => setWire({ port })} />
        </FieldRow>
      )}
      <AboutRow about={profile.about} onCommit={(about) => change({ ...profile, about })} />
      <FieldRow label="when it is silent, check">
        <ListField
          label="What to check at the desk, separated by semicolons"
          value={wire.checkAtDesk}
          by=";"
          className="w-full"
          onCommit={(checkAtDesk) => setWire({ checkAtDesk })}
        />
      </FieldRow>
    </div>
  );
}
