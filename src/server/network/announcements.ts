/** MIDI sessions announced and found on the network by mDNS (RFC 6762, 6763). Without sessions nothing is opened. */
import type { EventEmitter } from "node:events";
import { Bonjour, type Browser, type Service } from "bonjour-service";
import type { NetworkSession } from "../../core/format/show.ts";
import type { FoundPeer } from "../../core/live/protocol.ts";

/** The registered type of service of MIDI sessions. */
const SERVICE = { type: "apple-midi", protocol: "udp" } as const;
/** How often others are asked whether they are there, in ms. */
const ASK_EVERY_MS = 15_000;
const LOOPBACK = "127.0.0.1";

interface Open {
  readonly reach: NetworkSession["reach"];
  readonly bonjour: Bonjour;
  readonly browser: Browser;
  readonly asking: NodeJS.Timeout;
}

export class Announcements {
  readonly #found: (peers: FoundPeer[]) => void;
  readonly #trouble: (reason: string) => void;
  #open: Open | null = null;
  #published = "";
  #own: readonly NetworkSession[] = [];
  #told = "[]";

  /** `found` is told of every change; `trouble`, why mDNS does not work here, where it does not. */
  constructor(found: (peers: FoundPeer[]) => void, trouble: (reason: string) => void) {
    this.#found = found;
    this.#trouble = trouble;
  }

  /** The sessions of the show: those that are to be announced are, under the names that they have. */
  set(sessions: readonly NetworkSession[]): void {
    this.#own = sessions;
    if (sessions.length === 0) {
      this.#close();
      return;
    }
    const reach = sessions.some((s) => s.reach === "network") ? "network" : "this-computer";
    if (this.#open?.reach !== reach) {
      this.#close();
      this.#start(reach);
    }
    const wanted = sessions.filter((s) => s.announced && s.reach === reach);
    const key = JSON.stringify(wanted.map((s) => [s.name, s.port]));
    if (key === this.#published) return;
    this.#published = key;
    const publish = () => {
      for (const { name, port } of wanted) this.#open?.bonjour.publish({ ...SERVICE, name, port, probe: false });
    };
    this.#open?.bonjour.unpublishAll(publish);
    this.#tell();
  }

  close(): void {
    this.#close();
  }

  #start(reach: NetworkSession["reach"]): void {
    // What is for this computer only is told to this computer only.
    // (These options are not in the library's types: it hands them on to its multicast socket.)
    const options: object = reach === "network" ? {} : { interface: LOOPBACK, bind: "0.0.0.0" };
    const bonjour = new Bonjour(options, (error: Error) => this.#trouble(error.message));
    // The library leaves errors of its socket to whoever listens there; nobody would, and the server would stop.
    const { mdns } = (bonjour as unknown as { server: { mdns: EventEmitter } }).server;
    mdns.on("error", (error: Error) => this.#trouble(error.message));
    const browser = bonjour.find(SERVICE);
    for (const event of ["up", "down", "srv-update"] as const) browser.on(event, () => this.#tell());
    const asking = setInterval(() => {
      browser.expire();
      browser.update();
    }, ASK_EVERY_MS);
    this.#open = { reach, bonjour, browser, asking };
  }

  #tell(): void {
    const services = this.#open?.browser.services ?? [];
    const peers = services
      .map((s): FoundPeer => ({ name: s.name, host: addressOf(s), port: s.port }))
      .filter((p) => p.host !== "" && !this.#own.some((s) => s.name === p.name && s.port === p.port))
      .sort((a, b) => a.name.localeCompare(b.name));
    const told = JSON.stringify(peers);
    if (told === this.#told) return;
    this.#told = told;
    this.#found(peers);
  }

  #close(): void {
    const open = this.#open;
    if (!open) return;
    this.#open = null;
    this.#published = "";
    clearInterval(open.asking);
    open.browser.stop();
    open.bonjour.unpublishAll(() => open.bonjour.destroy());
    this.#tell();
  }
}

/** Where its word came from: that way leads back to it, whatever other addresses it has. */
function addressOf({ addresses, referer }: Service): string {
  return referer?.family === "IPv4" ? referer.address : (addresses?.find((a) => /^\d+\.\d+\.\d+\.\d+$/.test(a)) ?? "");
}
