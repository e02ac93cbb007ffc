import { Trash2 } from "lucide-react";
import type { ShowOnShelf } from "../../core/live/shelf.ts";
import { Button, IconButton } from "../components/controls.tsx";
import { ListDialog } from "../components/ListDialog.tsx";
import { useActions } from "../live/actions.ts";
import { clockWords, dayWords, useShelf } from "./shelf.ts";

/** The shows that are here, to open or delete; or those that were deleted, to recover. */
export function ShelfDialog({ of, onClose }: { of: "shows" | "deleted"; onClose(): void }) {
  const actions = useActions();
  const { answer, again } = useShelf();
  const shows = answer?.shows.filter((s) => (of === "deleted") === (s.deletedAtMs !== null)) ?? null;
  const done = (isDone: boolean) => {
    if (isDone) onClose();
  };
  return (
    <ListDialog
      title={of === "shows" ? "Open another show" : "Recover a deleted show"}
      about={
        of === "shows"
          ? "The surfaces and desks of the show you open are connected at once. The one that is open now stays here as it is."
          : "Deleted shows are kept for 30 days, with all of their history. One that is recovered is opened."
      }
      note={
        <>
          {shows?.length === 0 ? "No show was deleted in the last 30 days." : ""}
          {of === "shows" && shows?.length === 1 ? "There is no other show yet." : ""}
        </>
      }
      onClose={onClose}
    >
      <ul className="grid gap-1.5" aria-label={of === "shows" ? "Shows" : "Deleted shows"}>
        {shows?.map((show) => (
          <Row key={show.id} show={show}>
            {of === "deleted" ? (
              <Button size="small" onClick={() => void actions.onShelf({ do: "recover", id: show.id }).then(done)}>
                Recover
              </Button>
            ) : show.isOpen ? (
              <span className="text-small text-cool">open now</span>
            ) : (
              <>
                <Button size="small" onClick={() => void actions.onShelf({ do: "open", id: show.id }).then(done)}>
                  Open
                </Button>
                <IconButton
                  label={`Delete ${called(show)}`}
                  onClick={() => void actions.onShelf({ do: "delete", id: show.id }).then(again)}
                >
                  <Trash2 size={14} aria-hidden />
                </IconButton>
              </>
            )}
          </Row>
        ))}
      </ul>
    </ListDialog>
  );
}

function called({ name }: ShowOnShelf): string {
  return name || "A show that cannot be read";
}

function Row({ show, children }: { show: ShowOnShelf; children: React.ReactNode }) {
  const atMs = show.deletedAtMs ?? show.savedAtMs;
  return (
    <li className="flex min-h-[42px] items-center gap-3 rounded-[9px] bg-velvet-900 px-3 py-1.5">
      <span className="min-w-0 flex-1">
        <bdi className="block overflow-hidden font-semibold text-ellipsis whitespace-nowrap">{called(show)}</bdi>
        <small className="block text-small text-ink-500">
          {show.mappings === 1 ? "1 mapping" : `${show.mappings} mappings`}
          {show.deletedAtMs === null ? ", changed " : ", deleted "}
          {dayWords(atMs, Date.now())} {clockWords(atMs)}
        </small>
      </span>
      {children}
    </li>
  );
}
