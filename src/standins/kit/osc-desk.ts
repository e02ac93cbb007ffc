/** What stand-in desks that speak OSC, over UDP or TCP, do alike: they carry out, tell everybody who listens, and answer. */
import type { RemoteInfo } from "node:dgram";
import { Faults } from "./faults.ts";
import { runStandIn, type StandInParts, type StandInPorts } from "./run.ts";
import { TcpDoor } from "./tcp-door.ts";
import { UdpWire, type Wire } from "./wire.ts";

/** How long a subscription holds without being renewed, in ms. */
const SUBSCRIPTION_MS = 10_000;

/** What one message asks for, in whatever words the desk's own protocol has for it. */
export type OscRequest<Command> =
  | { kind: "command"; command: Command }
  | { kind: "ask" | "listen" | "leave" }
  /** It asks for one thing, by what stands after the first part of its address, as in what is told. */
  | { kind: "ask-one"; what: string }
  | { kind: "pulse"; number: number }
  | { kind: "unknown" };

export interface OscDesk<Command, Change> extends Pick<StandInParts, "name" | "page" | "state" | "reset"> {
  /** Null where the command is out of range. */
  act(command: Command): readonly Change[] | null;
  /** A command of its page; null = it is none. */
  readCommand(data: Record<string, unknown>): Command | null;
  /** What it says when it is to say what nobody asked for. */
  readonly flooded: Change;
  /** Null where the datagram is not OSC. */
  readRequests(bytes: Uint8Array): OscRequest<Command>[] | null;
  tell(change: Change): Uint8Array;
  wholeState(): Uint8Array[];
  /** One thing by its address; null where it has none of that name. */
  oneState?(what: string): Uint8Array | null;
  pulseBack(number: number): Uint8Array;
}

export function runOscDesk<Command, Change>(
  desk: OscDesk<Command, Change>,
  ports: StandInPorts,
): { wire: UdpWire; changed(): void } {
  const counted = { requests: 0, unknown: 0, "out of range": 0, "not OSC": 0 };
  const faults = new Faults();
  const wire = new UdpWire(ports.port, faults, (bytes, from) => {
    const requests = desk.readRequests(bytes);
    if (requests) for (const request of requests) answer(request, from);
    else counted["not OSC"]++;
  });
  const door = new TcpDoor(ports.port);
  const both: Wire = {
    async open() {
      await wire.open();
      await door.open();
    },
    async close() {
      await door.close();
      await wire.close();
    },
    get listeners() {
      return wire.listeners;
    },
    forget: () => wire.forget(),
  };
  const { changed } = runStandIn(
    {
      name: desk.name,
      page: desk.page,
      wire: both,
      faults,
      state: () => ({ ...desk.state(), counted }),
      act(data) {
        const command = desk.readCommand(data);
        return command !== null && carryOut(command);
      },
      reset: desk.reset,
      flood: () => wire.publish(desk.tell(desk.flooded)),
    },
    ports,
  );

  function carryOut(command: Command): boolean {
    const changes = desk.act(command);
    if (!changes) {
      counted["out of range"]++;
      return false;
    }
    for (const change of changes) wire.publish(desk.tell(change));
    changed();
    return true;
  }

  function answer(request: OscRequest<Command>, from: RemoteInfo): void {
    counted.requests++;
    switch (request.kind) {
      case "command":
        carryOut(request.command);
        return;
      case "ask":
        for (const bytes of desk.wholeState()) wire.send(bytes, from.port, from.address);
        return;
      case "ask-one": {
        const bytes = desk.oneState?.(request.what) ?? null;
        if (bytes) wire.send(bytes, from.port, from.address);
        else counted.unknown++;
        return;
      }
      case "listen":
        wire.subscribe(from, SUBSCRIPTION_MS);
        changed();
        return;
      case "leave":
        wire.unsubscribe(from);
        changed();
        return;
      case "pulse":
        wire.send(desk.pulseBack(request.number), from.port, from.address);
        return;
      case "unknown":
        counted.unknown++;
        return;
      default:
        request satisfies never;
    }
  }

  return { wire, changed };
}
