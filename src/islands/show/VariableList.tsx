import type { Variable } from "../../core/format/show.ts";
import { Switch } from "../components/controls.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { PartRow, PartSection } from "./PartRow.tsx";

export function VariableList() {
  const variables = useLive((l) => l.show.variables) ?? [];
  const actions = useActions();
  return (
    <PartSection
      about="A number with a name. The house sets and steps it; bindings and conditions read it as a value of the house."
      add="Add a variable"
      onAdd={() =>
        void actions.edit({
          kind: "put-variable",
          item: { id: newId("v"), name: `Variable ${variables.length + 1}`, from: 1, to: 8, start: 1, wraps: true },
        })
      }
    >
      {variables.map((v, i) => (
        <VariableRow key={v.id} variable={v} index={i} />
      ))}
    </PartSection>
  );
}

function VariableRow({ variable, index }: { variable: Variable; index: number }) {
  const actions = useActions();
  const now = useLive((l) => {
    const base = l.compiled.desks[l.compiled.house]?.states.get("variable")?.base ?? 0;
    return l.values.house?.value[base + index] ?? variable.start;
  });
  const put = (set: Partial<Variable>) =>
    void actions.edit({ kind: "change-part", list: "variables", id: variable.id, set });
  return (
    <PartRow list="variables" id={variable.id} name={variable.name} onRename={(name) => put({ name })}>
      from
      <NumberField label="From" value={variable.from} min={-1e6} max={1e6} onCommit={(from) => put({ from })} />
      to
      <NumberField label="To" value={variable.to} min={-1e6} max={1e6} onCommit={(to) => put({ to })} />
      starts at
      <NumberField
        label="Start"
        value={variable.start}
        min={variable.from}
        max={variable.to}
        onCommit={(start) => put({ start })}
      />
      <Switch label="goes around" checked={variable.wraps} onChange={(wraps) => put({ wraps })} />
      <span className="text-cool">now {typeof now === "number" ? Math.round(now * 100) / 100 : now}</span>
    </PartRow>
  );
}
