import { useEffect, useState } from "react";
import { Button } from "../components/controls.tsx";
import { ListDialog } from "../components/ListDialog.tsx";
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
    <ListDialog
      title="Backups of this show"
      about="Made at every start, and each hour in which something is changed. One that is opened takes the place of the show at once; Undo brings the show back."
      note={backups?.length === 0 ? "None has been made yet." : "At a start: npm start -- --restore"}
      onClose={onClose}
    >
      <ul className="grid gap-1.5" aria-label="Backups">
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
    </ListDialog>
  );
}
