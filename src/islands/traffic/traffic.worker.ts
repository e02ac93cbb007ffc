/** The worker that keeps the list of traffic: it filters and counts, so that the page only draws what is seen. */

import { takeOf } from "../../core/trace/take-of.ts";
import { decodeTrafficFrame } from "../../core/trace/traffic-frame.ts";
import type { TrafficNames } from "../../core/trace/traffic-names.ts";
import { NO_FILTER, TrafficStore } from "../../core/trace/traffic-store.ts";
import { fromPlain, searchWords } from "../../words/traffic.ts";
import type { FromWorker, Question, Questions, ToWorker } from "./traffic-messages.ts";

/** The page is told at most this often, in ms. */
const TELL_EVERY_MS = 100;

let names = fromPlain({ middleC: "C3", devices: {}, mappings: {} });
const newStore = () => new TrafficStore((entry, control) => searchWords(entry, control, names));
let store = newStore();
let log = 0;
let filter = NO_FILTER;
let from = 0;
let count = 40;
let isDue = false;
/** Whether the list is held, and the page has the part of it that it looks at. */
let isHeld = false;
let isShown = false;
/** When the chart was told last: it has a place for each second, not for each batch. */
let chartedAtS = -1;

function tell(): void {
  isDue = false;
  const { kept, matched, waiting } = store;
  const second = Math.floor(performance.now() / 1000);
  const rates = second === chartedAtS ? {} : { rates: store.rates() };
  chartedAtS = second;
  // A list that is held does not change under the page: only what waits is news.
  const rows = isHeld && isShown ? {} : { rows: { from, rows: store.window(from, count) } };
  isShown = true;
  say({ kind: "list", counts: { kept, matched, waiting }, ...rows, ...rates });
}

/** Tells at once, because the page did something. */
function tellAnew(): void {
  isShown = false;
  tell();
}

function say(message: FromWorker): void {
  postMessage(message);
}

function frame(bytes: ArrayBuffer): void {
  const decoded = decodeTrafficFrame(bytes);
  if (!decoded) return;
  const { head, rows, rests } = decoded;
  // The server was started anew, and its rows count from 0 again; or the history begins, behind rows that were on their way.
  if (head.log !== log || head.first < store.first) {
    log = head.log;
    store = newStore();
    store.setFilter(filter);
    store.hold(isHeld);
    isShown = false;
  }
  if (head.names) store.setNames(head.load, head.names as TrafficNames);
  if (head.refused) store.appendRefused(head.first, head.refused);
  else store.append(head.first, head.load, rows, rests);
}

const ANSWERS: { [Q in Question]: (ask: Questions[Q]["ask"]) => Questions[Q]["answer"] } = {
  rows: ({ only }) => store.all(only),
  take: ({ only, kinds }) => takeOf(store.all(only), kinds),
  between: (ask) => store.between(ask.from, ask.to),
};

addEventListener("message", ({ data }: MessageEvent<ToWorker>) => {
  switch (data.kind) {
    case "frame":
      frame(data.frame);
      if (!isDue) setTimeout(tell, TELL_EVERY_MS);
      isDue = true;
      return;
    case "filter":
      filter = data.filter;
      store.setFilter(filter);
      tellAnew();
      return;
    case "names":
      names = fromPlain(data.names);
      // Only where something is looked for do names decide what passes.
      if (filter.text.trim() !== "") store.setFilter(filter);
      tellAnew();
      return;
    case "hold":
      isHeld = data.on;
      store.hold(isHeld);
      tellAnew();
      return;
    case "window":
      from = data.from;
      count = data.count;
      tellAnew();
      return;
    case "ask":
      say({ kind: "answer", id: data.id, answer: ANSWERS[data.question](data as never) });
      return;
    default:
      data satisfies never;
  }
});
