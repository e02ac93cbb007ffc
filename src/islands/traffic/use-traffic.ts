/** The list of traffic as the panel sees it: a window of rows out of the worker. */
import { useEffect, useMemo, useRef, useState } from "react";
import type { TrafficEntry } from "../../core/live/protocol.ts";
import type { Rate, TrafficFilter } from "../../core/trace/traffic-store.ts";
import { useActions } from "../live/actions.ts";
import type { FromWorker, ToWorker } from "./traffic-messages.ts";

export interface TrafficList {
  readonly kept: number;
  readonly matched: number;
  readonly waiting: number;
  readonly from: number;
  readonly rows: readonly TrafficEntry[];
  readonly rates: readonly Rate[];
}

const EMPTY: TrafficList = { kept: 0, matched: 0, waiting: 0, from: 0, rows: [], rates: [] };

export interface TrafficHandle {
  readonly list: TrafficList;
  window(from: number, count: number): void;
  /** Everything that passes the filter, oldest first. */
  all(): Promise<readonly TrafficEntry[]>;
}

export function useTraffic(filter: TrafficFilter, held: boolean): TrafficHandle {
  const { watchTraffic } = useActions();
  const [list, setList] = useState(EMPTY);
  const worker = useRef<Worker | null>(null);
  const asked = useRef<((rows: readonly TrafficEntry[]) => void)[]>([]);
  useEffect(() => {
    const own = new Worker(new URL("./traffic.worker.ts", import.meta.url), { type: "module" });
    worker.current = own;
    own.onmessage = ({ data }: MessageEvent<FromWorker>) => {
      if (data.kind === "list") setList((before) => ({ ...data, rates: data.rates ?? before.rates }));
      else for (const answer of asked.current.splice(0)) answer(data.rows);
    };
    const stop = watchTraffic((frame) => {
      const copy = frame.slice(0);
      own.postMessage({ kind: "frame", frame: copy } satisfies ToWorker, [copy]);
    }, true);
    return () => {
      stop();
      own.terminate();
      worker.current = null;
    };
  }, [watchTraffic]);
  useEffect(() => {
    worker.current?.postMessage({ kind: "filter", filter } satisfies ToWorker);
  }, [filter]);
  useEffect(() => {
    worker.current?.postMessage({ kind: "hold", on: held } satisfies ToWorker);
  }, [held]);
  const calls = useMemo(
    () => ({
      window: (from: number, count: number) =>
        worker.current?.postMessage({ kind: "window", from, count } satisfies ToWorker),
      all: () =>
        new Promise<readonly TrafficEntry[]>((resolve) => {
          asked.current.push(resolve);
          worker.current?.postMessage({ kind: "all" } satisfies ToWorker);
        }),
    }),
    [],
  );
  return { list, ...calls };
}
