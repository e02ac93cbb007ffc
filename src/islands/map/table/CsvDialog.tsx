/** A table of mappings from a file: what it would change, row by row, before anything is done. */
import { useMemo, useState } from "react";
import { readCsvRows } from "../../../core/edit/csv-reader.ts";
import type { CsvChange, CsvFault } from "../../../core/edit/mappings-csv.ts";
import { csvChangesWords, csvFaultWords } from "../../../words/csv.ts";
import { Button, Switch } from "../../components/controls.tsx";
import { ListDialog } from "../../components/ListDialog.tsx";
import { useActions } from "../../live/actions.ts";
import { useLive, usePageStore } from "../../live/store.ts";
import { csvCells, csvInto } from "./csv-file.ts";

/** What is listed; a file may change more, which is counted. */
const MOST_LISTED = 300;

interface Props {
  name: string;
  text: string;
  onClose(): void;
}

export function CsvDialog({ name, text, onClose }: Props) {
  const store = usePageStore();
  const actions = useActions();
  const show = useLive((l) => l.show);
  const compiled = useLive((l) => l.compiled);
  const [removes, setRemoves] = useState(false);
  const [refused, setRefused] = useState(false);
  const cells = useMemo(() => csvCells(text), [text]);
  // biome-ignore lint/correctness/useExhaustiveDependencies: what it would change depends on the show as it is now
  const read = useMemo(
    () => readCsvRows(cells.rows, csvInto(store.getState()), removes),
    [store, cells, removes, show, compiled],
  );
  const open: CsvFault[] =
    cells.openAt === null
      ? []
      : [
          {
            row: cells.openAt,
            fault: { kind: "not-valid", column: "mapping", text: "a quotation mark that is not closed" },
          },
        ];
  const faults = [...open, ...read.faults];
  const apply = async () => {
    const does = `read ${name}`.slice(0, 120);
    if (await actions.edit({ kind: "together", does, edits: [...read.edits] })) onClose();
    else setRefused(true);
  };
  return (
    <ListDialog
      title={name}
      about={
        faults.length > 0 ? (
          <span className="text-alert">
            Nothing can be read in: {faults.length === 1 ? "one row is" : `${faults.length} rows are`} wrong.
          </span>
        ) : (
          csvChangesWords(read.changes, read.same)
        )
      }
      note={
        <>
          <Switch
            label="Remove what the file does not name"
            checked={removes}
            onChange={setRemoves}
            hint="Mappings that stand in no row of the file are removed"
          />
          <span className="flex-1 text-right" role="status">
            {refused ? "It was refused, and nothing was changed." : ""}
          </span>
        </>
      }
      apply={
        <Button look="primary" disabled={faults.length > 0 || read.edits.length === 0} onClick={() => void apply()}>
          Read in
        </Button>
      }
      isWide
      onClose={onClose}
    >
      <ol className="grid gap-1" aria-label={faults.length > 0 ? "Wrong rows" : "Changes"}>
        {faults.slice(0, MOST_LISTED).map((f, i) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a row may be wrong twice in the same way
          <li key={i} className="rounded-lg bg-alert-ground px-3 py-1.5 text-alert-ink">
            {csvFaultWords(f)}
          </li>
        ))}
        {faults.length === 0
          ? read.changes.slice(0, MOST_LISTED).map((c, i) => (
              // biome-ignore lint/suspicious/noArrayIndexKey: several rows may change one control
              <Change key={i} change={c} />
            ))
          : null}
        {Math.max(faults.length, read.changes.length) > MOST_LISTED ? (
          <li className="px-3 text-small text-ink-500">
            and {Math.max(faults.length, read.changes.length) - MOST_LISTED} more
          </li>
        ) : null}
      </ol>
    </ListDialog>
  );
}

function Change({ change: { row, how, surface, control, columns } }: { change: CsvChange }) {
  const where = useLive((l) => {
    const found = l.compiled.surfaces.find((s) => s.id === surface);
    const called = found?.profile.controls.find((c) => c.id === control)?.name ?? control;
    return `${called} of ${found?.surface.name ?? surface}`;
  });
  const words = how === "changed" ? columns.join(", ") : how;
  return (
    <li className="flex gap-3 rounded-lg bg-velvet-900 px-3 py-1.5">
      <span className="w-14 font-mono text-small text-ink-500">{row === 0 ? "" : `row ${row}`}</span>
      <span className="min-w-0 flex-1 overflow-hidden text-ellipsis whitespace-nowrap">{where}</span>
      <span className={how === "removed" ? "text-care" : "text-ink-300"}>{words}</span>
    </li>
  );
}
