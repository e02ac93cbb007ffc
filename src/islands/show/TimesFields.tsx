import type { Takeover } from "../../core/format/show.ts";
import { DEFAULT_DOUBLE_MS, DEFAULT_HOLD_MS } from "../../core/mapping/mapping-tables.ts";
import { TAKEOVER_WORDS } from "../../words/mappings.ts";
import { NumberField } from "../components/NumberField.tsx";
import { optionsOf, Select } from "../components/Select.tsx";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";

const TAKEOVERS = optionsOf(TAKEOVER_WORDS);

/** Times of gestures, and how new mappings take over. */
export function TimesFields() {
  const { times, takeover, middleC } = useLive((l) => l.show.settings);
  const actions = useActions();
  return (
    <div className="grid grid-cols-[auto_1fr] items-center gap-x-4 gap-y-2.5 text-small text-ink-500">
      <span>a hold takes</span>
      <span className="flex items-center gap-1.5">
        <NumberField
          label="Hold time of the show"
          value={times?.holdMs ?? DEFAULT_HOLD_MS}
          min={50}
          max={10_000}
          onCommit={(v) => void actions.edit({ kind: "set-times", times: { ...times, holdMs: Math.round(v) } })}
        />
        ms
      </span>
      <span>a double tap comes within</span>
      <span className="flex items-center gap-1.5">
        <NumberField
          label="Double tap time of the show"
          value={times?.doubleMs ?? DEFAULT_DOUBLE_MS}
          min={50}
          max={2000}
          onCommit={(v) => void actions.edit({ kind: "set-times", times: { ...times, doubleMs: Math.round(v) } })}
        />
        ms
      </span>
      {(["fader", "knob"] as const).map((kind) => (
        <Default key={kind} kind={kind} value={takeover?.[kind] ?? "catch"} />
      ))}
      <span>note 60 is called</span>
      <Select
        label="Middle C"
        value={middleC}
        options={[
          { value: "C3", label: "C3" },
          { value: "C4", label: "C4" },
        ]}
        onChange={(c) => void actions.edit({ kind: "set-middle-c", middleC: c === "C4" ? "C4" : "C3" })}
        className="h-[24px] justify-self-start px-2"
      />
    </div>
  );
}

function Default({ kind, value }: { kind: "fader" | "knob"; value: Takeover }) {
  const takeover = useLive((l) => l.show.settings.takeover);
  const actions = useActions();
  return (
    <>
      <span>a new mapping of a {kind} takes over by</span>
      <Select
        label={`Takeover of a ${kind}`}
        value={value}
        options={TAKEOVERS}
        onChange={(t) => void actions.edit({ kind: "set-takeover", takeover: { ...takeover, [kind]: t } })}
        className="h-[24px] justify-self-start px-2"
      />
    </>
  );
}
