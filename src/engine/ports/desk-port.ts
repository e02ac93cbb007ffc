/** The port to a desk that has a network address: what its kind speaks, over what this desk was set to. */
import { carrierOf, type DeskProfile } from "../../core/show/desk-profile.ts";
import type { Desk } from "../../core/show/show.ts";
import type { Framing } from "../../core/stream/framing.ts";
import { LengthFraming } from "../../core/stream/length-framing.ts";
import { LineFraming } from "../../core/stream/line-framing.ts";
import { SlipFraming } from "../../core/stream/slip-framing.ts";
import { listenAddressFor, type Port, type PortEvents } from "./port.ts";
import { TcpPort } from "./tcp.ts";
import { UdpPort } from "./udp.ts";

export function deskPort(desk: Desk, profile: DeskProfile, events: PortEvents): Port {
  const { host, port, listenPort } = desk;
  const { kind, lineEnd = "lf" } = profile.wire;
  const lines = kind === "line-tcp" ? new LineFraming(lineEnd) : null;
  const carrier = carrierOf(profile, desk.over);
  switch (carrier) {
    case "udp": {
      const listen = { host: listenAddressFor(host), port: listenPort };
      return new UdpPort({ peer: { host, port }, listen, ...(lines ? { lines } : {}) }, events);
    }
    case "tcp":
    case "tcp-slip": {
      const framing: Framing = lines ?? (carrier === "tcp" ? new LengthFraming() : new SlipFraming());
      return new TcpPort({ host, port }, framing, events);
    }
    default:
      return carrier satisfies never;
  }
}
