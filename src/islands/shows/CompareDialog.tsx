import { useState } from "react";
import type { VersionEntry, VersionList } from "../../core/live/shelf.ts";
import type { DifferencesInWords } from "../../words/differences.ts";
import { ListDialog } from "../components/ListDialog.tsx";
import { Select } from "../components/Select.tsx";
import { clockWords, dayWords, useAsked } from "./shelf.ts";

/** What is different between two versions, a line each. */
export function CompareDialog({ before, onClose }: { before: VersionEntry; onClose(): void }) {
  const [after, setAfter] = useState("now");
  const { answer: list } = useAsked<VersionList>("/api/versions");
  const { answer } = useAsked<DifferencesInWords>(`/api/versions/differences?before=${before.key}&after=${after}`);
  const nowMs = Date.now();
  const called = ({ name, label, madeAtMs }: VersionEntry) =>
    `${name || label}, ${dayWords(madeAtMs, nowMs)} ${clockWords(madeAtMs)}`;
  return (
    <ListDialog
      title="What differs"
      fields={
        <div className="flex flex-wrap items-center gap-2 text-small text-ink-300">
          from <b className="font-semibold text-ink-100">{called(before)}</b> to
          <Select
            label="The other version"
            value={after}
            options={[
              { value: "now", label: "now" },
              ...(list?.versions ?? [])
                .filter((v) => v.key !== before.key)
                .map((v) => ({ value: v.key, label: called(v) })),
              { value: "begin", label: "as it began" },
            ]}
            onChange={setAfter}
          />
        </div>
      }
      about={<b className="block min-h-[20px] text-lead font-semibold text-ink-100">{answer?.sentence}</b>}
      isWide
      onClose={onClose}
    >
      <ul className="grid gap-1" aria-label="Differences">
        {answer?.lines.map((line) => (
          <li key={line} className="rounded-lg bg-velvet-900 px-3 py-1.5 text-ink-300">
            {line}
          </li>
        ))}
      </ul>
    </ListDialog>
  );
}
