/** What Connect looks for on the network while it is open. It is remembered: who wants it once wants it the next time too. */
import { useEffect, useState } from "react";
import { useActions } from "../live/actions.ts";
import { useLive, usePage } from "../live/store.ts";

export interface LookedFor {
  readonly universes: boolean;
  /** The UDP port at which anybody is heard; null = none. */
  readonly port: number | null;
}

const KEY = "velvet-hinge.look";
const NOTHING: LookedFor = { universes: false, port: null };

export interface Looking {
  readonly wanted: LookedFor;
  want(change: Partial<LookedFor>): void;
}

export function useLooking(): Looking {
  const { send } = useActions();
  const isOpen = usePage((s) => s.connection === "open");
  const mayEdit = usePage((s) => s.who.role === "edit");
  const hasLooked = useLive((l) => l.computerMidi.state !== "not-looked");
  const [wanted, setWanted] = useState(read);
  const { universes, port } = wanted;
  useEffect(() => {
    if (!isOpen || !mayEdit) return;
    send({ kind: "look", universes, ports: port === null ? [] : [port] });
    return () => send({ kind: "look", universes: false, ports: [] });
  }, [send, isOpen, mayEdit, universes, port]);
  useEffect(() => {
    // Devices of the computer show themselves; nothing of them is opened before somebody looks.
    if (isOpen && mayEdit && !hasLooked) send({ kind: "look-for-midi" });
  }, [send, isOpen, mayEdit, hasLooked]);
  return {
    wanted,
    want: (change) => {
      const next = { ...wanted, ...change };
      setWanted(next);
      try {
        localStorage.setItem(KEY, JSON.stringify(next));
      } catch {
        // There is no room: it is a help and no more.
      }
    },
  };
}

function read(): LookedFor {
  try {
    const { universes, port } = JSON.parse(localStorage.getItem(KEY) ?? "{}") as Partial<LookedFor>;
    return { universes: universes === true, port: isPort(port) ? port : null };
  } catch {
    return NOTHING; // a browser that keeps nothing, or what another program wrote there
  }
}

export function isPort(port: unknown): port is number {
  return typeof port === "number" && Number.isInteger(port) && port >= 1 && port <= 65_535;
}
