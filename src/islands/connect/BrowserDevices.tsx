import { Globe } from "lucide-react";
import { useState } from "react";
import { StateMark } from "../components/StateMark.tsx";
import { useActions } from "../live/actions.ts";
import { useDeviceTimes } from "../live/device-activity.ts";
import { type MidiDevice, useLive, usePage } from "../live/store.ts";
import { HingeAction, HingeGroup, HingeNothing, HingeRow } from "./HingeRow.tsx";

const NO_DEVICES: readonly MidiDevice[] = [];

/** The MIDI devices of this browser, and of others that have the show open. */
export function BrowserDevices() {
  const midi = usePage((s) => s.midi);
  const actions = useActions();
  const ask = (words: string) => <HingeAction onClick={() => void actions.askMidi()}>{words}</HingeAction>;
  return (
    <HingeGroup
      icon={Globe}
      title="This browser"
      about="MIDI plugged in here"
      action={midi.kind === "not-asked" ? ask("Look for devices") : midi.kind === "none" ? ask("Ask again") : null}
    >
      <Own />
      <Others />
    </HingeGroup>
  );
}

function Own() {
  const midi = usePage((s) => s.midi);
  switch (midi.kind) {
    case "not-asked":
      return <HingeNothing>Surfaces that are plugged in here reach the show through this page.</HingeNothing>;
    case "asking":
      return (
        <div className="px-1.5 py-1" role="status">
          <StateMark shape="broken-ring" tone="care">
            the browser is asking you
          </StateMark>
          <p className="text-small text-ink-500">Allow MIDI for this page at the top of the window.</p>
        </div>
      );
    case "none":
      return (
        <div className="rounded-md bg-alert-ground px-2 py-1.5 text-small" role="alert">
          <StateMark shape="struck-ring" tone="alert">
            no MIDI here
          </StateMark>
          <p className="text-alert-ink">{midi.sentence}</p>
        </div>
      );
    case "open":
      return (
        <>
          {midi.devices.length === 0 ? (
            <HingeNothing>Nothing is plugged in here. What is appears by itself.</HingeNothing>
          ) : null}
          {midi.devices.map((d) => (
            <Device key={`${d.nth} ${d.name}`} device={d} />
          ))}
          <Gone devices={midi.devices} />
        </>
      );
    default:
      return midi satisfies never;
  }
}

/** What a device is called where several have its name. */
export function deviceName({ name, nth }: Pick<MidiDevice, "name" | "nth">): string {
  return nth > 1 ? `${name} · number ${nth}` : name;
}

function Device({ device }: { device: MidiDevice }) {
  const isElsewhere = usePage((s) =>
    s.browserDevices.some((d) => d.name === device.name && d.nth === device.nth && !d.here),
  );
  const activity = usePage((s) => s.deviceActivity);
  const { heardAtMs, sentAtMs } = useDeviceTimes(activity, device.name, device.nth);
  const used = useLive((l) =>
    [...l.show.surfaces, ...l.show.desks.flatMap((d) => (d.midi ? [{ name: d.name, ...d.midi }] : []))]
      .filter((s) =>
        [s.in, s.out].some((p) => p.kind === "browser-midi" && p.device === device.name && p.nth === device.nth),
      )
      .map((s) => s.name)
      .join(", "),
  );
  const count = {
    in: () => activity.counted(device.name, device.nth).heard,
    out: () => activity.counted(device.name, device.nth).sent,
  };
  return (
    <div data-device={device.name} data-heard={heardAtMs > 0} data-sent={sentAtMs > 0}>
      <HingeRow
        name={deviceName(device)}
        used={used || (heardAtMs > 0 ? "nobody yet" : "free")}
        isOffered={used === "" && heardAtMs > 0}
        title={device.input && device.output ? "goes in and out" : device.input ? "only comes in" : "only goes out"}
        count={count}
        note={
          isElsewhere ? <span className="text-care">plays through another window, which was here first</span> : null
        }
      />
    </div>
  );
}

/** Devices that only other browsers have: surfaces can be them just as well. */
function Others() {
  const own = usePage((s) => (s.midi.kind === "open" ? s.midi.devices : NO_DEVICES));
  const all = usePage((s) => s.browserDevices);
  const others = all.filter((d) => !own.some((o) => o.name === d.name && o.nth === d.nth));
  return others.map((d) => (
    <div key={`${d.nth} ${d.name}`} data-elsewhere={d.name}>
      <HingeRow name={deviceName(d)} used="in another browser" title="in another browser that has this show open" />
    </div>
  ));
}

/** Devices that surfaces of the show want and this browser does not have: gone where they were here, else elsewhere. */
function Gone({ devices }: { devices: readonly MidiDevice[] }) {
  const surfaces = useLive((l) => l.show.surfaces);
  const live = useLive((l) => l.surfaces);
  const wasHere = usePage((s) => s.wasHere);
  const [away, setAway] = useState<readonly string[]>([]);
  const missing = surfaces.flatMap((s) => {
    if (s.in.kind !== "browser-midi" || live[s.id]?.inPort.state === "open" || away.includes(s.id)) return [];
    const { device, nth } = s.in;
    return devices.some((d) => d.name === device && d.nth === nth) ? [] : [{ ...s, device, nth }];
  });
  return missing.map((s) =>
    wasHere.has(`${s.nth} ${s.device}`) ? (
      <div key={s.id} role="alert" className="grid gap-1 rounded-md bg-care-ground px-2 py-1.5 text-small">
        <StateMark shape="broken-ring" tone="care">
          {s.name} is unplugged
        </StateMark>
        <span className="text-ink-300">
          {s.device} was here and is gone. Plug it in again; it is taken back and drawn by itself.
        </span>
      </div>
    ) : (
      <HingeRow
        key={s.id}
        name={deviceName({ name: s.device, nth: s.nth })}
        used={`${s.name} waits for it`}
        title="It was not seen by this browser: plug it in here, or open the show where it is."
        actions={<HingeAction onClick={() => setAway([...away, s.id])}>Hide</HingeAction>}
      />
    ),
  );
}
