/** Every transport, with any address and any answer of the system: a port fails, and nothing else does. */
import { Socket as UdpSocket } from "node:dgram";
import { Server, Socket as TcpSocket } from "node:net";
import fc from "fast-check";
import { afterEach, beforeEach, describe, expect, test, vi } from "vitest";
import { library } from "../../../tests/rig/shows.ts";
import type { DeskProfile } from "../../core/format/desk-profile.ts";
import type { Desk } from "../../core/format/show.ts";
import { type Carrier, WIRES } from "../../core/format/wires.ts";
import type { PortState } from "../../core/live/protocol.ts";
import { deskPort } from "./desk-port.ts";
import type { Port } from "./port.ts";

const ADDRESSES = [
  "no-such-desk.invalid",
  "999.999.999.999",
  "::1",
  "fe80::1%nowhere",
  "[::1]",
  "240.0.0.1",
  "224.0.0.77",
  "127.0.0.1",
  "0.0.0.0",
  " ",
  "-",
  "127.0.0.1\0",
  `${"a".repeat(300)}.invalid`,
  "ünï.invalid",
];
const ERRORS = ["EACCES", "EADDRINUSE", "EADDRNOTAVAIL", "ENETUNREACH", "EMFILE", "ENOBUFS", "EPERM", "ENOTFOUND"];

let faults: unknown[];
const note = (error: unknown) => void faults.push(error);
const open: Port[] = [];

beforeEach(() => {
  faults = [];
  process.on("uncaughtException", note);
  process.on("unhandledRejection", note);
});
afterEach(async () => {
  vi.restoreAllMocks();
  await Promise.all(open.splice(0).map((p) => p.close()));
  await new Promise((resolve) => setImmediate(resolve)); // what a socket tells as it closes
  process.off("uncaughtException", note);
  process.off("unhandledRejection", note);
});

/** A kind of desk for each carrier that there is. */
const CARRIED: { carrier: Carrier; profile: DeskProfile }[] = Object.entries(WIRES).flatMap(([kind, wire]) => {
  const profile = library.desks.find((p) => p.wire.kind === kind);
  return profile ? wire.carriers.map((carrier) => ({ carrier, profile })) : [];
});

/** Opens a port and answers what became of it first, beyond waiting. */
function outcome(carrier: Carrier, profile: DeskProfile, host: string, port = 9): Promise<PortState> {
  return new Promise((resolve) => {
    const desk = { id: "d", name: "D", profile: profile.id, host, port, listenPort: 0, over: carrier } as Desk;
    const made = deskPort(desk, profile, {
      message: () => {},
      refused: () => {},
      state: (state) => {
        if (state.state !== "waiting" || state.trouble) resolve(state);
      },
    })!;
    open.push(made);
    made.open();
    made.send(Uint8Array.of(1, 2, 3, 4), 0, 4); // hands do not wait until it is open
  });
}

describe("a port that cannot be opened", () => {
  test("is there for every carrier", () => {
    expect(new Set(CARRIED.map((c) => c.carrier)).size).toBeGreaterThanOrEqual(6);
  });

  test.each(CARRIED)(
    "by $carrier fails or waits at any address, with its reason, and nothing else fails",
    async (c) => {
      const states = await Promise.all(
        ADDRESSES.map((host) => Promise.race([outcome(c.carrier, c.profile, host), after(1500)])),
      );
      expect(faults).toEqual([]);
      // What the system still looks for is waiting; what it knows not to be there says so.
      for (const state of states) if (state?.state === "failed") expect(state.trouble).toBeDefined();
    },
  );

  test("by UDP at a name that nobody knows is failed with its reason", async () => {
    const { profile } = CARRIED.find((c) => c.carrier === "udp")!;
    expect(await outcome("udp", profile, "no-such-desk.invalid")).toEqual({
      state: "failed",
      trouble: { code: "unknown-name" },
    });
    expect(faults).toEqual([]);
  });

  test("by UDP on this computer's other address is open", async () => {
    const { profile } = CARRIED.find((c) => c.carrier === "udp")!;
    expect(await outcome("udp", profile, "::1")).toEqual({ state: "open" });
  });
});

describe("whatever the system answers", () => {
  const error = (code: string) => Object.assign(new Error(`${code} of a test`), { code });
  /** Makes one call of the system fail: at once, by its callback or by an event. */
  function breakCall(call: string, code: string, way: "thrown" | "told"): void {
    const [target, name] = call.split(".") as [string, "connect"];
    const proto = { udp: UdpSocket, tcp: TcpSocket, server: Server }[target]!.prototype as unknown as {
      connect(...args: unknown[]): unknown;
    };
    vi.spyOn(proto, name).mockImplementation(function (this: { emit(e: string, x: Error): void }, ...args: unknown[]) {
      if (way === "thrown") throw error(code);
      const told = args.findLast((a) => typeof a === "function") as ((e: Error) => void) | undefined;
      process.nextTick(() => {
        if (told && target === "udp" && name !== ("bind" as string)) told(error(code));
        else this.emit("error", error(code));
      });
      return this;
    });
  }

  test("no port's trouble is anybody else's", async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.constantFrom(...CARRIED.map((c) => c.carrier)),
        fc.constantFrom("udp.bind", "udp.connect", "udp.send", "tcp.connect", "server.listen"),
        fc.constantFrom(...ERRORS),
        fc.constantFrom("thrown" as const, "told" as const),
        async (carrier, call, code, way) => {
          const { profile } = CARRIED.find((c) => c.carrier === carrier)!;
          breakCall(call, code, way);
          await Promise.race([outcome(carrier, profile, "127.0.0.1"), after(30)]);
          vi.restoreAllMocks();
          await Promise.all(open.splice(0).map((p) => p.close()));
          expect(faults).toEqual([]);
        },
      ),
      { numRuns: 120 },
    );
  });
});

/** A limit, not a wait: what has not told anything by then is still looking. */
function after(ms: number): Promise<undefined> {
  return new Promise((resolve) => setTimeout(() => resolve(undefined), ms).unref());
}
