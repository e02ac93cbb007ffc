import { useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { Surface } from "../../core/format/show.ts";
import { troubleHint, troubleWords } from "../../words/troubles.ts";
import { StateMark, seconds } from "../components/StateMark.tsx";
import { useActions } from "../live/actions.ts";
import { useLive, usePageStore } from "../live/store.ts";
import { teachSurface } from "../live/teach-surface.ts";
import { HearsItself } from "./HearsItself.tsx";
import { PortAdvice } from "./PortAdvice.tsx";
import { PortField } from "./PortField.tsx";
import { ReplaceSurface } from "./ReplaceDialog.tsx";
import { TouchToChoose } from "./TouchToChoose.tsx";
import { CARD, CardHead, CardWays } from "./UnitCard.tsx";

const PORT = "h-[26px] w-full rounded-md !bg-velvet-950 px-2 text-small";

/** One surface: what it is, where its bytes come from and go to, and whether anything arrives. */
export function SurfaceCard({ surface }: { surface: Surface }) {
  const actions = useActions();
  const profile = useLive((l) => l.surfaceProfiles.get(surface.profile));
  const store = usePageStore();
  const isOwn = useLive((l) => l.show.profiles?.surfaces.some((p) => p.id === surface.profile) ?? false);
  const touch = () => void teachSurface(store, actions, surface.id);
  const [replacing, setReplacing] = useState(false);
  const ports = (set: Partial<Pick<Surface, "in" | "out">>) =>
    void actions.edit({ kind: "set-surface-ports", id: surface.id, ...set });
  return (
    <article className={CARD} aria-label={surface.name}>
      <CardHead
        what="surface"
        name={surface.name}
        about={profile?.about}
        health={<SurfaceHealth id={surface.id} />}
        more={
          isOwn
            ? [
                { words: "Add controls by touch …", act: touch },
                {
                  words: "Edit its kind …",
                  act: () => store.setState({ editing: { side: "surface", id: surface.profile } }),
                },
              ]
            : []
        }
        onRename={(name) => void actions.edit({ kind: "rename-surface", id: surface.id, name })}
        onReplace={() => setReplacing(true)}
        onRemove={() => void actions.edit({ kind: "remove-surface", id: surface.id })}
      />
      <CardWays
        of="surfaces"
        id={surface.id}
        input={
          <PortField
            label={`In port of ${surface.name}`}
            way="input"
            port={surface.in}
            onChange={(port) => ports({ in: port })}
            className={PORT}
          />
        }
        output={
          <PortField
            label={`Out port of ${surface.name}`}
            way="output"
            port={surface.out}
            onChange={(port) => ports({ out: port })}
            className={PORT}
          />
        }
      />
      <TouchToChoose
        name={surface.name}
        onFound={(port, hasOutput) => ports({ in: port, ...(hasOutput ? { out: port } : {}) })}
      />
      {replacing ? <ReplaceSurface surface={surface} onOpenChange={setReplacing} /> : null}
      <PortAdvice id={surface.id} />
      <PortTrouble id={surface.id} />
      <HearsItself id={surface.id} />
    </article>
  );
}

function SurfaceHealth({ id }: { id: string }) {
  const { tripped, state, heard } = useLive(
    useShallow((l) => {
      const live = l.surfaces[id];
      return { tripped: live?.tripped, state: live?.inPort.state, heard: heardWords(live?.heardAtMs ?? -1, l.atMs) };
    }),
  );
  if (tripped)
    return (
      <StateMark shape="struck-ring" tone="alert">
        stopped
      </StateMark>
    );
  if (state && state !== "open")
    return (
      <StateMark shape="broken-ring" tone={state === "failed" ? "alert" : "care"}>
        {state}
      </StateMark>
    );
  return (
    <StateMark shape="tick" tone="good">
      {heard}
    </StateMark>
  );
}

/** `heardAtMs`: -1 = nothing yet. */
function heardWords(heardAtMs: number, nowMs: number): string {
  if (heardAtMs < 0) return "ready";
  const agoMs = nowMs - heardAtMs;
  return agoMs < 1000 ? "heard now" : `heard ${seconds(agoMs)} ago`;
}

function PortTrouble({ id }: { id: string }) {
  const trouble = useLive((l) => {
    const live = l.surfaces[id];
    return [live?.inPort, live?.outPort].find((p) => p && p.state !== "open" && p.trouble)?.trouble;
  });
  if (!trouble) return null;
  return (
    <p className="rounded-lg bg-care-ground px-3 py-2 text-[12.5px] text-care">
      Waiting: {troubleWords(trouble)}. {troubleHint(trouble)} It comes back by itself.
    </p>
  );
}
