/** What is done with the show as a whole, under its name. */
import {
  ArchiveRestore,
  Boxes,
  ChevronRight,
  Copy,
  DatabaseBackup,
  Download,
  FilePlus2,
  FolderOpen,
  History,
  LayoutTemplate,
  type LucideIcon,
  Pause,
  Printer,
  Trash2,
  Upload,
} from "lucide-react";
import { Popover } from "radix-ui";
import { type KeyboardEvent, type ReactNode, useEffect, useRef, useState } from "react";
import type { VersionEntry } from "../../core/live/shelf.ts";
import { Key } from "../components/controls.tsx";
import { FileInput } from "../components/FileInput.tsx";
import { ListDialog } from "../components/ListDialog.tsx";
import { useActions } from "../live/actions.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { toast } from "../live/toast.ts";
import { TemplateDialog } from "../map/templates/TemplateDialog.tsx";
import { ProfileList } from "../profiles/ProfileList.tsx";
import { BackupsDialog } from "../shows/BackupsDialog.tsx";
import { CompareDialog } from "../shows/CompareDialog.tsx";
import { ShelfDialog } from "../shows/ShelfDialog.tsx";
import { useShelf } from "../shows/shelf.ts";
import { VersionsPanel } from "../shows/VersionsPanel.tsx";

const LEFT_OUT = "Those of desks are left out and stay on this computer. Where the copy is opened they are typed anew.";

type Opened = "shows" | "deleted" | "backups" | "kinds" | "templates";

export function ShowMenu({ open, onOpenChange }: { open: boolean; onOpenChange(open: boolean): void }) {
  const actions = useActions();
  const [dialog, setDialog] = useState<Opened | null>(null);
  const [comparing, setComparing] = useState<VersionEntry | null>(null);
  const file = useRef<HTMLInputElement>(null);
  const close = () => onOpenChange(false);
  const closeDialog = () => setDialog(null);
  return (
    <>
      {open ? (
        <Popover.Portal>
          <Popover.Content align="start" sideOffset={8} aria-label="This show" className="z-40 flex items-start gap-2">
            <Items
              close={close}
              openDialog={setDialog}
              chooseFile={() => file.current?.click()}
              compare={(before) => {
                close();
                setComparing(before);
              }}
            />
          </Popover.Content>
        </Popover.Portal>
      ) : null}
      <FileInput
        ref={file}
        label="Show document"
        onFile={(chosen) => {
          close();
          void actions.addShow(chosen);
        }}
      />
      {dialog === "shows" || dialog === "deleted" ? <ShelfDialog of={dialog} onClose={closeDialog} /> : null}
      {dialog === "templates" ? <TemplateDialog onClose={closeDialog} /> : null}
      {dialog === "backups" ? <BackupsDialog onClose={closeDialog} /> : null}
      {dialog === "kinds" ? <KindsDialog onClose={closeDialog} /> : null}
      {comparing ? <CompareDialog before={comparing} onClose={() => setComparing(null)} /> : null}
    </>
  );
}

const PANEL = "rounded-2xl border border-velvet-600 bg-velvet-850 p-2 shadow-2xl";

interface ItemsProps {
  close(): void;
  openDialog(which: Opened): void;
  chooseFile(): void;
  compare(before: VersionEntry): void;
}

/** The menu, and beside it the versions once they are asked for. */
function Items({ close, openDialog, chooseFile, compare }: ItemsProps) {
  const actions = useActions();
  const store = usePageStore();
  const { answer: shelf } = useShelf();
  const [versionsOpen, setVersionsOpen] = useState(false);
  const menu = useRef<HTMLDivElement>(null);
  const versions = useRef<HTMLDivElement>(null);
  const name = useLive((l) => l.show.name);
  const id = useLive((l) => l.history.show);
  const own = useLive((l) => (l.show.profiles?.desks.length ?? 0) + (l.show.profiles?.surfaces.length ?? 0));
  const logins = useLive((l) => l.show.desks.some((d) => d.login));
  const mayEdit = usePage((s) => s.who.role === "edit");
  const isHeld = usePage((s) => s.onHold !== null);
  const run = (work: () => void) => () => {
    close();
    work();
  };
  const others = (shelf?.shows.filter((s) => s.deletedAtMs === null).length ?? 1) - 1;
  const deleted = shelf?.shows.filter((s) => s.deletedAtMs !== null).length ?? 0;
  const across = (e: KeyboardEvent<HTMLElement>) => {
    const from = e.target as HTMLElement;
    if (from instanceof HTMLInputElement) return;
    if (e.key === "ArrowRight" && from.getAttribute("data-opens") === "versions") setVersionsOpen(true);
    else if (e.key === "ArrowLeft" && versions.current?.contains(from)) {
      setVersionsOpen(false);
      menu.current?.querySelector<HTMLElement>("[data-opens=versions]")?.focus();
    } else return;
    e.preventDefault();
  };
  // Once they are there, arrow keys walk through them.
  useEffect(() => {
    if (versionsOpen) versions.current?.querySelector<HTMLElement>("ul button")?.focus();
  }, [versionsOpen]);
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: keys between what stands in it
    <div className="contents" onKeyDown={across}>
      {/* biome-ignore lint/a11y/noStaticElementInteractions: keys between what stands in it */}
      <div ref={menu} onKeyDown={walk} className={`${PANEL} grid w-[348px] gap-0.5`}>
        {mayEdit ? (
          <>
            <Rename
              key={name}
              name={name}
              onRename={(to) => {
                close();
                void actions.edit({ kind: "rename-show", name: to });
              }}
            />
            <Item
              icon={FolderOpen}
              words="Open another show …"
              about={others === 0 ? "none yet" : `${others} more here`}
              onClick={run(() => openDialog("shows"))}
            />
            <Item
              icon={FilePlus2}
              words="New, empty show"
              about="this one stays here"
              onClick={run(() => void actions.onShelf({ do: "new", name: "New show" }))}
            />
            <Item
              icon={LayoutTemplate}
              words="New show from templates …"
              about="for what is here"
              onClick={run(() => openDialog("templates"))}
            />
            <Item
              icon={Copy}
              words="Duplicate this show"
              about="and open the copy"
              onClick={run(() => void actions.onShelf({ do: "duplicate" }))}
            />
            <Item
              icon={History}
              words="Versions"
              about={shelf ? `${shelf.versions} kept` : ""}
              opens="versions"
              isOpen={versionsOpen}
              onClick={() => setVersionsOpen(!versionsOpen)}
            />
            <Item
              icon={Pause}
              words={isHeld ? "Edits are on hold …" : "Hold edits"}
              about={isHeld ? "what becomes of them" : "what runs stays as it is"}
              onClick={run(() => (isHeld ? store.setState({ holdOpen: true }) : void actions.hold("hold")))}
            />
            <Line />
          </>
        ) : null}
        <a
          href="/api/show"
          download
          className={ITEM}
          onClick={run(() => logins && toast("Kept without passwords", { description: LEFT_OUT }))}
        >
          <Upload size={16} aria-hidden className="text-ink-500" />
          <span className="flex-1">Export this show</span>
          <small className="text-small text-ink-500">one file with everything</small>
        </a>
        {mayEdit ? (
          <>
            <Item icon={Download} words="Import a show file …" about="beside this one" onClick={chooseFile} />
            <Item
              icon={Printer}
              words="Print labels …"
              about="strips, pads, a list"
              onClick={run(() => store.setState({ labelsOpen: true }))}
            />
            <Item
              icon={Boxes}
              words="Kinds of your own …"
              about={own === 0 ? "none yet" : own === 1 ? "1 in this show" : `${own} in this show`}
              onClick={run(() => openDialog("kinds"))}
            />
            <Line />
            <Item
              icon={DatabaseBackup}
              words="Backups …"
              about="made by themselves"
              onClick={run(() => openDialog("backups"))}
            />
            <Item
              icon={ArchiveRestore}
              words="Recover a deleted show …"
              about={deleted === 0 ? "none" : deleted === 1 ? "1 kept 30 days" : `${deleted} kept 30 days`}
              onClick={run(() => openDialog("deleted"))}
            />
            <Item
              icon={Trash2}
              words="Delete this show"
              about="can be recovered"
              isGrave
              onClick={run(() => void actions.onShelf({ do: "delete", id }))}
            />
          </>
        ) : null}
      </div>
      {versionsOpen ? (
        // biome-ignore lint/a11y/noStaticElementInteractions: keys between what stands in it
        <div ref={versions} onKeyDown={walk} className={`${PANEL} mt-[150px] w-[404px]`}>
          <VersionsPanel onDone={close} onCompare={compare} />
        </div>
      ) : null}
    </div>
  );
}

function Line() {
  return <hr className="mx-1 my-1 border-velvet-700" />;
}

const ITEM =
  "flex min-h-[36px] cursor-pointer items-center gap-3 rounded-lg px-3 text-left hover:bg-velvet-700 focus-visible:bg-velvet-700 [&:hover_small]:text-ink-300 [&:focus-visible_small]:text-ink-300";

interface ItemProps {
  icon: LucideIcon;
  words: string;
  about: string;
  isGrave?: boolean;
  /** What opens beside it. */
  opens?: string;
  isOpen?: boolean;
  onClick(): void;
}

function Item({ icon: Icon, words, about, isGrave, opens, isOpen, onClick }: ItemProps) {
  return (
    <button
      type="button"
      className={`${ITEM} ${isGrave ? "text-alert" : ""} aria-expanded:bg-velvet-700`}
      data-opens={opens}
      aria-expanded={opens ? isOpen : undefined}
      onClick={onClick}
    >
      <Icon size={16} aria-hidden className={isGrave ? "" : "text-ink-500"} />
      <span className="flex-1">{words}</span>
      <small className={`text-small ${isOpen ? "text-ink-300" : "text-ink-500"}`}>{about}</small>
      {opens ? <ChevronRight size={14} aria-hidden className="text-ink-500" /> : null}
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
    <ListDialog
      title="Kinds of your own"
      about="What surfaces and desks of a kind are and say. They belong to this show and go with it; each can be exported."
      onClose={onClose}
    >
      <Closing onClose={onClose}>
        <ProfileList />
      </Closing>
    </ListDialog>
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
