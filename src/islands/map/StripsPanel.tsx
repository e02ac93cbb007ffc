/** Strips: each row of the chosen controls gets its function, each column its channel, in one edit. */
import { useMemo, useState } from "react";
import type { CompiledDesk } from "../../core/desk/compile-desk.ts";
import type { DeskFunction, Parameter } from "../../core/format/desk-profile.ts";
import { fitsRow, likelyFunctions, type Strips, stripsOf } from "../../core/mapping/strips.ts";
import { inSentence } from "../../words/mappings.ts";
import { Button, Key } from "../components/controls.tsx";
import { NumberField } from "../components/NumberField.tsx";
import { Segments } from "../components/Segments.tsx";
import { Select } from "../components/Select.tsx";
import { useActions } from "../live/actions.ts";
import type { Many } from "../live/many.ts";
import { numberName } from "../live/number-name.ts";
import { useLive, usePageStore } from "../live/store.ts";
import { Taken, useApplying, useApplyPanel, useHeld } from "./apply-panel.tsx";
import { ANSWERS } from "./SeriesLine.tsx";
import type { ClashAnswer, SeriesLine } from "./series-lines.ts";
import {
  functionsOf,
  likelyDesk,
  newBank,
  type PlannedRow,
  planRows,
  type StripChannels,
  stripEdits,
  stripParameter,
} from "./strip-plan.ts";

const NOTHING = "nothing";

export function StripsPanel({ many }: { many: Many }) {
  const store = usePageStore();
  const compiled = useLive((l) => l.compiled);
  const surface = compiled.surfaces.find((s) => s.id === many.surface);
  const strips = useMemo(
    () => stripsOf(many.controls.flatMap((id) => surface?.profile.controls.find((c) => c.id === id) ?? [])),
    [many, surface?.profile],
  );
  const [chosen, setChosen] = useState<string | null>(null);
  const desk = compiled.desks.find((d) => d.id === chosen) ?? (strips && likelyDesk({ compiled }, strips)) ?? null;
  const parameter = desk && stripParameter(desk);
  if (!strips || !desk || !parameter) {
    return (
      <section
        className="leaf col-span-2 grid content-start gap-3 border-l border-brass-700 px-[18px] py-3.5"
        aria-label="Strips"
      >
        <h1 className="text-head font-semibold">No strips here</h1>
        <p className="text-ink-300">
          {strips
            ? "No desk of this show has functions that count channels. Add one in Connect."
            : "Choose at least two rows of controls that stand in the same columns."}
        </p>
        <Button onClick={() => store.setState({ strips: false })}>Go back</Button>
      </section>
    );
  }
  // Another desk is another plan: nothing of the one before is kept.
  return <Plan key={desk.id} many={many} strips={strips} desk={desk} parameter={parameter} onDesk={setChosen} />;
}

interface PlanProps {
  many: Many;
  strips: Strips;
  desk: CompiledDesk;
  parameter: Parameter;
  onDesk(id: string): void;
}

function Plan({ many, strips, desk, parameter, onDesk }: PlanProps) {
  const store = usePageStore();
  const actions = useActions();
  const desks = useLive((l) => l.compiled.desks);
  const { isApplying, run } = useApplying();
  const context = useHeld(
    useLive((l) => l.context),
    isApplying,
  );
  const banks = useLive((l) => l.show.banks);
  const functions = useMemo(() => functionsOf(desk, parameter.id), [desk, parameter]);
  const [given, setGiven] = useState<readonly (DeskFunction | null)[]>(() => likelyFunctions(strips.rows, functions));
  const fresh = useMemo(() => newBank(parameter, strips.columns), [parameter, strips.columns]);
  const [channels, setChannels] = useState<StripChannels>({ kind: "fixed", first: Math.max(1, parameter.from) });
  const [numbers, setNumbers] = useState<Readonly<Record<string, number>>>({});
  const [answer, setAnswer] = useState<ClashAnswer>("replace");
  // biome-ignore lint/correctness/useExhaustiveDependencies: what is taken changes with the show, and with what is up
  const plan = useMemo(
    () => planRows(store.getState(), many.surface, desk, parameter, strips, given, channels, numbers),
    [store, many.surface, desk, parameter, strips, given, channels, numbers, context],
  );
  const lines = plan.flatMap((row) => row.lines);
  const taken = lines.filter((l) => l.taken);
  const made = answer === "leave" ? lines.filter((l) => !l.taken) : lines;
  const out = made.find((l) => l.outOf);
  const leave = () => store.setState({ strips: false });
  const apply = async () => {
    if (out || made.length === 0) return;
    const edits = stripEdits(store.getState(), many.surface, desk, plan, channels, answer);
    if (edits.length === 0) return;
    const does = `make ${strips.columns} strips for ${desk.desk.name}`;
    await run(async () => {
      if (await actions.edit({ kind: "together", does, edits })) store.setState({ strips: false, many: null });
    });
  };
  const panel = useApplyPanel(() => void apply(), leave);
  return (
    <section
      ref={panel}
      tabIndex={-1}
      className="leaf col-span-2 grid min-h-0 grid-rows-[auto_auto_minmax(0,1fr)_auto] gap-3 border-l border-brass-700 px-[18px] py-3.5 outline-none"
      aria-label="Strips"
    >
      <div className="flex flex-wrap items-center gap-3">
        <h1 className="flex-1 text-head font-semibold">
          {strips.columns} strips of {strips.rows.length} rows
        </h1>
        {strips.beside.length > 0 ? (
          <span className="text-small text-ink-500">{strips.beside.length} stand in no column and are left out</span>
        ) : null}
      </div>
      <div className="flex flex-wrap items-center gap-2.5 rounded-[9px] border-l-[3px] border-warm bg-velvet-850 px-3.5 py-2.5">
        <Select
          label="Desk"
          value={desk.id}
          options={desks.filter((d) => stripParameter(d)).map((d) => ({ value: d.id, label: d.desk.name }))}
          onChange={onDesk}
        />
        <span className="text-ink-300">{parameter.name}</span>
        <Segments
          label="Which channels"
          value={channels.kind}
          options={[
            ["fixed", "counting on from"],
            ["bank", "through a bank that moves"],
          ]}
          onChange={(kind) => {
            const bank = banks?.[0] ?? fresh;
            if (kind === "fixed") setChannels({ kind, first: Math.max(1, parameter.from) });
            else if (bank) setChannels({ kind, bank, isNew: bank === fresh });
          }}
        />
        {channels.kind === "fixed" ? (
          <NumberField
            label={`First ${parameter.name}`}
            value={channels.first}
            min={parameter.from}
            max={parameter.to}
            onCommit={(first) => setChannels({ kind: "fixed", first: Math.round(first) })}
          />
        ) : (
          <Select
            label="Bank"
            value={channels.bank.id}
            options={[
              ...(banks ?? []).map((b) => ({ value: b.id, label: b.name })),
              ...(fresh ? [{ value: fresh.id, label: `a new one: ${fresh.name}` }] : []),
            ]}
            onChange={(id) => {
              const bank = banks?.find((b) => b.id === id) ?? fresh;
              if (bank) setChannels({ kind: "bank", bank, isNew: bank === fresh });
            }}
          />
        )}
      </div>
      <ol className="min-h-0 overflow-y-auto" aria-label="What each row gets">
        {plan.map((row, i) => (
          <Row
            key={row.row.controls.find((c) => c)?.id}
            nth={i}
            planned={row}
            desk={desk}
            strip={parameter.id}
            functions={functions}
            numbers={numbers}
            onFunction={(fn) => setGiven(given.map((g, j) => (j === i ? fn : g)))}
            onNumber={(id, value) => setNumbers({ ...numbers, [`${i} ${id}`]: value })}
          />
        ))}
      </ol>
      <div className="flex flex-wrap items-center gap-3 border-t border-velvet-700 pt-2.5">
        <Button look="quiet" onClick={leave}>
          Never mind <Key>Esc</Key>
        </Button>
        <span className="flex flex-1 items-center gap-2 text-small text-ink-500" role="status">
          {out ? outWords(out) : taken.length === 0 ? "Ctrl Z takes all of it back." : null}
          {taken.length > 0 && !out ? (
            <>
              <span className="text-care">{taken.length} do something already:</span>
              <Select label="Those that are taken" value={answer} options={ANSWERS} onChange={setAnswer} />
            </>
          ) : null}
        </span>
        <Button look="primary" disabled={out !== undefined || made.length === 0} onClick={() => void apply()}>
          Apply {made.length} <Key>Enter</Key>
        </Button>
      </div>
    </section>
  );
}

function outWords({ place, outOf, bindings }: SeriesLine): string {
  const binding = bindings[outOf!.id];
  const value = binding?.from === "fixed" ? binding.value : 0;
  return `${place.control.name}: there is no ${outOf!.name} ${value}. The desk has ${outOf!.from} to ${outOf!.to}.`;
}

interface RowProps {
  nth: number;
  planned: PlannedRow;
  desk: CompiledDesk;
  /** The parameter that the columns count. */
  strip: string;
  functions: readonly DeskFunction[];
  numbers: Readonly<Record<string, number>>;
  onFunction(fn: DeskFunction | null): void;
  onNumber(parameter: string, value: number): void;
}

function Row({ nth, planned: { row, fn, lines }, desk, strip, functions, numbers, onFunction, onNumber }: RowProps) {
  const fitting = functions.filter((f) => fitsRow(row, f));
  const others = (fn?.parameters ?? []).filter((id) => id !== strip && id !== desk.profile.page?.parameter);
  return (
    <li className="grid gap-1.5 border-b border-velvet-800 py-2.5">
      <div className="flex flex-wrap items-center gap-2.5">
        <b className="w-[110px] overflow-hidden font-semibold text-ellipsis whitespace-nowrap">{row.name}</b>
        <Select
          label={`Function of ${row.name}`}
          className="h-[26px] min-w-[170px] px-2"
          value={fn?.id ?? NOTHING}
          options={[
            { value: NOTHING, label: "nothing" },
            ...fitting.map((f) => ({ value: f.id, label: inSentence(f.name) })),
          ]}
          onChange={(id) => onFunction(functions.find((f) => f.id === id) ?? null)}
        />
        {others.map((id) => {
          const parameter = desk.profile.parameters.find((p) => p.id === id)!;
          return (
            <span key={id} className="flex items-center gap-1.5 text-small text-ink-300">
              {parameter.name}
              <NumberField
                label={`${parameter.name} of ${row.name}`}
                value={numbers[`${nth} ${id}`] ?? Math.max(1, parameter.from)}
                min={parameter.from}
                max={parameter.to}
                onCommit={(value) => onNumber(id, Math.round(value))}
              />
            </span>
          );
        })}
      </div>
      {fn ? <Cells lines={lines} columns={row.controls.length} desk={desk.id} strip={strip} /> : null}
    </li>
  );
}

/** What each control of the row would do, as they stand side by side. */
function Cells({
  lines,
  columns,
  desk,
  strip,
}: {
  lines: readonly SeriesLine[];
  columns: number;
  desk: string;
  strip: string;
}) {
  return (
    <ul
      className="grid gap-1 text-tiny"
      style={{ gridTemplateColumns: `repeat(${Math.min(columns, 16)}, minmax(0, 1fr))` }}
    >
      {lines.map((line) => (
        <Cell key={line.place.control.id} line={line} desk={desk} strip={strip} />
      ))}
    </ul>
  );
}

function Cell({
  line: { place, bindings, taken, outOf },
  desk,
  strip,
}: {
  line: SeriesLine;
  desk: string;
  strip: string;
}) {
  const binding = bindings[strip];
  const name = useLive((l) => {
    const parameter = l.compiled.desks.find((d) => d.id === desk)?.profile.parameters.find((p) => p.id === strip);
    // Through a bank it is what the bank shows when it stands at its start.
    const first =
      binding?.from === "strip" ? (l.show.banks?.find((b) => b.id === binding.bank)?.first ?? parameter?.from ?? 0) : 0;
    const value =
      binding?.from === "fixed" ? binding.value : binding?.from === "strip" ? first + binding.strip - 1 : null;
    return parameter && value !== null ? (numberName(l, desk, parameter, value) ?? "") : "";
  });
  const number = binding?.from === "fixed" ? binding.value : binding?.from === "strip" ? `strip ${binding.strip}` : "";
  return (
    <li
      title={place.control.name}
      className={`min-w-0 rounded-md px-1.5 py-1 ${outOf ? "bg-alert-ground text-alert-ink" : taken ? "bg-care-ground" : "bg-velvet-850"}`}
    >
      <span className="block font-mono text-ink-100">{number}</span>
      <span className="narrow block overflow-hidden text-ellipsis whitespace-nowrap text-ink-300">
        {taken ? <Taken /> : name || "\u00a0"}
      </span>
    </li>
  );
}
