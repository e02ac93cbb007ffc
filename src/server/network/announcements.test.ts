import { createSocket } from "node:dgram";
import { once } from "node:events";
import fc from "fast-check";
import { afterEach, describe, expect, test, vi } from "vitest";
import type { NetworkSession } from "../../core/format/show.ts";
import type { FoundPeer } from "../../core/live/protocol.ts";
import { instanceName, type Message, numbered, SERVICE } from "../../core/mdns/messages.ts";
import { Announcements } from "./announcements.ts";
import { readMessage, writeMessage } from "./dns-bytes.ts";

/** Not that of mDNS: nobody else is to be met here. */
const PORT = 15_353;
const session = (name: string, port: number, more: Partial<NetworkSession> = {}): NetworkSession => ({
  id: "s",
  name,
  port,
  reach: "this-computer",
  admission: "everyone",
  allowed: [],
  invites: [],
  announced: true,
  ...more,
});

describe("sessions on the network of this computer", () => {
  const open: Announcements[] = [];
  afterEach(async () => {
    await Promise.all(open.splice(0).map((a) => a.close()));
  });
  function end() {
    const told = { found: [] as FoundPeer[], renames: [] as string[], troubles: [] as string[] };
    const announcements = new Announcements(
      {
        found: (peers) => {
          told.found = peers;
        },
        renamed: (from, to) => told.renames.push(`${from} -> ${to}`),
        trouble: (reason) => told.troubles.push(reason),
      },
      () => performance.now(),
      PORT,
    );
    open.push(announcements);
    return { announcements, told };
  }

  test("find each other by any name, never themselves; one that is left is gone at once; a taken name is changed", async () => {
    const [one, two] = [end(), end()];
    one.announcements.set([session("Quay v1.2", 5004)]);
    two.announcements.set([session("Bridge", 6004)]);
    await vi.waitFor(
      () => expect(two.told.found).toEqual([{ name: "Quay v1.2", host: "127.0.0.1", port: 5004 }]),
      8000,
    );
    await vi.waitFor(() => expect(one.told.found).toEqual([{ name: "Bridge", host: "127.0.0.1", port: 6004 }]), 8000);
    two.announcements.set([session("quay V1.2", 6004)]);
    await vi.waitFor(() => expect(two.told.renames).toEqual(["quay V1.2 -> quay V1.2 (2)"]), 8000);
    await vi.waitFor(() => expect(one.told.found.map((f) => f.name)).toEqual(["quay V1.2 (2)"]), 8000);
    expect(two.told.found.map((f) => f.name)).toEqual(["Quay v1.2"]);
    await one.announcements.close();
    await vi.waitFor(() => expect(two.told.found).toEqual([]), 8000);
    expect([one.told.troubles, two.told.troubles]).toEqual([[], []]);
  });

  test("an ordinary resolver gets the address of the name that a session points to", async () => {
    const { announcements } = end();
    announcements.set([session("Quay v1.2", 5004)]);
    const socket = createSocket("udp4").bind(0, "127.0.0.1");
    await once(socket, "listening");
    const ask = (name: string, type: string) => {
      const query: Message = {
        isResponse: false,
        id: 9,
        questions: [{ name, type }],
        answers: [],
        authorities: [],
        additionals: [],
      };
      socket.setMulticastInterface("127.0.0.1");
      socket.send(writeMessage(query), PORT, "224.0.0.251");
    };
    try {
      const answers: Message[] = [];
      socket.on("message", (bytes) => answers.push(readMessage(bytes)!));
      await vi.waitFor(
        () => {
          ask(SERVICE, "PTR");
          expect(answers.length).toBeGreaterThan(0);
        },
        { timeout: 8000, interval: 100 },
      );
      const service = answers[0]!.additionals.find((r) => r.type === "SRV")!;
      expect([answers[0]!.id, service.name]).toEqual([9, instanceName("Quay v1.2")]);
      const { target } = service.data as { target: string };
      answers.length = 0;
      ask(target, "A");
      await vi.waitFor(
        () =>
          expect(answers.flatMap((m) => m.answers)).toContainEqual(
            expect.objectContaining({ type: "A", data: "127.0.0.1" }),
          ),
        8000,
      );
    } finally {
      socket.close();
    }
  });

  test("without sessions nothing is opened, and leaving twice is no matter", async () => {
    const { announcements, told } = end();
    announcements.set([]);
    await announcements.close();
    await announcements.close();
    expect(told.troubles).toEqual([]);
  });
});

describe("messages as bytes", () => {
  test("whatever letters a name has, it is read as it was written", () => {
    fc.assert(
      fc.property(
        fc.string({ unit: "grapheme", minLength: 1, maxLength: 12 }).filter((t) => !/[\p{Cc}\u2028\u2029]/u.test(t)), // a name is one line
        (label) => {
          const name = instanceName(numbered(label, 1, "words")); // as it is announced: within its 63 bytes
          const message: Message = {
            isResponse: true,
            questions: [],
            answers: [
              { type: "PTR", name: SERVICE, data: name, ttl: 100, isUnique: false },
              { type: "SRV", name, data: { port: 5004, target: "box.local" }, ttl: 120, isUnique: true },
              { type: "TXT", name, data: [], ttl: 100, isUnique: true },
              { type: "A", name: "box.local", data: "10.0.0.1", ttl: 120, isUnique: true },
            ],
            authorities: [],
            additionals: [],
          };
          expect(readMessage(writeMessage(message))).toMatchObject({ isResponse: true, answers: message.answers });
        },
      ),
      {
        numRuns: 1000,
        examples: [
          ["."],
          ["..."],
          ["a."],
          [".a"],
          ["\\."],
          ["\\"],
          ["a\\"],
          ["\\\\."],
          [".\\"],
          ["\u{1D160}".repeat(12)],
        ],
      },
    );
  });
  test("no bytes make it throw", () => {
    const real = writeMessage({
      isResponse: true,
      questions: [],
      answers: [{ type: "PTR", name: SERVICE, data: instanceName("x"), ttl: 1, isUnique: false }],
      authorities: [],
      additionals: [],
    });
    fc.assert(
      fc.property(fc.uint8Array({ maxLength: 200 }), fc.nat(real.length), fc.nat(255), (bytes, at, value) => {
        readMessage(bytes);
        const bent = real.slice();
        if (at < bent.length) bent[at] = value;
        readMessage(bent);
      }),
      { numRuns: 3000 },
    );
  });
});
