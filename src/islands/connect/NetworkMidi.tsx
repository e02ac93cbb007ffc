/** MIDI sessions on the network: who is there, who asks to join, and whom we invite. */
import { Settings2, Trash2, X } from "lucide-react";
import { type ReactNode, useState } from "react";
import type { NetworkSession } from "../../core/format/show.ts";
import type { PeerLive } from "../../core/live/protocol.ts";
import { troubleWords } from "../../words/troubles.ts";
import { Button, IconButton } from "../components/controls.tsx";
import { StateMark } from "../components/StateMark.tsx";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive, useLiveEqual } from "../live/store.ts";
import { BOX } from "./box.ts";
import { HingeAction, HingeNothing, HingeRow } from "./HingeRow.tsx";
import { InviteDialog } from "./InviteDialog.tsx";
import { REACH_WORDS } from "./reach.ts";
import { SessionDialog } from "./SessionDialog.tsx";

const FIRST_PORT = 5004;

interface NetworkMidiProps {
  /** Draws the group that sessions stand in, with what they are added by. */
  group(rows: ReactNode, action: ReactNode): ReactNode;
}

export function NetworkMidi({ group }: NetworkMidiProps) {
  const actions = useActions();
  const sessions = useLive((l) => l.show.sessions);
  const showName = useLive((l) => l.show.name);
  const [added, setAdded] = useState<NetworkSession | null>(null);
  const add = () => {
    const port = Math.max(FIRST_PORT, ...(sessions ?? []).map((s) => s.port + 2));
    const number = (sessions?.length ?? 0) + 1;
    setAdded({
      id: newId("n"),
      name: number === 1 ? showName : `${showName} ${number}`,
      port,
      reach: "network",
      admission: "ask",
      allowed: [],
      invites: [],
      announced: true,
    });
  };
  const rows = (
    <>
      {(sessions ?? []).map((s) => (
        <SessionBox key={s.id} session={s} />
      ))}
      <FoundPeers />
      {sessions?.length ? null : (
        <HingeNothing>A session joins computers and units that speak MIDI over the network (RTP-MIDI).</HingeNothing>
      )}
    </>
  );
  return (
    <>
      {group(rows, <HingeAction onClick={add}>Add a session</HingeAction>)}
      {added ? (
        <SessionDialog
          session={added}
          title="Add a MIDI session"
          submit="Add it"
          onOpenChange={() => setAdded(null)}
          onSubmit={(item) => actions.edit({ kind: "put-session", item })}
        />
      ) : null}
    </>
  );
}

/** Sessions of others that were found on the network and that nobody is in a session with: each is invited by one press. */
function FoundPeers() {
  const actions = useActions();
  const sessions = useLive((l) => l.show.sessions);
  const free = useLiveEqual((l) => {
    const known = [
      ...(l.show.sessions ?? []).flatMap((s) => s.invites),
      ...Object.values(l.sessions).flatMap((s) => s.peers),
    ];
    return l.found.filter((f) => !known.some((k) => k.host === f.host && k.port === f.port));
  });
  const [first] = sessions ?? [];
  if (!first) return null;
  return free.map(({ name, host, port }) => (
    <HingeRow
      key={`${name} ${host} ${port}`}
      name={name}
      used="nobody yet"
      isOffered
      title={`a MIDI session at ${host}, port ${port}`}
      actions={
        <HingeAction
          onClick={() =>
            void actions.edit({
              kind: "put-session",
              item: { ...first, invites: [...first.invites, { host, port }] },
            })
          }
        >
          Invite
        </HingeAction>
      }
    />
  ));
}

function SessionBox({ session }: { session: NetworkSession }) {
  const actions = useActions();
  const live = useLive((l) => l.sessions[session.id]);
  const [open, setOpen] = useState<"settings" | "invite" | null>(null);
  const put = (set: Partial<NetworkSession>) =>
    actions.edit({ kind: "change-part", list: "sessions", id: session.id, set });
  const peers = live?.peers ?? [];
  return (
    <article className={BOX} aria-label={`Session ${session.name}`}>
      <div className="flex items-start gap-1.5">
        <div className="min-w-0 flex-1">
          <b className="block overflow-hidden text-[12.5px] text-ellipsis whitespace-nowrap">{session.name}</b>
          <span className="text-tiny text-ink-500">
            ports {session.port} and {session.port + 1}, {REACH_WORDS[session.reach]}
          </span>
        </div>
        <IconButton label={`Settings of ${session.name}`} onClick={() => setOpen("settings")}>
          <Settings2 size={14} aria-hidden />
        </IconButton>
        <IconButton
          label={`Remove ${session.name}`}
          onClick={() => void actions.edit({ kind: "remove-part", list: "sessions", id: session.id })}
        >
          <Trash2 size={13} aria-hidden />
        </IconButton>
      </div>
      {live && live.port.state !== "open" ? (
        <StateMark
          shape={live.port.state === "failed" ? "struck-ring" : "broken-ring"}
          tone={live.port.state === "failed" ? "alert" : "care"}
        >
          {troubleWords(live.port.trouble) || "opening"}
        </StateMark>
      ) : null}
      {peers.length === 0 ? <span className="text-ink-500">Nobody is here yet.</span> : null}
      <ul className="grid gap-1.5">
        {peers.map((p) => (
          <Peer
            key={`${p.host} ${p.port}`}
            peer={p}
            onLetIn={() => void put({ allowed: [...new Set([...session.allowed, p.name])] })}
            onRefuse={() => actions.send({ kind: "refuse-peer", session: session.id, host: p.host, port: p.port })}
            onStop={() => void put({ invites: session.invites.filter((a) => a.host !== p.host || a.port !== p.port) })}
            isInvited={session.invites.some((a) => a.host === p.host && a.port === p.port)}
          />
        ))}
      </ul>
      <Button size="small" className="justify-self-start" onClick={() => setOpen("invite")}>
        Invite
      </Button>
      {open === "settings" ? (
        <SessionDialog
          session={session}
          title={`Session ${session.name}`}
          submit="Use this"
          onOpenChange={() => setOpen(null)}
          onSubmit={put}
        />
      ) : null}
      {open === "invite" ? (
        <InviteDialog
          session={session}
          onOpenChange={() => setOpen(null)}
          onInvite={(address) => put({ invites: [...session.invites, address] })}
        />
      ) : null}
    </article>
  );
}

interface PeerProps {
  peer: PeerLive;
  isInvited: boolean;
  onLetIn(): void;
  onRefuse(): void;
  onStop(): void;
}

function Peer({ peer, isInvited, onLetIn, onRefuse, onStop }: PeerProps) {
  const where = `${peer.host}:${peer.port}`;
  return (
    <li className="grid gap-1 rounded-md bg-velvet-950 px-2 py-1.5" data-peer={peer.state}>
      <div className="flex items-center gap-1.5">
        <span className="min-w-0 flex-1 overflow-hidden text-ellipsis whitespace-nowrap" title={where}>
          {peer.name || where}
        </span>
        {isInvited ? (
          <IconButton label={`Stop inviting ${peer.name || where}`} onClick={onStop}>
            <X size={13} aria-hidden />
          </IconButton>
        ) : null}
      </div>
      <PeerMark peer={peer} />
      {peer.state === "connected" && peer.isUnanswered ? (
        <span className="text-tiny text-ink-500">
          it does not say what arrives: only what was lost in the last two seconds is made up for
        </span>
      ) : null}
      {peer.state === "connected" && peer.lost > 0 ? (
        <span className="text-tiny text-care">
          {peer.lost === 1 ? "1 packet was" : `${peer.lost} packets were`} lost on the way and made up for
        </span>
      ) : null}
      {peer.state === "asking" || (peer.state === "refused" && !peer.isOurs) ? (
        <div className="flex gap-1.5">
          <Button size="small" look={peer.state === "asking" ? "primary" : "plain"} onClick={onLetIn}>
            Let it in
          </Button>
          {peer.state === "asking" ? (
            <Button size="small" onClick={onRefuse}>
              Refuse
            </Button>
          ) : null}
        </div>
      ) : null}
    </li>
  );
}

function PeerMark({ peer }: { peer: PeerLive }) {
  switch (peer.state) {
    case "connected":
      return (
        <StateMark shape="tick" tone="good">
          connected{peer.latencyMs >= 0 ? `, ${peer.latencyMs.toFixed(1)} ms` : ""}
        </StateMark>
      );
    case "asking":
      return (
        <StateMark shape="dot" tone="care">
          asks to join
        </StateMark>
      );
    case "refused":
      return (
        <StateMark shape="struck-ring" tone="alert">
          {peer.isOurs ? "it refused us" : "was refused"}
        </StateMark>
      );
    case "unknown":
      return (
        <StateMark shape="struck-ring" tone="alert">
          no computer of that name
        </StateMark>
      );
    case "ended":
      return (
        <StateMark shape="broken-ring" tone="quiet">
          left
        </StateMark>
      );
    case "silent":
      return (
        <StateMark shape="broken-ring" tone="alert">
          silent
        </StateMark>
      );
    case "inviting":
    case "accepted":
      return (
        <StateMark shape="broken-ring" tone="care">
          {peer.state === "inviting" ? "invited, no answer yet" : "joining"}
        </StateMark>
      );
    default:
      return peer.state satisfies never;
  }
}
