import { useShallow } from "zustand/react/shallow";
import type { DeskLive } from "../../core/live/protocol.ts";
import { useLive, usePage } from "../live/store.ts";
import { NotKnown, StateMark, seconds } from "./StateMark.tsx";

const MARKS = {
  answering: { shape: "tick", tone: "good" },
  inside: { shape: "tick", tone: "good" },
  silent: { shape: "broken-ring", tone: "alert" },
  refusing: { shape: "struck-ring", tone: "alert" },
  waiting: { shape: "broken-ring", tone: "care" },
} as const;

/** A desk's health in a word, with what matters about it. It is drawn again when the words change, not with every message. */
export function DeskHealth({ id }: { id: string }) {
  const { health, words } = useLive(
    useShallow((l) => {
      const desk = l.desks[id];
      const isAsked = l.compiled.desks.find((d) => d.id === id)?.profile.heartbeat !== undefined;
      const health = desk?.health ?? "waiting";
      return { health, words: health === "waiting" && !isAsked ? "not heard yet" : healthWords(desk, l.atMs) };
    }),
  );
  const isLost = usePage((s) => s.lostAtMs !== null);
  if (isLost) return <NotKnown />;
  return <StateMark {...MARKS[health]}>{words}</StateMark>;
}

/** `nowMs`: by the clock of the engine, as the times of the desk are. */
function healthWords(desk: DeskLive | undefined, nowMs: number): string {
  switch (desk?.health) {
    case "answering":
      return desk.roundTripMs >= 0 ? `answering, ${Math.max(1, Math.round(desk.roundTripMs))} ms` : "answering";
    case "silent":
      return `silent for ${seconds(nowMs - (desk.heardAtMs > 0 ? desk.heardAtMs : desk.sinceMs))}`;
    case "refusing":
      return "refusing";
    case "inside":
      return "here";
    default:
      return "waiting for an answer";
  }
}
