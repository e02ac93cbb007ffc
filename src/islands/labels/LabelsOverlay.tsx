import { usePage } from "../live/store.ts";
import { LabelsView } from "./LabelsView.tsx";

/** Begins anew each time it is opened: with the page and the layer that are up then. */
export function LabelsOverlay() {
  const open = usePage((s) => s.labelsOpen);
  return open ? <LabelsView /> : null;
}
