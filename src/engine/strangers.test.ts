import { describe, expect, test } from "vitest";
import { Stranger } from "../core/live/protocol.ts";
import { Strangers } from "./strangers.ts";

function strangers() {
  const clock = { ms: 0 };
  const known = new Strangers(() => clock.ms);
  const list = () => {
    clock.ms += 500;
    return known.list();
  };
  return { known, clock, list };
}
const osc = (text: string) => Uint8Array.from([...Buffer.from(text), 0, 0, 0, 0]);
const SENDER = { carrier: "udp", host: "10.0.7.31", port: 9000, listenPort: 9001 } as const;

describe("who is heard and used by nobody", () => {
  test("of a sender the newest message of each address is kept, and how many came", () => {
    const { known, list } = strangers();
    for (let v = 0; v < 100; v++) known.sender(SENDER, osc(`/fan/${v % 3}`));
    known.sender(SENDER, Uint8Array.from(Buffer.from("LEVEL 4")));
    const [one] = list();
    expect(one).toMatchObject({ kind: "sender", host: "10.0.7.31", in: 101 });
    const heard = one?.kind === "sender" ? one.heard.map((h) => Buffer.from(h, "hex").toString()) : [];
    expect(heard.map((h) => h.replaceAll("\0", ""))).toEqual(["/fan/1", "/fan/2", "/fan/0", "LEVEL 4"]);
  });

  test("it is told at most twice a second, and is the same list while nothing is new", () => {
    const { known, clock } = strangers();
    known.sender(SENDER, osc("/a"));
    const first = known.list();
    known.sender(SENDER, osc("/b"));
    clock.ms = 499;
    expect(known.list()).toBe(first);
    clock.ms = 500;
    const second = known.list();
    expect(second).not.toBe(first);
    clock.ms = 5000;
    expect(known.list()).toBe(second);
  });

  test("whoever is silent for long is forgotten, and a device when it is unplugged", () => {
    const { known, clock, list } = strangers();
    known.sender(SENDER, osc("/a"));
    known.device({ device: "Cliff", nth: 2, hasOutput: true }, Uint8Array.of(0x90, 36, 1), () => "41 00");
    expect(list()).toHaveLength(2);
    clock.ms += 60_001;
    expect(list()).toEqual([
      {
        kind: "computer-device",
        device: "Cliff",
        nth: 2,
        hasOutput: true,
        heard: ["902401"],
        identity: "41 00",
        in: 1,
      },
    ]);
    known.forgetDevice({ device: "Cliff", nth: 2 });
    expect(list()).toEqual([]);
  });

  test("whoever is used is one no longer", () => {
    const { known, list } = strangers();
    known.sender(SENDER, osc("/a"));
    known.sender({ ...SENDER, port: 9005 }, osc("/a"));
    known.forget((s) => s.kind === "sender" && s.port === 9000);
    expect(list()).toMatchObject([{ port: 9005 }]);
  });

  test("a port that cannot be had is said until it can", () => {
    const { known, list } = strangers();
    known.closed("art-net", 6454, { code: "port-in-use", port: 6454 });
    expect(list()).toEqual([
      { kind: "closed", what: "art-net", port: 6454, trouble: { code: "port-in-use", port: 6454 } },
    ]);
    known.closed("art-net", 6454, null);
    expect(list()).toEqual([]);
  });

  test("whatever comes, the list stays short, and is what pages take", () => {
    const { known, list } = strangers();
    let seed = 7;
    const random = (n: number) => {
      seed = (seed * 1_103_515_245 + 12_345) & 0x7fffffff;
      return seed % n;
    };
    for (let i = 0; i < 5000; i++) {
      const bytes = Uint8Array.from({ length: random(2000) }, () => random(256));
      known.sender({ ...SENDER, port: 1 + random(60_000) }, bytes);
      known.universe(
        { protocol: "art-net", reach: "network", universe: random(32_768), name: "x" },
        bytes.subarray(0, 512),
      );
    }
    const all = list();
    expect(all).toHaveLength(16);
    for (const one of all) expect(Stranger.safeParse(one).success).toBe(true);
  });
});
