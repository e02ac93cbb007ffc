import { useEffect, useState } from "react";
import { useShallow } from "zustand/react/shallow";
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import { DEFAULT_WHEN_SILENT, type Desk, type Show } from "../../core/format/show.ts";
import { CARRIERS, carrierOf } from "../../core/format/wires.ts";
import { troubleWords } from "../../words/troubles.ts";
import { carrierWords } from "../../words/wires.ts";
import { Button } from "../components/controls.tsx";
import { DeskHealth } from "../components/DeskHealth.tsx";
import { FormDialog } from "../components/FormDialog.tsx";
import { StateMark } from "../components/StateMark.tsx";
import { useActions } from "../live/actions.ts";
import { useLive, usePage, usePageStore } from "../live/store.ts";
import { AddressFields, addressOf, typedAddress } from "./AddressFields.tsx";
import { DeskTrouble } from "./DeskTrouble.tsx";
import { HearsItself } from "./HearsItself.tsx";
import { MidiPortFields } from "./MidiPortFields.tsx";
import { PortAdvice } from "./PortAdvice.tsx";
import { portWords } from "./ports.ts";
import { ReplaceDesk } from "./ReplaceDialog.tsx";
import { CARD, CardHead, CardWays } from "./UnitCard.tsx";

/** How long "Try it" waits for an answer before it says how things stand, in ms. */
const TRY_MS = 1200;
/** How long the answer to it stands there, in ms. */
const TOLD_MS = 6000;

const WHEN_SILENT = [
  { value: "keep", label: "keep the newest value" },
  { value: "drop", label: "send nothing" },
  { value: "send", label: "send all the same" },
] as const;
const SILENT_WORDS = {
  keep: "keeps the newest value until it answers",
  drop: "is sent nothing until it answers",
  send: "is sent everything all the same",
} as const;

/** One desk: its address, its health, and what to check where it does not answer. */
export function DeskCard({ desk }: { desk: Desk }) {
  const actions = useActions();
  const profile = useLive((l) => l.deskProfiles.get(desk.profile));
  const health = useLive((l) => l.desks[desk.id]?.health);
  const sessions = useLive((l) => l.show.sessions);
  const ways = waysOf(desk, profile, sessions);
  // MIDI that is never asked has no answers.
  const asked = !desk.midi || profile?.heartbeat !== undefined;
  const store = usePageStore();
  const isOwn = useLive((l) => l.show.profiles?.desks.some((p) => p.id === desk.profile) ?? false);
  const [replacing, setReplacing] = useState(false);
  const [addressing, setAddressing] = useState(false);
  const [tried, setTried] = useState<"asking" | "done" | null>(null);
  useEffect(() => {
    if (tried === null) return;
    const timer = setTimeout(() => setTried(tried === "asking" ? "done" : null), tried === "asking" ? TRY_MS : TOLD_MS);
    return () => clearTimeout(timer);
  }, [tried]);
  const tryIt = () => {
    actions.send({ kind: "try-desk", desk: desk.id });
    setTried("asking");
  };
  const whenSilent = desk.whenSilent ?? DEFAULT_WHEN_SILENT;
  const addressWords = desk.midi ? "Change ports" : "Change address";
  // Of one that answers, and of MIDI that is never asked, there is nothing to do.
  const isWell = !asked || health === "answering";
  return (
    <article className={CARD} aria-label={desk.name} data-health={health}>
      <CardHead
        what="desk"
        name={desk.name}
        about={profile?.name}
        health={asked ? <DeskHealth id={desk.id} /> : <MidiHealth id={desk.id} />}
        more={[
          ...(asked ? [{ words: "Try it", act: tryIt }] : []),
          { words: `${addressWords} …`, act: () => setAddressing(true) },
          ...(isOwn
            ? [
                {
                  words: "Edit its kind …",
                  act: () => store.setState({ editing: { side: "desk" as const, id: desk.profile } }),
                },
              ]
            : []),
        ]}
        choice={
          asked
            ? {
                title: "While it does not answer",
                value: whenSilent,
                options: WHEN_SILENT,
                choose: (v) =>
                  void actions.edit({ kind: "set-desk-when-silent", id: desk.id, whenSilent: v as typeof whenSilent }),
              }
            : undefined
        }
        onRename={(name) => void actions.edit({ kind: "rename-desk", id: desk.id, name })}
        onReplace={() => setReplacing(true)}
        onRemove={() => void actions.edit({ kind: "remove-desk", id: desk.id })}
      />
      <CardWays of="desks" id={desk.id} input={<Way>{ways.input}</Way>} output={<Way>{ways.output}</Way>} />
      <PortAdvice id={desk.id} />
      <HearsItself id={desk.id} />
      {profile ? <DeskTrouble desk={desk} profile={profile} /> : null}
      {isWell && tried === null ? null : (
        <div className="flex items-center gap-2">
          {asked ? (
            <Button look={health === "answering" ? "plain" : "primary"} onClick={tryIt}>
              Try it
            </Button>
          ) : null}
          <Button onClick={() => setAddressing(true)}>{addressWords}</Button>
          <span
            role="status"
            className="min-w-0 flex-1 overflow-hidden text-right text-ellipsis text-small text-ink-300"
          >
            {tried === "asking" ? "asking …" : tried === "done" ? <Tried id={desk.id} /> : SILENT_WORDS[whenSilent]}
          </span>
        </div>
      )}
      {replacing ? <ReplaceDesk desk={desk} onOpenChange={setReplacing} /> : null}
      <AddressDialog desk={desk} open={addressing} onOpenChange={setAddressing} />
    </article>
  );
}

function Way({ children }: { children: string }) {
  return (
    <span
      className="overflow-hidden rounded-md bg-velvet-950 px-2 py-1 text-ellipsis whitespace-nowrap text-ink-300"
      title={children}
    >
      {children}
    </span>
  );
}

/** Where its messages come from and go to, in words. */
function waysOf(desk: Desk, profile: DeskProfile | undefined, sessions: Show["sessions"]) {
  if (desk.midi) return { input: portWords(desk.midi.in, sessions), output: portWords(desk.midi.out, sessions) };
  const carrier = (profile && carrierOf(profile, desk.over)) ?? "udp";
  return {
    input: CARRIERS[carrier].isHeardOn ? `heard on port ${desk.listenPort}` : "on the same connection",
    output: `${carrierWords(profile?.wire.kind ?? "osc", carrier)} to ${desk.host}:${desk.port}`,
  };
}

function Tried({ id }: { id: string }) {
  return useLive((l) => {
    const desk = l.desks[id];
    switch (desk?.health) {
      case "answering":
        return `It answered in ${Math.max(1, Math.round(desk.roundTripMs))} ms.`;
      case "refusing":
        return "The network refused it.";
      default:
        return "No answer came.";
    }
  });
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
function MidiHealth({ id }: { id: string }) {
  const { state, trouble } = useLive(useShallow((l) => ({ ...l.desks[id]?.port })));
  if (state === "open")
    return (
      <StateMark shape="tick" tone="good">
        open
      </StateMark>
    );
  return (
    <StateMark shape="broken-ring" tone="care">
      {troubleWords(trouble) || "not open yet"}
    </StateMark>
  );
}

function OpenAddressDialog({ desk, onOpenChange }: { desk: Desk; onOpenChange(open: boolean): void }) {
  const actions = useActions();
  const profile = useLive((l) => l.deskProfiles.get(desk.profile));
  const [address, setAddress] = useState(() => typedAddress(desk));
  const before = typedAddress(desk);
  const isKept = usePage((s) => s.withPassword.includes(desk.id));
  // It belongs to one address and one user.
  const isSame = (["host", "port", "user"] as const).every((part) => address[part].trim() === before[part]);
  return (
    <FormDialog
      title={`Address of ${desk.name}`}
      submit="Use this address"
      open
      onOpenChange={onOpenChange}
      onSubmit={() => actions.edit({ kind: "set-desk-address", id: desk.id, ...addressOf(address) })}
    >
      <AddressFields profile={profile} address={address} isPasswordKept={isKept && isSame} onChange={setAddress} />
    </FormDialog>
  );
}
