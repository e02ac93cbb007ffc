/** Who speaks to one of our ports and is no desk of the show, on the leaf of the desks: each becomes one by one press. */
import { useState } from "react";
import { unknownDesk } from "../../core/desk/typed.ts";
import { HOUSE } from "../../core/format/givens.ts";
import { carrierOf } from "../../core/format/wires.ts";
import { describeOsc } from "../../words/osc.ts";
import { newId } from "../documents/new-ids.ts";
import { useActions } from "../live/actions.ts";
import { useLive } from "../live/store.ts";
import { More } from "./GhostCards.tsx";
import { GhostShell } from "./GhostShell.tsx";
import { type GhostSender, useGhosts } from "./ghosts.ts";
import { ANY_LINES, ANY_OSC, guessSender } from "./sender-guess.ts";

const SHOWN = 2;

export function GhostDesks() {
  const { ghosts, putAway } = useGhosts();
  const newest = ghosts[0]?.key;
  const senders = ghosts.flatMap(({ key, what }) => (what.kind === "sender" ? [{ key, sender: what.sender }] : []));
  return (
    <>
      {senders
        .slice(0, SHOWN)
        .toSorted((a, b) => a.key.localeCompare(b.key))
        .map(({ key, sender }) => {
          const common = { sender, isNewest: key === newest, onAway: () => putAway(key) };
          return sender.carrier === "udp" ? <SenderCard key={key} {...common} /> : <CallerCard key={key} {...common} />;
        })}
      <More count={senders.length - SHOWN} />
    </>
  );
}

interface CardProps {
  sender: GhostSender["sender"];
  isNewest: boolean;
  onAway(): void;
}

function SenderCard({ sender: { host, port, listenPort, heard }, ...common }: CardProps) {
  const actions = useActions();
  const profiles = useLive((l) => l.deskProfiles);
  const guess = guessSender(
    heard,
    [...profiles.values()].filter((p) => p.id !== HOUSE),
  );
  const [picked, setPicked] = useState<string | null>(null);
  const kind = picked ?? guess.kind;
  const { last } = guess;
  const use = () => {
    const any = kind === ANY_OSC ? "osc" : kind === ANY_LINES ? "lines" : null;
    const name = any ? `Desk at ${host}` : (profiles.get(kind)?.name ?? host);
    const profile = any && unknownDesk(newId("k"), `${name}, its kind`.slice(0, 80), any);
    const used = profile ?? profiles.get(kind);
    const desk = {
      id: newId("d"),
      name: name.slice(0, 80),
      profile: used?.id ?? kind,
      host,
      port,
      listenPort,
      // It came by UDP, also where its kind has another way by itself.
      ...(used && carrierOf(used) !== "udp" ? { over: "udp" as const } : {}),
    };
    const add = { kind: "add-desk", desk } as const;
    void actions.edit(
      profile ? { kind: "together", does: `add ${name}`, edits: [{ kind: "put-desk-profile", profile }, add] } : add,
    );
  };
  return (
    <GhostShell
      name={`${host}, port ${port}`}
      does={`speaks to port ${listenPort}`}
      heard={
        last
          ? `Heard ${last.wire === "osc" ? describeOsc(last.bytes) : new TextDecoder().decode(last.bytes).trim()}`
          : "Heard something that is neither OSC nor text"
      }
      kinds={{ value: kind, options: guess.options, onChange: setPicked }}
      onUse={use}
      {...common}
    />
  );
}

/** Where only one desk may call, and another does: perhaps it has a new address. */
function CallerCard({ sender: { host, listenPort }, ...common }: CardProps) {
  const actions = useActions();
  const desk = useLive((l) => l.show.desks.find((d) => !d.midi && d.listenPort === listenPort));
  if (!desk) return null;
  const { id, port, over, login } = desk;
  return (
    <GhostShell
      name={host}
      does={`calls at port ${listenPort}`}
      heard={`Only ${desk.name} may call there, from ${desk.host}.`}
      note={`Is it ${desk.name}?`}
      use="It is"
      onUse={() =>
        void actions.edit({
          kind: "set-desk-address",
          id,
          host,
          port,
          listenPort,
          ...(over ? { over } : {}),
          ...(login ? { login } : {}),
        })
      }
      {...common}
    />
  );
}
