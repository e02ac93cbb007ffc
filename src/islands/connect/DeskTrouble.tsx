import { useShallow } from "zustand/react/shallow";
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import type { Desk } from "../../core/format/show.ts";
import { CARRIERS, carrierOf } from "../../core/format/wires.ts";
import { troubleHint, troubleWords } from "../../words/troubles.ts";
import { otherEnd } from "../../words/wires.ts";
import { useLive } from "../live/store.ts";

/** Why a desk does not answer, and what to do about it. */
export function DeskTrouble({ desk, profile }: { desk: Desk; profile: DeskProfile }) {
  const { health, state, trouble } = useLive(
    useShallow((l) => {
      const live = l.desks[desk.id];
      return { health: live?.health, ...live?.port };
    }),
  );
  const carrier = carrierOf(profile, desk.over);
  if (health !== "refusing" && trouble && state !== "open") {
    const isOurs = state === "failed" && carrier !== null && CARRIERS[carrier].isHeardOn;
    return (
      <Tip head={isOurs ? "Our own port did not open:" : "No connection:"}>
        {troubleWords(trouble)}. {troubleHint(trouble)} It is tried again by itself.
      </Tip>
    );
  }
  if (health === "refusing") return <Refusing desk={desk} end={otherEnd(carrier)} />;
  if (health !== "silent") return null;
  return (
    <Tip head="It gets messages and says nothing." checks={profile.wire.checkAtDesk}>
      The address exists, nobody refuses. Check at the desk:
    </Tip>
  );
}

function Refusing({ desk: { host, port }, end }: { desk: Desk; end: "broker" | "desk" }) {
  const checks = {
    broker: ["is the broker running?", `is ${port} the port it listens on?`, `is ${host} the computer it runs on?`],
    desk: [
      "is the desk running, and is its remote control switched on?",
      `is ${port} the port it listens on?`,
      `is ${host} the desk, and not another computer?`,
    ],
  }[end];
  return (
    <Tip head={end === "broker" ? "No broker listens there." : "Nobody listens there."} checks={checks}>
      {host} is on the network and refuses port {port}.
    </Tip>
  );
}

function Tip({ head, checks, children }: { head: string; checks?: readonly string[]; children: React.ReactNode }) {
  return (
    <div role="alert" className="rounded-lg bg-alert-ground px-3 py-2.5 text-[12.5px] leading-[1.45] text-alert-ink">
      <b className="text-bright">{head}</b> {children}
      {checks ? (
        <ol className="mt-1 ml-4 list-decimal">
          {checks.map((check) => (
            <li key={check}>{check}</li>
          ))}
        </ol>
      ) : null}
    </div>
  );
}
