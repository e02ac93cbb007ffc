/** What is done to all rows that are chosen. It floats over the last rows only while there are some. */
import { Popover } from "radix-ui";
import { useLayoutEffect, useState } from "react";
import { countOn, setOnAll } from "../../../core/edit/many-edits.ts";
import { Button, Key } from "../../components/controls.tsx";
import { NumberField } from "../../components/NumberField.tsx";
import { isTyping } from "../../components/typing.ts";
import { useLive } from "../../live/store.ts";
import { ManyFields, useAllEdit } from "../ManyFields.tsx";
import type { TableRow } from "./table-rows.ts";

interface Props {
  rows: readonly TableRow[];
  onNone(): void;
}

export function BulkBar({ rows, onNone }: Props) {
  const mappings = [...new Map(rows.flatMap((r) => (r.mapping ? [[r.mapping.id, r.mapping] as const] : []))).values()];
  const all = useAllEdit(mappings.length);
  const isOn = mappings.some((m) => m.on);
  const switchAll = () => all(isOn ? "switch off" : "switch on", setOnAll(mappings, { on: !isOn }));
  const unmap = () =>
    all(
      "unmap",
      mappings.map((m) => ({ kind: "remove-mapping", id: m.id })),
    );
  useLayoutEffect(() => {
    // In the place of what these keys do to the one mapping of the spine.
    const onKey = (e: KeyboardEvent) => {
      if (isTyping(e.target) || e.ctrlKey || e.metaKey || e.altKey) return;
      if (e.key.toLowerCase() === "o") switchAll();
      else if (e.key === "Delete") unmap();
      else if (e.key === "Escape" && !(e.target as Element).closest("[role=gridcell]")) {
        onNone();
        document.getElementById("mapping-table")?.focus();
      } else return;
      e.preventDefault();
      e.stopPropagation();
    };
    window.addEventListener("keydown", onKey, true);
    return () => window.removeEventListener("keydown", onKey, true);
  });
  return (
    <div
      role="toolbar"
      aria-label="All that are chosen"
      className="absolute right-4 bottom-10 left-4 z-10 flex min-h-[46px] flex-wrap items-center gap-1.5 rounded-xl border border-brass-500 bg-velvet-700 px-3 py-1.5 shadow-2xl [&_kbd]:text-ink-300"
    >
      <b className="mr-2 whitespace-nowrap">{rows.length.toLocaleString("en")} chosen</b>
      {mappings.length > 0 ? (
        <>
          <CountOn rows={rows} />
          <ManyFields mappings={mappings} />
          <Button onClick={switchAll}>
            {isOn ? "Switch off" : "Switch on"} <Key>O</Key>
          </Button>
          <Button onClick={unmap} className="!text-alert">
            Unmap <Key>Del</Key>
          </Button>
        </>
      ) : (
        <span className="text-ink-300">They are free: say on the right what they should do.</span>
      )}
      <span className="flex-1" />
      <Button look="quiet" onClick={onNone}>
        Choose none <Key>Esc</Key>
      </Button>
    </div>
  );
}

/** The numbers of rows that do one thing, counted on anew. */
function CountOn({ rows }: { rows: readonly TableRow[] }) {
  const actions = rows.flatMap((r) => (r.mapping && r.action ? [{ mapping: r.mapping.id, action: r.action }] : []));
  const [first] = actions;
  const isSame = actions.every(
    ({ action }) => action.desk === first?.action.desk && action.function === first.action.function,
  );
  const parameter = useLive((l) => {
    const fn = l.compiled.desks.find((d) => d.id === first?.action.desk)?.functions.get(first?.action.function ?? "");
    return fn?.parameters.at(-1);
  });
  const all = useAllEdit(actions.length);
  const now = first && parameter ? first.action.bindings[parameter.id] : undefined;
  const [from, setFrom] = useState<number | null>(null);
  const [step, setStep] = useState(1);
  if (!first || !parameter || !isSame || actions.length < 2) return null;
  const start = from ?? (now?.from === "fixed" ? now.value : parameter.from);
  const end = start + step * (actions.length - 1);
  const isOut = Math.min(start, end) < parameter.from || Math.max(start, end) > parameter.to;
  return (
    <Popover.Root onOpenChange={() => setFrom(null)}>
      <Popover.Trigger asChild>
        <Button>Count on…</Button>
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          sideOffset={6}
          className="z-50 grid w-[270px] gap-2.5 rounded-xl border border-velvet-600 bg-velvet-850 p-3.5 text-small shadow-2xl"
        >
          <span className="flex items-center gap-2">
            {parameter.name} from
            <NumberField
              label={`First ${parameter.name}`}
              value={start}
              min={parameter.from}
              max={parameter.to}
              onCommit={(v) => setFrom(Math.round(v))}
            />
            by
            <NumberField label="Step" value={step} min={-1000} max={1000} onCommit={(v) => setStep(Math.round(v))} />
          </span>
          <p className={isOut ? "text-alert" : "text-ink-500"} role={isOut ? "alert" : undefined}>
            {isOut
              ? `It would reach ${end}; the desk has ${parameter.from} to ${parameter.to}.`
              : `${start} to ${end}, in the order of the rows.`}
          </p>
          <Popover.Close asChild>
            <Button
              look="primary"
              disabled={isOut}
              onClick={() => all("count on over", countOn(actions, parameter.id, start, step))}
            >
              Count on over {actions.length}
            </Button>
          </Popover.Close>
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
