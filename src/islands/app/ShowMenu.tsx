/** What is done with the show as a whole, under its name. */
import { Boxes, DatabaseBackup, Download, FilePlus2, FolderOpen, type LucideIcon } from "lucide-react";
import { Dialog, Popover } from "radix-ui";
import { type KeyboardEvent, type ReactNode, useEffect, useRef, useState } from "react";
import { emptyShow } from "../../core/format/show.ts";
import { Key } from "../components/controls.tsx";
import { FileInput } from "../components/FileInput.tsx";
import { BackupsDialog } from "../connect/BackupsDialog.tsx";
import { useActions } from "../live/actions.ts";
import { useLive, usePage } from "../live/store.ts";
import { toast } from "../live/toast.ts";
import { ProfileList } from "../profiles/ProfileList.tsx";

const LEFT_OUT = "Those of desks are left out and stay on this computer. Where the copy is opened they are typed anew.";

export function ShowMenu({ open, onOpenChange }: { open: boolean; onOpenChange(open: boolean): void }) {
  const actions = useActions();
  const [dialog, setDialog] = useState<"backups" | "kinds" | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const name = useLive((l) => l.show.name);
  const own = useLive((l) => (l.show.profiles?.desks.length ?? 0) + (l.show.profiles?.surfaces.length ?? 0));
  const logins = useLive((l) => l.show.desks.some((d) => d.login));
  const mayEdit = usePage((s) => s.who.role === "edit");
  const close = () => onOpenChange(false);
  const run = (work: () => void) => () => {
    close();
    work();
  };
  const empty = () =>
    void actions.openShow(
      new File([JSON.stringify(emptyShow("A new show"))], "show.json", { type: "application/json" }),
    );
  return (
    <>
      {open ? (
        <Popover.Portal>
          <Popover.Content
            align="start"
            sideOffset={8}
            aria-label="This show"
            onKeyDown={walk}
            className="z-40 grid w-[348px] gap-0.5 rounded-2xl border border-velvet-600 bg-velvet-850 p-2 shadow-2xl"
          >
            {mayEdit ? (
              <Rename
                key={name}
                name={name}
                onRename={(to) => {
                  close();
                  void actions.edit({ kind: "rename-show", name: to });
                }}
              />
            ) : null}
            {mayEdit ? (
              <>
                <Item
                  icon={FolderOpen}
                  words="Open a show file …"
                  about="in the place of this one"
                  onClick={() => file.current?.click()}
                />
                <Item icon={FilePlus2} words="New, empty show" about="Undo brings this one back" onClick={run(empty)} />
              </>
            ) : null}
            <a
              href="/api/show"
              download
              className={ITEM}
              onClick={run(() => logins && toast("Kept without passwords", { description: LEFT_OUT }))}
            >
              <Download size={16} aria-hidden className="text-ink-500" />
              <span className="flex-1">Export this show</span>
              <small className="text-small text-ink-500">one file with everything</small>
            </a>
            {mayEdit ? (
              <>
                <Item
                  icon={DatabaseBackup}
                  words="Backups …"
                  about="made by themselves"
                  onClick={run(() => setDialog("backups"))}
                />
                <Item
                  icon={Boxes}
                  words="Kinds of your own …"
                  about={own === 0 ? "none yet" : own === 1 ? "1 in this show" : `${own} in this show`}
                  onClick={run(() => setDialog("kinds"))}
                />
              </>
            ) : null}
          </Popover.Content>
        </Popover.Portal>
      ) : null}
      <FileInput
        ref={file}
        label="Show document"
        onFile={(chosen) => {
          close();
          void actions.openShow(chosen);
        }}
      />
      {dialog === "backups" ? <BackupsDialog onClose={() => setDialog(null)} /> : null}
      {dialog === "kinds" ? <KindsDialog onClose={() => setDialog(null)} /> : null}
    </>
  );
}

const ITEM =
  "flex min-h-[36px] cursor-pointer items-center gap-3 rounded-lg px-3 text-left hover:bg-velvet-700 focus-visible:bg-velvet-700";

interface ItemProps {
  icon: LucideIcon;
  words: string;
  about: string;
  onClick(): void;
}

function Item({ icon: Icon, words, about, onClick }: ItemProps) {
  return (
    <button type="button" className={ITEM} onClick={onClick}>
      <Icon size={16} aria-hidden className="text-ink-500" />
      <span className="flex-1">{words}</span>
      <small className="text-small text-ink-500">{about}</small>
    </button>
  );
}

/** Arrow keys walk through what can be done. */
function walk(e: KeyboardEvent<HTMLElement>): void {
  const by = { ArrowDown: 1, ArrowUp: -1 }[e.key];
  if (by === undefined) return;
  const all = [...e.currentTarget.querySelectorAll<HTMLElement>("input, button, a")];
  const at = all.indexOf(document.activeElement as HTMLElement);
  all[(at + by + all.length) % all.length]?.focus();
  e.preventDefault();
}

/** The name is a field at once: Enter keeps it, Esc gives the old one back and closes. */
function Rename({ name, onRename }: { name: string; onRename(name: string): void }) {
  const [draft, setDraft] = useState(name);
  return (
    <form
      className="grid gap-1 border-b border-velvet-700 px-2 pt-1 pb-2.5"
      onSubmit={(e) => {
        e.preventDefault();
        if (draft.trim() !== "" && draft.trim() !== name) onRename(draft.trim());
      }}
    >
      <span className="text-small text-ink-500">This show is called</span>
      <span className="flex items-center gap-2">
        <input
          aria-label="Name of the show"
          value={draft}
          maxLength={80}
          onChange={(e) => setDraft(e.target.value)}
          className="h-[34px] min-w-0 flex-1 rounded-lg border border-brass-500 bg-velvet-950 px-2.5 font-semibold outline-none"
        />
        <Key>Enter</Key>
      </span>
    </form>
  );
}

function KindsDialog({ onClose }: { onClose(): void }) {
  return (
    <Dialog.Root open onOpenChange={onClose}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-velvet-975/70" />
        <Dialog.Content className="fixed top-[110px] left-1/2 z-50 grid max-h-[600px] w-[520px] -translate-x-1/2 gap-3 overflow-y-auto rounded-2xl border border-velvet-600 bg-velvet-850 p-5 shadow-2xl">
          <Dialog.Title className="text-title font-semibold">Kinds of your own</Dialog.Title>
          <Dialog.Description className="text-small text-ink-300">
            What surfaces and desks of a kind are and say. They belong to this show and go with it; each can be
            exported.
          </Dialog.Description>
          <Closing onClose={onClose}>
            <ProfileList />
          </Closing>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}

/** Once the editor of a kind opens, the list has done its work. */
function Closing({ onClose, children }: { onClose(): void; children: ReactNode }) {
  const editing = usePage((s) => s.editing !== null);
  useEffect(() => {
    if (editing) onClose();
  }, [editing, onClose]);
  return children;
}
