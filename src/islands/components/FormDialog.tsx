import { Dialog } from "radix-ui";
import type { FormEvent, ReactNode } from "react";
import { Button } from "./controls.tsx";

interface Props {
  title: string;
  children: ReactNode;
  submit: string;
  open: boolean;
  onOpenChange(open: boolean): void;
  /** Answers true if it was done and the dialog can close. */
  onSubmit(): Promise<boolean>;
}

/** A question with a few fields; Enter answers it, Escape leaves everything as it is. */
export function FormDialog({ title, children, submit, open, onOpenChange, onSubmit }: Props) {
  const send = (e: FormEvent) => {
    e.preventDefault();
    void onSubmit().then((done) => {
      if (done) onOpenChange(false);
    });
  };
  return (
    <Dialog.Root open={open} onOpenChange={onOpenChange}>
      <Dialog.Portal>
        <Dialog.Overlay className="fixed inset-0 z-40 bg-velvet-975/70" />
        <Dialog.Content
          aria-describedby={undefined}
          className="fixed top-[140px] left-1/2 z-50 w-[420px] -translate-x-1/2 rounded-2xl border border-velvet-600 bg-velvet-850 p-5 shadow-2xl"
        >
          <Dialog.Title className="mb-4 text-title font-semibold">{title}</Dialog.Title>
          <form onSubmit={send} className="grid grid-cols-[110px_minmax(0,1fr)] gap-x-3 gap-y-3.5 *:col-span-full">
            {children}
            <div className="flex justify-end gap-2 pt-1">
              <Button look="quiet" onClick={() => onOpenChange(false)}>
                Leave it
              </Button>
              <Button type="submit" look="primary">
                {submit}
              </Button>
            </div>
          </form>
        </Dialog.Content>
      </Dialog.Portal>
    </Dialog.Root>
  );
}
