/** The worker that keeps the list of traffic: it filters and counts, so that the page only draws what is seen. */
import { decodeTrafficFrame } from "../../core/live/traffic-frame.ts";
import type { TrafficNames } from "../../core/trace/traffic-names.ts";
import { NO_FILTER, TrafficStore } from "../../core/trace/traffic-store.ts";
import type { FromWorker, ToWorker } from "./traffic-messages.ts";

/** The page is told at most this often, in ms. */
const TELL_EVERY_MS = 100;

let store = new TrafficStore();
let log = 0;
let filter = NO_FILTER;
let from = 0;
let count = 40;
let isDue = false;
/** When the chart was told last: it has a place for each second, not for each batch. */
let chartedAtS = -1;

function tell(): void {
  isDue = false;
  const { kept, matched, waiting } = store;
  const second = Math.floor(performance.now() / 1000);
  const rates = second === chartedAtS ? {} : { rates: store.rates() };
  chartedAtS = second;
  say({ kind: "list", kept, matched, waiting, from, rows: store.window(from, count), ...rates });
}

function say(message: FromWorker): void {
  postMessage(message);
}

function frame(bytes: ArrayBuffer): void {
  const decoded = decodeTrafficFrame(bytes);
  if (!decoded) return;
  const { head, rows } = decoded;
  if (head.log !== log) {
    // The server was started anew: its rows count from 0 again.
    log = head.log;
    store = new TrafficStore();
    store.setFilter(filter);
  }
  if (head.names) store.setNames(head.load, head.names as TrafficNames);
  if (head.refused) store.appendRefused(head.first, head.refused);
  else store.append(head.first, head.load, rows);
}

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
      tell();
      return;
    case "hold":
      store.hold(data.on);
      tell();
      return;
    case "window":
      from = data.from;
      count = data.count;
      tell();
      return;
    case "all":
      say({ kind: "all", rows: store.all() });
      return;
    default:
      data satisfies never;
  }
});
