import { useEffect, useRef, useState } from "react";
import { toast } from "sonner";
import { Button } from "../components/controls.tsx";
import { StateMark } from "../components/StateMark.tsx";
import { useActions } from "../live/actions.ts";
import { useDeviceTimes } from "../live/device-activity.ts";
import { type MidiDevice, useLive, usePage } from "../live/store.ts";
import { ProfileList } from "../profiles/ProfileList.tsx";
import { BackupsDialog } from "./BackupsDialog.tsx";
import { BOX } from "./box.ts";
import { NetworkMidi } from "./NetworkMidi.tsx";

/** What lies between hands and desks: the MIDI devices of this browser, and the show as a document. */
export function Between() {
  return (
    <>
      <h2 className="text-small font-semibold text-ink-300">MIDI in this browser</h2>
      <BrowserMidi />
      <OthersDevices />
      <h2 className="mt-3 text-small font-semibold text-ink-300">MIDI of the computer</h2>
      <ComputerMidi />
      <h2 className="mt-3 text-small font-semibold text-ink-300">MIDI on the network</h2>
      <NetworkMidi />
      <h2 className="mt-3 text-small font-semibold text-ink-300">Kinds of your own</h2>
      <ProfileList />
      <h2 className="mt-3 text-small font-semibold text-ink-300">The show</h2>
      <ShowDocument />
    </>
  );
}

function BrowserMidi() {
  const midi = usePage((s) => s.midi);
  const actions = useActions();
  switch (midi.kind) {
    case "not-asked":
      return (
        <div className={BOX}>
          <span className="text-ink-500">
            Surfaces that are plugged into this computer reach the show through this page.
          </span>
          <Button size="small" className="justify-self-start" onClick={() => void actions.askMidi()}>
            Look for devices
          </Button>
        </div>
      );
    case "asking":
      return (
        <div className={BOX} role="status">
          <StateMark shape="broken-ring" tone="care">
            the browser is asking you
          </StateMark>
          <span className="text-ink-500">Allow MIDI for this page at the top of the window.</span>
        </div>
      );
    case "none":
      return (
        <div className={BOX} role="alert">
          <StateMark shape="struck-ring" tone="alert">
            no MIDI here
          </StateMark>
          <span className="text-alert-ink">{midi.sentence}</span>
          <Button size="small" className="justify-self-start" onClick={() => void actions.askMidi()}>
            Ask again
          </Button>
        </div>
      );
    case "open":
      return (
        <>
          {midi.devices.length === 0 ? (
            <p className={`${BOX} text-ink-500`}>No MIDI device is plugged in. One that is appears here by itself.</p>
          ) : null}
          {midi.devices.map((d) => (
            <DeviceBox key={`${d.nth} ${d.name}`} device={d} />
          ))}
          <Gone devices={midi.devices} />
        </>
      );
    default:
      return midi satisfies never;
  }
}

/** Devices that only other browsers have: surfaces can be them just as well. */
function OthersDevices() {
  const own = usePage((s) => (s.midi.kind === "open" ? s.midi.devices : NO_DEVICES));
  const all = usePage((s) => s.browserDevices);
  const others = all.filter((d) => !own.some((o) => o.name === d.name && o.nth === d.nth));
  return others.map((d) => (
    <div key={`${d.nth} ${d.name}`} className={BOX} data-elsewhere={d.name}>
      <b className="overflow-hidden text-[12.5px] text-ellipsis whitespace-nowrap">
        {d.name}
        {d.nth > 1 ? ` · number ${d.nth}` : ""}
      </b>
      <span className="text-ink-500">in another browser that has this show open</span>
    </div>
  ));
}

const NO_DEVICES: readonly MidiDevice[] = [];

/** Devices of the computer that the program runs on, which play without any browser. */
function ComputerMidi() {
  const { state, detail, inputs, outputs } = useLive((l) => l.computerMidi);
  const actions = useActions();
  switch (state) {
    case "not-looked":
      return (
        <div className={BOX}>
          <span className="text-ink-500">What is plugged in where the program runs plays without any browser.</span>
          <Button size="small" className="justify-self-start" onClick={() => actions.send({ kind: "look-for-midi" })}>
            Look in the computer
          </Button>
        </div>
      );
    case "none":
      return (
        <div className={BOX} role="status">
          <StateMark shape="struck-ring" tone="quiet">
            out of reach here
          </StateMark>
          <span className="text-ink-500">{detail}. Browsers and the network work all the same.</span>
        </div>
      );
    case "open": {
      const names = [...new Set([...inputs, ...outputs])];
      return (
        <div className={BOX} role="status">
          {names.length === 0 ? <span className="text-ink-500">No device is plugged in.</span> : null}
          {names.map((name) => (
            <span key={name} className="overflow-hidden text-ellipsis whitespace-nowrap">
              {name}
            </span>
          ))}
        </div>
      );
    }
    default:
      return state satisfies never;
  }
}

function DeviceBox({ device }: { device: MidiDevice }) {
  const isElsewhere = usePage((s) =>
    s.browserDevices.some((d) => d.name === device.name && d.nth === device.nth && !d.here),
  );
  const { heardAtMs, sentAtMs } = useDeviceTimes(
    usePage((s) => s.deviceActivity),
    device.name,
    device.nth,
  );
  const used = useLive((l) =>
    l.show.surfaces
      .filter((s) =>
        [s.in, s.out].some((p) => p.kind === "browser-midi" && p.device === device.name && p.nth === device.nth),
      )
      .map((s) => s.name)
      .join(", "),
  );
  return (
    <div className={BOX} data-device={device.name}>
      <div className="flex items-center gap-2">
        <b className="min-w-0 flex-1 overflow-hidden text-[12.5px] text-ellipsis whitespace-nowrap">
          {device.name}
          {device.nth > 1 ? ` · number ${device.nth}` : ""}
        </b>
        <Blink label="in" atMs={heardAtMs} there={device.input} colour="bg-cool" />
        <Blink label="out" atMs={sentAtMs} there={device.output} colour="bg-warm" />
      </div>
      {isElsewhere ? <span className="text-care">plays through another window, which was here first</span> : null}
      <span className="text-ink-500">{used ? `is ${used}` : "not used yet: choose it as a port on the left"}</span>
    </div>
  );
}

/** A light that goes on for a moment when something passes. */
function Blink({ label, atMs, there, colour }: { label: string; atMs: number; there: boolean; colour: string }) {
  const [on, setOn] = useState(false);
  const seen = useRef(atMs);
  useEffect(() => {
    if (atMs === seen.current) return;
    seen.current = atMs;
    setOn(true);
    const timer = setTimeout(() => setOn(false), 160);
    return () => clearTimeout(timer);
  }, [atMs]);
  return (
    <span
      className="flex items-center gap-1 text-tiny text-ink-500"
      data-blink={label}
      data-seen={atMs > 0}
      aria-label={`${label} ${on ? "active" : there ? "quiet" : "not there"}`}
      role="img"
    >
      <i
        className={`inline-block h-2 w-2 rounded-full ${!there ? "border border-dashed border-velvet-600" : on ? colour : "bg-velvet-600"}`}
      />
      {label}
    </span>
  );
}

/** Devices that surfaces of the show want and this browser does not have. */
function Gone({ devices }: { devices: readonly MidiDevice[] }) {
  const surfaces = useLive((l) => l.show.surfaces);
  const live = useLive((l) => l.surfaces);
  const gone = surfaces.filter(
    (s) =>
      s.in.kind === "browser-midi" &&
      live[s.id]?.inPort.state !== "open" &&
      !devices.some((d) => s.in.kind === "browser-midi" && d.name === s.in.device && d.nth === s.in.nth),
  );
  return gone.map((s) => (
    <div key={s.id} role="alert" className={`${BOX} bg-care-ground`}>
      <StateMark shape="broken-ring" tone="care">
        {s.name} is unplugged
      </StateMark>
      <span className="text-ink-300">
        {s.in.kind === "browser-midi" ? s.in.device : ""} was here and is gone. Plug it in again; it is taken back and
        drawn by itself.
      </span>
    </div>
  ));
}

const LEFT_OUT = "Those of desks are left out and stay on this computer. Where the copy is opened they are typed anew.";

function ShowDocument() {
  const actions = useActions();
  const input = useRef<HTMLInputElement>(null);
  const [backups, setBackups] = useState(false);
  const logins = useLive((l) => l.show.desks.some((d) => d.login));
  return (
    <div className={BOX}>
      <span className="text-ink-500">One document with everything: to keep, to pass on, to open elsewhere.</span>
      <div className="flex flex-wrap gap-2">
        <a
          href="/api/show"
          download
          onClick={() => logins && toast("Kept without passwords", { description: LEFT_OUT })}
          className="inline-flex whitespace-nowrap h-[26px] items-center rounded-lg border border-velvet-700 bg-velvet-800 px-2.5 text-small font-medium hover:bg-velvet-700"
        >
          Keep a copy
        </a>
        <Button size="small" onClick={() => input.current?.click()}>
          Open one
        </Button>
        <Button size="small" onClick={() => setBackups(true)}>
          Backups
        </Button>
        {backups ? <BackupsDialog onClose={() => setBackups(false)} /> : null}
        <input
          ref={input}
          type="file"
          accept=".json,application/json"
          aria-label="Show document"
          className="hidden"
          onChange={(e) => {
            const file = e.target.files?.[0];
            e.target.value = "";
            if (file) void actions.openShow(file);
          }}
        />
      </div>
    </div>
  );
}
