/** What plays and is used by nobody, on the leaf of the hands: each becomes a surface by one press. */
import { useEffect, useMemo, useState } from "react";
import { universeKind } from "../../core/dmx/universe-kind.ts";
import type { PortRef } from "../../core/format/show.ts";
import { hexBytes } from "../../core/midi/hex.ts";
import { IDENTITY_REQUEST } from "../../core/teach/identity.ts";
import { describeMidi } from "../../words/midi.ts";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { rememberedKinds, rememberKind } from "../live/remembered-kinds.ts";
import { useLive, usePageStore } from "../live/store.ts";
import { addTaught, TAUGHT } from "./add-taught.ts";
import { deviceName } from "./BrowserDevices.tsx";
import { guessKind } from "./device-guess.ts";
import { GhostShell } from "./GhostShell.tsx";
import { type GhostDevice, type GhostUniverse, useFreeDevices, useGhosts } from "./ghosts.ts";

/** More than these fold into a line. */
const SHOWN = 2;
/** Half way up, and a little below. */
const SWITCHES_AT = { on: 128, off: 112 };

export function GhostCards() {
  const { ghosts, putAway } = useGhosts();
  const newest = ghosts[0]?.key;
  useIdentities();
  const own = ghosts.filter((g) => g.what.kind !== "sender");
  const shown = own.slice(0, SHOWN).toSorted((a, b) => a.key.localeCompare(b.key));
  return (
    <>
      {shown.map(({ key, what }) => {
        const common = { isNewest: key === newest, onAway: () => putAway(key) };
        return what.kind === "device" ? (
          <DeviceCard key={key} device={what} {...common} />
        ) : what.kind === "universe" ? (
          <UniverseCard key={key} universe={what.universe} {...common} />
        ) : null;
      })}
      <More count={own.length - SHOWN} />
    </>
  );
}

export function More({ count }: { count: number }) {
  return count > 0 ? <p className="text-small text-ink-500">and {count} more are here</p> : null;
}

/** Each device of this browser that is new is asked once what it is: that changes nothing in it. */
function useIdentities(): void {
  const actions = useActions();
  const devices = useFreeDevices();
  const [asked] = useState(() => new Set<string>());
  useEffect(() => {
    for (const { name, nth, output } of devices) {
      if (!output || asked.has(`${nth} ${name}`)) continue;
      asked.add(`${nth} ${name}`);
      actions.toDevice(name, nth, IDENTITY_REQUEST);
    }
  });
}

interface CardProps {
  isNewest: boolean;
  onAway(): void;
}

function DeviceCard({ device, ...common }: CardProps & { device: GhostDevice }) {
  const { name, nth, heard, identity } = device;
  const store = usePageStore();
  const actions = useActions();
  const profiles = useLive((l) => l.surfaceProfiles);
  const middleC = useLive((l) => l.show.settings.middleC);
  const [remembered] = useState(() => rememberedKinds(localStorage)[name]);
  const own = typeof remembered === "object" && !profiles.has(remembered.id) ? remembered : null;
  const all = useMemo(() => [...profiles.values(), ...(own ? [own] : [])], [profiles, own]);
  const before = typeof remembered === "object" ? remembered.id : remembered;
  const guess = guessKind({ name, heard, identity, before }, all);
  const [picked, setPicked] = useState<string | null>(null);
  const kind = picked ?? guess.kind;
  const use = async () => {
    const port: PortRef = { kind: device.port, device: name, nth };
    const ports = { in: port, out: device.hasOutput ? port : ({ kind: "none" } as const) };
    if (kind === TAUGHT) {
      await addTaught(store, actions, name, ports, identity);
      return;
    }
    const profile = all.find((p) => p.id === kind)!;
    const edit = { kind: "add-surface", surface: { id: newId("s"), name, profile: kind, ...ports } } as const;
    const done = await actions.edit(
      own?.id === kind
        ? { kind: "together", does: `add ${name}`, edits: [{ kind: "put-surface-profile", profile: own }, edit] }
        : edit,
    );
    const isShipped = store.getState().live.shipped.surfaces.has(kind);
    if (done) rememberKind(localStorage, name, isShipped ? kind : profile);
  };
  const last = heard.at(-1);
  return (
    <GhostShell
      name={deviceName(device)}
      does={device.port === "computer-midi" ? "plays at the computer" : "is here and plays"}
      heard={last ? `Heard ${describeMidi(last.bytes, middleC) || hexBytes(last.bytes)}` : "Heard something"}
      kinds={{ value: kind, options: guess.options, onChange: setPicked }}
      onUse={() => void use()}
      {...common}
    />
  );
}

const FADERS = "faders of its channels";

/** A universe becomes a row of faders, one for each channel that was seen to move; or a kind of surface that there is. */
function UniverseCard({ universe: u, ...common }: CardProps & { universe: GhostUniverse["universe"] }) {
  const actions = useActions();
  const profiles = useLive((l) => l.surfaceProfiles);
  const [kind, setKind] = useState(FADERS);
  const name = `Universe ${u.universe}`;
  // Others have no control that a channel could be.
  const kinds = [...profiles.values()].filter((p) => p.controls.every((c) => c.sends.kind === "controller-14"));
  const use = () => {
    const { protocol, universe, reach, port } = u;
    const input: PortRef = {
      kind: "dmx",
      protocol,
      universe,
      first: 1,
      reach,
      ...(port === undefined ? {} : { port }),
      ...SWITCHES_AT,
    };
    const profile = universeKind(newId("k"), `${name}, its channels`, u.slots);
    const surface = { id: newId("s"), name, profile: kind === FADERS ? profile.id : kind, in: input };
    const edit = { kind: "add-surface", surface: { ...surface, out: { kind: "none" } } } as const;
    void actions.edit(
      kind === FADERS
        ? { kind: "together", does: `add ${name}`, edits: [{ kind: "put-surface-profile", profile }, edit] }
        : edit,
    );
  };
  const moved = u.slots.length;
  return (
    <GhostShell
      name={name}
      does={`is sent by ${u.protocol === "sacn" ? "sACN" : "Art-Net"}`}
      heard={`From ${u.name || "somebody without a name"}: ${moved === 0 ? "nothing moved yet" : channels(u.slots)}`}
      kinds={{
        value: kind,
        options: [
          { value: FADERS, label: moved === 0 ? "a fader for each of 12 channels" : "a fader for each that moved" },
          ...kinds.map((p) => ({ value: p.id, label: p.name })),
        ],
        onChange: setKind,
      }}
      onUse={use}
      {...common}
    />
  );
}

/** “channel 4 moved”, “channels 1, 2, 7 and 30 more moved”. */
function channels(slots: readonly number[]): string {
  const first = slots.slice(0, 6).join(", ");
  const more = slots.length > 6 ? ` and ${slots.length - 6} more` : "";
  return `${slots.length === 1 ? "channel" : "channels"} ${first}${more} moved`;
}
