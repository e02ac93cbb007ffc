import { useState } from "react";
import { Button } from "../components/controls.tsx";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { AddDesk } from "./AddDesk.tsx";
import { AddSurface } from "./AddSurface.tsx";
import { DeskCard } from "./DeskCard.tsx";
import { FirstLight, isFirst } from "./FirstLight.tsx";
import { GhostCards } from "./GhostCards.tsx";
import { GhostDesks } from "./GhostDesks.tsx";
import { Hinge } from "./Hinge.tsx";
import { SurfaceCard } from "./SurfaceCard.tsx";
import { useLooking } from "./use-looking.ts";

/** Everything that is connected: hands on the left, what listens on the right, what lies between in the middle. */
export function ConnectView() {
  const surfaces = useLive((l) => l.show.surfaces);
  const desks = useLive((l) => l.show.desks);
  const mayEdit = usePage((s) => s.who.role === "edit");
  const store = usePageStore();
  const away = usePage((s) => s.firstLightAway);
  const first = useLive(isFirst) && mayEdit && !away;
  const looking = useLooking();
  const [adding, setAdding] = useState<"surface" | "desk" | null>(null);
  return (
    <main className="grid min-h-0 grid-cols-[minmax(0,1fr)_318px_minmax(0,1fr)]">
      <section className="leaf flex min-h-0 flex-col gap-3 overflow-y-auto p-4" aria-label="Under the hands">
        <Title text="Under the hands" count={`${surfaces.length} ${surfaces.length === 1 ? "surface" : "surfaces"}`}>
          <Button onClick={() => setAdding("surface")}>Add a surface</Button>
        </Title>
        <GhostCards />
        {surfaces.map((s) => (
          <SurfaceCard key={s.id} surface={s} />
        ))}
        {surfaces.length === 0 ? (
          <Hint>Surfaces come here: plug one in and it shows itself, or add one that is drawn on this screen.</Hint>
        ) : null}
      </section>
      <section className="spine flex min-h-0 flex-col gap-2.5 overflow-y-auto px-3 py-4" aria-label="In between">
        {first ? <FirstLight onAway={() => store.setState({ firstLightAway: true })} /> : <Hinge looking={looking} />}
      </section>
      <section className="leaf flex min-h-0 flex-col gap-3 overflow-y-auto p-4" aria-label="What listens">
        <Title text="What listens" count={`${desks.length} ${desks.length === 1 ? "desk" : "desks"}`}>
          <Button onClick={() => setAdding("desk")}>Add a desk</Button>
        </Title>
        <GhostDesks />
        {desks.map((d) => (
          <DeskCard key={d.id} desk={d} />
        ))}
        {desks.length === 0 ? (
          <Hint>Add the desk that is in the house. Its stand-in works just as well to begin with.</Hint>
        ) : null}
      </section>
      <AddSurface open={adding === "surface"} onOpenChange={(on) => setAdding(on ? "surface" : null)} />
      <AddDesk open={adding === "desk"} onOpenChange={(on) => setAdding(on ? "desk" : null)} />
    </main>
  );
}

function Title({ text, count, children }: { text: string; count: string; children: React.ReactNode }) {
  return (
    <div className="flex items-center gap-2.5">
      <h1 className="text-title font-semibold">{text}</h1>
      <span className="text-ink-500">{count}</span>
      <div className="flex-1" />
      {children}
    </div>
  );
}

function Hint({ children }: { children: React.ReactNode }) {
  return <p className="rounded-xl border border-dashed border-velvet-600 p-5 text-center text-ink-300">{children}</p>;
}
