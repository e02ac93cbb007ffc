import { useMemo } from "react";
import { gesturesOf } from "../../core/format/gestures.ts";
import type { Mapping } from "../../core/format/show.ts";
import { adviceFor } from "../../core/mapping/advice.ts";
import { adviceWords } from "../../words/advice.ts";
import { ENGLISH } from "../../words/english.ts";
import { Key } from "../components/controls.tsx";
import { Select } from "../components/Select.tsx";
import { useActions } from "../live/actions.ts";
import { useLive, usePageStore } from "../live/store.ts";
import { ActionCard } from "./ActionCard.tsx";
import { type Choice, newMapping } from "./choice.ts";

/** One gesture with its actions across. */
export function GestureRow({ choice, mapping, shown }: { choice: Choice; mapping: Mapping; shown: boolean }) {
  const store = usePageStore();
  const actions = useActions();
  const several = choice.beside.length > 1;
  const choose = () => store.setState({ chosenMapping: mapping.id });
  const options = gesturesOf(choice.control).map((g) => ({ value: g, label: ENGLISH.gestures[g] }));
  return (
    <div
      className={`grid grid-cols-[76px_1fr] gap-2.5 ${several && !shown ? "opacity-75" : ""}`}
      data-gesture={mapping.gesture}
      data-shown={shown}
    >
      <span className="flex flex-col items-end pt-[5px]">
        <Select
          label={`Gesture ${ENGLISH.gestures[mapping.gesture]}`}
          value={mapping.gesture}
          options={options}
          onChange={(g) => void actions.edit({ kind: "change-mapping", id: mapping.id, set: { gesture: g } })}
          className="h-[26px] !bg-transparent px-1 font-semibold"
        />
        {several && !shown ? (
          <button type="button" onClick={choose} className="px-1 text-tiny text-ink-500 hover:text-ink-100">
            work on it
          </button>
        ) : null}
      </span>
      <div
        data-mapping={mapping.id}
        className={`grid gap-2 ${several && shown ? "rounded-[10px] outline outline-brass-500/40 outline-offset-2" : ""}`}
      >
        {mapping.actions.map((action) => (
          <ActionCard key={action.id} mapping={mapping} action={action} control={choice.control} />
        ))}
        <button
          type="button"
          data-end
          className="justify-self-start pt-0.5 pl-0.5 text-small text-ink-500 hover:text-ink-100"
          onClick={() => {
            choose();
            document.getElementById("function-search")?.focus();
          }}
        >
          + {mapping.actions.length === 0 ? "an action" : "another action"} {shown ? <Key>/</Key> : null}
        </button>
      </div>
    </div>
  );
}

/** A further gesture of the same control at the same place. */
export function AddGesture({ choice, mapping }: { choice: Choice; mapping: Mapping }) {
  const store = usePageStore();
  const actions = useActions();
  const used = new Set(choice.beside.map((m) => m.gesture));
  const free = gesturesOf(choice.control).filter((g) => !used.has(g));
  if (free.length === 0) return null;
  return (
    <div className="grid grid-cols-[76px_1fr] gap-2.5">
      <span />
      <Select
        label="Another gesture"
        value=""
        placeholder="+ another gesture"
        options={free.map((g) => ({ value: g, label: ENGLISH.gestures[g] }))}
        onChange={(g) => {
          const { layers, pages, whileHeld, when } = mapping;
          const extra: Mapping = {
            ...newMapping(choice),
            gesture: g,
            layers,
            ...(pages ? { pages } : {}),
            ...(whileHeld ? { whileHeld } : {}),
            ...(when ? { when } : {}),
          };
          void actions.edit({ kind: "add-mapping", mapping: extra }).then((ok) => {
            if (ok) store.setState({ chosenMapping: extra.id });
          });
        }}
        className="h-[24px] justify-self-start !bg-transparent px-0.5"
      />
    </div>
  );
}

/** What the checks have to say about this mapping. */
export function MappingAdvice({ mapping }: { mapping: Mapping }) {
  const compiled = useLive((l) => l.compiled);
  const own = useMemo(
    () => adviceFor(compiled).filter((a) => "mapping" in a.about && a.about.mapping === mapping.id),
    [compiled, mapping.id],
  );
  return own.map((a) => (
    <p
      key={adviceWords(a)}
      role={a.severity === "note" ? "note" : "alert"}
      className={`rounded-lg px-3 py-2 text-[12.5px] ${a.severity === "fault" ? "bg-alert-ground text-alert-ink" : "bg-care-ground text-care"}`}
    >
      {adviceWords(a)}
    </p>
  ));
}
