import { useEffect, useState } from "react";
import type { DeskLive } from "../../core/live/protocol.ts";
import { carrierOf, type DeskProfile } from "../../core/show/desk-profile.ts";
import { DEFAULT_WHEN_SILENT, type Desk, type WhenSilent } from "../../core/show/show.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { Button } from "../parts/controls.tsx";
import { FormDialog } from "../parts/FormDialog.tsx";
import { DeskHealth, StateMark } from "../parts/Health.tsx";
import { Select } from "../parts/Select.tsx";
import { AddressFields, addressOf, carrierWords, typedAddress } from "./AddressFields.tsx";
import { MidiPortFields } from "./MidiPortFields.tsx";
import { PortAdvice } from "./PortAdvice.tsx";
import { portWords } from "./ports.ts";
import { ReplaceDesk } from "./ReplaceDialog.tsx";
import { CARD, CardHead, CardWays } from "./UnitCard.tsx";

/** How long "Try it" waits for an answer before it says how things stand, in ms. */
const TRY_MS = 1200;

const WHEN_SILENT = [
  { value: "keep", label: "silent: keep the newest" },
  { value: "drop", label: "silent: send nothing" },
  { value: "send", label: "silent: send all the same" },
];

/** One desk: its address, its health, and what to check where it does not answer. */
export function DeskCard({ desk }: { desk: Desk }) {
  const actions = useActions();
  const profile = useLive((l) => l.deskProfiles.get(desk.profile));
  const live = useLive((l) => l.desks[desk.id]);
  const nowMs = useLive((l) => Math.floor(l.atMs / 1000) * 1000);
  const ways = waysOf(desk, profile);
  // MIDI that is never asked has no answers.
  const asked = !desk.midi || profile?.heartbeat !== undefined;
  const [replacing, setReplacing] = useState(false);
  const [addressing, setAddressing] = useState(false);
  const [tried, setTried] = useState<"asking" | "done" | null>(null);
  useEffect(() => {
    if (tried !== "asking") return;
    const timer = setTimeout(() => setTried("done"), TRY_MS);
    return () => clearTimeout(timer);
  }, [tried]);
  return (
    <article className={CARD} aria-label={desk.name} data-health={live?.health}>
      <CardHead
        what="desk"
        name={desk.name}
        about={profile?.name}
        health={asked ? <DeskHealth desk={live} nowMs={nowMs} /> : <MidiHealth port={live?.port} />}
        onRename={(name) => void actions.edit({ kind: "rename-desk", id: desk.id, name })}
        onReplace={() => setReplacing(true)}
        onRemove={() => void actions.edit({ kind: "remove-desk", id: desk.id })}
      />
      <CardWays counted={live} input={<Way>{ways.input}</Way>} output={<Way>{ways.output}</Way>} />
      <PortAdvice id={desk.id} />
      {live ? <Trouble desk={desk} live={live} checks={profile?.wire.checkAtDesk ?? []} /> : null}
      <div className="flex items-center gap-2">
        {!asked ? null : (
          <Button
            look={live?.health === "answering" ? "plain" : "primary"}
            onClick={() => {
              actions.send({ kind: "try-desk", desk: desk.id });
              setTried("asking");
            }}
          >
            Try it
          </Button>
        )}
        <Button onClick={() => setAddressing(true)}>{desk.midi ? "Change ports" : "Change address"}</Button>
        {asked ? (
          <Select
            label={`What ${desk.name} is sent while it does not answer`}
            value={desk.whenSilent ?? DEFAULT_WHEN_SILENT}
            options={WHEN_SILENT}
            onChange={(v) =>
              void actions.edit({ kind: "set-desk-when-silent", id: desk.id, whenSilent: v as WhenSilent })
            }
            className="h-[30px] max-w-[190px] px-2"
          />
        ) : null}
        <span role="status" className="min-w-0 flex-1 overflow-hidden text-ellipsis text-small text-ink-300">
          {tried === "asking" ? "asking …" : tried === "done" && live ? triedWords(live) : ""}
        </span>
      </div>
      {replacing ? <ReplaceDesk desk={desk} onOpenChange={setReplacing} /> : null}
      <AddressDialog desk={desk} open={addressing} onOpenChange={setAddressing} />
    </article>
  );
}

function Way({ children }: { children: string }) {
  return <span className="rounded-md bg-velvet-950 px-2 py-1 text-ink-300">{children}</span>;
}

/** Where its messages come from and go to, in words. */
function waysOf(desk: Desk, profile: DeskProfile | undefined): { input: string; output: string } {
  if (desk.midi) return { input: portWords(desk.midi.in), output: portWords(desk.midi.out) };
  const carrier = profile ? carrierOf(profile, desk.over) : "udp";
  return {
    input: carrier === "udp" ? `heard on port ${desk.listenPort}` : "on the same connection",
    output: `${carrierWords(profile?.wire.kind ?? "osc-udp", carrier)} to ${desk.host}:${desk.port}`,
  };
}

function triedWords(live: DeskLive): string {
  switch (live.health) {
    case "answering":
      return `It answered in ${Math.max(1, Math.round(live.roundTripMs))} ms.`;
    case "refusing":
      return "The network refused it.";
    default:
      return "No answer came.";
  }
}

function Trouble({ desk, live, checks }: { desk: Desk; live: DeskLive; checks: readonly string[] }) {
  if (live.port.state === "failed" && live.health !== "refusing")
    return (
      <Tip>
        <b className="text-white">Our own port did not open:</b> {live.port.detail}. Choose another port to listen on.
      </Tip>
    );
  if (live.port.state === "waiting" && live.port.detail)
    return (
      <Tip>
        <b className="text-white">No connection:</b> {live.port.detail}. It is tried again by itself.
      </Tip>
    );
  if (live.health === "refusing")
    return (
      <Tip>
        <b className="text-white">Nobody listens there.</b> {desk.host} is on the network and refuses port {desk.port}.
        <ol className="mt-1 ml-4 list-decimal">
          <li>is the desk running, and is its remote control switched on?</li>
          <li>is {desk.port} the port it listens on?</li>
          <li>is {desk.host} the desk, and not another computer?</li>
        </ol>
      </Tip>
    );
  if (live.health === "silent")
    return (
      <Tip>
        <b className="text-white">It gets messages and says nothing.</b> The address exists, nobody refuses. Check at
        the desk:
        <ol className="mt-1 ml-4 list-decimal">
          {checks.map((c) => (
            <li key={c}>{c}</li>
          ))}
        </ol>
      </Tip>
    );
  return null;
}

function Tip({ children }: { children: React.ReactNode }) {
  return (
    <div role="alert" className="rounded-lg bg-alert-ground px-3 py-2.5 text-[12.5px] leading-[1.45] text-alert-ink">
      {children}
    </div>
  );
}

function AddressDialog({ desk, open, onOpenChange }: { desk: Desk; open: boolean; onOpenChange(open: boolean): void }) {
  if (!open) return null;
  return desk.midi ? (
    <OpenPortsDialog desk={desk} midi={desk.midi} onOpenChange={onOpenChange} />
  ) : (
    <OpenAddressDialog desk={desk} onOpenChange={onOpenChange} />
  );
}

function OpenPortsDialog({
  desk,
  midi,
  onOpenChange,
}: {
  desk: Desk;
  midi: NonNullable<Desk["midi"]>;
  onOpenChange(open: boolean): void;
}) {
  const actions = useActions();
  const [ports, setPorts] = useState(midi);
  return (
    <FormDialog
      title={`Ports of ${desk.name}`}
      submit="Use these ports"
      open
      onOpenChange={onOpenChange}
      onSubmit={() => actions.edit({ kind: "set-desk-midi", id: desk.id, ...ports })}
    >
      <MidiPortFields ports={ports} onChange={setPorts} />
    </FormDialog>
  );
}

/** MIDI has no answers: all that can be said is whether its port is open. */
function MidiHealth({ port }: { port: DeskLive["port"] | undefined }) {
  if (port?.state === "open")
    return (
      <StateMark shape="tick" tone="good">
        open
      </StateMark>
    );
  return (
    <StateMark shape="broken-ring" tone="care">
      {port?.detail || "not open yet"}
    </StateMark>
  );
}

function OpenAddressDialog({ desk, onOpenChange }: { desk: Desk; onOpenChange(open: boolean): void }) {
  const actions = useActions();
  const profile = useLive((l) => l.deskProfiles.get(desk.profile));
  const [address, setAddress] = useState(() => typedAddress(desk));
  return (
    <FormDialog
      title={`Address of ${desk.name}`}
      submit="Use this address"
      open
      onOpenChange={onOpenChange}
      onSubmit={() => actions.edit({ kind: "set-desk-address", id: desk.id, ...addressOf(address) })}
    >
      <AddressFields profile={profile} address={address} onChange={setAddress} />
    </FormDialog>
  );
}
