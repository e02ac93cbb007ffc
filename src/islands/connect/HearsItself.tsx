import { Button } from "../components/controls.tsx";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";

/** The guard has stopped a surface or a MIDI desk that hears itself (rule 19). */
export function HearsItself({ id }: { id: string }) {
  const actions = useActions();
  const tripped = useLive((l) => (l.surfaces[id] ?? l.desks[id])?.tripped === true);
  if (!tripped) return null;
  return (
    <div role="alert" className="grid gap-2 rounded-lg bg-alert-ground px-3 py-2.5 text-[12.5px] text-alert-ink">
      <span>
        <b className="text-bright">Stopped: it was hearing itself.</b> What it is sent also reaches its input. Take the
        cable or the route away that leads back, then close this one again.
      </span>
      <Button size="small" className="justify-self-start" onClick={() => actions.send({ kind: "rearm", id })}>
        Close it again
      </Button>
    </div>
  );
}
