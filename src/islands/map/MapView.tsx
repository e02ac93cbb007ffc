import { useShallow } from "zustand/react/shallow";
import { Button, Chip, Key, Switch } from "../components/controls.tsx";
import { Select } from "../components/Select.tsx";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { SurfaceView } from "../surface/SurfaceView.tsx";
import { FunctionLeaf } from "./FunctionLeaf.tsx";
import { PageRibbon } from "./PageRibbon.tsx";
import { RangeChips } from "./RangeChips.tsx";
import { Spine } from "./Spine.tsx";

/** The open book: the surface on the left, what listens on the right, and on the spine what the chosen control does. */
export function MapView() {
  const store = usePageStore();
  const surfaces = useLive(useShallow((l) => l.show.surfaces.map((s) => s.id)));
  const chosen = usePage((s) => s.chosen?.surface);
  const surface = chosen && surfaces.includes(chosen) ? chosen : surfaces[0];
  const followTouch = usePage((s) => s.followTouch);
  const touchPlays = usePage((s) => s.touchPlays);
  return (
    <main className="grid min-h-0 grid-cols-[minmax(480px,556px)_minmax(380px,1fr)_300px]">
      <section className="leaf flex min-h-0 flex-col gap-3 px-4 py-3.5" aria-label="Surface">
        {surface ? (
          <>
            <div className="flex items-center gap-3">
              <SurfaceChoice surface={surface} />
              <div className="flex-1" />
              <Switch
                label="Touch plays"
                hint="Off: touching a control here only chooses it"
                checked={touchPlays}
                onChange={(on) => store.setState({ touchPlays: on })}
              />
              <Switch
                label="Go where I touch"
                hint="On: the control that was touched last is chosen, here or on the real surface"
                checked={followTouch}
                onChange={(on) => store.setState({ followTouch: on })}
              />
            </div>
            <PageRibbon />
            <SurfaceView surface={surface} size="map" chooses />
            <RangeChips surface={surface} />
          </>
        ) : (
          <Empty />
        )}
      </section>
      <Spine />
      <FunctionLeaf />
    </main>
  );
}

function SurfaceChoice({ surface }: { surface: string }) {
  const store = usePageStore();
  const surfaces = useLive((l) => l.show.surfaces);
  const heard = useLive((l) => heardWords(l.atMs, l.surfaces[surface]?.heardAtMs ?? -1));
  const name = surfaces.find((s) => s.id === surface)?.name ?? surface;
  return (
    <div className="flex items-center gap-2.5">
      {surfaces.length > 1 ? (
        <Select
          label="Surface"
          value={surface}
          options={surfaces.map((s) => ({ value: s.id, label: s.name }))}
          onChange={(id) => store.setState({ chosen: { surface: id, control: "" }, chosenMapping: null })}
        />
      ) : (
        <h2 className="text-base font-semibold">{name}</h2>
      )}
      <Chip className="h-[22px]">{heard}</Chip>
    </div>
  );
}

function heardWords(nowMs: number, heardAtMs: number): string {
  if (heardAtMs < 0) return "not heard yet";
  const s = Math.floor((nowMs - heardAtMs) / 1000);
  if (s < 1) return "heard now";
  if (s < 60) return `heard ${s} s ago`;
  return s < 3600 ? `heard ${Math.floor(s / 60)} min ago` : "heard long ago";
}

function Empty() {
  return (
    <div className="m-auto grid max-w-[360px] gap-3 text-center">
      <h2 className="text-title font-semibold">No surface yet</h2>
      <p className="text-ink-300">Add the one under your hands in Connect, or draw one on this screen.</p>
      <a href="/connect" data-place="connect" className="justify-self-center">
        <Button look="primary" tabIndex={-1}>
          Go to Connect <Key>1</Key>
        </Button>
      </a>
    </div>
  );
}
