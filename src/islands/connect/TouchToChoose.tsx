import { useEffect, useRef, useState } from "react";
import type { PortRef } from "../../core/format/show.ts";
import { Button } from "../components/controls.tsx";
import { usePage, usePageStore } from "../live/store.ts";
import { toast } from "../live/toast.ts";

/** How long it waits for a touch, in ms. */
const WAIT_MS = 15_000;

/** Of several devices with one name, the one that speaks now becomes the port. */
export function TouchToChoose({ name, onFound }: { name: string; onFound(port: PortRef, hasOutput: boolean): void }) {
  const store = usePageStore();
  const midi = usePage((s) => s.midi);
  const [waiting, setWaiting] = useState(false);
  const found = useRef(onFound);
  found.current = onFound;
  useEffect(() => {
    if (!waiting) return;
    const { deviceActivity } = store.getState();
    const fromMs = performance.now();
    const stop = deviceActivity.watch(() => {
      const { midi: now } = store.getState();
      for (const device of now.kind === "open" ? now.devices : []) {
        if (deviceActivity.times(device.name, device.nth).heardAtMs < fromMs) continue;
        setWaiting(false);
        found.current({ kind: "browser-midi", device: device.name, nth: device.nth }, device.output);
        return;
      }
    });
    const timer = setTimeout(() => {
      setWaiting(false);
      toast("Nothing was touched", { description: `${name} keeps the ports it has.` });
    }, WAIT_MS);
    return () => {
      stop();
      clearTimeout(timer);
    };
  }, [waiting, store, name]);
  // Names tell devices apart, but for those that share one.
  const isNeeded =
    midi.kind === "open" && midi.devices.some((d, i) => midi.devices.findIndex((o) => o.name === d.name) !== i);
  if (!isNeeded) return null;
  return (
    <Button size="small" className="justify-self-start" aria-pressed={waiting} onClick={() => setWaiting(!waiting)}>
      {waiting ? "Touch the unit now …" : "It is the one I touch"}
    </Button>
  );
}
