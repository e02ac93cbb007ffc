/** One way of a surface or of a MIDI desk: which port, and what belongs to it. */
import { clsx } from "clsx";
import { useState } from "react";
import type { PortRef } from "../../core/format/show.ts";
import { TextField } from "../components/controls.tsx";
import { Select } from "../components/Select.tsx";
import { useLive, usePage } from "../live/store.ts";
import { cableNames, freshCable, portFrom, portKey, portOptions } from "./ports.ts";
import { UniverseDialog } from "./UniverseDialog.tsx";

const OVER_UDP = "udp";
const NEW_CABLE = "new-cable";
const UNIVERSE = "universe";
const VIRTUAL = "virtual";

interface Props {
  /** What the choice is called, e.g. "In port of Deck grid". */
  label: string;
  way: "input" | "output";
  port: PortRef;
  onChange(port: PortRef): void;
  /** A desk is not drawn on the screen. */
  screen?: boolean;
  className: string;
}

export function PortField({ label, way, port, onChange, screen = true, className }: Props) {
  const midi = usePage((s) => s.midi);
  const show = useLive((l) => l.show);
  const elsewhere = usePage((s) => s.browserDevices);
  const computerMidi = useLive((l) => l.computerMidi);
  const options = portOptions(port, midi, way, { show, computerMidi }, elsewhere).filter((o) => {
    const { kind } = portFrom(o.value);
    return kind !== "midi-udp" && (screen || kind !== "screen");
  });
  const [addressing, setAddressing] = useState(false);
  const choose = (value: string) => {
    if (value === UNIVERSE) {
      setAddressing(true);
      return;
    }
    if (value === VIRTUAL) onChange({ kind: "computer-midi", device: "Velvet Hinge", nth: 1, virtual: true });
    else if (value === NEW_CABLE) onChange({ kind: "cable", name: freshCable(cableNames(show)) });
    else if (value === OVER_UDP) onChange({ kind: "midi-udp", host: "127.0.0.1", port: 5004 });
    else onChange(portFrom(value));
  };
  return (
    <span className="grid grid-cols-[minmax(0,1fr)] gap-1.5">
      <Select
        label={label}
        value={port.kind === "midi-udp" ? OVER_UDP : portKey(port)}
        options={[
          // Beside it stands which cable, and may be changed.
          ...options.map((o) => (port.kind === "cable" && o.value === portKey(port) ? { ...o, label: "cable" } : o)),
          { value: NEW_CABLE, label: "a new cable in this program" },
          { value: OVER_UDP, label: "MIDI over UDP" },
          ...(computerMidi.hasVirtual ? [{ value: VIRTUAL, label: "a virtual port of this computer" }] : []),
          ...(way === "input" && screen
            ? [{ value: UNIVERSE, label: port.kind === "dmx" ? "another DMX universe" : "a DMX universe" }]
            : []),
        ]}
        onChange={choose}
        className={className}
      />
      {port.kind === "midi-udp" ? (
        <Typed
          key="address"
          label={`Address of ${label}`}
          text={`${port.host}:${port.port}`}
          className={className}
          onTyped={(text) => {
            const [host, number] = text.split(":");
            const n = Number(number);
            if (host && Number.isInteger(n) && n > 0 && n < 65_536) onChange({ kind: "midi-udp", host, port: n });
          }}
        />
      ) : null}
      {port.kind === "cable" ? (
        <Typed
          key="cable"
          label={`Cable of ${label}`}
          text={port.name}
          className={className}
          onTyped={(text) => {
            if (text.trim() !== "") onChange({ kind: "cable", name: text.trim() });
          }}
        />
      ) : null}
      {port.kind === "computer-midi" && port.virtual ? (
        <Typed
          key="virtual"
          label={`Name of ${label}`}
          text={port.device}
          className={className}
          onTyped={(text) => {
            if (text.trim() !== "") onChange({ ...port, device: text.trim() });
          }}
        />
      ) : null}
      {addressing ? (
        <UniverseDialog
          chosen={port.kind === "dmx" ? port : null}
          onOpenChange={() => setAddressing(false)}
          onSubmit={onChange}
        />
      ) : null}
    </span>
  );
}

interface TypedProps {
  label: string;
  text: string;
  className: string;
  onTyped(text: string): void;
}

/** A text that holds when it is finished: with Enter, or when the hand goes on. */
function Typed({ label, text, className, onTyped }: TypedProps) {
  const [draft, setDraft] = useState<string | null>(null);
  const finish = () => {
    if (draft !== null && draft !== text) onTyped(draft);
    setDraft(null);
  };
  return (
    <TextField
      label={label}
      value={draft ?? text}
      onChange={(e) => setDraft(e.target.value)}
      onBlur={finish}
      onKeyDown={(e) => {
        if (e.key === "Enter") finish();
      }}
      className={clsx(className, "font-mono")}
    />
  );
}
