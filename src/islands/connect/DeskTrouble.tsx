import { useShallow } from "zustand/react/shallow";
import { NOT_LET_IN } from "../../core/live/protocol.ts";
import { type Carrier, carrierOf, type DeskProfile } from "../../core/show/desk-profile.ts";
import type { Desk } from "../../core/show/show.ts";
import { useLive } from "../live/store.ts";
import { isHeardOn } from "./AddressFields.tsx";

/** Why a desk does not answer, and what to do about it. */
export function DeskTrouble({ desk, profile }: { desk: Desk; profile: DeskProfile }) {
  const { health, state, detail } = useLive(
    useShallow((l) => {
      const live = l.desks[desk.id];
      return { health: live?.health, ...live?.port };
    }),
  );
  const carrier = carrierOf(profile, desk.over);
  if (state === "failed" && health !== "refusing" && isHeardOn(carrier))
    return <Tip head="Our own port did not open:">{detail}. Choose another port to listen on.</Tip>;
  if ((state === "failed" && health !== "refusing") || (state === "waiting" && detail))
    return (
      <Tip head="No connection:">
        {detail}. It is tried again by itself{detail === NOT_LET_IN ? "; “Change address” has both" : ""}.
      </Tip>
    );
  if (health === "refusing") return <Refusing desk={desk} carrier={carrier} />;
  if (health !== "silent") return null;
  return (
    <Tip head="It gets messages and says nothing." checks={profile.wire.checkAtDesk}>
      The address exists, nobody refuses. Check at the desk:
    </Tip>
  );
}

function Refusing({ desk: { host, port }, carrier }: { desk: Desk; carrier: Carrier }) {
  const checks =
    carrier === "mqtt"
      ? ["is the broker running?", `is ${port} the port it listens on?`, `is ${host} the computer it runs on?`]
      : [
          "is the desk running, and is its remote control switched on?",
          `is ${port} the port it listens on?`,
          `is ${host} the desk, and not another computer?`,
        ];
  return (
    <Tip head={carrier === "mqtt" ? "No broker listens there." : "Nobody listens there."} checks={checks}>
      {host} is on the network and refuses port {port}.
    </Tip>
  );
}

function Tip({ head, checks, children }: { head: string; checks?: readonly string[]; children: React.ReactNode }) {
  return (
    <div role="alert" className="rounded-lg bg-alert-ground px-3 py-2.5 text-[12.5px] leading-[1.45] text-alert-ink">
      <b className="text-white">{head}</b> {children}
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
