import { useEffect, useRef, useState } from "react";
import type { CurvePoints } from "./curve-points.ts";

interface CurveDraft {
  readonly shown: CurvePoints | null;
  /** Shows these, and changes nothing; null = as they are. */
  show(points: CurvePoints | null): void;
  commit(points: CurvePoints): Promise<void>;
}

/**
 * Points as hands have them, until the show has them too: one that is let go stays where it is, and an arrow that is held
 * down goes on from there. `save` answers false where they were refused.
 */
export function useCurveDraft(points: CurvePoints | null, save: (points: CurvePoints) => Promise<boolean>): CurveDraft {
  const [draft, setDraft] = useState<CurvePoints | null>(null);
  const onTheWay = useRef(0);
  const newest = useRef(points);
  useEffect(() => {
    newest.current = points;
    if (onTheWay.current === 0) setDraft(null);
  }, [points]);
  const commit = async (next: CurvePoints) => {
    const before = newest.current;
    onTheWay.current++;
    setDraft(next);
    const isSaved = await save(next);
    onTheWay.current--;
    // The show may come before the answer, or after it.
    if (onTheWay.current === 0 && (!isSaved || newest.current !== before)) setDraft(null);
  };
  return { shown: points && (draft ?? points), show: setDraft, commit };
}
