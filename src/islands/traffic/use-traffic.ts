/** The list of traffic as the panel sees it: a part of the rows out of the worker. */
import { dequal } from "dequal/lite";
import { startTransition, useEffect, useMemo, useRef, useState } from "react";
import type { Rate, TrafficFilter } from "../../core/trace/traffic-store.ts";
import type { PlainNames } from "../../words/traffic.ts";
import { useActions } from "../live/actions.ts";
import { plainNames } from "../live/row-names.ts";
import { usePageStore } from "../live/store.ts";
import type { Counts, FromWorker, Question, Questions, Rows, ToWorker } from "./traffic-messages.ts";

export interface TrafficCalls {
  window(from: number, count: number): void;
  /** The list is being scrolled: the chart and the numbers wait until it stands. */
  scrolled(): void;
  ask<Q extends Question>(question: Q, about: Questions[Q]["ask"]): Promise<Questions[Q]["answer"]>;
}

export interface TrafficList {
  readonly counts: Counts;
  readonly rows: Rows;
  readonly rates: readonly Rate[];
  readonly calls: TrafficCalls;
}

const NO_ROWS: Rows = { from: 0, rows: [] };
const NO_RATES: readonly Rate[] = [];
/** A list that was scrolled this long ago stands, in ms. */
const STANDS_AFTER_MS = 150;

/** `held`: rows that come are counted, and the list stays as it is. */
export function useTraffic(filter: TrafficFilter, held: boolean): TrafficList {
  const { watchTraffic } = useActions();
  const [counts, setCounts] = useState<Counts>({ kept: 0, matched: 0, waiting: 0 });
  const [rows, setRows] = useState(NO_ROWS);
  const [rates, setRates] = useState(NO_RATES);
  const worker = useRef<Worker | null>(null);
  const asked = useRef(new Map<number, (answer: never) => void>());
  const scrolledAtMs = useRef(Number.NEGATIVE_INFINITY);
  useEffect(() => {
    const own = new Worker(new URL("./traffic.worker.ts", import.meta.url), { type: "module" });
    worker.current = own;
    let waiting: { readonly counts: Counts; readonly rates: readonly Rate[] | null } | null = null;
    let timer: ReturnType<typeof setTimeout> | undefined;
    const showNumbers = () => {
      const leftMs = scrolledAtMs.current + STANDS_AFTER_MS - performance.now();
      clearTimeout(timer);
      if (leftMs > 0) {
        timer = setTimeout(showNumbers, leftMs);
        return;
      }
      if (!waiting) return;
      const { counts, rates } = waiting;
      waiting = null;
      setCounts(counts);
      // The chart takes its time: nothing waits for it.
      if (rates) startTransition(() => setRates(rates));
    };
    own.onmessage = ({ data }: MessageEvent<FromWorker>) => {
      if (data.kind === "answer") {
        asked.current.get(data.id)?.(data.answer as never);
        asked.current.delete(data.id);
        return;
      }
      waiting = { counts: data.counts, rates: data.rates ?? waiting?.rates ?? null };
      if (data.rows) {
        setRows(data.rows);
        setCounts(data.counts);
      }
      showNumbers();
    };
    const stop = watchTraffic((frame) => {
      const copy = frame.slice(0);
      own.postMessage({ kind: "frame", frame: copy } satisfies ToWorker, [copy]);
    }, true);
    return () => {
      stop();
      clearTimeout(timer);
      own.terminate();
      worker.current = null;
    };
  }, [watchTraffic]);
  const calls = useMemo(() => {
    let asks = 0;
    const say = (message: ToWorker) => worker.current?.postMessage(message);
    return {
      scrolled: () => {
        scrolledAtMs.current = performance.now();
      },
      window: (from, count) => say({ kind: "window", from, count }),
      ask: (question, about) =>
        new Promise((resolve) => {
          asked.current.set(++asks, resolve);
          say({ kind: "ask", id: asks, question, ...about } as ToWorker);
        }),
    } satisfies TrafficCalls as TrafficCalls;
  }, []);
  const isSearching = filter.text.trim() !== "";
  useNames(isSearching, worker);
  useEffect(() => {
    worker.current?.postMessage({ kind: "filter", filter } satisfies ToWorker);
  }, [filter]);
  useEffect(() => {
    worker.current?.postMessage({ kind: "hold", on: held } satisfies ToWorker);
  }, [held]);
  return { counts, rows, rates, calls };
}

/** How often names that changed are told to the worker while something is looked for, in ms. */
const NAMES_EVERY_MS = 1000;

/** While something is looked for, the worker has the names that rows are told with, as they are now. */
function useNames(isSearching: boolean, worker: { readonly current: Worker | null }): void {
  const store = usePageStore();
  useEffect(() => {
    if (!isSearching) return;
    let told: PlainNames | null = null;
    const tell = () => {
      const names = plainNames(store.getState().live);
      if (dequal(names, told)) return;
      told = names;
      worker.current?.postMessage({ kind: "names", names } satisfies ToWorker);
    };
    tell();
    const timer = setInterval(tell, NAMES_EVERY_MS);
    return () => clearInterval(timer);
  }, [isSearching, store, worker]);
}
