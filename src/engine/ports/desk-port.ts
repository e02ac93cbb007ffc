/** The port to a desk that has a network address: what its kind speaks, over what this desk was set to; null = it has none. */
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import type { Desk } from "../../core/format/show.ts";
import { carrierOf } from "../../core/format/wires.ts";
import type { Framing } from "../../core/stream/framing.ts";
import { LengthFraming } from "../../core/stream/length-framing.ts";
import { LineFraming } from "../../core/stream/line-framing.ts";
import { SlipFraming } from "../../core/stream/slip-framing.ts";
import { topicsOf } from "../../core/stream/topic-line.ts";
import { HttpPort } from "./http.ts";
import { MqttPort } from "./mqtt.ts";
import { listenAddressFor, type Port, type PortEvents } from "./port.ts";
import { TcpPort } from "./tcp.ts";
import { TcpServerPort } from "./tcp-server.ts";
import { UdpPort } from "./udp.ts";

/** How long an answer is waited for where the profile does not say, in ms. */
const HTTP_TIMEOUT_MS = 2000;

/** `password`: what it is signed in with, where the desk has a login. */
export function deskPort(desk: Desk, profile: DeskProfile, events: PortEvents, password = ""): Port | null {
  const { host, port, listenPort } = desk;
  const login = desk.login ? { login: { user: desk.login.user, password } } : {};
  const { kind, lineEnd = "lf", lineBytes } = profile.wire;
  const lines = kind === "lines" ? new LineFraming(lineEnd, lineBytes) : null;
  const carrier = carrierOf(profile, desk.over);
  switch (carrier) {
    case "udp": {
      const listen = { host: listenAddressFor(host), port: listenPort };
      return new UdpPort({ peer: { host, port }, listen, isShared: true, ...(lines ? { lines } : {}) }, events);
    }
    case "tcp":
    case "tcp-slip": {
      const framing: Framing = lines ?? (carrier === "tcp" ? new LengthFraming() : new SlipFraming());
      return new TcpPort({ host, port }, framing, events);
    }
    case "tcp-server":
      return new TcpServerPort(
        { host: listenAddressFor(host), port: listenPort, from: host },
        () => new LineFraming(lineEnd, lineBytes),
        events,
      );
    case "http": {
      const { headers = {}, timeoutMs = HTTP_TIMEOUT_MS } = profile.wire.http ?? {};
      return new HttpPort({ host, port, headers, timeoutMs, ...login }, events);
    }
    case "mqtt": {
      const { version = "3.1.1", will = "" } = profile.wire.mqtt ?? {};
      return new MqttPort({ host, port, version, will, topics: topicsOf(profile), ...login }, events);
    }
    case null:
      return null;
    default:
      return carrier satisfies never;
  }
}
