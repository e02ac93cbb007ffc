import { useMemo } from "react";
import { usePage, usePageStore } from "../live/store.ts";
import { onDemand } from "./on-demand.tsx";
import type { Place } from "./places.ts";

const DeskEditor = onDemand(async () => (await import("../profiles/DeskEditor.tsx")).DeskEditor);
const SurfaceEditor = onDemand(async () => (await import("../profiles/SurfaceEditor.tsx")).SurfaceEditor);
const TrafficPanel = onDemand(async () => (await import("../traffic/TrafficPanel.tsx")).TrafficPanel);
const CommandPalette = onDemand(async () => (await import("./CommandPalette.tsx")).CommandPalette);
const HelpDialog = onDemand(async () => (await import("./HelpDialog.tsx")).HelpDialog);
const AccessDialog = onDemand(async () => (await import("../access/AccessDialog.tsx")).AccessDialog);
const LabelsView = onDemand(async () => (await import("../labels/LabelsOverlay.tsx")).LabelsOverlay);
const ShowParts = onDemand(async () => (await import("../show/ShowParts.tsx")).ShowParts);

const NOTHING = {};

/** What is open over the page, and how each of it is closed. */
function useOverlays() {
  const store = usePageStore();
  return useMemo(
    () => ({
      editor: () => store.setState({ editing: null }),
      labels: () => store.setState({ labelsOpen: false }),
      traffic: () => store.setState({ trafficOpen: false }),
      access: () => store.setState({ accessOpen: false }),
      help: () => store.setState({ helpOpen: false }),
      parts: () => store.setState({ partsOpen: false }),
      palette: () => store.setState({ paletteOpen: false }),
    }),
    [store],
  );
}

/** What lies over a place that is not locked. None of it is needed to start. */
export function PlaceOverlays() {
  const close = useOverlays();
  const side = usePage((s) => s.editing?.side ?? null);
  const traffic = usePage((s) => s.trafficOpen);
  const labels = usePage((s) => s.labelsOpen);
  return (
    <>
      <DeskEditor wanted={side === "desk"} refuse={close.editor} with={NOTHING} />
      <SurfaceEditor wanted={side === "surface"} refuse={close.editor} with={NOTHING} />
      <LabelsView wanted={labels} refuse={close.labels} with={NOTHING} />
      <TrafficPanel wanted={traffic} refuse={close.traffic} with={NOTHING} />
    </>
  );
}

/** The dialogs that stand above every place. */
export function Dialogs({ place, go }: { place: Place; go(place: Place): void }) {
  const close = useOverlays();
  const palette = usePage((s) => s.paletteOpen);
  const parts = usePage((s) => s.partsOpen);
  const help = usePage((s) => s.helpOpen);
  const access = usePage((s) => s.accessOpen);
  return (
    <>
      <CommandPalette wanted={palette} refuse={close.palette} with={{ place, go }} />
      <AccessDialog wanted={access} refuse={close.access} with={NOTHING} />
      <HelpDialog wanted={help} refuse={close.help} with={{ place }} />
      <ShowParts wanted={parts} refuse={close.parts} with={NOTHING} />
    </>
  );
}
