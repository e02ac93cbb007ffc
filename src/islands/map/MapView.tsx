import { Table2 } from "lucide-react";
import { useShallow } from "zustand/react/shallow";
import { Button, Chip, IconButton, Key, Switch } from "../components/controls.tsx";
import { part } from "../components/part.tsx";
import { Select } from "../components/Select.tsx";
import { StateMark } from "../components/StateMark.tsx";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { SurfaceView } from "../surface/SurfaceView.tsx";
import { useClipboard } from "./copying.ts";
import { FunctionLeaf } from "./FunctionLeaf.tsx";
import { NotesOfNow, PageRibbon } from "./PageRibbon.tsx";
import { RangeChips } from "./RangeChips.tsx";
import { Spine } from "./Spine.tsx";

const SeriesPanel = part(async () => (await import("./SeriesPanel.tsx")).SeriesPanel);
const StripsPanel = part(async () => (await import("./StripsPanel.tsx")).StripsPanel);
const PastePanel = part(async () => (await import("./PastePanel.tsx")).PastePanel);
const MappingTable = part(async () => (await import("./table/MappingTable.tsx")).MappingTable);
const DragLayer = part(async () => (await import("./drag/DragLayer.tsx")).DragLayer);
const TeachBoard = part(async () => (await import("./TeachBoard.tsx")).TeachBoard);

/** The open book: the surface on the left, what listens on the right, and on the spine what the chosen control does. */
export function MapView() {
  const store = usePageStore();
  const surfaces = useLive(useShallow((l) => l.show.surfaces.map((s) => s.id)));
  const chosen = usePage((s) => s.chosen?.surface);
  const surface = chosen && surfaces.includes(chosen) ? chosen : surfaces[0];
  const followTouch = usePage((s) => s.followTouch);
  const teaches = useLive((l) => l.teaches);
  const adding = usePage((s) => s.adding);
  const many = usePage((s) => s.many);
  const series = usePage((s) => s.series);
  const strips = usePage((s) => s.strips);
  const pasting = usePage((s) => s.pasting);
  const tableOpen = usePage((s) => s.tableOpen);
  useClipboard();
  if (tableOpen && !(many && series))
    return (
      <main className="grid min-h-0 grid-cols-[minmax(660px,980px)_minmax(250px,1fr)]">
        <MappingTable />
        <FunctionLeaf />
      </main>
    );
  return (
    <main className="grid min-h-0 grid-cols-[minmax(400px,556px)_minmax(340px,1fr)_minmax(250px,300px)]">
      <section className="leaf flex min-h-0 flex-col gap-3 px-4 py-3.5" aria-label="Surface">
        {surface ? (
          <>
            <div className="flex items-center gap-3">
              <SurfaceChoice surface={surface} />
              {many?.surface === surface ? (
                <span className="rounded-full border border-brass-500 bg-armed px-2.5 py-0.5 text-small whitespace-nowrap text-brass-300">
                  {many.controls.length} chosen
                </span>
              ) : null}
              <div className="flex-1" />
              <IconButton label="All mappings as a table (T)" onClick={() => store.setState({ tableOpen: true })}>
                <Table2 size={15} aria-hidden />
              </IconButton>
              {teaches && adding === null ? (
                <span className="whitespace-nowrap text-brass-300">Touches only teach</span>
              ) : null}
              {many ? null : <AddWhatITouch surface={surface} />}
              {adding === surface ? null : (
                <Switch
                  label="Go where I touch"
                  hint="On: the control that was touched last is chosen, here or on the real surface"
                  checked={followTouch}
                  onChange={(on) => store.setState({ followTouch: on })}
                />
              )}
            </div>
            {adding === surface ? (
              <TeachBoard surface={surface} />
            ) : (
              <>
                <PageRibbon />
                <NotesOfNow />
                <SurfaceView surface={surface} size="map" chooses />
                <RangeChips surface={surface} />
              </>
            )}
          </>
        ) : (
          <Empty />
        )}
      </section>
      {pasting ? (
        <PastePanel pasting={pasting} />
      ) : many && strips ? (
        <StripsPanel many={many} />
      ) : many && series ? (
        <SeriesPanel many={many} series={series} />
      ) : (
        <>
          <Spine />
          <FunctionLeaf />
          <DragLayer />
        </>
      )}
    </main>
  );
}

/** Of a kind of one's own: controls are added to it by being touched. */
function AddWhatITouch({ surface }: { surface: string }) {
  const store = usePageStore();
  const adding = usePage((s) => s.adding === surface);
  const isOwn = useLive((l) => {
    const kind = l.show.surfaces.find((s) => s.id === surface)?.profile;
    return l.show.profiles?.surfaces.some((p) => p.id === kind) ?? false;
  });
  if (!isOwn) return null;
  return (
    <Switch
      label="Add what I touch"
      hint="On: every control of this surface that is touched is drawn, and nothing leaves for the desks"
      checked={adding}
      onChange={(on) => store.setState({ adding: on ? surface : null, armed: null, learning: false })}
    />
  );
}

function SurfaceChoice({ surface }: { surface: string }) {
  const store = usePageStore();
  const surfaces = useLive((l) => l.show.surfaces);
  const heard = useLive((l) => heardWords(l.atMs, l.surfaces[surface]?.heardAtMs ?? -1));
  const name = surfaces.find((s) => s.id === surface)?.name ?? surface;
  return (
    <div className="flex min-w-0 items-center gap-2.5">
      {surfaces.length > 1 ? (
        <Select
          label="Surface"
          value={surface}
          options={surfaces.map((s) => ({ value: s.id, label: s.name }))}
          onChange={(id) => store.setState({ chosen: { surface: id, control: "" }, chosenMapping: null })}
          className="h-[24px] max-w-[220px] min-w-[96px] px-2"
        />
      ) : (
        <h2 className="max-w-[220px] overflow-hidden text-base font-semibold text-ellipsis whitespace-nowrap">
          <bdi>{name}</bdi>
        </h2>
      )}
      <Unit surface={surface} heard={heard} />
    </div>
  );
}

/** Whether it is there, and when it was heard. */
function Unit({ surface, heard }: { surface: string; heard: string }) {
  const { port, device } = useLive(
    useShallow((l) => {
      const way = l.show.surfaces.find((s) => s.id === surface)?.in;
      return {
        port: l.surfaces[surface]?.inPort.state,
        device: way?.kind === "browser-midi" || way?.kind === "computer-midi" ? way.device : null,
      };
    }),
  );
  if (device === null || port === undefined || port === "open")
    return <Chip className="h-[22px] min-w-0 overflow-hidden">{heard}</Chip>;
  return (
    <a href="/connect" data-place="connect" title={`${device} is not there. Plug it in; it is taken back by itself.`}>
      <StateMark shape="broken-ring" tone="care">
        unplugged
      </StateMark>
    </a>
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
