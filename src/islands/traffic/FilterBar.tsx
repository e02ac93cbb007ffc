/** What of the traffic is shown. */
import { memo } from "react";
import { KINDS, type TrafficFilter, type TrafficKind } from "../../core/trace/traffic-store.ts";
import { TextField } from "../components/controls.tsx";
import { Select } from "../components/Select.tsx";
import { useLive } from "../live/store.ts";

const KIND_WORDS: Record<TrafficKind, string> = {
  every: "every kind",
  note: "notes",
  controller: "controllers",
  program: "programs",
  bend: "bends",
  sysex: "SysEx",
  osc: "OSC",
  line: "lines",
  other: "all else",
};
const PILL = "h-[26px] !rounded-full px-3";

interface Props {
  filter: TrafficFilter;
  onChange(filter: TrafficFilter): void;
}

export const FilterBar = memo(function FilterBar({ filter, onChange }: Props) {
  const set = (change: Partial<TrafficFilter>) => onChange({ ...filter, ...change });
  const surfaces = useLive((l) => l.show.surfaces);
  const desks = useLive((l) => l.show.desks);
  const controls = useLive((l) => l.compiled.surfaces.find((s) => s.id === filter.device)?.profile.controls);
  return (
    <>
      <TextField
        label="Filter by text, number or control"
        placeholder="Text, number, control"
        className="w-[180px]"
        value={filter.text}
        onChange={(e) => set({ text: e.target.value })}
      />
      <Select
        label="Device"
        value={filter.device}
        options={[
          { value: "every", label: "every device" },
          ...[...surfaces, ...desks].map((d) => ({ value: d.id, label: d.name })),
        ]}
        onChange={(device) => set({ device, control: "every" })}
        className={PILL}
      />
      {controls ? (
        <Select
          label="Control"
          value={filter.control}
          options={[
            { value: "every", label: "every control" },
            ...controls.map((c) => ({ value: c.id, label: c.name })),
          ]}
          onChange={(control) => set({ control })}
          className={PILL}
        />
      ) : null}
      <Select
        label="Direction"
        value={filter.ways}
        options={[
          { value: "both", label: "both ways" },
          { value: "in", label: "only in" },
          { value: "out", label: "only out" },
        ]}
        onChange={(v) => set({ ways: v })}
        className={PILL}
      />
      <Select
        label="Kind"
        value={filter.kind}
        options={KINDS.map((k) => ({ value: k, label: KIND_WORDS[k] }))}
        onChange={(v) => set({ kind: v })}
        className={PILL}
      />
      <button
        type="button"
        aria-pressed={filter.upkeep}
        title="Heartbeats, meters, questions of ours and answers that say nothing new"
        onClick={() => set({ upkeep: !filter.upkeep })}
        className="h-[26px] rounded-full bg-velvet-800 px-3 text-small text-ink-300 aria-pressed:bg-velvet-700 aria-pressed:text-ink-100"
      >
        {filter.upkeep ? "with heartbeats" : "no heartbeats"}
      </button>
    </>
  );
});
