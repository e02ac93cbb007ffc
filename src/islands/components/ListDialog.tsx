import { Dialog } from "radix-ui";
import type { ReactNode } from "react";
import { Button } from "./controls.tsx";

interface ListDialogProps {
  title: string;
  /** A sentence on what is listed, read out when the dialog opens. */
  about: ReactNode;
  /** Fields that say what is listed. */
  fields?: ReactNode;
  /** At the left end of the foot. */
  note?: ReactNode;
  /** The button that does what the list shows; without one there is only the one that leaves it. */
  apply?: ReactNode;
  isWide?: boolean;
  onClose(): void;
  /** The list; it alone scrolls. */
  children: ReactNode;
}

/** A dialog with a list under a sentence. It is open as long as it is drawn. */
export function ListDialog({ title, about, fields, note, apply, isWide, onClose, children }: ListDialogProps) {
  return (
    <Dialog.Root open onOpenChange={onClose}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-velvet-975/70" />
        <Dialog.Content
          className={`fixed top-[90px] left-1/2 z-50 flex max-h-[min(640px,calc(100dvh-110px))] max-w-[calc(100vw-32px)] -translate-x-1/2 flex-col gap-3 rounded-2xl border border-velvet-600 bg-velvet-850 p-5 shadow-2xl ${isWide ? "w-[680px]" : "w-[560px]"}`}
        >
          <Dialog.Title className="shrink-0 overflow-hidden text-title font-semibold text-ellipsis whitespace-nowrap">
            {title}
          </Dialog.Title>
          {fields}
          <Dialog.Description asChild>
            <div className="text-ink-300">{about}</div>
          </Dialog.Description>
          <div className="min-h-0 overflow-y-auto">{children}</div>
          <div className="flex items-center gap-3">
            <span className="flex flex-1 items-center gap-3 text-small text-ink-500">{note}</span>
            <Button look="quiet" onClick={onClose}>
              Leave it
            </Button>
            {apply}
          </div>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
