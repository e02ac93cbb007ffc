import { useMemo } from "react";
import { adviceFor } from "../../core/mapping/advice.ts";
import { adviceWords } from "../../words/advice.ts";
import { useLive } from "../live/store.ts";

/** What is to be said about the ports of a surface or a desk, before it goes wrong. */
export function PortAdvice({ id }: { id: string }) {
  const compiled = useLive((l) => l.compiled);
  const advice = useMemo(
    () => adviceFor(compiled).filter((a) => "port" in a.about && a.about.port === id),
    [compiled, id],
  );
  return advice.map((a) => (
    <p key={adviceWords(a)} role="alert" className="rounded-lg bg-care-ground px-3 py-2 text-[12.5px] text-care">
      {adviceWords(a)}
    </p>
  ));
}
