import { Dialog } from "radix-ui";
import { useEffect, useState } from "react";
import { Button } from "../components/controls.tsx";
import { useActions } from "../live/actions.ts";
import { toast } from "../live/toast.ts";
import { clockWords, dayWords } from "./shelf.ts";

interface Backup {
  file: string;
  madeAtMs: number;
  bytes: number;
}

/** The backups the program made by itself, and a way to open one in the place of the show. */
export function BackupsDialog({ onClose }: { onClose(): void }) {
  const actions = useActions();
  const [backups, setBackups] = useState<Backup[] | null>(null);
  useEffect(() => {
    fetch("/api/backups")
      .then((response) => response.json())
      .then((list) => setBackups(list as Backup[]))
      .catch(() => toast.error("The backups cannot be listed", { description: "The server does not answer." }));
  }, []);
  const restore = async ({ file }: Backup) => {
    if (await actions.restore(file)) onClose();
  };
  return (
    <Dialog.Root open onOpenChange={onClose}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-velvet-975/70" />
        <Dialog.Content className="fixed top-[120px] left-1/2 z-50 grid max-h-[560px] w-[520px] -translate-x-1/2 grid-rows-[auto_auto_minmax(0,1fr)_auto] gap-3 rounded-2xl border border-velvet-600 bg-velvet-850 p-5 shadow-2xl">
          <Dialog.Title className="text-title font-semibold">Backups of this show</Dialog.Title>
          <Dialog.Description className="text-small text-ink-300">
            Made at every start, and each hour in which something is changed. One that is opened takes the place of the
            show at once; Undo brings the show back.
          </Dialog.Description>
          <ul className="grid content-start gap-1.5 overflow-y-auto" aria-label="Backups">
            {backups?.map((b) => (
              <li key={b.file} className="flex items-center gap-3 rounded-[9px] bg-velvet-900 px-3 py-2">
                <span className="w-[64px] font-mono text-ink-100">{clockWords(b.madeAtMs)}</span>
                <span className="flex-1 text-ink-300">{dayWords(b.madeAtMs, Date.now())}</span>
                <span className="text-small text-ink-500">{Math.ceil(b.bytes / 1000)} kB</span>
                <Button size="small" onClick={() => void restore(b)}>
                  Open this one
                </Button>
              </li>
            ))}
          </ul>
          <div className="flex items-center justify-between">
            <span className="text-small text-ink-500">
              {backups?.length === 0 ? "None has been made yet." : "At a start: npm start -- --restore"}
            </span>
            <Button look="quiet" onClick={onClose}>
              Leave it
            </Button>
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
