/** Edits on hold: how many wait, and what becomes of them. */
import { Pause } from "lucide-react";
import { Popover } from "radix-ui";
import { holdWords, sinceWords } from "../../words/on-hold.ts";
import { Button, Switch } from "../components/controls.tsx";
import { useActions } from "../live/actions.ts";
import { usePage, usePageStore } from "../live/store.ts";

export function HoldChip() {
  const store = usePageStore();
  const actions = useActions();
  const onHold = usePage((s) => s.onHold);
  const open = usePage((s) => s.holdOpen);
  const mayEdit = usePage((s) => s.who.role === "edit");
  if (!onHold) return null;
  const setOpen = (on: boolean) => store.setState({ holdOpen: on });
  const { edits, sinceMs, waitsForQuiet } = onHold;
  return (
    <Popover.Root open={open} onOpenChange={setOpen}>
      <Popover.Trigger
        title="The show that runs is as it was (E)"
        className="inline-flex h-[26px] shrink-0 items-center gap-1.5 rounded-full border border-care bg-care-ground px-2.5 text-small whitespace-nowrap text-care"
      >
        <Pause size={13} aria-hidden />
        {holdWords(edits)}
      </Popover.Trigger>
      <Popover.Portal>
        <Popover.Content
          align="end"
          sideOffset={8}
          aria-label="Edits on hold"
          className="z-40 grid w-[330px] gap-3 rounded-2xl border border-velvet-600 bg-velvet-850 p-4 shadow-2xl"
        >
          <p>
            The show runs as it was at {sinceWords(sinceMs)}.{" "}
            <span className="text-ink-300">
              What is edited since is stored and waits. Run shows what runs; the Map shows what is edited.
            </span>
          </p>
          {mayEdit ? (
            <>
              <Button look="primary" className="justify-center" onClick={() => void actions.hold("put-in")}>
                Put in now
              </Button>
              <Switch
                label="Put in when it is quiet"
                hint="As soon as no hand has moved or held anything for three seconds"
                checked={waitsForQuiet}
                onChange={(on) => void actions.hold(on ? "put-in-when-quiet" : "wait-on")}
              />
              <Button look="quiet" className="justify-center" onClick={() => void actions.hold("throw-away")}>
                {edits === 0 ? "Hold no longer" : "Throw them away"}
              </Button>
            </>
          ) : null}
        </Popover.Content>
      </Popover.Portal>
    </Popover.Root>
  );
}
