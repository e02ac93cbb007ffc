import { Dialog } from "radix-ui";
import { useState } from "react";
import type { VersionEntry, VersionList } from "../../core/live/shelf.ts";
import type { DifferencesInWords } from "../../words/differences.ts";
import { Button } from "../components/controls.tsx";
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
    <Dialog.Root open onOpenChange={onClose}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-velvet-975/70" />
        <Dialog.Content className="fixed top-[90px] left-1/2 z-50 grid max-h-[min(620px,calc(100vh-120px))] w-[620px] max-w-[calc(100vw-32px)] -translate-x-1/2 grid-rows-[auto_auto_auto_minmax(0,1fr)_auto] gap-3 rounded-2xl border border-velvet-600 bg-velvet-850 p-5 shadow-2xl">
          <Dialog.Title className="text-title font-semibold">What differs</Dialog.Title>
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
          <Dialog.Description className="min-h-[20px] text-lead font-semibold">{answer?.sentence}</Dialog.Description>
          <ul className="grid content-start gap-1 overflow-y-auto" aria-label="Differences">
            {answer?.lines.map((line) => (
              <li key={line} className="rounded-lg bg-velvet-900 px-3 py-1.5 text-ink-300">
                {line}
              </li>
            ))}
          </ul>
          <div className="flex justify-end">
            <Button look="quiet" onClick={onClose}>
              Leave it
            </Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
